"""The links of one capture: which page refers to which address, and from which place."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from palinode.core.columns import find


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
    redirect: np.ndarray
    """int64 (n,): identity of where an answer leads on to; 0 for none."""
    known: np.ndarray
    """int16 (n,): how each became known, bits of core/discovery.py."""
    elsewhere: np.ndarray
    """int64 (k,), ascending: identities of the further addresses."""
    offsets: np.ndarray
    """int64 (n + 1,): cuts the links into those of each answer."""
    target: np.ndarray
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
        wanted = np.zeros(256, bool)
        wanted[list(places)] = True
        chosen: np.ndarray = wanted[self.place]
        return chosen
