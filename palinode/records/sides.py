"""Loads one side of a comparison as columns."""

from dataclasses import replace
from typing import Any

import numpy as np
from django.db import connection

from palinode.core import address as addresses
from palinode.core.columns import LeftColumns, PageDetails, SideColumns, find, offsets
from palinode.core.discovery import Discovery
from palinode.core.edges import sums
from palinode.core.fields import Field
from palinode.core.recognition import site
from palinode.core.rule import Rule
from palinode.core.temporary_address import Forms, Translation
from palinode.core.volatile import Volatile
from palinode.records import bulk_copy, column_files, masking, plans
from palinode.records.column_files import CaptureColumns
from palinode.records.models import Capture

_KEPT = ("ident", "status", "is_page", "target", "noindex", "whole", "edge_sum", "template")
_EDGES = {"size": "i4", "targets": "bytes", "places": "bytes"}
_SQL = {
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


def load_left(capture: Capture, base: str, rule: Rule) -> LeftColumns:
    """Load the answers and facts of a capture with their texts, and what a rule makes of them."""
    kept = column_files.of(capture)
    number = len(kept.ident)
    text = column_files.lines(kept.text, number)
    expected = rule.expect_many(text)
    expected_ident = addresses.idents(expected)
    elsewhere = rule.expect_many(column_files.lines(kept.elsewhere_text, len(kept.elsewhere)))
    targets = np.concatenate([expected_ident, addresses.idents(elsewhere)])[kept.refers]
    return LeftColumns(
        **_side(capture, base, kept) | {"edge_sum": sums(targets, kept.places, kept.offsets)},
        text=text,
        title=column_files.lines(kept.title, number),
        expected=expected,
        expected_ident=expected_ident,
        targets=targets,
        places=kept.places,
        offsets=kept.offsets,
    )


def load_right(capture: Capture, base: str, forms: Forms | None = None) -> SideColumns:
    """Load the answers and facts of a capture; what its pages are called and refer to is in :func:`details`.

    With ``forms``, what the capture reached in temporary form is loaded in its final form.
    """
    kept = column_files.of(capture)
    side = _side(capture, base, kept)
    translation = _translation(capture, forms) if forms else None
    if forms and translation:
        side |= {
            "home": forms.final_of(base),
            "ident": translation.to_final(kept.ident),
            "target": translation.swapped(kept.target),
            "edge_sum": sums(translation.to_final(kept.targets), kept.places, kept.offsets),
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


def _side(capture: Capture, base: str, kept: CaptureColumns) -> dict[str, Any]:
    limits = list(capture.limits)
    if not capture.complete and capture.why:
        limits.append(capture.why)
    recognised = kept.recognised
    if (capture.judgement or {}).get("answers_impossible"):
        idents, kinds = stand_ins(capture)
        order = np.argsort(idents)
        at = find(idents[order], kept.ident)
        recognised = np.where(at >= 0, np.append(kinds[order], 0)[at], recognised)
    reasons = column_files.lines(kept.reason, len(kept.ident))
    return {name: getattr(kept, name) for name in _KEPT} | {
        "recognised": recognised,
        "home": base,
        "reason": {row: text for row, text in enumerate(reasons) if text},
        "limits": tuple(limits),
    }
