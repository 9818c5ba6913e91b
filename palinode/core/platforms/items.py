"""Items of a platform, whatever they were read from, and how many of them are alike."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from palinode.core.platforms.platform import Field, ItemTable, Platform


@dataclass
class Items:
    """The items of one table, in columns: packed, so that a million of them have room."""

    table: ItemTable
    count: int = 0
    sizes: list[np.ndarray] = field(default_factory=list)
    """int64, a piece of the dump each: bytes of the text of each item as it is written; empty without a text."""
    _packed: dict[Field, list[bytes]] = field(default_factory=dict)

    def add(self, count: int, packed: Mapping[Field, bytes], sizes: np.ndarray | None) -> None:
        """Add so many items: what is said of each, a zero byte between each two; and the sizes of their texts."""
        self.count += count
        for one, values in packed.items():
            self._packed.setdefault(one, []).append(values)
        if sizes is not None:
            self.sizes.append(sizes)

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
    """What a dump or an export holds of one installation of a platform."""

    platform: Platform
    items: tuple[Items, ...]
    database: str = ""
    """Empty where there is one alone, and for an export."""
    prefix: str = ""
    """Of its tables."""

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
