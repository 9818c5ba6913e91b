"""Which compared fields of paired pages differ, when the address rule maps left to right."""

from collections.abc import Collection

import numpy as np

from palinode.core import edges
from palinode.core.columns import LeftColumns, PageDetails, SideColumns, translated
from palinode.core.fields import Field, Place

NO_TARGETS = np.zeros(0, np.int64)
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
    found[both] = (left.whole[a] != right.whole[b]) | (left.edge_sum[a] != right.edge_sum[b])
    return found


def changes(
    left: LeftColumns,
    left_rows: np.ndarray,
    left_told: PageDetails,
    right_told: PageDetails,
    moved: tuple[np.ndarray, np.ndarray],
    apart: Collection[Field] = (),
    left_out: np.ndarray = NO_TARGETS,
) -> tuple[np.ndarray, np.ndarray]:
    """Return int32 (k,): for each of k pairs the bits of the fields that differ, but for those ``apart``.

    And int64 (k, fields): what both pages say in each field, as one number.

    ``left_told`` and ``right_told`` are the details of the pairs, row by row. A field is the same when
    what in it is no address is the same and its addresses are the same ones, in whatever order. ``moved`` are the
    identities, ascending, at which pages were expected that were found elsewhere, and where they are: a link to
    either leads to the page. Addresses ``left_out`` (identities at the destination) are told elsewhere.
    """
    one, other = left_told.prints.copy(), right_told.prints.copy()
    targets, places, ends = edges.slices(left.targets, left.places, left.offsets, left_rows)
    a = _without(left_out, translated(targets, *moved), places, ends)
    b = _without(left_out, translated(right_told.targets, *moved), right_told.places, right_told.offsets)
    for place in _WITH_ADDRESSES:
        one[:, place] = edges.mixed(one[:, place], edges.sums(*a, only=place))
        other[:, place] = edges.mixed(other[:, place], edges.sums(*b, only=place))
    differs = one != other
    differs[:, [int(one) for one in apart]] = False
    bits: np.ndarray = (differs @ (1 << np.arange(len(Field), dtype=np.int32))).astype(np.int32)
    return bits, edges.mixed(one, other)


def _without(
    left_out: np.ndarray, targets: np.ndarray, places: np.ndarray, ends: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return edges with the targets that are left out put nowhere."""
    return targets, np.where(np.isin(targets, left_out), np.uint8(_NOWHERE), places) if len(left_out) else places, ends
