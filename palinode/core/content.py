"""Which compared fields of paired pages differ, when the address rule maps left to right."""

from collections.abc import Collection

import numpy as np

from palinode.core import edges
from palinode.core.columns import LeftColumns, PageDetails, SideColumns
from palinode.core.fields import Field, Place

_WITH_ADDRESSES = tuple(sorted({int(place) for place in Place if place < len(Field)}))


def unlike(
    left: LeftColumns, right: SideColumns, left_rows: np.ndarray, right_rows: np.ndarray, mapped: np.ndarray
) -> np.ndarray:
    """Return bool of shape (n,): which pairs differ in any compared field.

    ``left_rows`` and ``right_rows`` are rows of the sides, -1 on the right for no partner; ``mapped`` is
    what the rule makes of ``left.targets``, in the same order.
    """
    both = right_rows >= 0
    a, b = left_rows[both], right_rows[both]
    found = np.zeros(len(left_rows), bool)
    edge_sum = edges.sums(mapped, left.places, left.offsets)
    found[both] = (left.whole[a] != right.whole[b]) | (edge_sum[a] != right.edge_sum[b])
    return found


def changes(
    left: LeftColumns,
    left_rows: np.ndarray,
    mapped: np.ndarray,
    left_told: PageDetails,
    right_told: PageDetails,
    apart: Collection[Field] = (),
) -> np.ndarray:
    """Return int32 of shape (k,): for each of k pairs the bits of the fields that differ, but for those ``apart``.

    ``left_told`` and ``right_told`` are the details of the pairs, row by row. A field is the same when
    what in it is no address is the same and its addresses are the same ones, in whatever order.
    """
    differs = left_told.prints != right_told.prints
    a = edges.slices(mapped, left.places, left.offsets, left_rows)
    b = (right_told.targets, right_told.places, right_told.offsets)
    for place in _WITH_ADDRESSES:
        differs[:, place] |= edges.sums(*a, only=place) != edges.sums(*b, only=place)
    differs[:, [int(one) for one in apart]] = False
    bits: np.ndarray = (differs @ (1 << np.arange(len(Field), dtype=np.int32))).astype(np.int32)
    return bits
