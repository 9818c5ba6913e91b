"""Candidates: left and right pages that may be the same page, with how strongly one evidence says so."""

from collections.abc import Hashable, Iterable
from dataclasses import dataclass

import numpy as np

MOST_ALIKE = 20
"""Pages of one side that share a key at most; what more of them share tells no page from another."""


@dataclass(frozen=True)
class Candidates:
    """What one evidence says; arrays of shape (c,)."""

    left: np.ndarray
    """int64: rows of the left pages."""
    right: np.ndarray
    strength: np.ndarray
    """float64, from 0 to 1."""

    @classmethod
    def of(cls, found: Iterable[tuple[int, int, float]]) -> "Candidates":
        """Return candidates from rows (left, right, strength); two pages that are named twice count once, at best."""
        best: dict[tuple[int, int], float] = {}
        for one, other, strength in found:
            best[one, other] = max(strength, best.get((one, other), 0.0))
        rows = np.array(list(best), np.int64).reshape(-1, 2)
        return cls(rows[:, 0], rows[:, 1], np.array(list(best.values()), np.float64))


def sharing(left: Iterable[Iterable[Hashable]], right: Iterable[Iterable[Hashable]]) -> list[tuple[int, int, int]]:
    """Return (left, right, crowd) for each two pages that share a key; each page has any number of keys.

    ``crowd`` is how many pages of the fuller side share it: one of so many can be the partner.
    """
    by_key: dict[Hashable, list[int]] = {}
    for row, keys in enumerate(right):
        for key in keys:
            by_key.setdefault(key, []).append(row)
    wanting: dict[Hashable, list[int]] = {}
    for row, keys in enumerate(left):
        for key in keys:
            if key in by_key:
                wanting.setdefault(key, []).append(row)
    found = []
    for key, rows in wanting.items():
        others = by_key[key]
        crowd = max(len(rows), len(others))
        if crowd <= MOST_ALIKE:
            found += [(row, other, crowd) for row in rows for other in others]
    return found
