"""The rows of pages by what was asked at the destination, so that a check can say on which pages something is seen."""

import numpy as np

from palinode.core import address as addresses
from palinode.core.columns import find
from palinode.core.ledger import Ledger
from palinode.core.rule import Rule


class ShownRows:
    """The rows of pages, found by the identities of the destination's answers."""

    def __init__(self, pages: Ledger, rule: Rule) -> None:
        asked = pages.right
        if rule.forms:
            # A page is known by its final form, and was asked in its temporary one.
            asked = np.where(pages.right != 0, addresses.idents(list(map(rule.reached, pages.right_address))), 0)
        self._pages = pages
        order = np.argsort(asked)
        self._asked, self._rows = asked[order], np.append(order, -1)

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each answer (int64), -1 for one that is no row, as error pages; shape as ``idents``."""
        at = find(self._asked, idents)
        found: np.ndarray = self._rows[at]
        return found

    def of(self, idents: np.ndarray) -> np.ndarray:
        """Return the rows of some answers in order of address (int32), without those that are no rows."""
        rows = self.find(idents)
        rows = rows[rows >= 0]
        found: np.ndarray = rows[np.argsort(self._pages.place[rows])].astype(np.int32)
        return found
