"""Shingles: a text as the set of its runs of words, for many texts at once; what two texts share is counted by them."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core.pairing import words

WORDS = 3
"""Words of a shingle."""
MOST = 2_000
"""Shingles of a text that are kept: of a longer one always the same part, so that two stay comparable."""
_MIX = np.uint64(0x9E3779B97F4A7C15)
_FACTORS = (np.uint64(0xBF58476D1CE4E5B9), np.uint64(0x94D049BB133111EB), np.uint64(0xD6E8FEB86659FD93))
_LARGEST_TABLE = 24
_AT_ONCE = 60_000
"""Characters of texts that are cut at once: as many as a processor has at hand."""


@dataclass(frozen=True)
class Shingles:
    """The shingles of n texts."""

    values: np.ndarray
    """uint64: those of each text ascending, end to end."""
    offsets: np.ndarray
    """int64 (n + 1,): where those of each text begin."""

    @property
    def sizes(self) -> np.ndarray:
        """int64 (n,): how many each text has."""
        return np.diff(self.offsets)

    def of(self, rows: np.ndarray) -> "Shingles":
        """Return those of some texts, in the order given."""
        sizes = self.sizes[rows]
        ends = np.concatenate([np.zeros(1, np.int64), np.cumsum(sizes)])
        at = np.arange(ends[-1]) + np.repeat(self.offsets[rows] - ends[:-1], sizes)
        return Shingles(self.values[at], ends)

    def part(self, start: int, end: int) -> "Shingles":
        """Return those of the texts from ``start`` to before ``end``."""
        cut = self.offsets[start : end + 1]
        return Shingles(self.values[cut[0] : cut[-1]], cut - cut[0])


class Shingler:
    """Makes shingles of texts, a batch at a time, so that only one batch of texts is in memory."""

    def __init__(self) -> None:
        self._values: list[np.ndarray] = [np.zeros(0, np.uint64)]
        self._sizes: list[np.ndarray] = [np.zeros(0, np.int64)]

    def add(self, texts: Sequence[str]) -> None:
        """Add texts; those shorter than a shingle have none."""
        length = np.cumsum([len(text) for text in texts])
        starts = np.flatnonzero(np.diff(length // _AT_ONCE, prepend=-1)).tolist()
        for start, end in zip(starts, [*starts[1:], len(texts)], strict=True):
            self._add(texts[start:end])

    def _add(self, texts: Sequence[str]) -> None:
        numbers, count = words.numbers(texts)
        runs = _runs(numbers)
        # All texts are one row of words here: a run begins in a text and ends in it, or is none.
        size = np.maximum(count - WORDS + 1, 0)
        text = np.repeat(np.arange(len(texts)), size)
        runs = runs[np.arange(len(text)) + (np.cumsum(count) - count - np.cumsum(size) + size)[text]]
        for start, end in zip((np.cumsum(size) - size).tolist(), np.cumsum(size).tolist(), strict=True):
            runs[start:end].sort()
        kept = (np.diff(runs, prepend=np.uint64(0)) != 0) | (np.diff(text, prepend=-1) != 0)
        runs, text = runs[kept], text[kept]
        size = np.bincount(text, minlength=len(texts))
        if size.max(initial=0) > MOST:
            parts = np.split(runs, np.cumsum(size)[:-1])
            runs = np.concatenate([_fewer(part) for part in parts])
            size = np.minimum(size, MOST)
        self._values.append(runs)
        self._sizes.append(size)

    def made(self) -> Shingles:
        """Return the shingles of all texts added."""
        sizes = np.concatenate(self._sizes)
        return Shingles(np.concatenate(self._values), np.concatenate([np.zeros(1, np.int64), np.cumsum(sizes)]))


def _runs(ids: np.ndarray) -> np.ndarray:
    """Return uint64: one number for each run of WORDS of ``ids``, well mixed."""
    if len(ids) < WORDS:
        return np.zeros(0, np.uint64)
    runs: np.ndarray = ids[: 1 - WORDS] * _FACTORS[0] + ids[1:-1] * _FACTORS[1] + ids[2:] * _FACTORS[2]
    runs ^= runs >> np.uint64(31)
    runs *= _MIX
    runs ^= runs >> np.uint64(29)
    return runs


def _fewer(runs: np.ndarray) -> np.ndarray:
    """Return at most MOST of the shingles of a text, ascending."""
    if len(runs) <= MOST:
        return runs
    low = runs & np.uint64(0xFFFFFFFF)
    found: np.ndarray = np.sort(runs[np.argpartition(low, MOST)[:MOST]])
    return found


def of(texts: Iterable[str]) -> Shingles:
    """Return the shingles of texts."""
    shingler = Shingler()
    shingler.add(list(texts))
    return shingler.made()


@dataclass(frozen=True)
class Weights:
    """What each shingle of a side tells: one that k texts have tells one k-th."""

    values: np.ndarray
    """float32, as ``Shingles.values``."""
    ends: np.ndarray
    """float64 (n + 1,): running sums, at the offsets."""

    @property
    def sums(self) -> np.ndarray:
        """float64 (n,): what all shingles of each text tell."""
        return np.diff(self.ends)


def weights(left: Shingles, right: Shingles) -> tuple[Weights, Weights]:
    """Return the weights of both sides' shingles, by how many texts of the fuller side have each.

    They are counted in a table by their last bits, so that now and then a rare one is taken for a common one.
    """
    size = 1 << min(_LARGEST_TABLE, max(16, max(len(left.values), len(right.values)).bit_length()))
    places = [(side.values & np.uint64(size - 1)).view(np.int64) for side in (left, right)]
    texts = np.maximum(*(np.bincount(one, minlength=size) for one in places))
    tells = 1 / np.maximum(texts, 1).astype(np.float32)
    return _weighed(left, tells[places[0]]), _weighed(right, tells[places[1]])


def _weighed(side: Shingles, values: np.ndarray) -> Weights:
    running = np.zeros(len(values) + 1)
    np.cumsum(values, dtype=np.float64, out=running[1:])
    return Weights(values, running[side.offsets])


def overlap(left: Shingles, right: Shingles, told: tuple[Weights, Weights], pairs: np.ndarray) -> np.ndarray:
    """Return float64 (c,): the weight of the shingles that two texts share over that of all; 0 where one has none.

    ``pairs`` is int64 (c, 2): rows of the left and right texts.
    """
    shared = np.zeros(len(pairs))
    weight = told[0].values
    for i, (row, other) in enumerate(pairs.tolist()):
        start, end = left.offsets[row], left.offsets[row + 1]
        two = right.values[right.offsets[other] : right.offsets[other + 1]]
        if start < end and len(two):
            one = left.values[start:end]
            at = two.searchsorted(one)
            at[at == len(two)] = 0
            shared[i] = weight[start:end][two[at] == one].sum()
    both = told[0].sums[pairs[:, 0]] + told[1].sums[pairs[:, 1]]
    found: np.ndarray = shared / np.maximum(both - shared, 1e-9)
    return found
