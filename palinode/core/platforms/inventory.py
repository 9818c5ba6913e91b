"""The items of recognised platforms, gathered from the rows of a dump as they come."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from palinode.core.dumps.contents import Table
from palinode.core.dumps.script import Rows
from palinode.core.platforms.platform import Field, ItemTable, Platform


@dataclass
class Items:
    """The items of one table, in columns: packed, so that a million of them have room."""

    table: ItemTable
    count: int = 0
    sizes: list[np.ndarray] = field(default_factory=list)
    """int64, a piece of the dump each: bytes of the text of each item as it is written; empty without a text."""
    _packed: dict[Field, list[bytes]] = field(default_factory=dict)

    def take(self, table: Table, rows: Rows) -> None:
        """Take some rows of the table."""
        places = {name: place for place, name in enumerate(rows.columns or table.columns)}
        self.count += len(rows.cells)
        for one, name in self.table.columns.items():
            place = places[name]
            if one is Field.TEXT:
                self.sizes.append(rows.cells.ends[:, place] - rows.cells.starts[:, place])
            else:
                self._packed.setdefault(one, []).append(rows.cells.joined(place))

    def column(self, one: Field) -> list[str]:
        """Return what is said of each item; empty texts where the table says nothing of that."""
        if one not in self._packed:
            return [""] * self.count
        return [text for piece in self._packed[one] for text in piece.decode("utf-8", "replace").split("\0")]


@dataclass(frozen=True)
class Count:
    """How many items of a table are alike."""

    noun: str
    status: str
    """In words; empty where all that there are have none."""
    number: int
    folded: bool
    """Nobody misses them."""


@dataclass(frozen=True)
class Installation:
    """A platform that was recognised in a dump."""

    platform: Platform
    database: str
    prefix: str
    items: tuple[Items, ...]

    def counts(self) -> list[Count]:
        """Return how many items there are of each type and status: those that people see first, the most first."""
        found: list[Count] = []
        for one in self.items:
            alike = Counter(zip(one.column(Field.TYPE), one.column(Field.STATUS), strict=True))
            told: Counter[tuple[str, str, bool]] = Counter()
            for (kind, status), number in alike.items():
                noun = one.table.nouns.get(kind, kind or one.table.noun)
                folded = bool({kind, status} & one.table.folded)
                told[noun, one.table.statuses.get(status, status), folded] += number
            found += [Count(noun, status, number, folded) for (noun, status, folded), number in told.most_common()]
        return sorted(found, key=lambda one: one.folded)


class Inventory:
    """Gathers the items of platforms; a table is taken by its columns, before it is known what it belongs to."""

    def __init__(self, platforms: Sequence[Platform]) -> None:
        self._platforms = platforms
        self._taken: dict[tuple[str, str, int, int], Items] = {}
        """By database, table, platform and item table."""

    def take(self, table: Table, rows: Rows) -> None:
        """Take some rows of a dump."""
        columns = set(rows.columns or table.columns)
        for number, platform in enumerate(self._platforms):
            for place, one in enumerate(platform.items):
                if table.name.endswith(one.name) and columns.issuperset(one.columns.values()):
                    key = (table.database, table.name, number, place)
                    self._taken.setdefault(key, Items(one)).take(table, rows)

    def installations(self, tables: Sequence[Table]) -> list[Installation]:
        """Return the platforms that are found in a dump with these tables."""
        found = []
        for database in sorted({one.database for one in tables}):
            names = [one.name for one in tables if one.database == database]
            for number, platform in enumerate(self._platforms):
                for prefix in platform.prefixes(names):
                    items = tuple(
                        self._taken.get((database, prefix + one.name, number, place), Items(one))
                        for place, one in enumerate(platform.items)
                    )
                    found.append(Installation(platform, database, prefix, items))
        return found
