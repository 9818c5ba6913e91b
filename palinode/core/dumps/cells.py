"""Cells: where the values of a table's rows stand in a piece of a dump, found for all of them at once."""

import re
from dataclasses import dataclass

import numpy as np

from palinode.core.dumps.quoting import Quoting

_QUOTE, _BACKSLASH, _COMMA, _END, _OPEN, _CLOSE = b"'\\,;()"
_TAB, _LINE, _RETURN, _DOUBLE = b'\t\n\r"'
_ZERO, _NINE, _HEXADECIMAL = b"09x"
_SMALL = 0x20
"""The bit that makes a letter small."""
_CLOSING_LINE = re.compile(rb"(?P<line>\\\.\r?\n)")
_CLOSING = re.compile(rb"\n" + _CLOSING_LINE.pattern)
_LOOKED_AT = 64
"""Signs at the beginning of a piece of rows by which it is told how they are written."""
_LONGEST_RUN = 32
"""Backslashes in a row that are looked at one by one."""


@dataclass(frozen=True)
class Cells:
    """The cells of n whole rows of c columns each."""

    data: bytes
    """The piece of the dump that they stand in."""
    starts: np.ndarray
    """int64 (n, c): where each begins in ``data``."""
    ends: np.ndarray
    """int64 (n, c): where each ends."""
    quoting: Quoting

    def __len__(self) -> int:
        """Return the number of rows."""
        return len(self.starts)

    @property
    def width(self) -> int:
        """Columns of each row."""
        return int(self.starts.shape[1])

    @property
    def sizes(self) -> np.ndarray:
        """int64 (n,): bytes of each row as it is written."""
        sizes: np.ndarray = self.ends[:, -1] - self.starts[:, 0]
        return sizes

    def value(self, row: int, column: int) -> bytes | None:
        """Return a value without its quotes; None for NULL."""
        return self.quoting.read(self.data[self.starts[row, column] : self.ends[row, column]])

    def column(self, column: int) -> list[bytes | None]:
        """Return the values of a column."""
        spans = zip(self.starts[:, column].tolist(), self.ends[:, column].tolist(), strict=True)
        return self.quoting.read_all([self.data[start:end] for start, end in spans])

    def joined(self, column: int) -> bytes:
        """Return the values of a column in one, a zero byte between each two; NULL is empty, zero bytes are left out.

        Where none is escaped, which is what most columns are like, they are copied all at once.
        """
        view = np.frombuffer(self.data, np.uint8)
        starts, ends = self.starts[:, column], self.ends[:, column]
        more = ends - starts > 1
        first, second = view[np.minimum(starts, len(view) - 1)], view[np.where(more, starts + 1, 0)]
        quoted = (first == _QUOTE) & more
        number = (first >= _ZERO) & (first <= _NINE) & ~(more & (second | _SMALL == _HEXADECIMAL)) & (ends > starts)
        if self.quoting is not Quoting.COPY and (quoted | number).all():
            sizes = ends - starts - 2 * quoted + 1
            after = np.cumsum(sizes)
            copied = view[np.arange(after[-1]) + np.repeat(starts + quoted - after + sizes, sizes)]
            copied[after - 1] = 0
            told: bytes = copied[:-1].tobytes()
            if b"\\" not in told and b"'" not in told:
                return told
        return b"\0".join([(value or b"").replace(b"\0", b"") for value in self.column(column)])


class RowError(ValueError):
    """A row cannot be read; ``place`` is where it stands in its piece."""

    def __init__(self, place: int, message: str) -> None:
        super().__init__(message)
        self.place = place


class UnevenRowError(RowError):
    """A row has more or fewer values than the first one of its piece."""

    def __init__(self, place: int, found: int, expected: int) -> None:
        super().__init__(place, f"a row has {found:,} values; {expected:,} were expected")


class DoubleQuotesError(RowError):
    """A value stands in double quotes, so that what is within it cannot be told from what is not."""

    def __init__(self, place: int) -> None:
        super().__init__(place, "a value stands in double quotes; mariadb-dump, mysqldump and pg_dump use single ones")


@dataclass(frozen=True)
class Cut:
    """What was cut of a piece: whole rows, and how far they reach."""

    cells: Cells | None
    """None where no row is whole."""
    end: int
    """Behind the last whole row, or behind what ends them all."""
    finished: bool
    """What ends the rows was met: a semicolon, or a line of COPY that says so."""


