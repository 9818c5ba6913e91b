"""Linked addresses of both sides facing each other: each of the destination's beside the one that it stands for."""

from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.links.targets import State, Targets, Whose
from palinode.core.columns import find
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.rule import Rule

NOWHERE = -1


@dataclass(frozen=True)
class Facing:
    """Which linked address of the source each of the destination's t stands for; arrays of shape (t,)."""

    left: np.ndarray
    """int64: its place among the source's; NOWHERE for none."""
    row: np.ndarray
    """int64: the row of the source page to which that leads in the end; NOWHERE for none."""
    is_page: np.ndarray
    """bool: the source's is a page, reached without a redirect; the check of pages tells of it."""
    is_elsewhere: np.ndarray
    """bool: it leads to a page, and the page that stands for the source's is another one."""
    is_lost: np.ndarray
    """bool: the source page to which it would lead is lost."""

    @classmethod
    def of(cls, left: Targets, right: Targets, rule: Rule, pages: Ledger) -> "Facing":
        """Hold the linked addresses of two sides against each other."""
        expected = addresses.idents(rule.expect_many(left.text))
        order = np.argsort(expected, kind="stable")
        at = find(expected[order], right.ident)
        place = np.where(at >= 0, np.append(order, NOWHERE)[at], NOWHERE)
        # Another site's address is the same on both sides.
        place[right.whose == Whose.OTHER_SITE] = left.find(right.ident[right.whose == Whose.OTHER_SITE])
        end = np.append(left.end_ident, 0)[place]
        by_left = np.argsort(pages.left)
        rows = find(pages.left[by_left], end)
        row = np.where((rows >= 0) & (end != 0), np.append(by_left, NOWHERE)[rows], NOWHERE)
        pair, fate = np.append(pages.right, 0)[row], np.append(pages.fate, Fate.KEPT)[row]
        shown = np.append(right.links.is_page, False)[right.end]
        led = _final_idents(right, rule)
        own = (place >= 0) & (np.append(left.hops, 1)[place] == 0)
        return cls(
            left=place,
            row=row,
            is_page=own & (row >= 0),
            is_elsewhere=(right.state == State.ANSWERS) & shown & (pair != 0) & (pair != led),
            is_lost=fate == Fate.LOST,
        )


def _final_idents(right: Targets, rule: Rule) -> np.ndarray:
    """Return int64 (t,): identities of the final forms of the addresses at the ends of the destination's."""
    if not rule.forms:
        return right.end_ident
    known = np.unique(right.end[right.end >= 0])
    final = addresses.idents([rule.forms.final_of(one) for one in right.links.texts(known)])
    found: np.ndarray = np.append(final, 0)[find(known, right.end)]
    return found
