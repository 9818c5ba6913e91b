"""The words of many texts at once, each as a number: a text is never cut into words one by one."""

from collections.abc import Sequence

import numpy as np

_BLANK = np.zeros(256, bool)
_BLANK[[0, *b" \t\n\r\f\v\x1c\x1d\x1e\x1f"]] = True
_FACTOR = 0x100000001B3
_POWERS_AT_HAND = 1 << 17


def _powers(factor: int, number: int) -> np.ndarray:
    found: np.ndarray = np.cumprod(np.full(number, factor, np.uint64)) * np.uint64(pow(factor, -1, 1 << 64))
    return found


_POWERS = _powers(_FACTOR, _POWERS_AT_HAND)
_INVERSE = _powers(pow(_FACTOR, -1, 1 << 64), _POWERS_AT_HAND)
"""Of the powers, modulo 2 ** 64: an odd number has one."""


def numbers(texts: Sequence[str]) -> tuple[np.ndarray, np.ndarray]:
    """Return the numbers of all words of some texts (uint64), end to end, and how many each text has (int64).

    Words end at blanks, and large and small letters are the same. The number of a word is the polynomial over its
    bytes in UTF-8, modulo 2 ** 64.
    """
    joined = "\0".join(texts)
    if joined.count("\0") >= max(1, len(texts)):
        joined = "\0".join([text.replace("\0", " ") for text in texts])
    data = np.frombuffer(joined.lower().encode("utf-8", "surrogatepass"), np.uint8)
    blank = np.ones(len(data) + 2, bool)
    np.take(_BLANK, data, out=blank[1:-1])
    edges = np.flatnonzero(blank[1:] != blank[:-1])
    starts, ends = edges[::2], edges[1::2]
    powers, inverse = _POWERS, _INVERSE
    if len(data) > _POWERS_AT_HAND:
        powers, inverse = _powers(_FACTOR, len(data)), _powers(pow(_FACTOR, -1, 1 << 64), len(data))
    # A word is a difference of the running sum over all bytes, moved to where it would begin at the first power.
    running = np.zeros(len(data) + 1, np.uint64)
    np.multiply(data, powers[: len(data)], out=running[1:])
    running[1:] += powers[: len(data)]
    np.cumsum(running, out=running)
    told = (running[ends] - running[starts]) * inverse[starts]
    cuts = np.searchsorted(starts, np.flatnonzero(data == 0))
    return told, np.diff(cuts, prepend=0, append=len(starts))[: len(texts)]
