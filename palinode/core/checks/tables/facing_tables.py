"""Tables of two databases facing each other by their names without prefix."""

from collections.abc import Iterator
from dataclasses import dataclass

from palinode.core.checks.tables import prefixes
from palinode.core.dumps.contents import Table
from palinode.core.dumps.database import Database


@dataclass(frozen=True)
class Facing:
    """A table on both sides; None where it is not there."""

    name: str
    """Without its prefix."""
    left: Table | None
    right: Table | None
    passing: bool
    """Its rows come and go by themselves."""


@dataclass(frozen=True)
class Databases:
    """Two databases facing each other."""

    left: Database
    right: Database
    left_prefixes: list[str]
    right_prefixes: list[str]

    @classmethod
    def of(cls, left: Database, right: Database) -> "Databases":
        """Return two databases with the prefixes of their tables."""
        return cls(left, right, prefixes.of(left), prefixes.of(right))

    def tables(self) -> Iterator[Facing]:
        """Yield the tables, those of the left in the order of its dump, then what the right alone has."""
        ours = self._named(self.left, self.left_prefixes, self.right_prefixes)
        theirs = self._named(self.right, self.right_prefixes, self.left_prefixes)
        endings = tuple(
            ending for one in (*self.left.installations, *self.right.installations) for ending in one.platform.passing
        )
        for name in dict.fromkeys([*ours, *theirs]):
            passing = any(name == ending or name.endswith(f"_{ending}") for ending in endings)
            yield Facing(name, ours.get(name), theirs.get(name), passing)

    def _named(self, database: Database, own: list[str], others: list[str]) -> dict[str, Table]:
        """Return the tables of a side by their bare names; one under the other side's prefix is called likewise."""
        several = len(own) > 1
        found: dict[str, Table] = {}
        for table in database.tables:
            name = table.name if several else prefixes.bare(table.name, own)
            if not several and name == table.name:
                name = prefixes.bare(table.name, others)
            key = f"{table.database}.{name}" if name in found else name
            found.setdefault(key, table)
        return found
