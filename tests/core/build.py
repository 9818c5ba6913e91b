"""Small sides of a comparison, built by hand."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from palinode.core import address as addresses
from palinode.core import (
    causes,
    compare,
    difference_signs,
    differences,
    edges,
    facts,
    followers,
    judgement,
    page,
    partners,
    rule,
    template,
)
from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.comparison_context import NOTHING_BESIDE, Beside
from palinode.core.checks.files import FILE_MISSING
from palinode.core.checks.outcome import Row, outcome
from palinode.core.checks.pages import findings as page_findings
from palinode.core.checks.pages.check import rows as page_rows
from palinode.core.columns import LeftColumns, PageDetails, References, changes_path, offsets
from palinode.core.compare import Paired, Retired
from palinode.core.difference_signs import OldAddresses, Text
from palinode.core.differences import DifferingPairs, PageText, Sources
from palinode.core.facts import Facts
from palinode.core.fates import Fate
from palinode.core.fields import Field, Place
from palinode.core.findings import Finding, columns, joined
from palinode.core.judgement import Accepted, Found, Judged
from palinode.core.ledger import Ledger
from palinode.core.packed_facts import PackedFacts
from palinode.core.pairing.pages import Pages
from palinode.core.pairing.reader import Kept, Reader
from palinode.core.standing import Basis
from palinode.core.template import Template
from palinode.core.weight import Weight

NOTHING_ACCEPTED = Accepted.of([])
OLD, NEW = "http://old.example", "http://new.example"
HTML = {"content-type": "text/html"}

OLD_ADDRESSES = OldAddresses(rule.read(f"{OLD}/ -> {NEW}/"), (f"{OLD}/",), (f"{NEW}/",))

Given = tuple[int | str, str]
"""Status with body, a status with where it redirects to, or the reason why nothing was fetched."""


def side(
    host: str, answers: dict[str, Given], limits: tuple[str, ...] = (), lines: str = ""
) -> tuple[LeftColumns, PageDetails]:
    """Return the columns and details of a side from its paths; what is on OLD is expected by a rule to NEW with ``lines``."""
    answers = {path if "://" in path else host + path: given for path, given in answers.items()}
    rows = [(addresses.ident(address), address, given) for address, given in answers.items()]
    idents = np.array([row[0] for row in rows], np.int64)
    status = np.array([given[0] if isinstance(given[0], int) else -1 for _, _, given in rows], np.int16)
    is_page = np.array([page.is_page(int(code), "text/html") for code in status], bool)
    target = np.array(
        [addresses.ident(addresses.normal(given[1], path) or "") if code in page.REDIRECTS else 0
         for (_, path, given), code in zip(rows, status, strict=True)],
        np.int64,
    )  # fmt: skip
    read = {row: facts.read(path, HTML, given[1].encode()) for row, (_, path, given) in enumerate(rows) if is_page[row]}
    referring = [read.get(row, Facts()).edges() for row in range(len(rows))]
    sizes = np.array([one.compared for one in referring], np.int64)
    targets = np.concatenate([np.zeros(0, np.int64), *(one.targets[: one.compared] for one in referring)])
    places = np.concatenate([np.zeros(0, np.uint8), *(one.places[: one.compared] for one in referring)])
    texts = {r.ident: r.address for one in read.values() for r in one.references}
    expect = rule.read(f"{OLD}/ -> {NEW}/\n{lines}").expect_many if host == OLD else list
    expected = expect([path for _, path, _ in rows])
    references = References(idents, len(targets))
    references.add(targets)
    refers_to, elsewhere = references.made()
    every = np.concatenate(
        [addresses.idents(some) for some in (expected, expect([texts[one] for one in elsewhere.tolist()]))]
    )
    mapped = every[refers_to]
    details = PageDetails(
        ident=idents[is_page],
        text=[rows[row][1] for row in read],
        title=[one.title for one in read.values()],
        words=np.array([one.words for one in read.values()]),
        images=np.array([referring[row].count(Place.IMAGE) for row in read]),
        links=np.array([referring[row].count(Place.LINK) for row in read]),
        forms=np.array([sum(form.main for form in one.forms) for one in read.values()]),
        prints=np.array([one.fingerprints() for one in read.values()], np.int64).reshape(-1, len(Field)),
        targets=targets,
        places=places,
        offsets=offsets(sizes[is_page]),
    )
    columns = LeftColumns(
        homes=(f"{host}/",),
        limits=limits,
        reason={i: str(given[0]) for i, (_, _, given) in enumerate(rows) if isinstance(given[0], str)},
        ident=idents,
        status=status,
        is_page=is_page,
        target=target,
        noindex=np.array([row in read and "noindex" in read[row].robots for row in range(len(rows))], bool),
        recognised=np.array([read[row].recognised.kind if row in read else 0 for row in range(len(rows))], np.int16),
        whole=np.array(
            [facts.whole(read[row].fingerprints()) if row in read else 0 for row in range(len(rows))], np.int64
        ),
        edge_sum=edges.sums(mapped, places, offsets(sizes)),
        template=np.array([read[row].template_print() if row in read else 0 for row in range(len(rows))], np.int64),
        text=[path for _, path, _ in rows],
        title=[read[row].title if row in read else "" for row in range(len(rows))],
        expected=expected,
        planned=changes_path([path for _, path, _ in rows], expected),
        expected_ident=every[: len(rows)],
        targets=mapped,
        places=places,
        offsets=offsets(sizes),
        origins=rule.read(f"{OLD}/ -> {NEW}/").origins([OLD]) if host == OLD else {host: host},
    )
    return columns, details


def ledger(
    left: dict[str, Given],
    right: dict[str, Given],
    lines: str = "",
    retired: Retired | None = None,
    limits: tuple[str, ...] = (),
) -> Ledger:
    """Return the ledger of two sides."""
    one, one_details = side(OLD, left, lines=lines)
    other, other_details = side(NEW, right, limits)
    paired = compare.pair(one, other)
    pairs = compare.differing(paired, one_details, other_details)
    told = differences.find(pairs, sources(paired, pairs, left, right, lines))
    return compare.judge(paired, pairs, told, other_details, retired or Retired())


def found_ledger(left: dict[str, Given], right: dict[str, Given], lines: str = "") -> Ledger:
    """Return the ledger of two sides of which pages that no address led to were looked for."""

    def read(answers: dict[str, Given], host: str) -> Callable[[np.ndarray], Pages]:
        def of(idents: np.ndarray) -> Pages:
            wanted = set(idents.tolist())
            some = {path: given[1] for path, given in answers.items() if given[0] == 200}
            return pages({path: text for path, text in some.items() if addresses.ident(host + path) in wanted}, host)

        return of

    (one, one_told), (other, other_told) = side(OLD, left, lines=lines), side(NEW, right)
    paired = partners.search(
        partners.with_twins(compare.pair(one, other)), other_told, read(left, OLD), read(right, NEW)
    )
    pairs = compare.differing(paired, one_told, other_told)
    told = differences.find(pairs, sources(paired, pairs, left, right, lines))
    return compare.judge(paired, pairs, told, other_told, Retired())


def sources(
    paired: Paired, pairs: DifferingPairs, left: dict[str, Given], right: dict[str, Given], lines: str = ""
) -> Sources:
    """Return what is looked up where pairs differ, from the markup of both sides."""
    expect = rule.read(f"{OLD}/ -> {NEW}/\n{lines}").expect_many
    reads = [
        {
            host + path: facts.read(host + path, HTML, given[1].encode())
            for path, given in side.items()
            if given[0] == 200
        }
        for host, side in ((OLD, left), (NEW, right))
    ]
    texts = [{r.ident: r.address for one in read.values() for r in one.references} for read in reads]
    expected = dict(zip(addresses.idents(expect(list(texts[0].values()))).tolist(), texts[0].values(), strict=True))

    def page_text(address: str, read: Facts) -> PageText:
        blocks = [(block.kind, block.text) for block in read.blocks if block.main]
        links = [(one.label, one.written) for one in read.at(Place.LINK)]
        return PageText(blocks, read.open_graph, address, links)

    def page_texts(at: np.ndarray) -> Iterator[tuple[int, PageText, PageText]]:
        for place in at.tolist():
            one, other = pairs.left.text[place], pairs.right.text[place]
            yield place, page_text(one, reads[0][one]), page_text(other, reads[1][other])

    return Sources(lambda: compare.sizes(paired), lambda *_: (expected, texts[1]), page_texts)


def pages(answers: dict[str, str], host: str = OLD, to: str = NEW, images: dict[str, int] | None = None) -> Pages:
    """Return pages for pairing from path to markup; what they name themselves by is told as on the host ``to``.

    ``images`` tells the contents of images by their path.
    """
    reader = Reader(lambda many: [text.replace(host, to) for text in many])
    digests = {addresses.ident(host + path): digest for path, digest in (images or {}).items()}
    for path, markup in answers.items():
        read = facts.read(host + path, HTML, markup.encode())
        kept = Kept(
            addresses.ident(host + path),
            host + path,
            read.title,
            read.language,
            read.document,
            [digests[one.ident] for one in read.at(Place.IMAGE) if one.ident in digests],
            True,
            PackedFacts(read.rest()),
        )
        reader.add([kept])
    return reader.pages()


def text(address: str, given: Given) -> Text:
    """Return a page as a pair is looked at for its signs."""
    read = facts.read(address, HTML, given[1].encode())
    return difference_signs.read(address, read.title, PackedFacts(read.rest()))


def standing_in(address: str, given: Given) -> Template:
    """Return the template of a page; links of the source are told as on the destination's host."""
    rest = PackedFacts(facts.read(address, HTML, given[1].encode()).rest())
    host = OLD if address.startswith(OLD) else NEW
    return template.read(address, rest, lambda many: [one.replace(host, NEW) for one in many])


