"""Which compared fields of paired pages differ, when the address rule maps left to right."""

import numpy as np

from palinode.core.columns import PageFacts
from palinode.core.fields import Field, Place

_WITH_ADDRESSES = tuple(sorted({int(place) for place in Place if place < len(Field)}))
_MIX = np.uint64(0x9E3779B97F4A7C15)


def changes(
    left: PageFacts, right: PageFacts, left_rows: np.ndarray, right_rows: np.ndarray, mapped: np.ndarray
) -> np.ndarray:
    """Return int32 of shape (n,): for each pair the bits of the fields that differ.

    ``left_rows`` and ``right_rows`` are rows of the facts, -1 for a page without; ``mapped`` is what
    the rule makes of ``left.targets``, in the same order. A field is the same when what in it is no
    address is the same and its addresses are the same ones, in whatever order.
    """
    both = (left_rows >= 0) & (right_rows >= 0)
    a, b = left_rows[both], right_rows[both]
    differs = left.prints[a] != right.prints[b]
    for place in _WITH_ADDRESSES:
        differs[:, place] |= (
            _sums(mapped, left.places, left.offsets, place)[a]
            != _sums(right.targets, right.places, right.offsets, place)[b]
        )
    bits = np.zeros(len(left_rows), np.int32)
    bits[both] = differs @ (1 << np.arange(len(Field), dtype=np.int32))
    return bits


def _sums(targets: np.ndarray, places: np.ndarray, offsets: np.ndarray, place: int) -> np.ndarray:
    """Return for each page a sum over its targets in ``place``, the same in whatever order they stand."""
    values = targets.view(np.uint64) * _MIX
    values ^= values >> np.uint64(29)
    values[places != place] = 0
    running = np.concatenate([np.zeros(1, np.uint64), np.cumsum(values, dtype=np.uint64)])
    sums: np.ndarray = running[offsets[1:]] - running[offsets[:-1]]
    return sums
