"""Old addresses replaced in a dump as the address rule says: what would change, and the dump written anew.

Lengths of serialized values are counted again, values within values too. Identifiers stay, and so does every byte of
what holds no old address.
"""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from palinode.core import platforms
from palinode.core.dumps import definition
from palinode.core.dumps.cells import Cells
from palinode.core.dumps.contents import Table
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Rows, Script, Statement
from palinode.core.leftovers import search, serialized, statement
from palinode.core.leftovers.stored import mentions_of
from palinode.core.leftovers.wanted import Wanted
from palinode.core.rule import Rule

IDENTIFIERS = frozenset().union(*(one.identifiers for one in platforms.ALL))
"""Columns of identifiers, in small letters, which stay as they are whatever the site is called."""
_AROUND = 40
_MOST_SAMPLES = 3
_LOOKED_BACK = 400
_WINDOW = 1_200
"""Bytes of a cell that are looked at for one address; all of it where the address goes on."""
_FOLDER = re.compile(rb"/[A-Za-z0-9_-]+/")
"""A folder that needs no decoding."""
_READ = re.compile(rb"\s*(?:_\w+\s*)?'?(?:0x|x'|[aOCs]:\d)", re.IGNORECASE)


@dataclass
class ColumnChange:
    """What changes in one column of a table."""

    table: str
    column: str
    cells: int = 0
    occurrences: int = 0
    kept: int = 0
    """Cells that hold old addresses and stay: identifiers, and what the rule says nothing of."""
    damaged: int = 0
    """Serialized values that are damaged already, and are left alone."""
    unwritten: int = 0
    """Cells that are written in a way of their own, and are left alone."""
    samples: list[tuple[str, str]] = field(default_factory=list)
    """Before and after."""


