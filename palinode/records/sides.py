"""Loads one side of a comparison as columns."""

import itertools
from dataclasses import replace
from typing import Any

import numpy as np

from palinode.core import address as addresses
from palinode.core.columns import LeftColumns, PageDetails, SideColumns, find
from palinode.core.discovery import Discovery
from palinode.core.edges import slices, sums
from palinode.core.fields import Field
from palinode.core.recognition import site
from palinode.core.rule import Rule
from palinode.core.temporary_address import Forms, Translation
from palinode.core.volatile import Volatile
from palinode.records import bulk_copy, column_files, expected_columns, masking, page_facts
from palinode.records.column_files import CaptureColumns
from palinode.records.lines import Lines
from palinode.records.models import Capture

_NOTHING = np.zeros(0, np.int64)
_KEPT = ("ident", "status", "is_page", "target", "noindex", "whole", "edge_sum", "template")


def load_left(capture: Capture, rule: Rule) -> LeftColumns:
    """Load the answers and facts of a capture with their texts, and what a rule makes of them."""
    kept = column_files.of(capture)
    text = kept.lines("text").all()
    expected = expected_columns.of(capture, kept, text, rule)
    return LeftColumns(
        **_side(capture, kept) | {"edge_sum": expected.edge_sum},
        text=text,
        title=kept.lines("title").all(),
        expected=Lines(expected.text, len(text)).all(),
        expected_ident=expected.ident,
        planned=expected.planned,
        targets=np.concatenate([expected.ident, expected.elsewhere])[kept.refers],
        places=kept.places,
        offsets=kept.offsets,
        origins=rule.origins({addresses.origin(one) for one in text}),
    )


def load_right(capture: Capture, forms: Forms | None = None) -> SideColumns:
    """Load the answers and facts of a capture; what its pages are called and refer to is in :func:`details`.

    With ``forms``, what the capture reached in temporary form is loaded in its final form.
    """
    kept = column_files.of(capture)
    side = _side(capture, kept)
    translation = _translation(capture, forms) if forms else None
    twins = _twins(kept, capture.bases)
    if len(twins.temporary):
        side["edge_sum"] = sums(twins.to_final(kept.targets), kept.places, kept.offsets)
    if forms and translation:
        side |= {
            "homes": tuple(forms.final_of(base) for base in capture.bases),
            "ident": translation.to_final(kept.ident),
            "target": translation.swapped(kept.target),
            "edge_sum": sums(translation.to_final(twins.to_final(kept.targets)), kept.places, kept.offsets),
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


def _twins(kept: CaptureColumns, bases: tuple[str, ...]) -> Translation:
    """Return what names hosts that are described as http by https: the same addresses for whoever follows them."""
    origins = [origin for base in bases if (origin := addresses.origin(base)).startswith("http:")]
    if not origins:
        return Translation(_NOTHING, _NOTHING)
    secure = tuple(f"https{origin[4:]}/" for origin in origins)
    every = itertools.chain(kept.lines("text").all(), Lines(kept.elsewhere_text, len(kept.elsewhere)).all())
    texts = [text for text in every if text.startswith(secure)]
    idents = addresses.idents(texts)
    order = np.argsort(idents)
    return Translation(idents[order], addresses.idents([f"http{text[5:]}" for text in texts])[order])


def addresses_of(capture: Capture, idents: np.ndarray, forms: Forms | None = None) -> dict[int, str]:
    """Return the addresses of identities that a move knows; with ``forms``, of identities in final form."""
    known = page_facts.addresses_of(capture.move_id, idents.tolist())
    translation = _translation(capture, forms) if forms else None
    if forms and translation:
        temporary = translation.to_temporary(idents)
        reached = page_facts.addresses_of(capture.move_id, temporary.tolist())
        for final, ident in zip(idents.tolist(), temporary.tolist(), strict=True):
            if ident in reached:
                known[final] = forms.final_of(reached[ident])
    return known


def stand_ins(capture: Capture) -> tuple[np.ndarray, np.ndarray]:
    """Return the identities of pages that stand in for others in a capture, and as what (recognition/site.py)."""
    kept = column_files.of(capture)
    home = np.isin(kept.ident, addresses.idents(list(capture.bases)))
    # What answers an address that cannot be is read like a page where it answers as if it were there.
    impossible = ~kept.is_page & (kept.known & int(Discovery.PROBE) != 0) & (kept.status == 200)
    read = np.flatnonzero((kept.is_page | impossible) & (kept.whole != 0))
    kinds = site.stand_ins(_prints(kept)[read], kept.words[read], impossible[read], home[read])
    chosen = kinds != 0
    return kept.ident[read[chosen]], kinds[chosen]


def _prints(kept: CaptureColumns) -> np.ndarray:
    return kept.prints.reshape(-1, len(Field))


def details(
    capture: Capture, idents: np.ndarray, forms: Forms | None = None, volatile: Volatile | None = None
) -> PageDetails:
    """Load the details of some pages of a capture; with ``forms``, under their final addresses.

    With ``volatile``, they are told without it.
    """
    translation = _translation(capture, forms) if forms else None
    if translation:
        # Where a page was captured in both forms, as loaded is the temporary one.
        idents = np.concatenate([idents, translation.to_temporary(idents)])
    told = _details(capture, np.unique(idents))
    twins = _twins(column_files.of(capture), capture.access.get("base", ""))
    if len(twins.temporary):
        told = replace(told, targets=twins.to_final(told.targets))
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
    """Return the details of those of some answers (ascending identities) that are there."""
    kept = column_files.of(capture)
    at = find(kept.ident, idents)
    rows = at[(at >= 0) & np.append(kept.is_page, False)[at]]
    refers, places, ends = slices(kept.refers, kept.places, kept.offsets, rows)
    return PageDetails(
        ident=kept.ident[rows],
        text=kept.lines("text").at(rows),
        title=kept.lines("title").at(rows),
        **{name: getattr(kept, name)[rows] for name in ("words", "images", "links", "forms")},
        prints=_prints(kept)[rows],
        targets=np.concatenate([kept.ident, kept.elsewhere])[refers],
        places=places,
        offsets=ends,
    )


def _side(capture: Capture, kept: CaptureColumns) -> dict[str, Any]:
    limits = list(capture.limits)
    if not capture.complete and capture.why:
        limits.append(capture.why)
    idents, kinds = stand_ins(capture)
    order = np.argsort(idents)
    at = find(idents[order], kept.ident)
    recognised = np.where(at >= 0, np.append(kinds[order], 0)[at], kept.recognised)
    return {name: getattr(kept, name) for name in _KEPT} | {
        "recognised": recognised,
        "homes": capture.bases,
        "reason": kept.lines("reason").filled(),
        "limits": tuple(limits),
    }
