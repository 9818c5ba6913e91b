"""What a dump holds: its tables with their rows, what else it defines, and whether it ends as it should."""

import re
from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from palinode.core.dumps import definition, name
from palinode.core.dumps.definition import Column, Definition
from palinode.core.dumps.script import CutOff, Part, Remark, Rows, Statement

_USE = re.compile(rb"(?:USE|\\connect(?:\s+-\S+)*)\s+(" + name.NAME + rb")", re.IGNORECASE)
_BESIDE = re.compile(
    rb"(?:/\*!\d*\s*)?CREATE\s*(?:OR\s+REPLACE\s+)?(?:\*/\s*)?(?:/\*!\d*\s*)?"
    rb"(?:(?:ALGORITHM|DEFINER|SQL\s+SECURITY)\s*=?\s*\S+\s*(?:\*/\s*)?(?:/\*!\d*\s*)?|MATERIALIZED\s+|CONSTRAINT\s+)*"
    rb"(VIEW|TRIGGER|PROCEDURE|FUNCTION|EVENT)\s+(?:IF\s+NOT\s+EXISTS\s+)?(" + name.WHOLE + rb")",
    re.IGNORECASE,
)
_ENDINGS = (
    b"-- Dump completed",
    b"-- PostgreSQL database dump complete",
    b"-- PostgreSQL database cluster dump complete",
)
_DAMAGED = (
    ("letters in two wrong ones, as Ã¤", b"\xc3\x83\xc2"),
    ("quotes in three wrong signs, as â€™", b"\xc3\xa2\xe2\x82\xac"),
    ("signs that stand for what could not be read", b"\xef\xbf\xbd"),
    ("rows of question marks", b"????"),
)
"""Bytes that text has which was read in the wrong character set, or written into one that lacks a character."""
GROUPING = frozenset({"status", "type", "state", "kind", "role"})
"""Names of columns by whose values rows are counted in any case."""
_MOST_GROUPS = 50
_LONGEST_VALUE = 60
OTHER_VALUES = "other values"
_SERVER = re.compile(rb"-- (?:Server version|Dumped from database version)\s+(\S+)")


@dataclass
class Table:
    """A table as far as it was read."""

    database: str
    name: str
    definition: Definition | None = None
    columns: tuple[str, ...] = ()
    """Names of its columns in the order of its rows."""
    rows: int = 0
    size: int = 0
    """Bytes of its rows as they are written."""
    largest: int = 0
    """Bytes of its largest row."""
    damaged: dict[str, int] = field(default_factory=dict)
    """How often its rows show a sign of damaged text, by the sign in words; those that are not there are left out."""

    groups: dict[str, dict[str, int]] = field(default_factory=dict)
    """How many rows have each value of a column, for the columns by which rows are counted."""

    @classmethod
    def of(cls, plain: Mapping[str, Any]) -> "Table":
        """Return a table that was kept in plain values."""
        defined = plain["definition"]
        columns = tuple(Column(**one) for one in defined["columns"]) if defined else ()
        definition = Definition(**defined | {"columns": columns}) if defined else None
        return cls(**{**plain, "definition": definition, "columns": tuple(plain["columns"])})


@dataclass
class Contents:
    """What was read of a dump so far."""

    tables: dict[tuple[str, str], Table] = field(default_factory=dict)
    """By database or schema, and name; in the order in which they come."""
    beside: dict[str, set[str]] = field(default_factory=dict)
    """Names of views, triggers, procedures, functions and events, which are counted and not read."""
    server: str = ""
    """Version of the server that was dumped, as the dump says."""
    cut_off: CutOff | None = None
    completed: bool = False
    """Its last remark says that it is complete."""
    grouping: frozenset[str] = GROUPING
    """Names of columns, in small letters, by whose values rows are counted."""

    def count(self, kind: str) -> int:
        """Return how many views, or others of a kind, are defined."""
        return len(self.beside.get(kind, ()))

    @property
    def ends_early(self) -> str:
        """Why it is taken for cut off, in words; empty where it ends as it should."""
        if self.cut_off:
            return f"It ends within {self.cut_off.within}, which begins in line {self.cut_off.line:,}."
        return "" if self.completed else "The remark that closes a dump is missing at its end."


class Gathering:
    """Gathers what a dump holds from its parts, one after the other."""

    def __init__(
        self, take: Callable[[Table, Rows], None] | None = None, grouping: frozenset[str] = frozenset()
    ) -> None:
        """``take`` is given all rows as they come, with the table as it was before them.

        ``grouping`` are names of columns, in small letters, by whose values rows are counted too.
        """
        self.contents = Contents(grouping=GROUPING | grouping)
        self._take = take
        self._database = ""

    def add(self, part: Part) -> None:
        """Add the next part."""
        contents = self.contents
        match part:
            case Rows():
                self._add_rows(part)
            case Statement():
                # A client's own command may follow what closes the dump.
                contents.completed = contents.completed and part.text.startswith(b"\\")
                if used := _USE.match(part.text):
                    self._database = name.read(used[1])
                else:
                    _define(contents, part.text, self._database)
            case Remark():
                contents.completed = contents.completed or part.text.startswith(_ENDINGS)
                if (server := _SERVER.match(part.text)) and not contents.server:
                    contents.server = server[1].decode("utf-8", "replace")
            case CutOff():
                contents.cut_off = part

    def _add_rows(self, part: Rows) -> None:
        table = _table(self.contents, part.table[0] or self._database, part.table[1])
        table.columns = part.columns or table.columns
        if self._take:
            self._take(table, part)
        sizes = part.cells.sizes
        table.rows += len(part.cells)
        table.size += int(sizes.sum())
        table.largest = max(table.largest, int(sizes.max()))
        for place, column in enumerate(table.columns):
            if column.lower() in self.contents.grouping:
                _group(table.groups.setdefault(column, {}), part.cells.column(place))
        begin, end = int(part.cells.starts[0, 0]), int(part.cells.ends[-1, -1])
        plain = part.cells.data.isascii()
        for said, sign in _DAMAGED:
            # Most dumps are plain for long stretches, which is seen at a glance.
            if (not plain or sign.isascii()) and (times := part.cells.data.count(sign, begin, end)):
                table.damaged[said] = table.damaged.get(said, 0) + times


def _group(groups: dict[str, int], values: list[bytes | None]) -> None:
    """Count values; of a column with more different ones than tell rows apart the rest is counted together."""
    for value, times in Counter(values).items():
        text = (value or b"").decode("utf-8", "replace")[:_LONGEST_VALUE]
        text = text if text in groups or len(groups) < _MOST_GROUPS else OTHER_VALUES
        groups[text] = groups.get(text, 0) + times


def _table(contents: Contents, database: str, table: str) -> Table:
    return contents.tables.setdefault((database, table), Table(database, table))


def _define(contents: Contents, statement: bytes, database: str) -> None:
    if found := _BESIDE.match(statement):
        schema, beside = name.parts(found[2])
        contents.beside.setdefault(found[1].decode().lower(), set()).add(f"{schema or database}.{beside}")
    elif defined := definition.read(statement):
        table = _table(contents, defined.database or database, defined.name)
        table.definition = defined
        table.columns = tuple(one.name for one in defined.columns)
