"""Which compared fields of paired pages differ, when the address rule maps left to right."""

import numpy as np

from palinode.core.columns import PageFacts
from palinode.core.fields import Field, Place

_WITH_ADDRESSES = tuple(sorted({int(place) for place in Place if place < len(Field)}))
_MIX = np.uint64(0x9E3779B97F4A7C15)


def unlike(
    left: PageFacts, right: PageFacts, left_rows: np.ndarray, right_rows: np.ndarray, mapped: np.ndarray
) -> np.ndarray:
    """Return bool of shape (n,): which pairs differ in any compared field.

    ``left_rows`` and ``right_rows`` are rows of the facts, -1 for a page without; ``mapped`` is what
    the rule makes of ``left.targets``, in the same order.
    """
    both = (left_rows >= 0) & (right_rows >= 0)
    a, b = left_rows[both], right_rows[both]
    found = np.zeros(len(left_rows), bool)
    same_sums = _sums(mapped, left.places, left.offsets)[a] == _sums(right.targets, right.places, right.offsets)[b]
    found[both] = (left.whole[a] != right.whole[b]) | ~same_sums
    return found


def changes(
    left: PageFacts,
    right: PageFacts,
    left_rows: np.ndarray,
    right_rows: np.ndarray,
    mapped: np.ndarray,
    left_prints: np.ndarray,
    right_prints: np.ndarray,
) -> np.ndarray:
    """Return int32 of shape (k,): for each of k pairs the bits of the fields that differ.

    ``left_prints`` and ``right_prints`` have shape (k, 14). A field is the same when what in it is no
    address is the same and its addresses are the same ones, in whatever order.
    """
    differs = left_prints != right_prints
    a = _slices(mapped, left.places, left.offsets, left_rows)
    b = _slices(right.targets, right.places, right.offsets, right_rows)
    for place in _WITH_ADDRESSES:
        differs[:, place] |= _sums(*a, only=place) != _sums(*b, only=place)
    bits: np.ndarray = (differs @ (1 << np.arange(len(Field), dtype=np.int32))).astype(np.int32)
    return bits


def _slices(
    targets: np.ndarray, places: np.ndarray, offsets: np.ndarray, rows: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return targets, places and offsets of some pages alone, in the order of ``rows``."""
    sizes = offsets[rows + 1] - offsets[rows]
    ends = np.concatenate([np.zeros(1, np.int64), np.cumsum(sizes)])
    at = np.arange(ends[-1]) + np.repeat(offsets[rows] - ends[:-1], sizes)
    return targets[at], places[at], ends


def _sums(targets: np.ndarray, places: np.ndarray, offsets: np.ndarray, only: int | None = None) -> np.ndarray:
    """Return for each page a sum over its targets, the same in whatever order they stand in their places."""
    values = (targets.view(np.uint64) + places.astype(np.uint64)) * _MIX
    values ^= values >> np.uint64(29)
    if only is not None:
        values[places != only] = 0
    running = np.concatenate([np.zeros(1, np.uint64), np.cumsum(values, dtype=np.uint64)])
    sums: np.ndarray = running[offsets[1:]] - running[offsets[:-1]]
    return sums
