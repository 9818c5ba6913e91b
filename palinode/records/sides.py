"""Loads one side of a comparison as columns."""

from dataclasses import replace
from typing import Any

import numpy as np
from django.db import connection

from palinode.core import address as addresses
from palinode.core.columns import LeftColumns, PageDetails, SideColumns, find, offsets, pages_first, referred
from palinode.core.discovery import Discovery
from palinode.core.edges import sums
from palinode.core.fields import Field
from palinode.core.recognition import site
from palinode.core.rule import Rule
from palinode.core.temporary_address import Forms, Translation
from palinode.core.volatile import Volatile
from palinode.records import bulk_copy, masking, plans
from palinode.records.models import Capture
from palinode.records.parallel_queries import at_once

_ANSWER = {"ident": "i8", "status": "i2", "is_page": "bool", "target": "i8", "reason": "text"}
_ALIKE = {"noindex": "bool", "recognised": "i2", "whole": "i8", "edge_sum": "i8", "template": "i8"}
_EDGES = {"size": "i4", "targets": "bytes", "places": "bytes"}
_SQL = {
    "noindex": "coalesce(f.robots LIKE '%%noindex%%', false) AS noindex",
    "recognised": "coalesce(f.recognised, 0::int2) AS recognised",
    "whole": "f.whole",
    "edge_sum": "f.edge_sum",
    "template": "f.template",
    "title": "f.title",
    "text": "d.text",
    "words": "f.words",
    "images": "f.images",
    "links": "f.links",
    "forms": "f.forms",
    "prints": "f.prints",
    "size": "coalesce(f.compared, 0) AS size",
    "targets": "substr(f.targets, 1, 8 * f.compared) AS targets",
    "places": "substr(f.places, 1, f.compared) AS places",
}
"""What a column is in SQL, where it is not a column of the answer."""
_FACTS = "JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts"
_ADDRESS = "JOIN records_address d ON d.move_id = %(move)s AND d.ident = a.ident"


def load_left(capture: Capture, base: str, rule: Rule) -> LeftColumns:
    """Load the answers and facts of a capture with their texts, and what a rule makes of them."""
    facts, answers = at_once(
        (_columns, capture, {"ident": "i8"} | _ALIKE | {"title": "text"} | _EDGES, _FACTS),
        (_expected, capture, rule),
    )
    order = pages_first(answers["ident"], facts["ident"])
    more = len(order) - len(facts["ident"])
    answers = {name: _in_order(column, order) for name, column in answers.items()}
    alike = {name: np.append(facts[name], np.zeros(more, facts[name].dtype)) for name in _ALIKE}
    refers_to, elsewhere = referred(answers["ident"], np.frombuffer(facts["targets"], "<i8"))
    beside = addresses.idents(rule.expect_many(_texts(capture, elsewhere)))
    targets = np.concatenate([answers["expected_ident"], beside])[refers_to]
    places = np.frombuffer(facts["places"], np.uint8)
    ends = offsets(np.append(facts["size"], np.zeros(more, np.int32)))
    return LeftColumns(
        **_side(capture, base, answers | alike) | {"edge_sum": sums(targets, places, ends)},
        text=answers["text"],
        title=facts["title"] + [""] * more,
        expected=answers["expected"],
        expected_ident=answers["expected_ident"],
        targets=targets,
        places=places,
        offsets=ends,
    )


def _expected(capture: Capture, rule: Rule) -> dict[str, Any]:
    """Return the columns of a capture's answers with their texts, and what a rule makes of these."""
    found = _columns(capture, _ANSWER | {"text": "text"}, _ADDRESS)
    expected = rule.expect_many(found["text"])
    return found | {"expected": expected, "expected_ident": addresses.idents(expected)}


def load_right(capture: Capture, base: str, forms: Forms | None = None) -> SideColumns:
    """Load the answers and facts of a capture; what its pages are called and refer to is in :func:`details`.

    With ``forms``, what the capture reached in temporary form is loaded in its final form.
    """
    translation = _translation(capture, forms) if forms else None
    select = _ANSWER | _ALIKE | (_EDGES if translation else {})
    found = _columns(capture, select, f"LEFT {_FACTS}")
    side = _side(capture, base, found)
    if forms and translation:
        targets, places = np.frombuffer(found["targets"], "<i8"), np.frombuffer(found["places"], np.uint8)
        side |= {
            "home": forms.final_of(base),
            "ident": translation.to_final(side["ident"]),
            "target": translation.swapped(side["target"]),
            "edge_sum": sums(translation.to_final(targets), places, offsets(found["size"])),
        }
    return SideColumns(**side)


def _translation(capture: Capture, forms: Forms) -> Translation:
    """Return the translation of what a move knows in temporary form."""
    found = bulk_copy.columns_out(
        {"text": "text"},
        "SELECT text FROM records_address WHERE move_id = %(move)s AND text LIKE ANY(%(hosts)s)",
        {"move": capture.move_id, "hosts": [f"{bulk_copy.like(host)}%" for host in forms.hosts()]},
    )
    return Translation.of(forms, found["text"])


