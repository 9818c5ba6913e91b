"""A row of a ledger opened: both answers, their head fields, their texts facing."""

from collections import defaultdict
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from palinode.core import address as addresses
from palinode.core import facing
from palinode.core import rule as rules
from palinode.core.checks import registry
from palinode.core.checks.pages import kinds
from palinode.core.discovery import Discovery
from palinode.core.facing import Beside, Paragraph, Shown
from palinode.core.fields import FILE_PLACES, Field, Place
from palinode.core.recognition.page_kind import PageKind
from palinode.core.scope import Scope
from palinode.core.volatile import NOTHING, Volatile
from palinode.records import outcome_items, outcomes, page_rows, pairs
from palinode.records import page_facts as kept_pages
from palinode.records.models import Capture, Comparison
from palinode.records.page_rows import PageRow
from palinode.records.pairs import Head, Kept
from palinode.work import evidence
from palinode.work.capturing import sampling

_HEADERS = (
    "content-type",
    "content-language",
    "server",
    "x-powered-by",
    "x-robots-tag",
    "link",
    "cache-control",
    "age",
    "location",
)


_GONE = ("lost", "replaced")
"""Verdicts of files that a page shows something else for."""


def pair(comparison: Comparison, row: PageRow) -> dict[str, Any]:
    """Return what the view of a pair shows, but for the row itself."""
    left, right = answer_of(comparison, row, "left"), answer_of(comparison, row, "right")
    volatile = sampling.volatile_of(comparison.left) | sampling.volatile_of(comparison.right)
    blocks = [_main(kept.head, volatile) for kept in (left, right)]
    both = left.head.rest and right.head.rest
    changed = row.content_change if row.is_pair else None
    return {
        "found_by": row.found_by.name.lower() if row.is_pair else "",
        "certainty": row.certainty,
        "left": _answer(left, comparison.left),
        "right": _answer(right, comparison.right),
        "fields": _fields(left.head, right.head, changed) if both else [],
        "paragraphs": [plain(one) for one in facing.paragraphs(*blocks)] if any(blocks) else [],
        "cut": any(len(one) > facing.MOST_BLOCKS for one in blocks),
    }


def stretch(comparison: Comparison, row: PageRow, first: int, number: int) -> list[dict[str, Any]]:
    """Return paragraphs that are the same on both sides, from one place of the left text on."""
    left = _kept(comparison.left, row.left_address)
    volatile = sampling.volatile_of(comparison.left) | sampling.volatile_of(comparison.right)
    return [plain(one) for one in facing.stretch(_main(left.head, volatile), first, number)]


def references(comparison: Comparison, row: PageRow) -> dict[str, Any]:
    """Return what the two pages of a row refer to, and their forms, facing each other."""
    left, right = answer_of(comparison, row, "left"), answer_of(comparison, row, "right")
    rule = rules.read(comparison.rule)
    final = rule.forms.final_of if rule.forms else str
    one, other = _shown(comparison.left, left, str), _shown(comparison.right, right, final)
    addressed = list(dict.fromkeys(shown.address for shown in (*one.links, *one.forms)))
    expected = dict(zip(addressed, rule.expect_many(addressed), strict=True))
    moved = page_rows.found_elsewhere(comparison, addresses.idents(addressed))
    expected |= {address: moved[ident] for address in addressed if (ident := addresses.ident(address)) in moved}
    contents = _contents(comparison.left, one.links, str), _contents(comparison.right, other.links, rule.reached)
    files = _files(comparison, {shown.address for shown in one.links if shown.group in _FILES})
    return {
        "references": [_beside(row, files) for row in facing.beside(one.links, other.links, expected, contents)],
        "forms": [_beside(row, {}) for row in facing.beside(one.forms, other.forms, expected, ({}, {}))],
    }


def answer_of(comparison: Comparison, row: PageRow, side: str) -> Kept:
    """Return what is kept of one side of a row: ``left`` or ``right``."""
    if side == "left":
        return _kept(comparison.left, row.left_address)
    return _kept(comparison.right, _reached(comparison, row.right_address))


