"""A column of texts as one array: UTF-8, one text a line."""

from collections.abc import Sequence
from functools import cached_property

import numpy as np

_END = ord("\n")


class Lines:
    """The n texts of a column (uint8); those that are asked for are made text, and no others."""

    def __init__(self, column: np.ndarray, number: int) -> None:
        self._column = column
        self._number = number

    @cached_property
    def _ends(self) -> np.ndarray:
        """int64 (n,): where each text ends."""
        ends: np.ndarray = np.append(np.flatnonzero(self._column == _END), len(self._column))
        return ends[: self._number]

    def all(self) -> list[str]:
        """Return all texts."""
        return self._column.tobytes().decode().split("\n") if self._number else []

    def at(self, rows: np.ndarray) -> list[str]:
        """Return the texts of some rows, in their order."""
        data = memoryview(self._column)  # type: ignore[arg-type]
        starts = np.append(np.zeros(1, np.int64), self._ends[:-1] + 1)
        cuts = zip(starts[rows].tolist(), self._ends[rows].tolist(), strict=True)
        return [str(data[start:end], "utf-8") for start, end in cuts]

    def filled(self) -> dict[int, str]:
        """Return the texts that are not empty, by their rows."""
        rows = np.flatnonzero(np.diff(self._ends, prepend=-1) > 1)
        return dict(zip(rows.tolist(), self.at(rows), strict=True))


def of(texts: Sequence[str]) -> np.ndarray:
    """Return texts without line ends as a column."""
    return np.frombuffer("\n".join(texts).encode(), np.uint8)
