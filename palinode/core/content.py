"""Which compared fields of paired pages differ, when the address rule maps left to right."""

from collections.abc import Collection

import numpy as np

from palinode.core import edges
from palinode.core.columns import LeftColumns, PageDetails, SideColumns, translated
from palinode.core.differences.difference import References
from palinode.core.fields import Field, Place

NO_TARGETS = np.zeros(0, np.int64)
NOT_FETCHED = -1
"""Status of a page of which nothing was fetched."""
_NOWHERE = 255
"""A place that belongs to no field."""
_WITH_ADDRESSES = tuple(sorted({int(place) for place in Place if place < len(Field)}))


def unlike(left: LeftColumns, right: SideColumns, left_rows: np.ndarray, right_rows: np.ndarray) -> np.ndarray:
    """Return bool of shape (n,): which pairs differ in any compared field.

    ``left_rows`` and ``right_rows`` are rows of the sides, -1 on the right for no partner.
    """
    both = right_rows >= 0
    a, b = left_rows[both], right_rows[both]
    found = np.zeros(len(left_rows), bool)
    differ = (left.whole[a] != right.whole[b]) | (left.edge_sum[a] != right.edge_sum[b])
    # Of an address that is known by name alone, nothing can differ.
    found[both] = differ & (left.status[a] != NOT_FETCHED)
    return found


def references(
    left: LeftColumns,
    left_rows: np.ndarray,
    right_told: PageDetails,
    moved: tuple[np.ndarray, np.ndarray],
    left_out: np.ndarray = NO_TARGETS,
) -> tuple[References, References]:
    """Return what both pages of k pairs refer to in compared fields, the left ones as it is expected.

    ``right_told`` are the details of the right pages. ``moved`` are the identities, ascending, at which pages were
    expected that were found elsewhere, and where they are: a link to either leads to the page. Addresses ``left_out``
    (identities at the destination) are told elsewhere.
    """
    targets, places, ends = edges.slices(left.targets, left.places, left.offsets, left_rows)
    return (
        _without(left_out, translated(targets, *moved), places, ends),
        _without(left_out, translated(right_told.targets, *moved), right_told.places, right_told.offsets),
    )


def changes(
    left_prints: np.ndarray,
    right_prints: np.ndarray,
    left_refers: References,
    right_refers: References,
    apart: Collection[Field] = (),
) -> tuple[np.ndarray, np.ndarray]:
    """Return int32 (k,): for each of k pairs the bits of the fields that differ, but for those ``apart``.

    And int64 (k, fields): what both pages say in each field, as one number. A field is the same when what in it is no
    address is the same (prints, int64 (k, fields)) and its addresses are the same ones, in whatever order.
    """
    one, other = left_prints.copy(), right_prints.copy()
    for place in _WITH_ADDRESSES:
        one[:, place] = edges.mixed(one[:, place], edges.sums(*left_refers, only=place))
        other[:, place] = edges.mixed(other[:, place], edges.sums(*right_refers, only=place))
    differs = one != other
    differs[:, [int(one) for one in apart]] = False
    bits: np.ndarray = (differs @ (1 << np.arange(len(Field), dtype=np.int32))).astype(np.int32)
    return bits, edges.mixed(one, other)


def _without(left_out: np.ndarray, targets: np.ndarray, places: np.ndarray, ends: np.ndarray) -> References:
    """Return references with the targets that are left out put nowhere."""
    return targets, np.where(np.isin(targets, left_out), np.uint8(_NOWHERE), places) if len(left_out) else places, ends
