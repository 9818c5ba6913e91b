"""Evidence: main texts that share most of their runs of words.

Candidates are found by MinHash: a text is cut into BINS by the first bits of its shingles, the smallest shingle
of each bin stands for it, and texts that agree in one band of neighbouring bins are held against each other.
"""

import numpy as np

from palinode.core.pairing.shingles import Shingles

BINS = 64
ROWS = 2
"""Bins of a band: texts that share a third of their shingles agree in one of 32 bands nineteen times in twenty."""
_CROWD = 30
_AT_ONCE = 2_000
"""Texts whose bands are made at once, so that memory stays bounded."""
_EACH = 6
"""Partners of a text that are looked at: those that agree in most bands."""
_SHIFT = np.uint64(64 - BINS.bit_length() + 1)
_EMPTY = np.uint64(0)
_MIX = np.uint64(0x9E3779B97F4A7C15)


def candidates(left: Shingles, right: Shingles) -> tuple[np.ndarray, np.ndarray]:
    """Return rows of left and right texts (int64, c) that may be alike."""
    keys = [_bands(side) for side in (left, right)]
    found = []
    for band in range(BINS // ROWS):
        one, other = (side[:, band] for side in keys)
        found.append(_joined(one, other))
    pairs = np.concatenate([np.zeros((0, 2), np.int64), *found])
    width = len(right.offsets)
    codes, agree = np.unique(pairs[:, 0] * width + pairs[:, 1], return_counts=True)
    rows = codes // width
    # Of each left text the partners that agree most.
    order = np.lexsort((-agree, rows))
    first = np.searchsorted(rows[order], rows[order])
    kept = order[np.arange(len(order)) - first < _EACH]
    return rows[kept], codes[kept] % width


def _signatures(side: Shingles) -> np.ndarray:
    """Return uint64 (n, BINS): the smallest shingle of each bin; an empty bin borrows from the next that is not."""
    n = len(side.offsets) - 1
    found = np.zeros((n, BINS), np.uint64)
    row = np.repeat(np.arange(n), side.sizes)
    code = row * BINS + (side.values >> _SHIFT).astype(np.int64)
    # Shingles of a text ascend, so that the first of a bin is its smallest.
    first = np.flatnonzero(np.diff(code, prepend=-1))
    found.reshape(-1)[code[first]] = side.values[first]
    short = np.flatnonzero((found == _EMPTY).any(axis=1) & (side.sizes > 0))
    while len(short):
        filled = found[short]
        next_bin = np.roll(filled, -1, axis=1)
        borrows = (filled == _EMPTY) & (next_bin != _EMPTY)
        filled[borrows] = next_bin[borrows] + np.uint64(1)
        found[short] = filled
        short = short[(filled == _EMPTY).any(axis=1)]
    return found


def _bands(side: Shingles) -> np.ndarray:
    """Return uint64 (n, BINS / ROWS): one key for each band; 0 for a text without shingles."""
    n = len(side.offsets) - 1
    parts = [_bands_of(side.part(start, min(start + _AT_ONCE, n))) for start in range(0, n, _AT_ONCE)]
    return np.concatenate([np.zeros((0, BINS // ROWS), np.uint64), *parts])


def _bands_of(side: Shingles) -> np.ndarray:
    signatures = _signatures(side)
    keys = np.zeros((len(signatures), BINS // ROWS), np.uint64)
    for row in range(ROWS):
        keys = (keys ^ signatures[:, row::ROWS]) * _MIX
        keys ^= keys >> np.uint64(32)
    keys[side.sizes == 0] = _EMPTY
    return keys


def _joined(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Return int64 (c, 2): places of equal keys, but for those that a crowd shares."""
    order = np.argsort(other)
    ordered = other[order]
    start, end = np.searchsorted(ordered, one, "left"), np.searchsorted(ordered, one, "right")
    number = end - start
    number[(number > _CROWD) | (one == _EMPTY)] = 0
    rows = np.repeat(np.arange(len(one)), number)
    within = np.arange(len(rows)) - np.repeat(np.cumsum(number) - number, number)
    return np.stack([rows, order[np.repeat(start, number) + within]], axis=1)