def ground(
    left: dict[str, Given],
    right: dict[str, Given],
    lines: str = "",
    shared: Sequence[Finding] = (),
    beside: Beside = NOTHING_BESIDE,
) -> Ground:
    """Return what causes are found in, with all pairs that differ read."""
    found = ledger(left, right, lines)
    read = {}
    for row in found.differences.row.tolist():
        one, other = found.left_address[row], found.right_address[row]
        pair = text(one, left[addresses.path(one)]), text(other, right[addresses.path(other)])
        read[row] = difference_signs.signs_of(*pair, OLD_ADDRESSES)
    signs = difference_signs.gather(
        len(found.fate), read, found.differences.row, found.content_change | found.shared_change
    )
    of_files = [one for one in shared if one.kind is FILE_MISSING]
    others = [one for one in shared if one.kind is not FILE_MISSING]
    folders = sorted({addresses.path(one.left).rpartition("/")[0] for one in of_files})
    rows = [replace(one, row=folders.index(addresses.path(one.left).rpartition("/")[0])) for one in of_files]
    told = joined([page_findings.find(found, others), columns((FILE_MISSING,), [], rows)])
    told_rows = [Row(0, str(at), left_note=name) for at, name in enumerate(folders)]
    made = outcome(told_rows, columns((FILE_MISSING,), [], rows))
    follows = followers.find(found, told)
    return Ground(found, told, signs, beside, ("pages", "files"), {"files": made}, follows)


