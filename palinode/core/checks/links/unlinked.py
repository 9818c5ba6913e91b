"""Pages that nothing links any more, and how many steps lead from the home page to the others."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.links import verdicts
from palinode.core.checks.links.reach import NOT_REACHED, Reach
from palinode.core.checks.links.targets import Targets, Whose
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import PageSet, Row
from palinode.core.columns import find
from palinode.core.discovery import Discovery
from palinode.core.fields import Place
from palinode.core.ledger import Ledger
from palinode.core.wording import number

GROUP = "Pages by the links that lead to them"
_FOLLOWED = frozenset({Place.LINK, Place.TEMPLATE_LINK, Place.FRAME})
_MOST = 5_000
"""Rows of pages."""
_DEEPER = 2
"""Steps more, from which on half of all pages are said to lie deeper."""


class _Sides:
    """The pages that both sides have, with how links lead to them."""

    def __init__(self, looked: Looked, pages: Ledger) -> None:
        left, right, rule = looked.left.links, looked.right.links, looked.rule
        assert left is not None and right is not None
        homes = [addresses.ident(looked.left.bases[0]), addresses.ident(rule.reached(looked.right.bases[0]))]
        before, after = (Reach(one, _FOLLOWED, home) for one, home in zip((left, right), homes, strict=True))
        both = np.flatnonzero((pages.left != 0) & (pages.right != 0))
        asked = pages.right[both]
        if rule.forms:
            asked = addresses.idents([rule.reached(pages.right_address[row]) for row in both.tolist()])
        at, there = left.find(pages.left[both]), right.find(asked)
        known = (at >= 0) & (there >= 0) & right.is_page[there]
        self.row, at, there = both[known], at[known], there[known]
        """int64 (p,): rows of the check of pages; so long are the others."""
        self.is_home = right.ident[there] == homes[1]
        self.linked = before.linked[at], after.linked[there]
        self.depth = before.depth[at], after.depth[there]
        self.by_sitemap = (right.known[there] & (Discovery.SITEMAP | Discovery.LINK)) == Discovery.SITEMAP


def rows(looked: Looked, pages: Ledger, right: Targets) -> Iterator[Row]:
    """Yield a row for each page that nothing links any more, and one for the steps.

    They are no findings: the links that are missing, or lead elsewhere, are told where they were.
    """
    sides = _Sides(looked, pages)
    yield from _unlinked(sides, pages, _by_old_host(looked, right))
    yield from _steps(sides)


def _by_old_host(looked: Looked, right: Targets) -> np.ndarray:
    """Return the identities (int64, ascending) of pages that are linked by their old addresses."""
    old = [right.text[at] for at in np.flatnonzero(right.whose == Whose.OTHER_SIDE).tolist()]
    return np.unique(addresses.idents(looked.rule.expect_many(old)))


def _unlinked(sides: _Sides, pages: Ledger, by_old_host: np.ndarray) -> Iterator[Row]:
    lonely = np.flatnonzero(sides.linked[0] & ~sides.linked[1] & ~sides.is_home)
    for at in lonely[np.argsort(pages.place[sides.row[lonely]])][:_MOST].tolist():
        row = int(sides.row[at])
        note = "only the sitemap names it" if sides.by_sitemap[at] else "nothing links to it"
        if find(by_old_host, pages.right[row : row + 1])[0] >= 0:
            note = "only links to the old host lead there"
        items = PageSet(np.array([row], np.int32))
        said = _depth(int(sides.depth[0][at]))
        yield Row(verdicts.UNLINKED, pages.left_place(row), pages.right_place(row), said, note, GROUP, items=items)


def _steps(sides: _Sides) -> Iterator[Row]:
    reached = [depth[depth != NOT_REACHED] for depth in sides.depth]
    if not all(map(len, reached)):
        return
    before, after = (
        f"half within {number(int(np.median(depth)), 'step')}, all within {number(int(depth.max()), 'step')}"
        for depth in reached
    )
    is_deeper = np.median(reached[1]) - np.median(reached[0]) >= _DEEPER
    note = "further from the home page than before" if is_deeper else ""
    verdict = verdicts.DEEPER if is_deeper else verdicts.ANSWERS
    yield Row(verdict, before, after, "steps from the home page", note, GROUP, order=1)


def _depth(steps: int) -> str:
    return "linked" if steps == NOT_REACHED else f"linked, {number(steps, 'step')} from the home page"
