"""The identifiers that the pages of a capture name, each with how many name it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from palinode.core.leftovers.identifiers import Identifier, Nature

VERSION = 1
"""Raised when the same answers give others."""
_MOST = 5_000
_EXAMPLES = 200
_MOST_OF_A_NATURE = 100
"""What takes more values is made anew for each page, and bound to no name."""


@dataclass
class NamedIdentifier:
    """An identifier, and which answers name it."""

    nature: str
    value: str
    answers: int = 0
    examples: list[str] = field(default_factory=list)
    """Addresses of the first of them."""


class Gathering:
    """Gathers the identifiers of answers, one after the other."""

    def __init__(self) -> None:
        self._named: dict[Identifier, NamedIdentifier] = {}

    def add(self, address: str, identifiers: Iterable[Identifier]) -> None:
        """Add those of one answer, each once."""
        for one in dict.fromkeys(identifiers):
            if one not in self._named and len(self._named) >= _MOST:
                continue
            named = self._named.setdefault(one, NamedIdentifier(str(one.nature), one.value))
            named.answers += 1
            if len(named.examples) < _EXAMPLES:
                named.examples.append(address)

    def made(self) -> list[NamedIdentifier]:
        """Return them, those that most answers name first."""
        found = sorted(self._named.values(), key=lambda one: (-one.answers, one.nature, one.value))
        kept: list[NamedIdentifier] = []
        for nature in map(str, Nature):
            some = [one for one in found if one.nature == nature]
            if len(some) > _MOST_OF_A_NATURE:
                # What many share may stand beside what each makes for itself.
                some = [one for one in some if one.answers > 1][:_MOST_OF_A_NATURE]
            kept += some
        return kept


def plain(found: Sequence[NamedIdentifier]) -> list[dict[str, Any]]:
    """Return them in plain values."""
    return [asdict(one) for one in found]


def read(kept: Sequence[Mapping[str, Any]]) -> list[NamedIdentifier]:
    """Return what was kept in plain values."""
    return [NamedIdentifier(**one) for one in kept]
