"""The words of many texts at once, each as a number: a text is never cut into words one by one."""

from collections.abc import Sequence

import numpy as np

_BLANK = np.zeros(256, bool)
_BLANK[[0, *b" \t\n\r\f\v\x1c\x1d\x1e\x1f"]] = True
_EIGHT = 8
_MASKS = np.array([(1 << 8 * length) - 1 for length in range(_EIGHT + 1)], np.uint64)
"""What of eight bytes belongs to a word of so many."""
_FACTORS = tuple(
    np.uint64(one) for one in (0x9E3779B97F4A7C15, 0xC2B2AE3D27D4EB4F, 0x165667B19E3779F9, 0x27D4EB2F165667C5)
)


def numbers(texts: Sequence[str]) -> tuple[np.ndarray, np.ndarray]:
    """Return the numbers of all words of some texts (uint64), end to end, and how many each text has (int64).

    Words end at blanks, and large and small letters are the same. The number of a word is made of its first sixteen
    bytes in UTF-8, its last eight and its length: words of more than twenty-four that differ in between alone are one.
    """
    joined = "\0".join(texts)
    if joined.count("\0") >= max(1, len(texts)):
        joined = "\0".join([text.replace("\0", " ") for text in texts])
    written = joined.lower().encode("utf-8", "surrogatepass")
    data = np.frombuffer(written, np.uint8)
    blank = np.ones(len(data) + 2, bool)
    np.take(_BLANK, data, out=blank[1:-1])
    edges = np.flatnonzero(blank[1:] != blank[:-1])
    starts, ends = edges[::2], edges[1::2]
    length = ends - starts
    # Eight bytes from any place on, as one number.
    padded = np.frombuffer(written + bytes(2 * _EIGHT), np.uint8)
    eight = np.lib.stride_tricks.as_strided(padded.view(np.uint8)[:_EIGHT].view("<u8"), (len(written) + 1,), (1,))
    told = (eight[starts] & _MASKS[np.minimum(length, _EIGHT)]) * _FACTORS[0]
    told += length.astype(np.uint64) * _FACTORS[3]
    long = np.flatnonzero(length > _EIGHT)
    if len(long):
        second, last = starts[long] + _EIGHT, ends[long] - _EIGHT
        told[long] += (eight[second] & _MASKS[np.minimum(length[long] - _EIGHT, _EIGHT)]) * _FACTORS[1]
        told[long] += eight[last] * _FACTORS[2]
    cuts = np.searchsorted(starts, np.flatnonzero(data == 0))
    return told, np.diff(cuts, prepend=0, append=len(starts))[: len(texts)]
