"""The items of recognised platforms, gathered from the rows of a dump as they come."""

from collections.abc import Mapping, Sequence
from typing import Protocol

import numpy as np

from palinode.core.dumps.cells import Cells
from palinode.core.dumps.contents import Table
from palinode.core.dumps.script import Rows
from palinode.core.platforms.items import Installation, Items, Links
from palinode.core.platforms.platform import Field, ItemTable, LinkTable, MoreTable, Platform, SettingTable

_LONGEST_SETTING = 1 << 18
"""Bytes of a setting that are kept."""
_QUOTES = 2


class Inventory:
    """Gathers the items of platforms; a table is taken by its columns, before it is known what it belongs to."""

    def __init__(self, platforms: Sequence[Platform]) -> None:
        self._platforms = platforms
        self._kinds = {platform.name: _takers(platform) for platform in platforms}
        self._taken: dict[tuple[str, str, str, int], _Taker] = {}
        """By database, table, platform, and place among what that has."""

    def take(self, table: Table, rows: Rows) -> None:
        """Take some rows of a dump."""
        names = rows.columns or table.columns
        places = {name: place for place, name in enumerate(names)}
        for platform, kinds in self._kinds.items():
            for number, kind in enumerate(kinds):
                if table.name.endswith(kind.name) and places.keys() >= kind.columns:
                    key = (table.database, table.name, platform, number)
                    if key not in self._taken:
                        self._taken[key] = kind.anew()
                    self._taken[key].take(rows.cells, places)

    def installations(self, tables: Sequence[Table]) -> list[Installation]:
        """Return the platforms that are found in a dump with these tables."""
        found = []
        for database in sorted({one.database for one in tables}):
            names = [one.name for one in tables if one.database == database]
            for platform in self._platforms:
                found += [self._installation(platform, database, one) for one in platform.prefixes(names)]
        return found

    def _installation(self, platform: Platform, database: str, prefix: str) -> Installation:
        items: dict[str, Items] = {}
        links: list[Links] = []
        settings: dict[str, str] = {}
        keys: list[str] = []
        for number, kind in enumerate(self._kinds[platform.name]):
            taken = self._taken.get((database, prefix + kind.name, platform.name, number)) or kind.anew()
            match taken:
                case _Items():
                    items[taken.name] = taken.items
                case _More():
                    for what, said in taken.said_under(prefix).items():
                        items[taken.table.of].say_more(what, taken.table.by, said)
                    keys += taken.keys
                case _Links():
                    links.append(taken.links)
                case _Settings():
                    settings = dict(sorted(taken.said.items()))
        return Installation(platform, tuple(items.values()), database, prefix, settings, tuple(links), tuple(keys))


class _Taker(Protocol):
    """What takes the rows of one table that a platform has."""

    name: str
    columns: frozenset[str]
    """By which the table is told, besides its name."""

    def anew(self) -> "_Taker":
        """Return another one, with nothing in it."""

    def take(self, cells: Cells, places: Mapping[str, int]) -> None:
        """Take rows; ``places`` are those of their columns."""


def _takers(platform: Platform) -> list[_Taker]:
    """Return what takes the tables of a platform, items before what is said of them."""
    settings = [_Settings(platform.settings)] if platform.settings else []
    return [*map(_Items, platform.items), *map(_More, platform.more), *map(_Links, platform.links), *settings]


class _Items:
    def __init__(self, table: ItemTable) -> None:
        self.table, self.items = table, Items(table)
        self.name, self.columns = table.name, frozenset(table.columns.values())

    def anew(self) -> "_Items":
        return _Items(self.table)

    def take(self, cells: Cells, places: Mapping[str, int]) -> None:
        told = {one: places[name] for one, name in self.table.columns.items()}
        text = told.pop(Field.TEXT, None)
        sizes = None if text is None else cells.ends[:, text] - cells.starts[:, text]
        self.items.add(len(cells), {one: cells.joined(place) for one, place in told.items()}, sizes)


