"""Leftovers in a database, by table and column, and serialized values that were damaged, read as a dump goes by."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from palinode.core import platforms
from palinode.core.dumps import mentions
from palinode.core.dumps.cells import Cells
from palinode.core.dumps.contents import Table
from palinode.core.dumps.mentions import Mentions
from palinode.core.dumps.script import Rows
from palinode.core.leftovers import search, serialized
from palinode.core.leftovers.wanted import Wanted

VERSION = 2
"""Raised when the same dump gives other leftovers."""
_MOST = 20_000
"""Different leftovers of a dump that are kept."""
_MOST_DAMAGED = 1_000
_LONGEST = 500
_BEGINNING = 120
"""Bytes of a damaged value that are kept."""
_SETTINGS = tuple(one.settings for one in platforms.ALL if one.settings)


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
        for row, column, _ in mentions_of(cells, (*self._wanted.fragments, *self._beside)).by_cell():
            value = cells.value(row, column)
            if value:
                self._value(table.name, names, cells, row, column, value)

    def made(self) -> StoredLeftovers:
        """Return all that was found."""
        return StoredLeftovers(self._wanted, list(self._forms.values()), self._damaged, self._left_out)

    def _value(self, table: str, names: tuple[str, ...], cells: Cells, row: int, column: int, value: bytes) -> None:
        name = names[column] if column < len(names) else f"column {column + 1}"
        named = _key(table, names, name)
        setting = _text(cells, row, named) if 0 <= named < cells.width else ""
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
                form = StoredForm(*key, sample=search.around(text, one), row=_text(cells, row, 0))
                self._forms[key] = form
            form.times += 1
            form.cells += key not in seen
            seen.add(key)


def mentions_of(cells: Cells, fragments: tuple[bytes, ...]) -> Mentions:
    """Return where fragments, given in small letters, stand in some rows, in whatever letter case.

    Columns of bytes are written in hexadecimal digits.
    """
    return mentions.find(cells, (*fragments, *(one.hex().encode() for one in fragments)), any_case=True)


def _key(table: str, names: tuple[str, ...], column: str) -> int:
    """Return the place of the column that names a setting, given that of its value; -1 for other tables."""
    for one in _SETTINGS:
        if table.endswith(one.name) and one.value == column and one.key in names:
            return names.index(one.key)
    return -1


def _text(cells: Cells, row: int, column: int) -> str:
    return (cells.value(row, column) or b"")[:200].decode("utf-8", "replace")
