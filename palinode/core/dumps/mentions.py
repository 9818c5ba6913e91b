"""Where addresses, or any other words, are mentioned in the rows of a dump."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core.dumps.cells import Cells


@dataclass(frozen=True)
class Mentions:
    """m mentions in a piece of rows, in order of their places."""

    row: np.ndarray
    """int64 (m,): of which row of the piece."""
    column: np.ndarray
    """int64 (m,)"""
    place: np.ndarray
    """int64 (m,): where in the piece's data it begins."""
    word: np.ndarray
    """int64 (m,): which of the words it is."""


def find(cells: Cells, words: Sequence[bytes]) -> Mentions:
    """Return where some words, as they are written in a dump, stand in some rows."""
    first, last = int(cells.starts[0, 0]), int(cells.ends[-1, -1])
    found: list[tuple[int, int]] = []
    for number, word in enumerate(words):
        at = cells.data.find(word, first, last)
        while at >= 0:
            found.append((at, number))
            at = cells.data.find(word, at + len(word), last)
    places = np.array(sorted(found), np.int64).reshape(-1, 2)
    cell = np.searchsorted(cells.starts.ravel(), places[:, 0], "right") - 1
    within = places[:, 0] < cells.ends.ravel()[cell]
    row, column = np.divmod(cell[within], cells.width)
    return Mentions(row, column, places[within, 0], places[within, 1])
