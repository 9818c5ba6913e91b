"""The check of robots rules: whom robots.txt shuts out of which pages on both sides, and which sitemaps it names."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.ask import Ask
from palinode.core.checks.check import Cell, Check, Column, Reads, Verdict
from palinode.core.checks.crawlers import ANY, TOKENS
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome, PageSet, Row, outcome
from palinode.core.checks.thread import Thread
from palinode.core.fates import Fate
from palinode.core.findings import Finding, columns
from palinode.core.ledger import Ledger
from palinode.core.options import option
from palinode.core.robots import RobotsFile
from palinode.core.scope import AskedFor
from palinode.core.weight import Weight
from palinode.core.wording import number

SHUT_OUT = Kind(
    "shut_out",
    "shut out by robots.txt",
    Weight.BLOCKS,
    fault="unlisted",
    remedy="Take the rule out of robots.txt at the destination, or have robots.txt answered; a staging site often "
    "shuts everybody out. Then check now.",
)
SITEMAP_LOST = Kind(
    "sitemap_lost",
    "sitemap not named any more",
    Weight.MEND,
    remedy="Name the sitemap in robots.txt at the destination, as the source does. Then check now.",
)
SITEMAP_OLD = Kind(
    "sitemap_old",
    "sitemap of the old host named",
    Weight.MEND,
    remedy="Write the new host into the Sitemap lines of robots.txt. Then check now.",
)
VERDICTS = (
    Verdict("shut_out", "Shut out", Thread.CUT, wants=True),
    Verdict("lost", "Lost", Thread.CUT, wants=True),
    Verdict("old_host", "Old host", Thread.WAVY, wants=True),
    Verdict("unknown", "Not judged", Thread.DOTS),
    Verdict("altered", "Altered", Thread.WAVY),
    Verdict("new", "New", Thread.RING),
    Verdict("same", "Same", Thread.STRAIGHT),
)
_SHUT_OUT, _LOST, _OLD, _UNKNOWN, _ALTERED, _NEW, _SAME = range(len(VERDICTS))
RULES, SITEMAPS = "rules", "sitemaps"
_OTHER_FIELDS = frozenset({"useragent", "allow", "crawldelay", "host", "requestrate", "visittime", "cleanparam"})
_BEGINNING = 40
"""Characters of a path by which pages are told that a rule may touch."""
_MOST_ASKED = 20_000_000
"""Rules times pages that the library is asked about: some twenty seconds."""


@dataclass(frozen=True)
class RobotsOptions:
    """What people may set."""

    crawlers: tuple[str, ...] = option(
        TOKENS,
        "Crawlers",
        "Product tokens as groups of robots.txt name them, one a line. All others, and our own, are compared as well.",
    )


@dataclass(frozen=True)
class _Hosts:
    """One host of the source and the one that takes its place, with the pages on both."""

    left: RobotsFile
    right: RobotsFile
    rows: np.ndarray
    """Rows of pages of the source on the first whose partner is expected on the second."""


def judge(looked: Looked) -> Outcome:
    """Hold the rules of both sides against each page of the baseline."""
    assert looked.pages is not None and looked.left.robots is not None and looked.right.robots is not None
    rows: list[Row] = []
    found: list[Finding] = []
    unseen: list[str] = []
    options = looked.options or RobotsOptions()
    for hosts in _hosts(looked, looked.pages, unseen):
        _rules(looked, looked.pages, hosts, options.crawlers, rows, found)
        _sitemaps(looked, hosts, rows, found)
    return outcome(rows, columns(CHECK.kinds, [], found), (RULES, SITEMAPS), tuple(dict.fromkeys(unseen)))


def _hosts(looked: Looked, pages: Ledger, unseen: list[str]) -> Iterator[_Hosts]:
    files = [{one.origin: one for one in side.robots or ()} for side in (looked.left, looked.right)]
    at = np.flatnonzero((pages.left != 0) & (pages.fate != Fate.RETIRED)).tolist()
    groups: dict[tuple[str, str], list[int]] = {}
    for row in at:
        source = _origin(pages.left_address[row])
        groups.setdefault((source, _origin(looked.rule.reached(pages.right_address[row]))), []).append(row)
    for (left, right), chosen in groups.items():
        for origin, side in ((left, files[0]), (right, files[1])):
            if origin not in side:
                unseen.append(f"robots.txt of {origin}, which was not asked for it")
        if left in files[0] and right in files[1]:
            yield _Hosts(files[0][left], files[1][right], np.array(chosen, np.int64))


def _origin(address: str) -> str:
    # Most addresses of a side have one origin, and taking an address apart takes ten times as long.
    end = address.find("/", 8)
    return addresses.origin(address) if end < 0 else address[:end]


def _rules(
    looked: Looked, pages: Ledger, hosts: _Hosts, crawlers: Sequence[str], rows: list[Row], found: list[Finding]
) -> None:
    left, right = hosts.left, hosts.right
    ours = looked.agent.partition("/")[0].lower()
    for tokens in _alike((ANY, *crawlers, ours), left, right):
        name = "robots.txt" if ANY in tokens else f"robots.txt for {' and '.join(tokens)}"
        try:
            before = _shut(left, tokens[0], pages.left_address, hosts.rows)
            after = _shut(right, tokens[0], pages.right_address, hosts.rows)
        except _NotJudged as error:
            rows.append(Row(_UNKNOWN, _said(left), _said(right), name, str(error), RULES))
            continue
        newly = hosts.rows[after & ~before]
        opened = int((before & ~after).sum())
        if len(newly):
            what = _why(right)
            shut = newly[np.argsort(pages.place[newly])].astype(np.int32)
            note = f"{what}: {_that_were(len(newly), 'open')}, of {len(hosts.rows):,}"
            detail = f"{what} of pages that were open at the source" if right.status == 200 else what
            locus = ANY if ANY in tokens else " ".join(tokens)
            address, said = f"{right.origin}/robots.txt", _said(right)
            found.append(
                Finding(SHUT_OUT, locus, len(newly), _said(left), said, detail, address, len(rows), shut, said)
            )
            numbers = {"pages": len(newly)}
            rows.append(Row(_SHUT_OUT, _said(left), _said(right), name, note, RULES, 0, numbers, PageSet(shut)))
            continue
        same = _lines(left) == _lines(right) and left.status == right.status
        note = f"open now: {_that_were(opened, 'shut out')}" if opened else ""
        rows.append(Row(_SAME if same else _ALTERED, _said(left), _said(right), name, note, RULES))


def _that_were(count: int, how: str) -> str:
    return f"{number(count, 'page')} that {'was' if count == 1 else 'were'} {how}"


def _alike(tokens: Sequence[str], left: RobotsFile, right: RobotsFile) -> list[tuple[str, ...]]:
    """Return tokens in sets for which the same groups of rules hold on both sides, so that each is asked about once."""
    named = [_named(left), _named(right)]
    found: dict[tuple[frozenset[str], ...], list[str]] = {}
    for token in dict.fromkeys(tokens):
        key = tuple(frozenset(one for one in names if one in token or token in one) for names in named)
        found.setdefault(key if token != ANY else (frozenset(), frozenset()), []).append(token)
    return [tuple(one) for one in found.values()]


def _named(file: RobotsFile) -> set[str]:
    """Return the tokens that the groups of a robots.txt name, in small letters."""
    fields = (line.partition(":") for line in _lines(file))
    return {
        value.strip().lower().replace("*", "") for name, _, value in fields if name.strip().lower() == "user-agent"
    } - {""}


class _NotJudged(Exception):
    """Whom a robots.txt shuts out cannot be said; the message is why."""


def _shut(file: RobotsFile, token: str, texts: list[str], rows: np.ndarray) -> np.ndarray:
    """Return bool (rows,): which addresses a file shuts a token out of. Raises _NotJudged.

    A file that a server fails to answer shuts everything out (RFC 9309 section 2.3.1.4), one that is not there nothing.
    """
    if file.status == -1:
        raise _NotJudged(_answered(file))
    if file.status >= 500 or file.status == 429:
        return np.ones(len(rows), bool)
    found = np.zeros(len(rows), bool)
    if file.rules is None:
        return found
    touched = _touched(file, texts, rows.tolist())
    if len(touched) * len(_lines(file)) > _MOST_ASKED:
        raise _NotJudged(f"{file.origin}/robots.txt has more rules than can be held against so many pages")
    for at in touched:
        found[at] = not file.rules.can_fetch(texts[rows[at]], token)
    return found


def _touched(file: RobotsFile, texts: list[str], rows: list[int]) -> list[int]:
    """Return the places of the addresses that any group may shut out, so that the library is not asked about others."""
    beginnings = {_beginning(line) for line in _lines(file)} - {None}
    if "" in beginnings:
        return list(range(len(rows)))
    lengths = sorted({len(one) for one in beginnings if one})
    found = []
    for at, row in enumerate(rows):
        path = texts[row][texts[row].find("/", 8) :]
        if any(path[:length] in beginnings for length in lengths):
            found.append(at)
    return found


def _beginning(line: str) -> str | None:
    """Return how paths begin that a rule may shut out, as far as that is plain; None for a line that shuts out nothing.

    Whatever field is no other's may be read as Disallow, since the library forgives how it is written.
    """
    name, colon, value = line.partition(":")
    if not colon:
        return ""
    field, value = re.sub("[^a-z]", "", name.lower()), value.strip()
    if not value or field in _OTHER_FIELDS:
        return None
    if not value.startswith("/"):
        return ""
    # Up to what stands for anything, or may be written in another way.
    return re.split(r"[*$%?]|[^!-~]", value, maxsplit=1)[0][:_BEGINNING]


def _lines(file: RobotsFile) -> list[str]:
    """Return what a robots.txt says, without comments and sitemaps."""
    if file.rules is None:
        return []
    lines = (line.partition("#")[0].strip() for line in file.text.splitlines())
    return [line for line in lines if line and not line.lower().startswith("sitemap")]


def _said(file: RobotsFile) -> str:
    return "\n".join(_lines(file))[:4_000] or _answered(file)


def _answered(file: RobotsFile) -> str:
    if file.status == -1:
        return f"not fetched: {file.reason}"
    return "no rules" if file.status == 200 else f"answers {file.status}"


def _why(file: RobotsFile) -> str:
    if file.status != 200:
        return f"crawlers are shut out, since robots.txt answers {file.status}"
    return "crawlers are shut out"


def _sitemaps(looked: Looked, hosts: _Hosts, rows: list[Row], found: list[Finding]) -> None:
    """Tell of each sitemap that either side names where it stands, is lost, or names the old host."""
    left, right = (
        [
            address
            for text in (file.rules.sitemaps if file.rules else ())
            if (address := addresses.normal(text, file.origin + "/"))
        ]
        for file in (hosts.left, hosts.right)
    )
    final = looked.rule.forms.final_of if looked.rule.forms else str
    there = {final(one): one for one in right}
    old = addresses.bare_host(addresses.split(hosts.left.origin + "/").host)
    moves = old != addresses.bare_host(addresses.split(looked.rule.expect(hosts.left.origin + "/").address).host)
    robots = f"{hosts.right.origin}/robots.txt"
    for one, expected in zip(left, looked.rule.expect_many(left), strict=True):
        if expected in there:
            rows.append(Row(_SAME, one, there.pop(expected), "Sitemap", "", SITEMAPS))
        elif moves and one in there:
            del there[one]
            found.append(
                Finding(
                    SITEMAP_OLD,
                    one,
                    1,
                    one,
                    one,
                    f"the sitemap of the old host is still named: {one}",
                    robots,
                    len(rows),
                )
            )
            rows.append(Row(_OLD, one, one, "Sitemap", "still at the old host", SITEMAPS))
        elif hosts.right.status == -1:
            rows.append(Row(_UNKNOWN, one, "", "Sitemap", _answered(hosts.right), SITEMAPS))
        else:
            found.append(
                Finding(
                    SITEMAP_LOST,
                    one,
                    1,
                    one,
                    "",
                    f"the sitemap {expected} is not named in robots.txt",
                    robots,
                    len(rows),
                )
            )
            rows.append(Row(_LOST, one, "", "Sitemap", "not named any more", SITEMAPS))
    for address, one in there.items():
        is_old = moves and addresses.bare_host(addresses.split(address).host) == old
        if is_old:
            found.append(
                Finding(
                    SITEMAP_OLD, address, 1, "", one, f"a sitemap of the old host is named: {one}", robots, len(rows)
                )
            )
        rows.append(Row(_OLD if is_old else _NEW, "", one, "Sitemap", "at the old host" if is_old else "", SITEMAPS))


def asks(side: Side, which: str) -> list[Ask]:
    """Ask robots.txt of each host at the destination anew; of the source's home page, where no capture has any."""
    if which == "left" and side.robots:
        return []
    origins = [one.origin for one in side.robots or ()] or list(map(addresses.origin, side.bases))
    return [Ask(f"{origin}/robots.txt", asked_for=AskedFor.ROBOTS) for origin in origins]


CHECK = Check(
    name="robots",
    version=1,
    title="Robots",
    view="site",
    reads=(Reads.PAIRS, Reads.ROBOTS),
    needs=(Reads.ROBOTS,),
    after=("pages",),
    verdicts=VERDICTS,
    kinds=(SHUT_OUT, SITEMAP_LOST, SITEMAP_OLD),
    columns=(
        Column("what", "What", Cell.LEFT_NOTE),
        Column("source", "At the source", Cell.LEFT),
        Column("destination", "At the destination", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What differs", Cell.RIGHT_NOTE),
        Column("pages", "Pages", Cell.NUMBER),
    ),
    judge=judge,
    asks=asks,
    options=RobotsOptions,
)
