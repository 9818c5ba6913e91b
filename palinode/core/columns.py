"""One side of a comparison, as columns."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from palinode.core import edges


@dataclass(frozen=True)
class SideColumns:
    """The answers of one capture, with the fingerprints of its pages: n rows, in any order.

    Arrays have shape (n,); the last five are of pages, and 0 for other rows.
    """

    homes: tuple[str, ...]
    """Home page's address of each of the side's hosts, the main one first."""
    limits: tuple[str, ...]
    """Which limits bit in this capture, or why it ended early, in words."""
    reason: dict[int, str]
    """Row to reason, for rows without an answer."""
    ident: np.ndarray
    status: np.ndarray
    """int16; -1 where nothing was fetched."""
    is_page: np.ndarray
    target: np.ndarray
    """int64: where a redirect leads; 0 for none."""
    noindex: np.ndarray
    recognised: np.ndarray
    """int16: what a page is besides being the page (recognition/kind.py)."""
    whole: np.ndarray
    """int64: one digest over the fingerprints of all fields."""
    edge_sum: np.ndarray
    """int64: the sum over the addresses in compared fields (edges.py)."""
    template: np.ndarray
    """int64: fingerprint of what stands around the main content."""

    @property
    def home(self) -> str:
        """Home page's address of the main host."""
        return self.homes[0]

    @cached_property
    def _ordered(self) -> tuple[np.ndarray, np.ndarray]:
        order = np.argsort(self.ident)
        return order, self.ident[order]

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 where there is none; shape as ``idents``."""
        order, ordered = self._ordered
        at = find(ordered, idents)
        return np.where(at >= 0, np.append(order, -1)[at], -1)


@dataclass(frozen=True)
class LeftColumns(SideColumns):
    """A left side, with what the address rule makes of its addresses; ``edge_sum`` is over that.

    ``targets`` and ``places`` are the references of compared fields of all rows, cut by ``offsets`` (n + 1,).
    """

    text: list[str]
    """The address of each row."""
    title: list[str]
    expected: list[str]
    """What the rule makes of each address."""
    expected_ident: np.ndarray
    planned: np.ndarray
    """bool: the rule changes the path or the query."""
    targets: np.ndarray
    """int64: identities of what the rule makes of the addresses referred to."""
    places: np.ndarray
    offsets: np.ndarray
    origins: dict[str, str]
    """Scheme and host of its addresses to those that take their place at the destination."""


@dataclass(frozen=True)
class PageDetails:
    """Details of k pages; arrays of shape (k,), ``prints`` (k, 14)."""

    ident: np.ndarray
    text: list[str]
    """Their addresses."""
    title: list[str]
    words: np.ndarray
    images: np.ndarray
    links: np.ndarray
    forms: np.ndarray
    prints: np.ndarray
    targets: np.ndarray
    places: np.ndarray
    offsets: np.ndarray

    def of(self, idents: np.ndarray) -> "PageDetails":
        """Return the details of these pages, in their order.

        Raises KeyError if one is not among them.
        """
        order = np.argsort(self.ident)
        at = find(self.ident[order], idents)
        if (at < 0).any():
            raise KeyError("the details of a page are missing")
        rows = order[at]
        targets, places, offsets = edges.slices(self.targets, self.places, self.offsets, rows)
        return PageDetails(
            ident=idents,
            text=[self.text[row] for row in rows.tolist()],
            title=[self.title[row] for row in rows.tolist()],
            words=self.words[rows],
            images=self.images[rows],
            links=self.links[rows],
            forms=self.forms[rows],
            prints=self.prints[rows],
            targets=targets,
            places=places,
            offsets=offsets,
        )


def changes_path(texts: list[str], expected: list[str]) -> np.ndarray:
    """Return bool (n,): where what is expected for an address has another path or query."""
    return np.array([a[a.find("/", 8) :] != b[b.find("/", 8) :] for a, b in zip(texts, expected, strict=True)], bool)


class References:
    """Where n references lead, gathered from some of them at a time."""

    def __init__(self, ident: np.ndarray, n: int) -> None:
        """``ident`` are the identities of answers (int64), each once."""
        self._order = np.argsort(ident)
        self._ident = ident[self._order]
        self._rows = np.zeros(n, np.int32)
        self._next = 0
        self._outside: list[np.ndarray] = [np.zeros(0, np.int64)]

    def add(self, targets: np.ndarray) -> None:
        """Add the identities (int64) that some references lead to."""
        at = find(self._ident, targets)
        self._rows[self._next : self._next + len(at)] = np.append(self._order, -1)[at]
        self._next += len(at)
        self._outside.append(targets[at < 0])

    def made(self) -> tuple[np.ndarray, np.ndarray]:
        """Return for each reference its row among the answers (int32); and the other targets (int64), ascending.

        For the latter the number of answers and more stands for a place among them.
        """
        elsewhere, place = np.unique(np.concatenate(self._outside), return_inverse=True)
        self._rows[self._rows < 0] = len(self._ident) + place
        return self._rows, elsewhere


class Referrers:
    """Who refers to each of n answers, gathered from some pages at a time, twice: first counted, then put in place."""

    def __init__(self, ident: np.ndarray) -> None:
        """``ident`` are the identities of the answers (int64, ascending)."""
        self._ident = ident
        self._counts = np.zeros(len(ident), np.int64)
        self._next: np.ndarray | None = None
        self.offsets = np.zeros(len(ident) + 1, np.int64)
        """int64 (n + 1,): cuts ``by``."""
        self.by = np.zeros(0, np.int32)
        """int32: rows of pages, each once for each answer; ascending where pages were given in order."""

    def count(self, rows: np.ndarray, targets: np.ndarray, sizes: np.ndarray) -> None:
        """Count what some pages (``rows``) refer to: their targets end to end, so many of each."""
        to, _ = self._pairs(rows, targets, sizes)
        self._counts += np.bincount(to, minlength=len(self._ident))

    def put(self, rows: np.ndarray, targets: np.ndarray, sizes: np.ndarray) -> None:
        """Put the same pages in place, after all were counted."""
        if self._next is None:
            self.offsets = offsets(self._counts)
            self.by = np.zeros(int(self.offsets[-1]), np.int32)
            self._next = self.offsets[:-1].copy()
        to, by = self._pairs(rows, targets, sizes)
        # They are in order of their targets, so that a row's place among those of its target follows from the first.
        first = np.flatnonzero(np.diff(to, prepend=-1))
        run = np.repeat(np.arange(len(first)), np.diff(first, append=len(to)))
        self.by[self._next[to] + np.arange(len(to)) - first[run]] = by
        self._next += np.bincount(to, minlength=len(self._ident))

    def _pairs(self, rows: np.ndarray, targets: np.ndarray, sizes: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return target and referrer of each reference among the answers, each pair once, in order of the targets."""
        at = find(self._ident, targets)
        there = at >= 0
        n = max(1, len(self._ident))
        pairs = np.unique(at[there] * n + np.repeat(rows, sizes)[there])
        return np.divmod(pairs, n)