def plain(one: Paragraph) -> dict[str, Any]:
    """Return a paragraph as it is shown."""
    return {
        "kind": one.kind,
        "left": None if one.left is None else [{"change": run.change, "text": run.text} for run in one.left],
        "right": None if one.right is None else [{"change": run.change, "text": run.text} for run in one.right],
        "words": one.words,
        "said": one.said,
        "folded": one.folded,
        "first": one.first,
    }


@dataclass(frozen=True)
class _Shown:
    """What one page refers to."""

    links: list[Shown]
    forms: list[Shown]


_GROUPS = {
    Place.LINK: "link",
    Place.IMAGE: "image",
    Place.MEDIA: "media",
    Place.FRAME: "frame",
    Place.TEMPLATE_LINK: "menu",
    Place.TEMPLATE_IMAGE: "image of the template",
    Place.STYLE: "style",
    Place.SCRIPT: "script",
}
_FILES = frozenset(_GROUPS[one] for one in _GROUPS if one in FILE_PLACES)
"""What files are referred to as."""
_FORMS = {Place.FORM: True, Place.TEMPLATE_FORM: False}


def _shown(capture: Capture, kept: Kept, final: Callable[[str], str]) -> _Shown:
    head = kept.head
    texts = kept_pages.addresses_of(capture.move_id, set(head.targets))
    links, targets = [], defaultdict(list)
    for (number, written, label), ident in zip(head.rest.references, head.targets, strict=True):
        address, place = final(texts.get(ident, written)), Place(number)
        if place in _GROUPS:
            links.append(Shown(_GROUPS[place], address, label))
        elif place in _FORMS:
            targets[_FORMS[place]].append(address)
    return _Shown(links, _shown_forms(kept, targets))


def _shown_forms(kept: Kept, targets: Mapping[bool, list[str]]) -> list[Shown]:
    """Return the forms of a page; one without a target of its own is sent to the page."""
    shown = []
    for main in (True, False):
        some = [(form.method, form.fields) for form in kept.head.rest.forms if form.main == main]
        sent = targets[main] if len(targets[main]) == len(some) else [""] * len(some)
        for (method, fields), target in zip(some, sent, strict=True):
            label = f"{method} {', '.join(fields)}".strip()
            shown.append(Shown("form" if main else "form of the template", target, label))
    return shown


def _contents(capture: Capture, links: list[Shown], reached: Callable[[str], str]) -> dict[str, int]:
    """Return what tells the contents of the images among references, by their addresses."""
    images = {one.address for one in links if one.group.startswith("image")}
    idents = {address: addresses.ident(reached(address)) for address in images}
    digests = pairs.digests(capture, set(idents.values()))
    return {address: digests[ident] for address, ident in idents.items() if ident in digests}


def _files(comparison: Comparison, wanted: set[str]) -> dict[str, dict[str, str]]:
    """Return what the check of files says of some files of the source, by address; of those the same nothing."""
    outcome = outcomes.of(comparison, "files")
    found = outcome_items.named(outcome, wanted) if outcome else {}
    labels = {one.word: one.label for one in registry.BY_NAME["files"].verdicts}
    return {
        address: {"verdict": verdict, "label": labels.get(verdict, verdict), "said": item["what"]}
        for address, (verdict, item) in found.items()
    }


def _beside(one: Beside, files: Mapping[str, dict[str, str]]) -> dict[str, Any]:
    file = files.get(one.left.address) if one.left else None
    return {
        "group": one.group,
        "left": one.left and {"address": one.left.address, "label": one.left.label},
        "right": one.right and {"address": one.right.address, "label": one.right.label},
        "verdict": one.verdict,
        "file": file,
        "differs": one.differs or bool(file and file["verdict"] in _GONE),
    }


def _kept(capture: Capture, address: str | None) -> Kept:
    if not address:
        return Kept("", None, [], Head())
    return pairs.kept(capture, address, addresses.ident(address))


def _reached(comparison: Comparison, address: str | None) -> str | None:
    """Return the form in which a right address was asked for."""
    forms = rules.read(comparison.rule).forms
    if not address or not forms:
        return address
    reached = forms.temporary_of(address)
    # One that was captured at its final address, as the rule named no other then, was asked for at that.
    return reached if Scope(comparison.right.bases).on_host(reached) else address