class Replacement:
    """Replaces old addresses in a dump as it goes by."""

    def __init__(
        self,
        wanted: Wanted,
        rule: Rule,
        identifiers_too: bool = False,
        tell: Callable[[bytes], object] | None = None,
    ) -> None:
        """``identifiers_too``: columns of identifiers are changed as well.

        ``tell`` is given a statement for each cell that changes, which changes it in a database that is live.
        """
        self._wanted, self._rule, self._tell = wanted, rule, tell
        self._edits: list[tuple[int, int, bytes]] = []
        """What is put in the place of what, in the cell that is looked at."""
        self._kept = frozenset() if identifiers_too else IDENTIFIERS
        self._changes: dict[tuple[str, str], ColumnChange] = {}
        self._heads: dict[bytes, bytes | None] = {}
        """How addresses begin that begin alike, with how they are expected to; None where that depends on more, or
        nothing changes."""
        whole = [one.host.encode() for one in wanted.names if one.is_whole]
        labels = [(host, max(host.split(b"."), key=len)) for host in whole]
        self._hosts = [(host, host.index(label)) for host, label in sorted(labels, key=lambda one: -len(one[0]))]

    @property
    def changes(self) -> list[ColumnChange]:
        """What was changed so far, by table and column."""
        return [one for one in self._changes.values() if one.cells or one.kept or one.damaged or one.unwritten]

    def steps(
        self, read: Callable[[int], bytes], quoting: Quoting, write: Callable[[bytes], object] = lambda _: None
    ) -> Iterator[None]:
        """Read a dump to its end, and write it with what is expected in the place of old addresses; by steps.

        Raises DumpError.
        """
        script = Script(read, quoting, write)
        columns: dict[tuple[str, str], tuple[str, ...]] = {}
        for part in script.parts():
            if isinstance(part, Rows):
                self._rows(script, part, part.columns or columns.get(part.table, ()))
            elif defined := _defined(part):
                columns[defined.database, defined.name] = defined.columns
            yield

    def text(self, written: str) -> tuple[str, int]:
        """Return a text with what is expected in the place of old addresses, and of how many."""
        pieces, at, count = [], 0, 0
        for one in search.find(written, self._wanted):
            if not one.in_base64 and (expected := search.expected(one, self._rule)):
                pieces += [written[at : one.start], expected]
                at = one.end
                count += 1
        return "".join([*pieces, written[at:]]), count

    def _rows(self, script: Script, rows: Rows, names: tuple[str, ...]) -> None:
        cells = rows.cells
        for row, column, places in mentions_of(cells, self._wanted.fragments).by_cell():
            start, end = int(cells.starts[row, column]), int(cells.ends[row, column])
            name = names[column] if column < len(names) else f"column {column + 1}"
            change = self._changes.setdefault((rows.table[1], name), ColumnChange(rows.table[1], name))
            if name.lower() in self._kept:
                value = cells.value(row, column) or b""
                change.kept += any(True for _ in search.find(_text(value), self._wanted))
            elif _is_read(cells.data, start):
                self._whole(cells, row, column, change)
            else:
                self._in_place(cells.data, start, end, places, change)
            for edit in self._edits:
                script.put(*edit)
            if self._edits and self._tell is not None:
                key = names[0] if names else ""
                self._tell(statement.update(rows.table, name, key, cells, (row, column), self._edits))
            self._edits.clear()

    def _in_place(self, data: bytes, start: int, end: int, places: list[int], change: ColumnChange) -> None:
        """Replace addresses in a cell as it is written: what a dump escapes are spellings like any other."""
        reached, found, replaced = start, 0, 0
        for place in places:
            if place < reached:
                continue
            if (quick := self._quick(data, place)) and quick[0] >= reached and quick[1] <= end:
                begin, reached, head = quick
                found += 1
                replaced += 1
                self._edits.append((begin, reached, head))
                if len(change.samples) < _MOST_SAMPLES:
                    change.samples.append(_around(data[start:end], begin - start, reached - start, head))
                continue
            begin = max(reached, place - _LOOKED_BACK)
            for size in (_WINDOW, end - begin):
                stop = min(end, begin + size)
                before = len(data[begin:place].decode("utf-8", "surrogateescape"))
                text = data[begin:stop].decode("utf-8", "surrogateescape")
                one = search.at(text, before, self._wanted)
                if one is None or one.end < len(text):
                    break
            if one is None:
                continue
            found += 1
            at = begin + len(text[: one.start].encode("utf-8", "surrogateescape"))
            reached = at + len(one.written.encode("utf-8", "surrogateescape"))
            if expected := search.expected(one, self._rule):
                new = expected.encode("utf-8", "surrogateescape")
                self._edits.append((at, reached, new))
                replaced += 1
                if len(change.samples) < _MOST_SAMPLES:
                    change.samples.append(_around(data[start:end], at - start, reached - start, new))
        change.occurrences += replaced
        change.cells += replaced > 0
        change.kept += found > replaced == 0

    def _quick(self, data: bytes, place: int) -> tuple[int, int, bytes] | None:
        """Return where an address begins that is written plain, where its first folder ends, and what takes the place
        of that; None for all others. What follows stays as it is.
        """
        for host, offset in self._hosts:
            at = place - offset
            behind = at + len(host)
            if not data.startswith(host, at) or data[at - 3 : at] != b"://":
                continue
            begin = at - 7 if data[at - 7 : at] == b"http://" else at - 8 if data[at - 8 : at] == b"https://" else at
            folder = _FOLDER.match(data, behind)
            if begin == at or folder is None:
                return None
            head = data[begin : folder.end()]
            if head not in self._heads:
                to = self._rule.beginning(head.decode())
                self._heads[head] = to.encode() if to and to != head.decode() else None
            new = self._heads[head]
            return (begin, folder.end(), new) if new else None
        return None

    def _whole(self, cells: Cells, row: int, column: int, change: ColumnChange) -> None:
        """Replace addresses in a cell that must be read: a serialized value, or one in hexadecimal digits."""
        value = cells.value(row, column)
        if not value:
            return
        start, end = int(cells.starts[row, column]), int(cells.ends[row, column])
        new, count = self._value(value, change)
        if new == value:
            return
        written = cells.quoting.rewritten(cells.data[start:end], new)
        if written is None:
            change.unwritten += 1
            return
        self._edits.append((start, end, written))
        change.cells += 1
        change.occurrences += count
        if len(change.samples) < _MOST_SAMPLES:
            change.samples.append(_sample(_text(value), _text(new)))

    def _value(self, value: bytes, change: ColumnChange) -> tuple[bytes, int]:
        """Return a value as it is expected, and how many addresses were replaced in it."""
        count = 0

        def changed(data: bytes) -> bytes:
            nonlocal count
            text, number = self.text(_text(data))
            count += number
            return text.encode("utf-8", "surrogateescape")

        if not serialized.looks(value):
            new = changed(value)
        elif serialized.damage(value):
            change.damaged += 1
            return value, 0
        else:
            new = serialized.rewritten(value, changed)
        change.kept += new == value and any(True for _ in search.find(_text(value), self._wanted))
        return new, count


def _defined(part: object) -> Table | None:
    """Return the table that a statement makes, with the names of its columns; None for any other part."""
    found = definition.read(part.text) if isinstance(part, Statement) else None
    if found is None:
        return None
    return Table(found.database, found.name, columns=tuple(one.name for one in found.columns))


def _text(value: bytes) -> str:
    return value.decode("utf-8", "surrogateescape")


def _is_read(data: bytes, start: int) -> bool:
    """Whether a cell must be read to be changed: it looks like a serialized value, or is one of bytes."""
    return _READ.match(data, start) is not None


def _around(cell: bytes, begin: int, end: int, new: bytes) -> tuple[str, str]:
    """Return what stands in a cell, and what is put in its place, with what stands around, as the dump writes it."""
    before, after = cell[max(0, begin - _AROUND) : begin], cell[end : end + _AROUND]
    shown = [b"%s%s%s" % (before, said, after) for said in (cell[begin:end], new)]
    old, other = (" ".join(said.decode("utf-8", "replace").split()) for said in shown)
    return old, other


def _sample(before: str, after: str) -> tuple[str, str]:
    """Return where two texts begin to differ, with what stands around."""
    at = next((at for at, (one, other) in enumerate(zip(before, after, strict=False)) if one != other), 0)
    begin = max(0, at - _AROUND)
    shown = (" ".join(text[begin : at + 2 * _AROUND].split()) for text in (before, after))
    one, other = (text.encode("utf-8", "replace").decode() for text in shown)
    return one, other