def stand_ins(capture: Capture) -> tuple[np.ndarray, np.ndarray]:
    """Return the identities of pages that stand in for others in a capture, and as what (recognition/site.py)."""
    found = _columns(
        capture, {"ident": "i8", "known": "i2", "is_page": "bool", "words": "i4", "prints": "bytes"}, _FACTS
    )
    home = found["ident"] == addresses.ident(capture.access.get("base", ""))
    impossible = ~found["is_page"] & (found["known"] & int(Discovery.PROBE) != 0)
    prints = np.frombuffer(found["prints"], "<i8").reshape(-1, len(Field))
    kinds = site.stand_ins(prints, found["words"], impossible, home)
    return found["ident"][kinds != 0], kinds[kinds != 0]


def details(
    capture: Capture, idents: np.ndarray, forms: Forms | None = None, volatile: Volatile | None = None
) -> PageDetails:
    """Load what is told of some pages of a capture; with ``forms``, they are named and told in their final form.

    With ``volatile``, they are told without it.
    """
    translation = _translation(capture, forms) if forms else None
    if translation:
        # Where a page was captured in both forms, as loaded is the temporary one.
        idents = np.concatenate([idents, translation.to_temporary(idents)])
    told = _details(capture, np.unique(idents))
    if volatile:
        told = masking.masked(capture, told, volatile)
    if forms and translation:
        told = replace(
            told,
            ident=translation.to_final(told.ident),
            text=[forms.final_of(text) for text in told.text],
            targets=translation.to_final(told.targets),
        )
    return told


def _details(capture: Capture, idents: np.ndarray) -> PageDetails:
    numbers = dict.fromkeys(("words", "images", "links", "forms"), "i4")
    found = _columns(
        capture,
        {"ident": "i8", "text": "text", "title": "text"} | numbers | {"prints": "bytes"} | _EDGES,
        f"{plans.FACTS} {plans.ADDRESS}",
        idents,
    )
    return PageDetails(
        ident=found["ident"],
        text=found["text"],
        title=found["title"],
        **{name: found[name] for name in numbers},
        prints=np.frombuffer(found["prints"], "<i8").reshape(-1, len(Field)),
        targets=np.frombuffer(found["targets"], "<i8"),
        places=np.frombuffer(found["places"], np.uint8),
        offsets=offsets(found["size"]),
    )


def _columns(capture: Capture, select: dict[str, str], join: str, idents: np.ndarray | None = None) -> dict[str, Any]:
    """Return columns of a capture's answers, or of some of them, and of what is joined to them."""
    wanted = ", ".join(_SQL.get(name, f"a.{name}") for name in select)
    values = {"move": capture.move_id, "capture": capture.pk}
    if idents is not None:
        some = f"SELECT {wanted} FROM {plans.ANSWERS} {join}"
        return bulk_copy.columns_out(select, some, values | {"idents": idents.tolist()})
    with plans.whole(), connection.cursor() as cursor:
        # A whole capture is read block by block, which takes two thirds of the time of row by row.
        cursor.execute("SET LOCAL enable_indexscan = off")
        return bulk_copy.columns_out(
            select, f"SELECT {wanted} FROM records_answer a {join} WHERE a.capture_id = %(capture)s", values
        )


def _in_order(column: Any, order: np.ndarray) -> Any:
    return [column[row] for row in order.tolist()] if isinstance(column, list) else column[order]


def _side(capture: Capture, base: str, found: dict[str, Any]) -> dict[str, Any]:
    limits = list(capture.limits)
    if not capture.complete and capture.why:
        limits.append(capture.why)
    if (capture.judgement or {}).get("answers_impossible"):
        idents, kinds = stand_ins(capture)
        order = np.argsort(idents)
        at = find(idents[order], found["ident"])
        found["recognised"] = np.where(at >= 0, np.append(kinds[order], 0)[at], found["recognised"])
    return {name: found[name] for name in _ANSWER | _ALIKE} | {
        "home": base,
        "reason": {row: text for row, text in enumerate(found["reason"]) if text},
        "limits": tuple(limits),
    }


def _texts(capture: Capture, idents: np.ndarray) -> list[str]:
    """Return the texts of ascending identities, in their order.

    Raises ValueError if one is not kept, which cannot be while rows are written as they are.
    """
    found = bulk_copy.columns_out(
        {"ident": "i8", "text": "text"},
        "SELECT ident, text FROM records_address WHERE move_id = %(move)s AND ident = ANY(%(idents)s) ORDER BY ident",
        {"move": capture.move_id, "idents": idents.tolist()},
    )
    if len(found["text"]) != len(idents):
        raise ValueError("The text of an address is missing. Read the capture again.")
    texts: list[str] = found["text"]
    return texts
