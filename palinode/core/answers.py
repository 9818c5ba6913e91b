"""The answers of one capture that are no pages, as columns: files, redirects, and what was not there."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from palinode.core.columns import find

NEVER_ASKED = 0
"""Status of a file that is known by name alone, of a source that is gone."""


@dataclass(frozen=True)
class FileAnswers:
    """n answers in order of their identities; arrays and lists of length n."""

    ident: np.ndarray
    """int64, ascending: as they were asked."""
    text: list[str]
    """The addresses, as they were asked."""
    status: np.ndarray
    """int16; -1 where nothing was fetched, NEVER_ASKED where nobody asked."""
    reason: list[str]
    """Why nothing was fetched, in words; empty where it was."""
    media_type: list[str]
    """As the answer said it; empty for none."""
    length: np.ndarray
    """int64: bytes of the body."""
    body: np.ndarray
    """int64: the first eight bytes of the body's digest; 0 for none."""
    target: np.ndarray
    """int64: identity of where a redirect leads; 0 for none."""
    asking: np.ndarray
    """int32: pages of the capture that refer to it."""
    asked_by: Callable[[int], np.ndarray]
    """From the place of an answer to the identities of these pages (int64), as they were asked."""
    pages: np.ndarray
    """int64, ascending: identities of the answers that are pages."""

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 where there is none; shape as ``idents``."""
        return find(self.ident, idents)

    def is_page(self, idents: np.ndarray) -> np.ndarray:
        """Return bool: which identities are those of pages; shape as ``idents``."""
        return find(self.pages, idents) >= 0
