"""Items of a platform, whatever they were read from, and how many of them are alike."""

import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from palinode.core.platforms.platform import Field, ItemTable, LinkTable, Platform

END = b"\0"
"""Between each two values of a column."""
_NAMED = re.compile(r'"([^"]+)"')
"""A name among roles as they are written, which is a serialised array of PHP."""
_NO_SIZES = np.zeros(0, np.int64)


@dataclass
class Items:
    """The items of one table, in columns: packed, so that a million of them have room."""

    table: ItemTable
    count: int = 0
    _sizes: list[np.ndarray] = field(default_factory=list)
    _packed: dict[Field, list[bytes]] = field(default_factory=dict)
    _more: dict[Field, dict[str, str]] = field(default_factory=dict)
    """What another table says of some of them, by what it calls them."""
    _more_by: dict[Field, Field] = field(default_factory=dict)

    def add(self, count: int, packed: Mapping[Field, bytes], sizes: np.ndarray | None) -> None:
        """Add so many items: what is said of each, a zero byte between each two; and the sizes of their texts."""
        self.count += count
        for one, values in packed.items():
            self._packed.setdefault(one, []).append(values)
        if sizes is not None:
            self._sizes.append(sizes)

    def say_more(self, what: Field, by: Field, said: Mapping[str, str]) -> None:
        """Let another table say more of the items that it calls by their ``by``."""
        self._more.setdefault(what, {}).update(said)
        self._more_by[what] = by

    @property
    def sizes(self) -> np.ndarray:
        """int64 (count,): bytes of the text of each item as it is written; empty without a text."""
        return np.concatenate(self._sizes).astype(np.int64) if self._sizes else _NO_SIZES

    @property
    def fields(self) -> list[Field]:
        """What is said of them, but for their texts."""
        return [*self._packed, *self._more]

    def column(self, one: Field) -> list[str]:
        """Return what is said of each item; empty texts where the table says nothing of that."""
        if one in self._more:
            said = self._more[one]
            return [said.get(name, "") for name in self.column(self._more_by[one])]
        if one not in self._packed or not self.count:
            return [""] * self.count
        return [text for piece in self._packed[one] for text in piece.decode("utf-8", "replace").split("\0")]

    @property
    def statuses(self) -> list[str]:
        """The status of each; of accounts their roles, in their order by name."""
        if Field.ROLES not in self._more and Field.ROLES not in self._packed:
            return self.column(Field.STATUS)
        return [", ".join(sorted(_NAMED.findall(written))) for written in self.column(Field.ROLES)]

    def packed(self, one: Field) -> bytes:
        """Return what is said of each item in one, a zero byte between each two."""
        if one in self._more:
            return END.join(text.encode() for text in self.column(one))
        return END.join(self._packed.get(one, []))


@dataclass(frozen=True)
class Links:
    """Which items of one table are tied to which of another: l of each, in columns of the same length."""

    table: LinkTable
    of: np.ndarray
    """int64 (l,): identities; so are the others."""
    to: np.ndarray


@dataclass(frozen=True)
class SiteItems:
    """What one capture holds of the items of a site."""

    kind: str
    """Of the capture: dump, export, api, numbers."""
    installations: tuple["Installation", ...]
    numbers: Mapping[str, int] = field(default_factory=dict)
    """What was typed by hand, by what is counted."""


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
    """What a dump or an export holds of one installation of a platform."""

    platform: Platform
    items: tuple[Items, ...]
    database: str = ""
    """Empty where there is one alone, and for an export."""
    prefix: str = ""
    """Of its tables."""
    settings: Mapping[str, str] = field(default_factory=dict)
    """Those that were read, by their names."""
    links: tuple[Links, ...] = ()
    keys: tuple[str, ...] = ()
    """Keys, within its tables, that hold the prefix of their names: those under which the roles of accounts stand."""

    def counts(self) -> list[Count]:
        """Return how many items there are of each type and status: those that people see first, the most first."""
        found: list[Count] = []
        for one in self.items:
            alike = Counter(zip(one.column(Field.TYPE), one.statuses, strict=True))
            told: Counter[tuple[str, str, bool]] = Counter()
            for (kind, status), number in alike.items():
                noun, said = named(one.table, kind, status)
                told[noun, said, is_folded(one.table, kind, status)] += number
            found += [Count(noun, status, number, folded) for (noun, status, folded), number in told.most_common()]
        return sorted(found, key=lambda one: one.folded)


def named(table: ItemTable, kind: str, status: str) -> tuple[str, str]:
    """Return what items of a type and status are called, and their status in words."""
    return table.nouns.get(kind, kind or table.noun), table.statuses.get(status, status)


def is_folded(table: ItemTable, kind: str, status: str) -> bool:
    """Whether nobody misses items of a type and status."""
    return bool({kind, status} & table.folded)
