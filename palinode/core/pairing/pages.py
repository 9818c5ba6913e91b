"""Pages of one side that may be paired by what they say."""

from dataclasses import dataclass

import numpy as np

from palinode.core.pairing.shingles import Shingles


@dataclass(frozen=True)
class Pages:
    """What n pages say of themselves; lists and arrays of length n, in any order."""

    ident: np.ndarray
    """int64: where each stands on its own side."""
    path: list[str]
    """Path and query."""
    title: list[str]
    heading: list[str]
    """The first heading of the main content."""
    names: list[frozenset[int]]
    """Identities of the addresses that the page says it has: canonical, alternate in its own language, and its own
    address; those of a source page as the rule maps them."""
    identifier: list[str]
    """What the platform calls it; empty if it says nothing."""
    media: list[frozenset[int]]
    """Digests of the images in its main content; for a document, of its bytes."""
    shingles: Shingles

    def __len__(self) -> int:
        return len(self.ident)
