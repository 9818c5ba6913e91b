"""What repeats across a side's pages though no element says that it is template: menus and footers in plain boxes."""

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from palinode.core import address as addresses
from palinode.core.fields import Place
from palinode.core.packed_facts import PackedFacts

T = TypeVar("T")

SAMPLED = 60
"""Pairs of pages of which both sides are read."""
FEWEST = 12
"""Pages from which on something can be said to repeat."""
_SHARE = 0.6


@dataclass(frozen=True)
class Boilerplate:
    """What stands in the main content of most pages of one side, and not of most pages of the other."""

    texts: frozenset[str] = frozenset()
    targets: frozenset[int] = frozenset()
    """Identities of what links lead to, at the destination."""

    @property
    def idents(self) -> np.ndarray:
        """The targets, ascending."""
        return np.array(sorted(self.targets), np.int64)


NOTHING = Boilerplate()

Shown = tuple[frozenset[str], frozenset[int]]
"""Texts and targets of one page's main content."""


def read(address: str, rest: PackedFacts, expected: Callable[[list[str]], list[str]]) -> Shown:
    """Return the texts and targets of one page, from its kept facts.

    ``expected`` says where addresses of its side are expected at the destination.
    """
    targets = [addresses.normal(one.written, address) or one.written for one in rest.at(Place.LINK)]
    texts = frozenset(text for _, text in rest.main)
    return texts, frozenset(addresses.idents(expected(targets)).tolist())


def between(left: list[Shown], right: list[Shown]) -> Boilerplate:
    """Return what repeats on one side alone."""
    if min(len(left), len(right)) < FEWEST:
        return NOTHING
    (one_texts, one_targets), (other_texts, other_targets) = _of(left), _of(right)
    return Boilerplate(one_texts ^ other_texts, one_targets ^ other_targets)


def _of(pages: list[Shown]) -> tuple[frozenset[str], frozenset[int]]:
    return _most((texts for texts, _ in pages), len(pages)), _most((targets for _, targets in pages), len(pages))


def _most(shown: Iterable[frozenset[T]], number: int) -> frozenset[T]:
    tally = Counter(one for some in shown for one in some)
    return frozenset(one for one, count in tally.items() if count >= _SHARE * number)
