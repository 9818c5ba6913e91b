"""A dump cut into its statements, remarks and rows as it streams by; it is never whole in memory."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from palinode.core.dumps import cells, name, statement
from palinode.core.dumps.cells import Cells, Cut, RowError
from palinode.core.dumps.quoting import Quoting

PIECE = 1 << 20
"""Bytes that are read at once."""
LONGEST = 32 << 20
"""Bytes of a row or a statement; a longer one is an error that is said."""
_BLANK = re.compile(rb"\s*")
_REMARK = re.compile(rb"--(?:[ \t][^\n]*)?\n|#[^\n]*\n|/\*(?![!M])(?:[^*]|\*(?!/))*\*/|/\*M![^*]*\*/")
_DELIMITER = re.compile(rb"DELIMITER\s+(\S+)[^\n]*\n", re.IGNORECASE)
_META = re.compile(rb"\\[^\n]*\n")
"""A command to PostgreSQL's own client."""
_INSERT = re.compile(
    rb"(?:INSERT|REPLACE)\s+(?:(?:IGNORE|DELAYED|LOW_PRIORITY)\s+)*INTO\s+(?P<table>" + name.WHOLE + rb")\s*"
    rb"(?:\((?P<columns>[^()]*)\)\s*)?(?:OVERRIDING\s+(?:SYSTEM|USER)\s+VALUE\s+)?VALUES\s*(?=\()",
    re.IGNORECASE,
)
_COPY = re.compile(
    rb"COPY\s+(?P<table>" + name.WHOLE + rb")\s*(?:\((?P<columns>[^;]*?)\))?\s+FROM\s+stdin[^;\n]*;\r?\n",
    re.IGNORECASE,
)
_HEAD = 1 << 16
"""Bytes within which the head of an INSERT stands."""
_LINE_END, _SEMICOLON = b"\n;"
_BEGINS = (b"INSERT", b"REPLAC", b"COPY")


class DumpError(ValueError):
    """A dump cannot be read; the message is for a person, and names the line."""


@dataclass(frozen=True)
class Remark:
    """A comment."""

    text: bytes


@dataclass(frozen=True)
class Statement:
    """A statement other than one of rows, with its delimiter."""

    text: bytes
    line: int
    """The line that it begins in, from 1 on."""


@dataclass(frozen=True)
class Rows:
    """Some rows of a table."""

    table: tuple[str, str]
    """Database or schema as it is said, and name."""
    columns: tuple[str, ...]
    """Names of the columns as they are said; empty where they are not."""
    cells: Cells


@dataclass(frozen=True)
class CutOff:
    """The dump ends within a statement, or within a row."""

    line: int
    within: str
    """In words: what it ends within."""


Part = Remark | Statement | Rows | CutOff