def of_insert(data: bytes, at: int, end: int, quoting: Quoting) -> Cut:
    """Cut the rows of an INSERT that stand whole between two places, the first of which is behind its VALUES.

    Raises RowError.
    """
    view = np.frombuffer(data, np.uint8)[at:end]
    places = _signs(view, quoting)
    # Whoever writes values in double quotes does so from the first row on.
    if _DOUBLE in view[np.minimum(places[:_LOOKED_AT] + 1, len(view) - 1)]:
        raise DoubleQuotesError(at + int(places[0]))
    kinds = view[places]
    opens, closes = kinds == _OPEN, kinds == _CLOSE
    depth = np.cumsum(opens.view(np.int8) - closes.view(np.int8), dtype=np.int32)
    stops = np.flatnonzero((kinds == _END) & (depth == 0))
    most = int(stops[0]) if len(stops) else len(places)
    last = closes[:most] & (depth[:most] == 0)
    whole = int(np.flatnonzero(last)[-1]) + 1 if last.any() else 0
    first = opens[:whole] & (depth[:whole] == 1)
    bounds = first | last[:whole] | ((kinds[:whole] == _COMMA) & (depth[:whole] == 1))
    reached = at + int(places[most] if len(stops) else places[whole - 1] if whole else -1) + 1
    if not whole:
        return Cut(None, reached, len(stops) > 0)
    table = _even(places[:whole][bounds] + at, first[bounds], 1)
    return Cut(Cells(data, table[:, :-1] + 1, table[:, 1:], quoting), reached, len(stops) > 0)


def of_copy(data: bytes, at: int) -> Cut:
    """Cut the lines of a COPY that stand whole from a place on, which is the beginning of one.

    Line ends may be those of Windows, as some programs make them on the way. Raises RowError.
    """
    stop = _CLOSING_LINE.match(data, at) or _CLOSING.search(data, at)
    finished = stop is not None
    end = stop.start("line") if stop else data.rfind(b"\n", at) + 1
    reached = stop.end() if stop else max(at, end)
    if end <= at:
        return Cut(None, reached, finished)
    view = np.frombuffer(data, np.uint8)[at:end]
    places = np.flatnonzero((view == _TAB) | (view == _LINE)) + at
    whole = np.frombuffer(data, np.uint8)
    lines = whole[places] == _LINE
    ends = _even(places, np.append(True, lines[:-1]), 0)
    starts = np.append(at, ends.ravel()[:-1] + 1).reshape(ends.shape)
    # A carriage return of a value is written as \r.
    ends[:, -1] -= (whole[ends[:, -1] - 1] == _RETURN) & (ends[:, -1] > starts[:, -1])
    return Cut(Cells(data, starts, ends, Quoting.COPY), reached, finished)


def _signs(view: np.ndarray, quoting: Quoting) -> np.ndarray:
    """Return the places (int64) of brackets, commas and semicolons that stand in no string; nor does the first byte."""
    quotes = np.flatnonzero(view == _QUOTE)
    if quoting is Quoting.BACKSLASH:
        quotes = quotes[~_escaped(view, quotes)]
    # Two quotes that are one close a string and open it again at once.
    starts = np.append(0, quotes[1::2] + 1)
    ends = np.append(quotes[::2], len(view))[: len(starts)]
    sizes = ends - starts
    after = np.cumsum(sizes)
    if after[-1] > len(view) // 4:
        # Numbers for the most part, or one of many digits: what stands in strings is left out afterwards.
        signs = np.flatnonzero(_is_sign(view))
        keeps = np.searchsorted(quotes, signs) & 1 == 0
    else:
        signs = np.arange(after[-1]) + np.repeat(starts - after + sizes, sizes)
        keeps = _is_sign(view[signs])
    places: np.ndarray = signs[keeps]
    return places


def _is_sign(view: np.ndarray) -> np.ndarray:
    found: np.ndarray = view == _COMMA
    for one in (_OPEN, _CLOSE, _END):
        found |= view == one
    return found


def _escaped(view: np.ndarray, quotes: np.ndarray) -> np.ndarray:
    """Return bool (n,): which of some quotes a backslash escapes, which an odd number of them in a row does."""
    found = np.zeros(len(quotes), bool)
    rest = np.flatnonzero(quotes > 0)
    for back in range(1, _LONGEST_RUN):
        rest = rest[view[quotes[rest] - back] == _BACKSLASH]
        if not len(rest):
            return found
        found[rest] ^= True
        rest = rest[quotes[rest] > back]
    # Whole runs are counted where they are long.
    at = np.flatnonzero(view == _BACKSLASH)
    order = np.arange(len(at))
    begins = np.maximum.accumulate(np.where(np.diff(at, prepend=-2) != 1, order, 0))
    runs = dict(zip(at.tolist(), (order - begins + 1).tolist(), strict=True))
    return np.array([runs.get(place - 1, 0) % 2 == 1 for place in quotes.tolist()], bool)


def _even(bounds: np.ndarray, first: np.ndarray, more: int) -> np.ndarray:
    """Return the bounds of rows (n, c + more); ``first`` says where a row begins. Raises UnevenRowError."""
    begins = np.flatnonzero(first)
    widths = np.diff(begins, append=len(bounds))
    if uneven := np.flatnonzero(widths != widths[0]).tolist():
        raise UnevenRowError(int(bounds[begins[uneven[0]]]), int(widths[uneven[0]]) - more, int(widths[0]) - more)
    return bounds.reshape(len(begins), int(widths[0]))
