"""What is known of a content platform: its tables, and what their rows stand for."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum


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


@dataclass(frozen=True)
class Platform:
    """A content platform."""

    name: str
    tables: tuple[str, ...]
    """Tables by which it is recognised, without their prefix."""
    items: tuple[ItemTable, ...]

    def prefixes(self, names: Iterable[str]) -> list[str]:
        """Return the prefixes under which all tables that it is recognised by are among some names of tables."""
        known = set(names)
        first = self.tables[0]
        found = [one.removesuffix(first) for one in known if one.endswith(first)]
        return sorted(prefix for prefix in found if all(prefix + one in known for one in self.tables))