class Script:
    """A dump that is read from its beginning to its end, once."""

    def __init__(
        self, read: Callable[[int], bytes], quoting: Quoting, write: Callable[[bytes], object] | None = None
    ) -> None:
        """``read`` returns so many further bytes of the dump or fewer, none at its end.

        ``write`` is given all of it again, byte for byte, but for cells in whose place :meth:`put` put another.
        """
        self._read, self._quoting, self._write = read, quoting, write
        self._edits: list[tuple[int, int, bytes]] = []
        self._written = 0
        self._data, self._at = b"", 0
        self._lines = 1
        self._ended = False
        self._delimiter = b";"

    def parts(self) -> Iterator[Part]:
        """Yield its parts in their order. Raises DumpError."""
        while self._skip():
            if found := self._matched(_REMARK):
                yield Remark(found[0])
            elif found := self._matched(_DELIMITER):
                self._delimiter = found[1]
            elif self._starts_with(_BEGINS) and (found := self._matched(_INSERT)):
                yield from self._rows(found, self._insert)
            elif self._starts_with(_BEGINS) and (found := self._matched(_COPY)):
                yield from self._rows(found, self._copy)
            elif found := self._matched(_META):
                yield Statement(found[0].strip(), self._line)
            else:
                yield self._statement()
        self._flush(len(self._data))

    def put(self, start: int, end: int, written: bytes) -> None:
        """Put something in the place of a cell of the rows that were yielded last; bounds are those of its data."""
        self._edits.append((start, end, written))

    def _flush(self, end: int) -> None:
        """Write on up to a place in the data."""
        if self._write is None:
            return
        at = self._written
        for start, stop, written in sorted(self._edits):
            self._write(self._data[at:start])
            self._write(written)
            at = stop
        self._write(self._data[at:end])
        self._edits, self._written = [], end

    @property
    def _line(self) -> int:
        behind = np.frombuffer(self._data, np.uint8)[: self._at]
        return self._lines + int(np.count_nonzero(behind == _LINE_END))

    def _more(self) -> bool:
        """Read on, and let go of what was read; whether there was more."""
        rest = len(self._data) - self._at
        if rest > LONGEST:
            raise DumpError(f"Line {self._line:,}: a row or statement is longer than {LONGEST >> 20} MB.")
        # Half as much again as is waited for, so that a long row is not looked through once for each piece.
        piece = b"" if self._ended else self._read(max(PIECE, rest // 2))
        if not piece:
            self._ended = True
            return False
        self._lines = self._line
        self._flush(self._at)
        self._data, self._at, self._written = self._data[self._at :] + piece, 0, 0
        return True

    def _skip(self) -> bool:
        """Go on behind blanks; whether anything is there."""
        while True:
            found = _BLANK.match(self._data, self._at)
            assert found is not None
            self._at = found.end()
            if self._at < len(self._data):
                break
            if not self._more():
                return False
        # What begins here is told by its head.
        while len(self._data) - self._at < _HEAD and self._more():
            pass
        return True

    def _starts_with(self, words: tuple[bytes, ...]) -> bool:
        return self._data[self._at : self._at + 6].upper().startswith(words)

    def _matched(self, pattern: re.Pattern[bytes]) -> re.Match[bytes] | None:
        """Return what stands here, and go on behind it."""
        found = pattern.match(self._data, self._at)
        if found:
            self._at = found.end()
        return found

    def _statement(self) -> Part:
        line = self._line
        escapes = self._quoting is Quoting.BACKSLASH
        while (end := statement.end(self._data, self._at, escapes, self._delimiter)) < 0:
            if not self._more():
                words = b" ".join(self._data[self._at : self._at + 60].split()).decode("utf-8", "replace")
                self._at = len(self._data)
                return CutOff(line, f"the statement “{words}”")
        text = self._data[self._at : end]
        self._at = end
        return Statement(text, line)

    def _rows(self, head: re.Match[bytes], cut: Callable[[bytes], Cut]) -> Iterator[Part]:
        table = name.parts(head["table"])
        columns = name.many(head["columns"] or b"")
        while True:
            try:
                found = cut(head[0])
            except RowError as error:
                self._at = error.place
                raise DumpError(f"Line {self._line:,}: of table {table[1]} {error}.") from None
            if found.cells is not None:
                yield Rows(table, columns, found.cells)
            self._at = found.end
            if found.finished:
                return
            if not self._more():
                yield CutOff(self._line, f"a row of table {table[1]}")
                self._at = len(self._data)
                return

    def _insert(self, head: bytes) -> Cut:
        if self._quoting is Quoting.BACKSLASH and self._write is None:
            self._join(b";\n" + head)
        end = _line_end(self._data, self._at) + 1 or len(self._data)
        while True:
            found = cells.of_insert(self._data, self._at, end, self._quoting)
            if found.finished or end == len(self._data):
                return found
            # A text may hold what ends a statement; twice as far each time, so that a long one is not cut often.
            end = _line_end(self._data, 2 * end - self._at) + 1 or len(self._data)

    def _join(self, again: bytes) -> None:
        """Make one INSERT of those in a row that begin alike: where each row has its own, there are many.

        Within strings line ends are escaped, so that each semicolon before one ends a statement.
        """
        last = first = _line_end(self._data, self._at)
        while last >= 0 and self._data.startswith(again, last):
            last = _line_end(self._data, last + len(again))
        if last != first:
            end = last if last >= 0 else len(self._data)
            run = self._data[self._at : end]
            self._lines = self._line + run.count(again)
            self._data, self._at = run.replace(again, b",") + self._data[end:], 0

    def _copy(self, head: bytes) -> Cut:
        return cells.of_copy(self._data, self._at)


def _line_end(data: bytes, at: int) -> int:
    """Return the place of the first semicolon from a place on that ends a line; -1 for none.

    Line ends are looked for, since texts hold many more semicolons.
    """
    end = data.find(b"\n", at + 1)
    while end >= 0 and data[end - 1] != _SEMICOLON:
        end = data.find(b"\n", end + 1)
    return end - 1 if end >= 0 else -1
