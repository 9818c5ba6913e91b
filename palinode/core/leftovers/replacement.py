"""Old addresses replaced in a dump as the address rule says: what would change, and the dump written anew.

Lengths of serialized values are counted again, values within values too. Identifiers stay, and so does every byte of
what holds no old address.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from palinode.core.dumps import definition
from palinode.core.dumps.contents import Table
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Rows, Script, Statement
from palinode.core.leftovers import search, serialized
from palinode.core.leftovers.stored import holding
from palinode.core.leftovers.wanted import Wanted
from palinode.core.rule import Rule

KEPT = frozenset({"guid"})
"""Columns of identifiers, which stay as they are whatever the site is called."""
_AROUND = 40
_MOST_SAMPLES = 3


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
    samples: list[tuple[str, str]] | None = None
    """Before and after."""


class Replacement:
    """Replaces old addresses in a dump as it goes by."""

    def __init__(self, wanted: Wanted, rule: Rule, identifiers_too: bool = False) -> None:
        """``identifiers_too``: columns of identifiers are changed as well."""
        self._wanted, self._rule = wanted, rule
        self._kept = frozenset() if identifiers_too else KEPT
        self._changes: dict[tuple[str, str], ColumnChange] = {}

    @property
    def changes(self) -> list[ColumnChange]:
        """What was changed so far, by table and column."""
        return list(self._changes.values())

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
        for row, column in holding(cells, self._wanted.fragments):
            value = cells.value(row, column)
            name = names[column] if column < len(names) else f"column {column + 1}"
            if not value or not any(True for _ in search.find(_text(value), self._wanted)):
                continue
            change = self._changes.setdefault((rows.table[1], name), ColumnChange(rows.table[1], name, samples=[]))
            start, end = int(cells.starts[row, column]), int(cells.ends[row, column])
            if name.lower() in self._kept:
                change.kept += 1
                continue
            new, count = self._value(value, change)
            if new == value:
                continue
            written = cells.quoting.rewritten(cells.data[start:end], new)
            if written is None:
                change.unwritten += 1
                continue
            script.put(start, end, written)
            change.cells += 1
            change.occurrences += count
            if change.samples is not None and len(change.samples) < _MOST_SAMPLES:
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
        change.kept += new == value
        return new, count


def _defined(part: object) -> Table | None:
    """Return the table that a statement makes, with the names of its columns; None for any other part."""
    found = definition.read(part.text) if isinstance(part, Statement) else None
    if found is None:
        return None
    return Table(found.database, found.name, columns=tuple(one.name for one in found.columns))


def _text(value: bytes) -> str:
    return value.decode("utf-8", "surrogateescape")


def _sample(before: str, after: str) -> tuple[str, str]:
    """Return where two texts begin to differ, with what stands around."""
    at = next((at for at, (one, other) in enumerate(zip(before, after, strict=False)) if one != other), 0)
    begin = max(0, at - _AROUND)
    shown = (" ".join(text[begin : at + 2 * _AROUND].split()) for text in (before, after))
    one, other = (text.encode("utf-8", "replace").decode() for text in shown)
    return one, other
