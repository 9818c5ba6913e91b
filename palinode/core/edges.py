"""Edges: who refers to what, as arrays; and sums over them that do not depend on their order."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core.fields import COMPARED_PLACES, Place

_MIX = np.uint64(0x9E3779B97F4A7C15)


@dataclass(frozen=True, slots=True)
class Edges:
    """The edges of one page. Those in compared fields come first, so that a comparison need not read the others."""

    targets: np.ndarray
    """int64: address identities."""
    places: np.ndarray
    """uint8: where each stands (fields.py)."""
    compared: int
    """How many of them stand in compared fields."""

    @property
    def sum(self) -> int:
        """The sum over those in compared fields."""
        found = sums(self.targets[: self.compared], self.places[: self.compared], np.array([0, self.compared]))
        return int(found[0])

    def count(self, place: Place) -> int:
        """Return how many addresses stand in ``place``."""
        return int((self.places == place).sum())


def arranged(targets: list[int], places: list[int]) -> Edges:
    """Return edges from targets and places in document order, which they keep within both parts."""
    every, where = np.array(targets, np.int64), np.frombuffer(bytes(places), np.uint8)
    other = where >= COMPARED_PLACES
    order = np.argsort(other, kind="stable")
    return Edges(every[order], where[order], len(targets) - int(np.count_nonzero(other)))


def in_document_order(targets: np.ndarray, places: Sequence[int]) -> np.ndarray:
    """Return targets that :func:`arranged` put in order as they stand in the page; ``places`` are in that order."""
    found = np.empty(len(targets), np.int64)
    found[np.argsort(np.array(places) >= COMPARED_PLACES, kind="stable")] = targets
    return found


def sums(targets: np.ndarray, places: np.ndarray, offsets: np.ndarray, only: int | None = None) -> np.ndarray:
    """Return int64 of shape (m,): for each page a sum over its targets, each with its place.

    ``targets`` (int64) and ``places`` (uint8) are those of all m pages end to end, cut by ``offsets``
    (m + 1,). Pages that refer to the same addresses from the same places share it, in whatever order;
    with ``only``, what stands in other places is left out.
    """
    values = (targets.view(np.uint64) + places.astype(np.uint64)) * _MIX
    values ^= values >> np.uint64(29)
    if only is not None:
        values[places != only] = 0
    running = np.concatenate([np.zeros(1, np.uint64), np.cumsum(values, dtype=np.uint64)])
    found: np.ndarray = (running[offsets[1:]] - running[offsets[:-1]]).view(np.int64)
    return found


def mixed(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Return int64: one number for each two, in this order."""
    value = np.ascontiguousarray(one).view(np.uint64) * _MIX + np.ascontiguousarray(other).view(np.uint64)
    value ^= value >> np.uint64(32)
    value *= _MIX
    value ^= value >> np.uint64(29)
    found: np.ndarray = value.view(np.int64)
    return found


def slices(
    targets: np.ndarray, places: np.ndarray, offsets: np.ndarray, rows: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return targets, places and offsets of some pages alone, in the order of ``rows``."""
    sizes = offsets[rows + 1] - offsets[rows]
    ends = np.concatenate([np.zeros(1, np.int64), np.cumsum(sizes)])
    at = np.arange(ends[-1]) + np.repeat(offsets[rows] - ends[:-1], sizes)
    return targets[at], places[at], ends
