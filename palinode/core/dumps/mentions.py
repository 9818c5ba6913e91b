"""Where addresses, or any other words, are mentioned in the rows of a dump."""

from collections.abc import Iterator, Sequence
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

    def by_cell(self) -> Iterator[tuple[int, int, list[int]]]:
        """Yield the row and column of each cell that mentions any, with the places where they begin."""
        new = np.flatnonzero(np.diff(self.row, prepend=-1) | np.diff(self.column, prepend=-1))
        for start, end in zip(new.tolist(), np.append(new, len(self.row))[1:].tolist(), strict=True):
            yield int(self.row[start]), int(self.column[start]), self.place[start:end].tolist()


def find(cells: Cells, words: Sequence[bytes], any_case: bool = False) -> Mentions:
    """Return where some words, as they are written in a dump, stand in some rows.

    ``any_case``: in whatever letter case, of words that are given in small letters.
    """
    first, last = int(cells.starts[0, 0]), int(cells.ends[-1, -1])
    data, before = (cells.data[first:last].lower(), first) if any_case else (cells.data, 0)
    found: list[tuple[int, int]] = []
    for number, word in enumerate(words):
        at = data.find(word, first - before, last - before)
        while at >= 0:
            found.append((before + at, number))
            at = data.find(word, at + len(word), last - before)
    places = np.array(sorted(found), np.int64).reshape(-1, 2)
    cell = np.searchsorted(cells.starts.ravel(), places[:, 0], "right") - 1
    within = places[:, 0] < cells.ends.ravel()[cell]
    row, column = np.divmod(cell[within], cells.width)
    return Mentions(row, column, places[within, 0], places[within, 1])
