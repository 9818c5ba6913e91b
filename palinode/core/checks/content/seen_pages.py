"""Which pages of the comparison are the pages of items, by their permalinks."""

from collections.abc import Sequence

import numpy as np

from palinode.core import address as addresses
from palinode.core.columns import find
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.platforms import permalinks
from palinode.core.platforms.items import Installation
from palinode.core.temporary_address import Forms

NOT_SEEN = -1


class SeenPages:
    """The rows of pages on which items of one installation of a side are seen."""

    def __init__(
        self, installation: Installation, bases: Sequence[str], idents: np.ndarray, forms: Forms | None = None
    ) -> None:
        """``idents`` (int64) are those of the side's pages by their rows, 0 for none; in final forms, by ``forms``."""
        self._links = permalinks.of(installation)
        self._base = permalinks.base_of(installation, bases)
        self._forms = forms
        there = np.flatnonzero(idents)
        self._order = there[np.argsort(idents[there], kind="stable")]
        self._idents = idents[self._order]

    def rows(self, table: str, count: int) -> np.ndarray:
        """Return int64 (count,): the row of pages of each item of a table; NOT_SEEN where there is none."""
        paths = self._links.of_items.get(table) or [None] * count
        found = np.full(count, NOT_SEEN, np.int64)
        at = [place for place, path in enumerate(paths) if path is not None]
        texts = [addresses.normal(f"{self._base}{paths[place]}") or "" for place in at]
        if self._forms:
            texts = [self._forms.final_of(text) for text in texts]
        place = find(self._idents, addresses.idents(texts)) if at else np.zeros(0, np.int64)
        found[np.array(at, np.int64)] = np.where(place >= 0, np.append(self._order, NOT_SEEN)[place], NOT_SEEN)
        return found


def is_lost(pages: Ledger, rows: np.ndarray) -> np.ndarray:
    """Return bool (rows,): which of some rows of pages, NOT_SEEN among them, are lost."""
    found: np.ndarray = (rows != NOT_SEEN) & (np.append(pages.fate, Fate.KEPT)[rows] == Fate.LOST)
    return found
