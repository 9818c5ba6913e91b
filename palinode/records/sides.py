"""Loads one side of a comparison as columns."""

from typing import Any

import numpy as np

from palinode.core.columns import PageDetails, PageFacts, SideColumns, distinct, find
from palinode.core.fields import Field
from palinode.records import copy
from palinode.records.models import Capture


def load(capture: Capture, base: str, texts_of_targets: bool) -> SideColumns:
    """Load the answers and facts of a capture; with ``texts_of_targets`` also what its pages refer to."""
    answers = copy.columns_out(
        {"ident": "i8", "text": "text", "status": "i2", "is_page": "bool", "target": "i8", "reason": "text"},
        "SELECT a.ident, d.text, a.status, a.is_page, a.target, a.reason FROM records_answer a "
        "JOIN records_address d ON d.move_id = %s AND d.ident = a.ident WHERE a.capture_id = %s",
        [capture.move_id, capture.pk],
    )
    _order(answers)
    facts = _facts(capture)
    elsewhere = facts.targets[:0]
    if texts_of_targets:
        referred = distinct(facts.targets)
        elsewhere = referred[find(answers["ident"], referred) < 0]
    limits = list(capture.limits)
    if not capture.complete and capture.why:
        limits.append(capture.why)
    return SideColumns(
        home=base,
        ident=answers["ident"],
        text=answers["text"],
        status=answers["status"],
        is_page=answers["is_page"],
        target=answers["target"],
        reason={row: text for row, text in enumerate(answers["reason"]) if text},
        facts=facts,
        limits=tuple(limits),
        elsewhere=elsewhere,
        elsewhere_text=_texts(capture, elsewhere),
    )


def _order(answers: dict[str, Any]) -> None:
    """Put columns into the order of ``ident``; cheaper here than whole rows in the database."""
    order = np.argsort(answers["ident"])
    rows = order.tolist()
    for name, column in answers.items():
        answers[name] = [column[row] for row in rows] if isinstance(column, list) else column[order]


def details(capture: Capture, idents: np.ndarray) -> PageDetails:
    """Load what is told of some pages of a capture."""
    found = copy.columns_out(
        {"ident": "i8", "words": "i4", "images": "i4", "links": "i4", "forms": "i4", "prints": "bytes"},
        "SELECT a.ident, f.words, f.images, f.links, f.forms, f.prints FROM records_answer a "
        "JOIN records_facts f ON f.move_id = %s AND f.key = a.facts WHERE a.capture_id = %s AND a.ident = ANY(%s)",
        [capture.move_id, capture.pk, idents.tolist()],
    )
    prints = np.frombuffer(found.pop("prints"), "<i8").reshape(-1, len(Field))
    return PageDetails(**found, prints=prints)


def _facts(capture: Capture) -> PageFacts:
    found = copy.columns_out(
        {
            "ident": "i8",
            "title": "text",
            "noindex": "bool",
            "whole": "i8",
            "size": "i4",
            "targets": "bytes",
            "places": "bytes",
        },
        "SELECT a.ident, f.title, f.robots LIKE '%%noindex%%' AS noindex, f.whole, f.compared AS size, "
        "substr(f.targets, 1, 8 * f.compared) AS targets, substr(f.places, 1, f.compared) AS places "
        "FROM records_answer a JOIN records_facts f ON f.move_id = %s AND f.key = a.facts "
        "WHERE a.capture_id = %s AND a.is_page",
        [capture.move_id, capture.pk],
    )
    size = found.pop("size")
    return PageFacts(
        **{
            **found,
            "offsets": np.concatenate([np.zeros(1, np.int64), np.cumsum(size, dtype=np.int64)]),
            "targets": np.frombuffer(found["targets"], "<i8"),
            "places": np.frombuffer(found["places"], np.uint8),
        }
    )


def _texts(capture: Capture, idents: np.ndarray) -> list[str]:
    """Return the texts of ascending identities, in their order.

    Raises ValueError if one is not kept, which cannot be while rows are written as they are.
    """
    found = copy.columns_out(
        {"ident": "i8", "text": "text"},
        "SELECT ident, text FROM records_address WHERE move_id = %s AND ident = ANY(%s) ORDER BY ident",
        [capture.move_id, idents.tolist()],
    )
    if len(found["text"]) != len(idents):
        raise ValueError("The text of an address is missing. Read the capture again.")
    texts: list[str] = found["text"]
    return texts