class _More:
    def __init__(self, table: MoreTable) -> None:
        self.table, self._said = table, dict[str, dict[Field, dict[str, str]]]()
        self.name = table.name
        self.columns = frozenset({table.key, *table.columns.values(), *filter(None, table.only[:1])})

    def anew(self) -> "_More":
        return _More(self.table)

    def take(self, cells: Cells, places: Mapping[str, int]) -> None:
        column, ending = self.table.only
        rows = range(len(cells)) if not column else _ending(cells, places[column], ending)
        of = places[self.table.key]
        for row in rows:
            name = _text(cells, row, of)
            if not name.startswith(self.table.beginning):
                continue
            under = _text(cells, row, places[column]) if column else ""
            said = self._said.setdefault(under, {what: {} for what in self.table.columns})
            for what, told in self.table.columns.items():
                said[what][name.removeprefix(self.table.beginning)] = _text(cells, row, places[told])

    def said_under(self, prefix: str) -> dict[Field, dict[str, str]]:
        """Return what is said of items, by their names: under the key of a prefix, if there is one, else under any."""
        own = prefix + self.table.only[1]
        found: dict[Field, dict[str, str]] = {}
        for said in [self._said[own]] if own in self._said else self._said.values():
            for what, told in said.items():
                found.setdefault(what, {}).update(told)
        return found

    @property
    def keys(self) -> list[str]:
        """The keys under which it is said, where these hold more than what all of them end in, say a prefix."""
        return sorted(key for key in self._said if key != self.table.only[1])


class _Links:
    def __init__(self, table: LinkTable) -> None:
        self.table, self._pieces = table, list[np.ndarray]()
        self.name, self.columns = table.name, frozenset({table.column, table.to_column})

    def anew(self) -> "_Links":
        return _Links(self.table)

    def take(self, cells: Cells, places: Mapping[str, int]) -> None:
        both = [cells.column(places[name]) for name in (self.table.column, self.table.to_column)]
        numbers = [(int(one), int(other)) for one, other in zip(*both, strict=True) if _is_number(one, other)]
        self._pieces.append(np.array(numbers, np.int64).reshape(-1, 2))

    @property
    def links(self) -> Links:
        """All that were taken."""
        both = np.concatenate([np.zeros((0, 2), np.int64), *self._pieces])
        return Links(self.table, both[:, 0], both[:, 1])


class _Settings:
    def __init__(self, table: SettingTable) -> None:
        self.table, self.said = table, dict[str, str]()
        self.name, self.columns = table.name, frozenset({table.key, table.value})

    def anew(self) -> "_Settings":
        return _Settings(self.table)

    def take(self, cells: Cells, places: Mapping[str, int]) -> None:
        for row, name in enumerate(cells.column(places[self.table.key])):
            text = (name or b"").decode("utf-8", "replace")
            if text in self.table.names or text.endswith(self.table.endings):
                self.said[text] = _text(cells, row, places[self.table.value])


def _ending(cells: Cells, column: int, ending: str) -> list[int]:
    """Return the rows whose value in a column ends like this; the last bytes of all are looked at at once."""
    wanted = np.frombuffer(ending.encode(), np.uint8)
    view = np.frombuffer(cells.data, np.uint8)
    starts, ends = cells.starts[:, column], cells.ends[:, column]
    quoted = cells.data[int(starts[0]) : int(starts[0]) + 1] == b"'"
    rows = np.flatnonzero(ends - starts >= len(wanted) + _QUOTES * quoted)
    for back, sign in enumerate(wanted[::-1].tolist(), 1 + quoted):
        rows = rows[view[ends[rows] - back] == sign]
    found: list[int] = rows.tolist()
    return found


def _text(cells: Cells, row: int, column: int) -> str:
    return (cells.value(row, column) or b"")[:_LONGEST_SETTING].replace(b"\0", b"").decode("utf-8", "replace")


def _is_number(*values: bytes | None) -> bool:
    return all(value is not None and value.isdigit() and len(value) < len("9" * 19) for value in values)
