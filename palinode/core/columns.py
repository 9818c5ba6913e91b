"""One side of a comparison, as columns."""

from dataclasses import dataclass, field

import numpy as np


@dataclass(frozen=True)
class PageFacts:
    """What pairs are told alike by: m pages, as columns in any order; references of compared fields alone.

    Arrays have shape (m,) but for ``offsets`` (m + 1,) and the two arrays of all references together,
    ``targets`` and ``places``, which ``offsets`` cuts into pages.
    """

    ident: np.ndarray
    title: list[str]
    noindex: np.ndarray
    whole: np.ndarray
    """int64: one digest over the fingerprints of all fields."""
    offsets: np.ndarray
    targets: np.ndarray
    places: np.ndarray

    def rows(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 where there is none; shape as ``idents``."""
        return find_any(self.ident, idents)


@dataclass(frozen=True)
class PageDetails:
    """What is told of pages that differ: k pages, in any order; arrays of shape (k,), ``prints`` (k, 14)."""

    ident: np.ndarray
    words: np.ndarray
    images: np.ndarray
    links: np.ndarray
    forms: np.ndarray
    prints: np.ndarray

    def rows(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 where there is none; shape as ``idents``."""
        return find_any(self.ident, idents)


@dataclass(frozen=True)
class SideColumns:
    """The answers of one capture: n rows, sorted by ``ident``."""

    home: str
    """The side's base address."""
    ident: np.ndarray
    text: list[str]
    status: np.ndarray
    """int16; -1 where nothing was fetched."""
    is_page: np.ndarray
    target: np.ndarray
    """int64: where a redirect leads; 0 for none."""
    reason: dict[int, str]
    """Row to reason, for rows without an answer."""
    facts: PageFacts
    limits: tuple[str, ...] = ()
    """Which limits bit in this capture, or why it ended early, in words."""
    elsewhere: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int64))
    """int64, ascending: what its pages refer to in compared fields besides the capture's own addresses."""
    elsewhere_text: list[str] = field(default_factory=list)
    """Their texts, in the same order."""

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 where there is none; shape as ``idents``."""
        return find(self.ident, idents)


def distinct(values: np.ndarray) -> np.ndarray:
    """Return the distinct values, ascending."""
    ordered = np.sort(values)
    return ordered[np.concatenate([[True], ordered[1:] != ordered[:-1]])] if len(ordered) else ordered


def find(ordered: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    """Return for each value wanted its place in an ascending array, -1 where it is not."""
    if not len(ordered):
        return np.full(len(wanted), -1)
    at = np.minimum(np.searchsorted(ordered, wanted), len(ordered) - 1)
    return np.where(ordered[at] == wanted, at, -1)


def find_any(values: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    """Return for each value wanted its place in an array of any order, -1 where it is not."""
    order = np.argsort(values)
    at = find(values[order], wanted)
    return np.where(at >= 0, np.append(order, -1)[at], -1)