def find(ordered: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    """Return for each value wanted its place in an ascending array, -1 where it is not.

    The values are identities, spread evenly over 64 bits, so for many of them a table over their first
    bits takes the place of bisecting: it leads to the value, or to one close before it.
    """
    if not len(ordered):
        return np.full(len(wanted), -1)
    if len(wanted) < len(ordered) // 8:
        at = np.minimum(np.searchsorted(ordered, wanted), len(ordered) - 1)
        return np.where(ordered[at] == wanted, at, -1)
    shift = np.uint64(64 - (len(ordered).bit_length() + 3))
    sign = np.uint64(1 << 63)
    table = np.bincount(((ordered.view(np.uint64) ^ sign) >> shift).view(np.int64), minlength=1 << int(64 - shift))
    starts = np.cumsum(table, dtype=np.int32) - table.astype(np.int32)
    at = starts[(wanted.view(np.uint64) ^ sign) >> shift].astype(np.int64)
    np.minimum(at, len(ordered) - 1, out=at)
    behind = np.flatnonzero(ordered[at] < wanted)
    at[behind] = np.minimum(np.searchsorted(ordered, wanted[behind]), len(ordered) - 1)
    return np.where(ordered[at] == wanted, at, -1)


def translated(idents: np.ndarray, ordered: np.ndarray, to: np.ndarray) -> np.ndarray:
    """Return identities, with each that is in ``ordered`` (ascending) replaced by the one at its place in ``to``."""
    at = find(ordered, idents)
    found: np.ndarray = np.where(at >= 0, np.append(to, 0)[at], idents)
    return found


def offsets(sizes: np.ndarray) -> np.ndarray:
    """Return int64 of shape (n + 1,): where each of n slices of these sizes starts, and where the last ends."""
    return np.concatenate([np.zeros(1, np.int64), np.cumsum(sizes, dtype=np.int64)])
