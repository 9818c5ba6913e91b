"""The items of recognised platforms, gathered from the rows of a dump as they come."""

from collections.abc import Sequence

from palinode.core.dumps.contents import Table
from palinode.core.dumps.script import Rows
from palinode.core.platforms.items import Installation, Items
from palinode.core.platforms.platform import Field, Platform


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
                    _add(self._taken.setdefault(key, Items(one)), rows, rows.columns or table.columns)

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
                    found.append(Installation(platform, items, database, prefix))
        return found


def _add(items: Items, rows: Rows, columns: Sequence[str]) -> None:
    cells, places = rows.cells, {name: place for place, name in enumerate(columns)}
    told = {one: places[name] for one, name in items.table.columns.items()}
    text = told.pop(Field.TEXT, None)
    sizes = None if text is None else cells.ends[:, text] - cells.starts[:, text]
    items.add(len(cells), {one: cells.joined(place) for one, place in told.items()}, sizes)