def causes_of(found: Ledger | Ground) -> list[Cause]:
    """Return the causes of all findings of a ledger."""
    on = found if isinstance(found, Ground) else Ground(found, page_findings.find(found))
    return causes.find(on)


def judged(
    on: Ground, accepted: Accepted = NOTHING_ACCEPTED, aside: Sequence[int] = (), stage: str = "", **more: Weight
) -> Judged:
    """Return the judgement of a comparison by what is accepted and set aside; ``more`` are weights of kinds."""
    found, made = on.findings, causes.find(on)
    cause = np.full(len(found), -1)
    for place, one in enumerate(made):
        cause[one.takes] = place
    words, nothing = [kind.word for kind in found.kinds], np.zeros(len(found), bool)
    held = Found(
        found.key, found.seen, found.kind.astype(np.int64), words, found.check.astype(np.int64), found.row,
        nothing, nothing, nothing, nothing, cause, np.where(on.own, -1, 0) if on.follows is None else on.follows, has_before=False,
    )  # fmt: skip
    weights = judgement.weights_of(words, {kind.word: kind.weight for kind in found.kinds}, more)
    told = [one.plain() for one in made]
    without = np.array(aside, np.int64) if aside else np.zeros(len(found), np.int64)
    return judgement.judge(held, weights, accepted, without, told, Basis.of(on.ledger), stage)


def html(title: str, text: str = "", head: str = "") -> Given:
    """Return a page."""
    return (
        200,
        f"<html><head><title>{title}</title>{head}</head><body><main><p>{text or title}</p></main></body></html>",
    )


def counts(found: Ledger) -> list[tuple[str, str, int]]:
    """Return fate, section and number of the rows of pages, in their order."""
    rows = page_rows(found)
    return [(Fate(fate).word, rows.groups[section], number) for fate, section, number in rows.counts]
