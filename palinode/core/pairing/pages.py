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

    def of(self, idents: np.ndarray) -> "Pages":
        """Return those of some pages that are among these."""
        rows = np.flatnonzero(np.isin(self.ident, idents))
        lists = {name: list(map(getattr(self, name).__getitem__, rows.tolist())) for name in _LISTS}
        return Pages(ident=self.ident[rows], shingles=self.shingles.of(rows), **lists)

    def and_more(self, others: "Pages") -> "Pages":
        """Return these pages and others after them."""
        sizes = np.concatenate([self.shingles.sizes, others.shingles.sizes])
        shingles = Shingles(
            np.concatenate([self.shingles.values, others.shingles.values]),
            np.concatenate([np.zeros(1, np.int64), np.cumsum(sizes)]),
        )
        lists = {name: getattr(self, name) + getattr(others, name) for name in _LISTS}
        return Pages(ident=np.concatenate([self.ident, others.ident]), shingles=shingles, **lists)


_LISTS = ("path", "title", "heading", "names", "identifier", "media")
