"""What is known of a content platform: its tables, and what their rows stand for."""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from palinode.core.platforms.items import Installation
    from palinode.core.platforms.permalinks import Permalinks
    from palinode.core.platforms.traits import Trait


_ENOUGH = 4
"""Tables by which a platform is recognised, of those that it always has."""


class Field(StrEnum):
    """What is said of an item."""

    IDENTITY = "identity"
    """The platform's own number or name of it."""
    TYPE = "type"
    STATUS = "status"
    TITLE = "title"
    SLUG = "slug"
    """Its name in addresses."""
    DATE = "date"
    AUTHOR = "author"
    PARENT = "parent"
    TEXT = "text"
    """Of which the size alone is kept."""
    KEY = "key"
    """By which another table says more of it, where that is not its identity."""
    COUNTER = "counter"
    """How many others belong to it, as the platform itself keeps it."""
    FILE = "file"
    """Path of the file that it stands for, from the folder of uploads."""
    LINK = "link"
    """Its permalink, where that is said."""
    ROLES = "roles"
    """Of an account, as the platform writes them."""


@dataclass(frozen=True)
class ItemTable:
    """A table whose rows are items of one noun."""

    noun: str
    """What a row is, where its type does not say: ``comment``."""
    name: str
    """Without the prefix that all tables of an installation have."""
    columns: Mapping[Field, str]
    nouns: Mapping[str, str] = field(default_factory=dict)
    """What items of a type are called, where the type is no word for it."""
    statuses: Mapping[str, str] = field(default_factory=dict)
    """Likewise for statuses."""
    folded: frozenset[str] = frozenset()
    """Types and statuses that no visitor sees and nobody misses: they are counted together."""
    shown: frozenset[str] = frozenset()
    """Statuses, as the platform writes them, under which visitors see an item; an empty one stands for none."""
    shown_by_all: bool = True
    """Each kind of evidence shows all of them that visitors see; of accounts and comments it may show some."""
    parents: str = ""
    """Name of the item table in which the parents are that they name; empty for their own."""
    authors: str = ""
    """Name of the item table in which their authors are; empty where they are written out."""
    counts: str = ""
    """What their counter counts: those that visitors see of the items of a table that name them as their parent, or
    of those that a table of links ties to them; empty without a counter."""


@dataclass(frozen=True)
class MoreTable:
    """A table whose rows say more of the items of another."""

    of: str
    """Name of the item table."""
    name: str
    key: str
    """Column that says of which item."""
    by: Field
    """What of the item that column names."""
    columns: Mapping[Field, str]
    only: tuple[str, str] = ("", "")
    """Column and how its value ends in the rows that are meant; empty where all are."""
    beginning: str = ""
    """What stands before the name of the item in the key; rows with another beginning are of other items."""


@dataclass(frozen=True)
class LinkTable:
    """A table whose rows tie items of one table to items of another, say posts to categories."""

    name: str
    of: str
    """Name of the table of the items that are tied, by their identity; ``to`` is that of the others."""
    column: str
    to: str
    to_column: str


@dataclass(frozen=True)
class SettingTable:
    """A table of settings by their names."""

    name: str
    key: str
    value: str
    names: frozenset[str]
    """Those that are read."""
    endings: tuple[str, ...] = ()
    """So are those whose names end like this, whatever prefix they have."""
    addresses: frozenset[str] = frozenset()
    """Those that say where the site stands."""


@dataclass(frozen=True)
class Platform:
    """A content platform."""

    name: str
    tables: tuple[str, ...]
    """Tables by which it is recognised, without their prefix."""
    items: tuple[ItemTable, ...]
    more: tuple[MoreTable, ...] = ()
    links: tuple[LinkTable, ...] = ()
    settings: SettingTable | None = None
    permalinks: "Callable[[Installation], Permalinks] | None" = None
    """Gives the addresses that a site has by its own database; None where they do not follow from it."""
    traits: "Callable[[Installation], Iterator[Trait]] | None" = None
    """Gives what its settings say; None where they are not read."""
    passing: tuple[str, ...] = ()
    """How the names of tables end whose rows come and go by themselves: caches, sessions, logs, queues."""
    identifiers: frozenset[str] = frozenset()
    """Columns, in small letters, of what looks like an address and is none: it stays whatever the site is called."""

    def prefixes(self, names: Iterable[str]) -> list[str]:
        """Return the prefixes under which tables that it is recognised by are among some names of tables.

        Some are enough: an import that stopped leaves others out.
        """
        tally = Counter(one.removesuffix(table) for one in set(names) for table in self.tables if one.endswith(table))
        known = set(names)
        enough = min(_ENOUGH, len(self.tables))
        return sorted(prefix for prefix in tally if sum(prefix + one in known for one in self.tables) >= enough)
