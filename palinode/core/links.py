"""The links of one capture: which page refers to which address, and from which place."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import sparse

from palinode.core.columns import find, offsets


@dataclass(frozen=True)
class Links:
    """m links of n answers, and the k further addresses that they lead to and nobody asked.

    An address has a number: answers, in order of their identities, have 0 to n - 1, the others n to n + k - 1.
    """

    ident: np.ndarray
    """int64 (n,), ascending: identities of the answers, as they were asked."""
    status: np.ndarray
    """int16 (n,): -1 where nothing was fetched."""
    is_page: np.ndarray
    """bool (n,)"""
    target: np.ndarray
    """int64 (n,): identity of where an answer leads on to; 0 for none."""
    known: np.ndarray
    """int16 (n,): how each became known, bits of core/discovery.py."""
    elsewhere: np.ndarray
    """int64 (k,), ascending: identities of the further addresses."""
    offsets: np.ndarray
    """int64 (n + 1,): cuts the links into those of each answer."""
    to: np.ndarray
    """int32 (m,): number of the address that each leads to."""
    place: np.ndarray
    """uint8 (m,): where it stands (core/fields.py)."""
    texts: Callable[[np.ndarray], list[str]]
    """From numbers to the addresses."""
    reasons: Callable[[np.ndarray], list[str]]
    """From numbers of answers to why they were not fetched, in words."""

    @property
    def addresses(self) -> int:
        """How many addresses have a number."""
        return len(self.ident) + len(self.elsewhere)

    @cached_property
    def page(self) -> np.ndarray:
        """int32 (m,): number of the page that each link stands on."""
        found: np.ndarray = np.repeat(np.arange(len(self.ident), dtype=np.int32), np.diff(self.offsets))
        return found

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the number of the answer of each identity, -1 for none; shape as ``idents``."""
        return find(self.ident, idents)

    def of_places(self, places: frozenset[int]) -> np.ndarray:
        """Return bool (m,): which links stand in some places."""
        return _among(self.place, places)

    def by_target(self, places: frozenset[int]) -> "Referring":
        """Return who refers to each address, from some places alone."""
        chosen = self.of_places(places)
        sizes = np.add.reduceat(np.append(chosen, False), self.offsets[:-1], dtype=np.int64)
        # A slice without links is none to reduceat, which gives what comes next.
        sizes[np.diff(self.offsets) == 0] = 0
        shape = len(self.ident), self.addresses
        by_page = sparse.csr_matrix((self.place[chosen], self.to[chosen], offsets(sizes)), shape=shape)
        found = by_page.tocsc()
        return Referring(found.indptr.astype(np.int64), found.indices, found.data)


@dataclass(frozen=True)
class Referring:
    """The links to each address, one address after the other; m arrays of the same length."""

    starts: np.ndarray
    """int64 (addresses + 1,): cuts them into those of each address."""
    page: np.ndarray
    """int32 (m,): numbers of the pages, ascending for each address."""
    place: np.ndarray
    """uint8 (m,)"""

    @cached_property
    def pages(self) -> np.ndarray:
        """int64 (addresses,): how many pages refer to each, whatever how often."""
        new = np.ones(len(self.page), bool)
        np.not_equal(self.page[1:], self.page[:-1], out=new[1:])
        new[self.starts[:-1][np.diff(self.starts) > 0]] = True
        return self._per_address(new)

    def share(self, places: frozenset[int]) -> np.ndarray:
        """Return float64 (addresses,): how much of the links to each stands in some places; 0 where there are none."""
        found: np.ndarray = self._per_address(_among(self.place, places)) / np.maximum(1, np.diff(self.starts))
        return found

    def of(self, number: int) -> np.ndarray:
        """Return the pages (int32) that refer to an address, each once."""
        return np.unique(self.page[self.starts[number] : self.starts[number + 1]])

    def _per_address(self, chosen: np.ndarray) -> np.ndarray:
        """Return int64 (addresses,): how many of the links to each are chosen."""
        before = np.concatenate([np.zeros(1, np.int32), np.cumsum(chosen, dtype=np.int32)])
        found: np.ndarray = (before[self.starts[1:]] - before[self.starts[:-1]]).astype(np.int64)
        return found


def _among(place: np.ndarray, places: frozenset[int]) -> np.ndarray:
    """Return bool, shaped as ``place`` (uint8): which of them are among some places."""
    wanted = np.zeros(256, bool)
    wanted[list(places)] = True
    found: np.ndarray = wanted[place]
    return found
