"""Pages of lists by their numbers: that of one list is no page of another, whatever entries both have."""

import numpy as np

from palinode.core import list_page

_ALIKE = 0.5
"""A list that stands elsewhere says the same there: from this overlap on its name may differ."""


def name(path: str) -> str | None:
    """Return the name of the list that a path is a page of: its last segment; None for any other page."""
    found = list_page.of(path)
    return found.first.rstrip("/").rpartition("/")[2] if found else None


def apart(left: list[str], right: list[str], rows: np.ndarray, others: np.ndarray, overlap: np.ndarray) -> np.ndarray:
    """Return bool of shape (c,): candidates (rows of left and of right paths) that are pages of different lists."""
    names = [[name(path) for path in paths] for paths in (left, right)]
    if any(all(one is None for one in some) for some in names):
        return np.zeros(len(rows), bool)
    pairs = zip(rows.tolist(), others.tolist(), overlap.tolist(), strict=True)
    return np.array(
        [
            (one := names[0][row]) is not None
            and (other := names[1][to]) is not None
            and one != other
            and alike < _ALIKE
            for row, to, alike in pairs
        ],
        bool,
    )
