"""A difference: one thing that pages say otherwise than their partners, with all pairs that show it."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from palinode.core.block_changes import Block
from palinode.core.columns import PageDetails
from palinode.core.fields import Field

CAME = "came"
"""Locus of a difference about what stands there and did not before."""
References = tuple[np.ndarray, np.ndarray, np.ndarray]
"""Targets (int64), places (uint8), and where those of each pair begin (k + 1,)."""


@dataclass(frozen=True)
class Difference:
    """One difference, however many pages show it."""

    field: Field
    locus: str
    """What a person would change: it tells the difference apart from others of its field."""
    detail: str
    at: np.ndarray
    """int64, ascending: places among the pairs that differ."""
    about: str = ""
    """The address that it is about, as its own side has it; empty for none."""
    looks: str = ""
    """What both sides say; empty for the detail."""
    noindex: bool = False
    """It asks search engines to stay away."""
    named: frozenset[str] = frozenset()
    """Addresses, as the source has them, of links whose words are gone."""
    shared: bool = False
    """So many pages show it that it leaves their fates alone."""
    fewer: bool = False
    """What it is about stands there no more, or less often."""


@dataclass(frozen=True)
class DifferingPairs:
    """k pairs whose pages differ; arrays and lists of length k."""

    bits: np.ndarray
    """int32: the fields that differ (core/fields.py)."""
    seen: np.ndarray
    """int64 (k, fields): what both sides say in each field, as one number."""
    left: PageDetails
    right: PageDetails
    left_refers: References
    """What left pages refer to in compared fields, as it is expected at the destination."""
    right_refers: References
    noindex: np.ndarray
    """bool: the right page says noindex, and the left one does not."""
    section: Sequence[str]
    template: np.ndarray
    """int64: fingerprint of what stands around the main content of the left page."""
    homes: tuple[str, str]
    """Origins of the left and of the right side: of an address there the path alone is told."""

    def differ(self, *fields: Field) -> np.ndarray:
        """Return the places (ascending) of the pairs that differ in one of some fields."""
        wanted = sum(1 << one for one in fields)
        return np.flatnonzero(self.bits & wanted)


@dataclass(frozen=True)
class Sizes:
    """How many pairs there are, of whatever kind."""

    side: int
    section: dict[str, int]
    template: dict[int, int]


@dataclass(frozen=True)
class PageText:
    """What a page of a pair says in words."""

    blocks: list[Block]
    """Of the main content, without what is volatile."""
    open_graph: Sequence[tuple[str, str]] = ()
    address: str = ""
    links: Sequence[tuple[str, str]] = ()
    """The words of each link of the main content, and its address as it is written."""


@dataclass(frozen=True)
class Sources:
    """What is looked up where pairs differ."""

    sizes: Callable[[], Sizes]
    addresses: Callable[[np.ndarray, np.ndarray], tuple[Mapping[int, str], Mapping[int, str]]]
    """From what left pages refer to, as it is expected, and what right pages do (identities) to addresses: of the
    former as the source has them. Those that nobody knows are left out."""
    texts: Callable[[np.ndarray], Iterable[tuple[int, PageText, PageText]]]
    """From places of pairs to both their pages; those that cannot be read are left out."""


@dataclass(frozen=True)
class Told:
    """The differences of k pairs; arrays of shape (k,), bits as those of core/fields.py."""

    differences: list[Difference] = field(default_factory=list)
    own: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))
    """int32: fields in which a page differs in more than what many share."""
    shared: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))
    """int32: fields in which it differs as many others do."""
    whole: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int32))
    """int32: fields of which a page differs in more than single differences name, and is told as a whole."""
    many: dict[int, dict[Field, int]] = field(default_factory=dict)
    """By place and field, in how much a page differs that differs in too much to be told one by one."""
