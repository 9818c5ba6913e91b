"""A row of a ledger opened: both answers, their head fields, their texts facing."""

from dataclasses import asdict
from typing import Any

from palinode.core import address as addresses
from palinode.core import facing
from palinode.core import rule as rules
from palinode.core.fields import Field, Place
from palinode.core.known import Known
from palinode.core.markup import Block
from palinode.core.recognition.kind import Kind
from palinode.core.volatile import NOTHING, Volatile
from palinode.records import ledgers, pairs
from palinode.records.models import Capture, Comparison, LedgerRow
from palinode.records.pairs import Head, Kept
from palinode.work import comparing, evidence

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


def pair(comparison: Comparison, row: LedgerRow) -> dict[str, Any]:
    """Return what the view of a pair shows, but for the row itself."""
    left = _kept(comparison.left, row.left_address)
    right = _kept(comparison.right, _reached(comparison, row.right_address))
    volatile = comparing.volatile_of(comparison.left) | comparing.volatile_of(comparison.right)
    blocks = [_main(kept.head, volatile) for kept in (left, right)]
    both = left.head.rest and right.head.rest
    changed = row.content_change if ledgers.is_paired(comparison, row.rank) else None
    return {
        "left": _answer(left),
        "right": _answer(right),
        "fields": _fields(left.head, right.head, changed) if both else [],
        "paragraphs": [asdict(one) for one in facing.paragraphs(*blocks)] if any(blocks) else [],
        "cut": any(len(one) > facing.MOST_BLOCKS for one in blocks),
    }


def _kept(capture: Capture, address: str | None) -> Kept:
    if not address:
        return Kept("", None, [], Head())
    return pairs.kept(capture, address, addresses.ident(address))


def _reached(comparison: Comparison, address: str | None) -> str | None:
    """Return the form in which a right address was asked for."""
    forms = rules.read(comparison.rule).forms
    if not address or not forms or not comparison.right.access["base"].startswith(forms.temporary):
        return address
    return forms.temporary_of(address)


def _main(head: Head, volatile: Volatile = NOTHING) -> list[tuple[str, str]]:
    blocks = [Block(*one) for one in head.rest.get("blocks", [1, []])[1]]
    return [(block.kind, block.text) for block in volatile.masked(blocks) if block.main]


def _answer(kept: Kept) -> dict[str, Any]:
    answer = kept.answer
    recorded = evidence.recorded(answer) if answer else None
    headers = recorded.headers if recorded else {}
    return {
        "address": kept.address or None,
        "status": answer.status if answer else None,
        "reason": (answer.reason or "") if answer else "",
        "known": Known(kept.known).words,
        "media_type": (answer.media_type or "") if answer else "",
        "length": answer.length if answer else 0,
        "took_ms": answer.took_ms if answer else 0,
        "asked_at": kept.asked_at,
        "hops": [{"address": address, "status": status} for address, status in kept.hops],
        "recognised": _recognised(kept.head),
        "headers": {name: headers[name] for name in _HEADERS if headers.get(name)},
        "words": kept.head.words,
        "images": kept.head.images,
        "links": kept.head.links,
        "forms": kept.head.forms,
    }


def _recognised(head: Head) -> str:
    """Return what a page was recognised as, and by what; empty for an ordinary page."""
    kind, said = head.rest.get("recognition", [1, [Kind.NONE, ""]])[1]
    return f"{Kind(kind).label}: {said}" if kind else ""


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
        return {"name": field.label, "left": one, "right": other, "verdict": verdict}

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
        row(Field.STRUCTURED, _list(left, "structured"), _list(right, "structured")),
        row(Field.HREFLANG, _labels(left, Place.HREFLANG), _labels(right, Place.HREFLANG), mapped=True),
        row(Field.OPEN_GRAPH, _graph(left), _graph(right), mapped=True),
    ]


def _headings(head: Head) -> str:
    return " · ".join(text for kind, text in _main(head) if kind in ("h1", "h2", "h3", "h4", "h5", "h6"))[:500]


def _count(count: int, noun: str) -> str:
    return f"{count:,} {noun}{'' if count == 1 else 's'}" if count else ""


def _references(head: Head, place: Place) -> list[list[Any]]:
    return [one for one in head.rest.get("references", [1, []])[1] if one[0] == place]


def _labels(head: Head, place: Place) -> str:
    return ", ".join(f"{label} {written}" for _, _, written, label in _references(head, place))[:500]


def _list(head: Head, name: str) -> str:
    return ", ".join(head.rest.get(name, [1, []])[1])[:500]


def _forms(head: Head) -> str:
    return "; ".join(
        f"{method} {', '.join(fields)}" for method, fields, main in head.rest.get("forms", [1, []])[1] if main
    )[:500]


def _graph(head: Head) -> str:
    said = [f"{name} {content}" for name, content in head.rest.get("open_graph", [1, []])[1]]
    said += [f"{name} {written}" for _, _, written, name in _references(head, Place.OPEN_GRAPH)]
    return ", ".join(said)[:500]
