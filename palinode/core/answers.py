"""The answers of one capture as columns, for checks that look at what each address gave."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from palinode.core.columns import find


@dataclass(frozen=True)
class Answers:
    """n answers, in order of their identities; arrays and lists of length n."""

    ident: np.ndarray
    """int64, ascending."""
    text: list[str]
    """The addresses; in their final form where they were asked in a temporary one."""
    status: np.ndarray
    """int16; -1 where nothing was fetched."""
    is_page: np.ndarray
    media_type: list[str]
    """As the answer said it; empty for none."""
    length: np.ndarray
    """int64: bytes of the body."""
    body: np.ndarray
    """int64: the first eight bytes of the body's digest; 0 for none."""
    target: np.ndarray
    """int64: identity of where a redirect leads; 0 for none."""
    home: str
    """The address of the home page."""

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 where there is none; shape as ``idents``."""
        return find(self.ident, idents)

    @cached_property
    def pages(self) -> np.ndarray:
        """Rows of the answers that are pages."""
        return np.flatnonzero(self.is_page)
