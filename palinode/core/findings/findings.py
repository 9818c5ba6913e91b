"""The findings of a comparison, as columns."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from palinode.core import edges
from palinode.core.fates import AddressChange, Asked, Fate, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.findings.kind import FIELDS, FindingKind
from palinode.core.findings.shared import Shared
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight

_PAIRED = (Fate.KEPT, Fate.ALTERED, Fate.MOVED)


@dataclass(frozen=True)
class Findings:
    """n findings, by weight, then kind, then row; arrays of shape (n,)."""

    kind: np.ndarray
    """int16: a FindingKind."""
    weight: np.ndarray
    """int16: a Weight."""
    row: np.ndarray
    """int64: row of the ledger; -1 for one that many pages share."""
    page: np.ndarray
    """int64: identity of the left page; of the right one where there is no left one; a digest of what is shared."""
    key: np.ndarray
    """int64: what makes it the same finding in the next comparison: its kind and its page."""
    seen: np.ndarray
    """int64: what it looks like: another number as soon as either side says something else there."""
    shared: dict[int, Shared] = field(default_factory=dict)
    """By place, those that many pages share."""

    def __len__(self) -> int:
        return len(self.kind)

    def of(self, *kinds: FindingKind) -> np.ndarray:
        """Return bool (n,): which are of these kinds."""
        found: np.ndarray = np.isin(self.kind, kinds)
        return found


def find(
    ledger: Ledger, weights: Mapping[FindingKind, Weight] | None = None, shared: Sequence[Shared] = ()
) -> Findings:
    """Return the findings of a ledger, and those that many pages ``shared``.

    ``weights`` are those that a person gave to kinds.
    """
    parts = [*_of_rows(ledger), *_of_fields(ledger)]
    nothing = np.zeros(0, np.int64)
    many = len(shared)
    kind = np.concatenate(
        [
            nothing,
            *(np.full(len(rows), one) for one, rows, _ in parts),
            np.array([one.kind for one in shared], np.int64),
        ]
    )
    row = np.concatenate([nothing, *(rows for _, rows, _ in parts), np.full(many, -1, np.int64)])
    seen = np.concatenate([nothing, *(looks for _, _, looks in parts), np.array([s.seen for s in shared], np.int64)])
    count = len(kind) - many
    page = np.where(ledger.left[row[:count]] != 0, ledger.left[row[:count]], ledger.right[row[:count]])
    page = np.concatenate([page, np.array([one.page for one in shared], np.int64)])
    table = {one: (weights or {}).get(one, one.weight) for one in FindingKind}
    lookup = np.zeros(max(FindingKind) + 1, np.int16)
    lookup[list(table)] = list(table.values())
    order = np.lexsort((row, kind, lookup[kind]))
    told = {place: shared[at - count] for place, at in enumerate(order.tolist()) if at >= count}
    kind, row, page = kind[order].astype(np.int16), row[order], page[order]
    return Findings(kind, lookup[kind], row, page, _key(kind, page), seen[order], told)


def _key(kind: np.ndarray, page: np.ndarray) -> np.ndarray:
    return edges.mixed(page, kind.astype(np.int64) + 1)


def _of_rows(ledger: Ledger) -> list[tuple[FindingKind, np.ndarray, np.ndarray]]:
    """Return kind, rows and what they look like, of what is said of whole pages."""
    fate, redirect = ledger.fate, ledger.redirect
    stood_in = (fate == Fate.UNKNOWN) & (ledger.asked == Asked.NOT_TRUSTED)
    moved = fate == Fate.MOVED
    missing = moved & np.isin(redirect, [Redirect.MISSING, Redirect.ELSEWHERE])
    temporary = moved & (redirect == Redirect.TEMPORARY)
    paired = np.isin(fate, _PAIRED)
    merged = _merged(ledger)
    unplanned = moved & (ledger.address_change == AddressChange.UNPLANNED) & ~missing & ~temporary & ~merged
    other_name = np.isin(fate, [Fate.KEPT, Fate.ALTERED]) & (ledger.found_by == FoundBy.REDIRECT) & ~merged
    masks = {
        FindingKind.LOST: fate == Fate.LOST,
        FindingKind.STOOD_IN: stood_in,
        FindingKind.NOT_JUDGED: (fate == Fate.UNKNOWN) & ~stood_in,
        FindingKind.NEW: fate == Fate.NEW,
        FindingKind.REDIRECT_MISSING: missing,
        FindingKind.REDIRECT_TEMPORARY: temporary,
        FindingKind.UNPLANNED: unplanned,
        FindingKind.NOINDEX: paired & ledger.shut_out,
        FindingKind.OTHER_NAME: other_name,
        FindingKind.MERGED: merged,
    }
    found = []
    for kind, mask in masks.items():
        rows = np.flatnonzero(mask)
        looks = ledger.right[rows] if kind in _BY_PARTNER else np.full(len(rows), int(kind))
        found.append((kind, rows, looks.astype(np.int64)))
    return found


_BY_PARTNER = frozenset(
    {
        FindingKind.REDIRECT_MISSING,
        FindingKind.REDIRECT_TEMPORARY,
        FindingKind.UNPLANNED,
        FindingKind.OTHER_NAME,
        FindingKind.MERGED,
    }
)


def _merged(ledger: Ledger) -> np.ndarray:
    """Return bool (rows,): whose redirect leads to a page that others lead to as well, and that says something else."""
    partners = np.where((ledger.left != 0) & np.isin(ledger.fate, _PAIRED), ledger.right, 0)
    _, which, count = np.unique(partners, return_inverse=True, return_counts=True)
    by_redirect = (ledger.found_by == FoundBy.REDIRECT) & (ledger.content_change != 0)
    found: np.ndarray = (partners != 0) & (count[which] > 1) & by_redirect
    return found


def _of_fields(ledger: Ledger) -> list[tuple[FindingKind, np.ndarray, np.ndarray]]:
    """Return kind, rows and what they look like, of fields that differ; retired and merged pages have none."""
    told = ledger.differences
    judged = (np.isin(ledger.fate, _PAIRED) & ~_merged(ledger))[told.row]
    bits = ledger.content_change[told.row]
    found = []
    for one in Field:
        differs = judged & (bits >> one & 1 == 1)
        if one == Field.ROBOTS:
            differs &= ~ledger.shut_out[told.row]
        at = np.flatnonzero(differs)
        found.append((FindingKind(FIELDS + one), told.row[at], told.seen[at, one]))
    return found