def _main(head: Head, volatile: Volatile = NOTHING) -> list[tuple[str, str]]:
    return [(block.kind, block.text) for block in volatile.masked(head.rest.blocks) if block.main]


def _answer(kept: Kept, capture: Capture) -> dict[str, Any]:
    answer = kept.answer
    headers = evidence.headers(answer) if answer else {}
    return {
        "address": kept.address or None,
        "status": answer.status if answer else None,
        "reason": (answer.reason or "") if answer else "",
        "known": Discovery(kept.known).words,
        "media_type": (answer.media_type or "") if answer else "",
        "length": answer.length if answer else 0,
        "took_ms": answer.took_ms if answer else 0,
        "asked_at": kept.asked_at,
        "hops": [{"address": address, "status": status} for address, status in kept.hops],
        "recognised": _recognised(kept.head),
        "certificate": (capture.sample or {}).get("certificate", "") if answer else "",
        "headers": {name: headers[name] for name in _HEADERS if headers.get(name)},
        "words": kept.head.words,
        "images": kept.head.images,
        "links": kept.head.links,
        "forms": kept.head.forms,
    }


def _recognised(head: Head) -> str:
    """Return what a page was recognised as, and by what; empty for an ordinary page."""
    kind, said = head.rest.recognised
    return f"{PageKind(kind).label}: {said}" if kind else ""


def _fields(left: Head, right: Head, changed: int | None) -> list[dict[str, str]]:
    """Return the head fields of both pages with their verdict, as the comparison judged them.

    ``changed`` is None where it did not, since what answered is no partner.
    """

    def row(field: Field, one: str, other: str, mapped: bool = False) -> dict[str, str]:
        if changed is None:
            verdict = "not compared" if one or other else "not there"
        elif changed >> field & 1:
            verdict = "differs"
        elif not one and not other:
            verdict = "not there"
        else:
            verdict = "as mapped" if mapped and one != other else "same"
        kind = kinds.OF_FIELD[field].word
        return {"name": field.label, "kind": kind, "left": one, "right": other, "verdict": verdict}

    return [
        row(Field.TITLE, left.title, right.title),
        row(Field.DESCRIPTION, left.description, right.description),
        row(Field.CANONICAL, left.canonical, right.canonical, mapped=True),
        row(Field.ROBOTS, left.robots or "index, follow", right.robots or "index, follow"),
        row(Field.LANGUAGE, left.language, right.language),
        row(Field.HEADINGS, _headings(left), _headings(right)),
        row(Field.IMAGES, _count(left.images, "image"), _count(right.images, "image"), mapped=True),
        row(Field.LINKS, _count(left.links, "link"), _count(right.links, "link"), mapped=True),
        row(Field.FORMS, _forms(left), _forms(right)),
        row(Field.STRUCTURED, _list(left), _list(right)),
        row(Field.HREFLANG, _labels(left, Place.HREFLANG), _labels(right, Place.HREFLANG), mapped=True),
        row(Field.OPEN_GRAPH, _graph(left), _graph(right), mapped=True),
    ]


def _headings(head: Head) -> str:
    return " · ".join(text for kind, text in _main(head) if kind in ("h1", "h2", "h3", "h4", "h5", "h6"))[:2_000]


def _count(count: int, noun: str) -> str:
    return f"{count:,} {noun}{'' if count == 1 else 's'}" if count else ""


def _labels(head: Head, place: Place) -> str:
    return ", ".join(f"{one.label} {one.written}" for one in head.rest.at(place))[:2_000]


def _list(head: Head) -> str:
    return ", ".join(head.rest.structured)[:2_000]


def _forms(head: Head) -> str:
    return "; ".join(f"{form.method} {', '.join(form.fields)}" for form in head.rest.forms if form.main)[:2_000]


def _graph(head: Head) -> str:
    said = [f"{name} {content}" for name, content in head.rest.open_graph]
    said += [f"{one.label} {one.written}" for one in head.rest.at(Place.OPEN_GRAPH)]
    return ", ".join(said)[:2_000]
