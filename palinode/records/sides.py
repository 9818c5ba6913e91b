"""Loads one side of a comparison as columns."""

import numpy as np

from palinode.core.columns import PageFacts, SideColumns
from palinode.core.fields import Field
from palinode.records import copy
from palinode.records.models import Capture


def load(capture: Capture, base: str, texts_of_targets: bool) -> SideColumns:
    """Load the answers and facts of a capture; with ``texts_of_targets`` also what its pages refer to."""
    answers = copy.columns_out(
        {"ident": "i8", "text": "text", "status": "i2", "is_page": "bool", "target": "i8", "reason": "text"},
        "SELECT a.ident, d.text, a.status, a.is_page, a.target, a.reason FROM records_answer a "
        "JOIN records_address d ON d.move_id = %s AND d.ident = a.ident WHERE a.capture_id = %s ORDER BY a.ident",
        [capture.move_id, capture.pk],
    )
    facts = _facts(capture)
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
        texts=_texts(capture, facts) if texts_of_targets else {},
    )


def _facts(capture: Capture) -> PageFacts:
    found = copy.columns_out(
        {
            "ident": "i8",
            "title": "text",
            "noindex": "bool",
            "words": "i4",
            "headings": "i4",
            "images": "i4",
            "links": "i4",
            "forms": "i4",
            "prints": "bytes",
            "size": "i4",
            "targets": "bytes",
            "places": "bytes",
        },
        "SELECT a.ident, f.title, f.robots LIKE '%%noindex%%' AS noindex, f.words, f.headings, f.images, f.links, "
        "f.forms, f.prints, length(f.places) AS size, f.targets, f.places FROM records_answer a "
        "JOIN records_facts f ON f.move_id = %s AND f.key = a.facts "
        "WHERE a.capture_id = %s AND a.is_page ORDER BY a.ident",
        [capture.move_id, capture.pk],
    )
    size = found.pop("size")
    return PageFacts(
        **{
            **found,
            "prints": np.frombuffer(found["prints"], "<i8").reshape(-1, len(Field)),
            "offsets": np.concatenate([np.zeros(1, np.int64), np.cumsum(size, dtype=np.int64)]),
            "targets": np.frombuffer(found["targets"], "<i8"),
            "places": np.frombuffer(found["places"], np.uint8),
        }
    )


def _texts(capture: Capture, facts: PageFacts) -> dict[int, str]:
    found = copy.columns_out(
        {"ident": "i8", "text": "text"},
        "SELECT ident, text FROM records_address WHERE move_id = %s AND ident = ANY(%s)",
        [capture.move_id, np.unique(facts.targets).tolist()],
    )
    return dict(zip(found["ident"].tolist(), found["text"], strict=True))
