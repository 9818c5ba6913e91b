"""What is wrong with pages, or differs in them, found in their rows."""

from collections import defaultdict
from collections.abc import Callable, Sequence

import numpy as np

from palinode.core import findings
from palinode.core.checks.kind import Kind
from palinode.core.checks.pages import kinds
from palinode.core.differences import Difference
from palinode.core.fates import AddressChange, Asked, Fate, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.findings import Finding, Findings, Many
from palinode.core.ledger import Ledger

_PAIRED = (Fate.KEPT, Fate.ALTERED, Fate.MOVED)
_BY_PARTNER = frozenset(
    kind.word
    for kind in (kinds.REDIRECT_MISSING, kinds.REDIRECT_TEMPORARY, kinds.UNPLANNED, kinds.OTHER_NAME, kinds.MERGED)
)
"""Kinds that look otherwise as soon as another page is the partner."""


def find(ledger: Ledger, shared: Sequence[Finding] = ()) -> Findings:
    """Return the findings of a ledger, and those that many pages ``shared``."""
    told = dict(zip(ledger.differences.row.tolist(), ledger.differences.said, strict=True))

    def of(kind: Kind, rows: np.ndarray, seen: np.ndarray, detail: Callable[[int], str]) -> Many:
        subject = np.where(ledger.left[rows] != 0, ledger.left[rows], ledger.right[rows])
        return Many(kind, rows, subject, seen, *_addresses(ledger, rows), [detail(row) for row in rows.tolist()])

    many = [of(kind, rows, seen, ledger.detail.__getitem__) for kind, rows, seen in _of_rows(ledger)]
    for field, rows, seen in _of_fields(ledger):
        kind = kinds.OF_FIELD[field]
        many.append(of(kind, rows, seen, lambda row, field=field: told[row].get(field, "differs")))  # type: ignore[misc]
    alone, on_many = _of_differences(ledger)
    return findings.columns(kinds.ALL, many + alone, [*shared, *on_many])


def _addresses(ledger: Ledger, rows: np.ndarray) -> tuple[list[str], list[str]]:
    at = rows.tolist()
    return [ledger.left_address[row] for row in at], [ledger.right_address[row] for row in at]


def _of_differences(ledger: Ledger) -> tuple[list[Many], list[Finding]]:
    """Return one finding for each difference: of one page alone, and of several; what is meant to go is not told."""
    judged = np.isin(ledger.fate, _PAIRED) & ~_merged(ledger)
    alone: dict[Kind, list[tuple[int, Difference]]] = defaultdict(list)
    on_many = []
    for one in ledger.differences.told:
        rows = one.at[judged[one.at]]
        kind = kinds.NOINDEX if one.noindex else kinds.OF_FIELD[one.field]
        if len(rows) == 1:
            alone[kind].append((int(rows[0]), one))
        elif len(rows):
            rows = rows[np.argsort(ledger.place[rows])]
            (left, *_), (right, *_) = _addresses(ledger, rows[:1])
            on_many.append(
                Finding(
                    kind, one.locus, len(rows), left, right, one.detail, one.about, -1, rows.astype(np.int32), one.looks
                )
            )
    return [_alone(ledger, kind, told) for kind, told in alone.items()], on_many


def _alone(ledger: Ledger, kind: Kind, told: list[tuple[int, Difference]]) -> Many:
    rows = np.array([row for row, _ in told], np.int64)
    differences = [one for _, one in told]
    subject = np.array([findings.subject(one.about, one.locus) for one in differences], np.int64)
    seen = np.array([findings.digest(one.looks or one.detail) for one in differences], np.int64)
    return Many(kind, rows, subject, seen, *_addresses(ledger, rows), [one.detail for one in differences])


def _of_rows(ledger: Ledger) -> list[tuple[Kind, np.ndarray, np.ndarray]]:
    """Return kind, rows, and what tells their looks apart, of faults of whole pages."""
    fate, redirect = ledger.fate, ledger.redirect
    stood_in = (fate == Fate.UNKNOWN) & (ledger.asked == Asked.NOT_TRUSTED)
    moved = fate == Fate.MOVED
    missing = moved & np.isin(redirect, [Redirect.MISSING, Redirect.ELSEWHERE])
    temporary = moved & (redirect == Redirect.TEMPORARY)
    paired = np.isin(fate, _PAIRED)
    merged = _merged(ledger)
    unplanned = moved & (ledger.address_change == AddressChange.UNPLANNED) & ~missing & ~temporary & ~merged
    other_name = np.isin(fate, [Fate.KEPT, Fate.ALTERED]) & (ledger.found_by == FoundBy.REDIRECT) & ~merged
    alike = np.zeros(len(fate), bool)
    for one in ledger.differences.told:
        if one.noindex:
            alike[one.at] = True
    masks = {
        kinds.LOST: fate == Fate.LOST,
        kinds.STOOD_IN: stood_in,
        kinds.NOT_JUDGED: (fate == Fate.UNKNOWN) & ~stood_in,
        kinds.NEW: fate == Fate.NEW,
        kinds.REDIRECT_MISSING: missing,
        kinds.REDIRECT_TEMPORARY: temporary,
        kinds.UNPLANNED: unplanned,
        kinds.NOINDEX: paired & ledger.shut_out & ~alike,
        kinds.OTHER_NAME: other_name,
        kinds.MERGED: merged,
    }
    found = []
    for kind, mask in masks.items():
        rows = np.flatnonzero(mask)
        looks = ledger.right[rows] if kind.word in _BY_PARTNER else np.zeros(len(rows))
        found.append((kind, rows, looks.astype(np.int64)))
    return found


def _merged(ledger: Ledger) -> np.ndarray:
    """Return bool (rows,): whose redirect leads to a page that others lead to as well, and that says something else."""
    partners = np.where((ledger.left != 0) & np.isin(ledger.fate, _PAIRED), ledger.right, 0)
    _, which, count = np.unique(partners, return_inverse=True, return_counts=True)
    by_redirect = (ledger.found_by == FoundBy.REDIRECT) & (ledger.content_change != 0)
    found: np.ndarray = (partners != 0) & (count[which] > 1) & by_redirect
    return found


def _of_fields(ledger: Ledger) -> list[tuple[Field, np.ndarray, np.ndarray]]:
    """Return field, rows and what they look like, where a page differs in a field as a whole.

    Retired and merged pages have none.
    """
    told = ledger.differences
    judged = (np.isin(ledger.fate, _PAIRED) & ~_merged(ledger))[told.row]
    found = []
    for one in Field:
        at = np.flatnonzero(judged & (told.whole >> one & 1 == 1))
        found.append((one, told.row[at], told.seen[at, one]))
    return found
