"""Leftovers in a database, by table and column, and serialized values that were damaged, read as a dump goes by."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from palinode.core.dumps.cells import Cells
from palinode.core.dumps.contents import Table
from palinode.core.dumps.script import Rows
from palinode.core.leftovers import search, serialized
from palinode.core.leftovers.wanted import Wanted

VERSION = 2
"""Raised when the same dump gives other leftovers."""
_MOST = 20_000
"""Different leftovers of a dump that are kept."""
_MOST_DAMAGED = 1_000
_LONGEST = 500
_AROUND, _SAMPLE = 40, 240
_BEGINNING = 120
"""Bytes of a damaged value that are kept."""
_SETTINGS = ("options",)
"""Ends of the names of tables whose rows are settings, with their names in the second column."""


@dataclass
class StoredForm:
    """One leftover in one column of a table."""

    table: str
    column: str
    setting: str
    """Name of the setting, where the table holds settings."""
    written: str
    in_serialized: bool
    sample: str
    row: str
    """Value of the first column of its first row, which is the key of nearly every table."""
    cells: int = 0
    times: int = 0


@dataclass(frozen=True)
class DamagedValue:
    """A serialized value that PHP reads as nothing."""

    table: str
    column: str
    row: str
    setting: str
    why: str
    beginning: str


@dataclass(frozen=True)
class StoredLeftovers:
    """What a dump holds of what was wanted."""

    wanted: Wanted
    forms: list[StoredForm]
    damaged: list[DamagedValue]
    left_out: int
    """Further occurrences, of forms that are not kept."""

    def plain(self) -> dict[str, Any]:
        """Return it in plain values."""
        return {
            "forms": [asdict(one) for one in self.forms],
            "damaged": [asdict(one) for one in self.damaged],
            "left_out": self.left_out,
        }

    @classmethod
    def of(cls, wanted: Wanted, plain: Mapping[str, Any]) -> "StoredLeftovers":
        """Return what was kept in plain values."""
        forms = [StoredForm(**one) for one in plain["forms"]]
        return cls(wanted, forms, [DamagedValue(**one) for one in plain["damaged"]], plain["left_out"])


class Finder:
    """Finds leftovers in the rows of a dump as they come."""

    def __init__(self, wanted: Wanted, beside: tuple[bytes, ...] = ()) -> None:
        """``beside`` are further fragments in small letters; serialized values that hold one are looked at too."""
        self._wanted, self._beside = wanted, beside
        self._forms: dict[tuple[str, str, str, str, bool], StoredForm] = {}
        self._damaged: list[DamagedValue] = []
        self._left_out = 0

    def take(self, table: Table, rows: Rows) -> None:
        """Look through some rows."""
        names = rows.columns or table.columns
        cells = rows.cells
        for row, column in holding(cells, (*self._wanted.fragments, *self._beside)):
            value = cells.value(row, column)
            if value:
                self._value(table.name, names, cells, row, column, value)

    def made(self) -> StoredLeftovers:
        """Return all that was found."""
        return StoredLeftovers(self._wanted, list(self._forms.values()), self._damaged, self._left_out)

    def _value(self, table: str, names: tuple[str, ...], cells: Cells, row: int, column: int, value: bytes) -> None:
        name = names[column] if column < len(names) else f"column {column + 1}"
        setting = _text(cells, row, 1) if table.endswith(_SETTINGS) and cells.width > 2 and column > 1 else ""
        is_serialized = serialized.looks(value)
        if is_serialized and len(self._damaged) < _MOST_DAMAGED and (why := serialized.damage(value)):
            self._damaged.append(
                DamagedValue(
                    table, name, _text(cells, row, 0), setting, why, value[:_BEGINNING].decode("utf-8", "replace")
                )
            )
        text = value.decode("utf-8", "replace")
        seen = set()
        for one in search.find(text, self._wanted):
            key = (table, name, setting, one.written[:_LONGEST], is_serialized)
            form = self._forms.get(key)
            if form is None:
                if len(self._forms) >= _MOST:
                    self._left_out += 1
                    continue
                around = " ".join(text[max(0, one.start - _AROUND) : one.end + _AROUND].split())[:_SAMPLE]
                form = self._forms[key] = StoredForm(*key, sample=around, row=_text(cells, row, 0))
            form.times += 1
            form.cells += key not in seen
            seen.add(key)


def holding(cells: Cells, fragments: tuple[bytes, ...]) -> list[tuple[int, int]]:
    """Return the row and column of the cells that hold a fragment, in whatever letter case."""
    return [(row, column) for row, column, _ in places_in(cells, fragments)]


def places_in(cells: Cells, fragments: tuple[bytes, ...]) -> list[tuple[int, int, list[int]]]:
    """Return the row and column of the cells that hold a fragment, with the places in their data where one begins."""
    first, last = int(cells.starts[0, 0]), int(cells.ends[-1, -1])
    lower = cells.data[first:last].lower()
    places = []
    # Columns of bytes are written in hexadecimal digits.
    for fragment in (*fragments, *(one.hex().encode() for one in fragments)):
        at = lower.find(fragment)
        while at >= 0:
            places.append(first + at)
            at = lower.find(fragment, at + len(fragment))
    if not places:
        return []
    found = np.sort(np.array(places, np.int64))
    cell = np.searchsorted(cells.starts.ravel(), found, "right") - 1
    kept, starts = np.unique(cell, return_index=True)
    parts = np.split(found, starts[1:])
    return [(*divmod(one, cells.width), part.tolist()) for one, part in zip(kept.tolist(), parts, strict=True)]


def _text(cells: Cells, row: int, column: int) -> str:
    return (cells.value(row, column) or b"")[:200].decode("utf-8", "replace")
