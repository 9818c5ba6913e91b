"""The words of many texts at once, each as a number: a text is never cut into words one by one."""

from collections.abc import Sequence

import numpy as np

_BLANK = np.zeros(256, bool)
_BLANK[[0, *b" \t\n\r\f\v\x1c\x1d\x1e\x1f"]] = True
_LONGEST = 256
"""Letters after which the powers begin again."""
_POWERS = np.cumprod(np.full(_LONGEST, 0x100000001B3, np.uint64))


def numbers(texts: Sequence[str]) -> tuple[np.ndarray, np.ndarray]:
    """Return the numbers of all words of some texts (uint64), end to end, and how many each text has (int64).

    Words end at blanks, and large and small letters are the same. The number of a word is the polynomial over its
    bytes in UTF-8, modulo 2 ** 64.
    """
    joined = "\0".join(texts)
    if joined.count("\0") >= max(1, len(texts)):
        joined = "\0".join([text.replace("\0", " ") for text in texts])
    data = np.frombuffer(joined.lower().encode("utf-8", "surrogatepass"), np.uint8)
    blank = _BLANK[data]
    at = np.flatnonzero(~blank)
    if not len(at):
        return np.zeros(0, np.uint64), np.zeros(len(texts), np.int64)
    begins = np.flatnonzero(np.diff(at, prepend=-2) > 1)
    starts = at[begins]
    within = at - np.repeat(starts, np.diff(begins, append=len(at)))
    told = _POWERS[within & (_LONGEST - 1)] * (data[at].astype(np.uint64) + np.uint64(1))
    text = np.searchsorted(np.flatnonzero(data == 0), starts)
    return np.add.reduceat(told, begins), np.bincount(text, minlength=len(texts))
