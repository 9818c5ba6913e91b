"""Redirects that are missing, that are not permanent, that lead to a wrong page, or that end on the home page."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import Asked, Fate, Redirect
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST = 2


def all_to_home(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages whose address is redirected to the home page."""
    rows = ground.rows(free, kinds.LOST) & (ground.ledger.asked == Asked.HOME)
    if rows.sum() < _FEWEST:
        return
    yield Cause(
        "all_to_home",
        Weight.BLOCKS,
        "Old addresses are redirected to the home page",
        f"{number(int(rows.sum()), 'page')} end on the home page instead of a page of their own.",
        "Look for a rule that catches everything, and redirect each page to its own successor instead.",
        ground.takes(free, rows, kinds.LOST),
        int(rows.sum()),
        {"verdict": "lost"},
    )


def redirects_wrong(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for moved pages whose old address is redirected to another page."""
    ledger = ground.ledger
    rows = ground.rows(free, kinds.REDIRECT_MISSING) & (ledger.redirect == Redirect.ELSEWHERE)
    count = int(rows.sum())
    if count:
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "redirects_wrong",
            Weight.BLOCKS,
            f"{number(count, 'redirect')} {'leads to a wrong page' if count == 1 else 'lead to wrong pages'}",
            f"{ledger.left_place(first)} stands at {ledger.right_place(first)}; {ledger.detail[first]}.",
            "Redirect each old address to the page that is paired with it, for good (301); a rule that takes too much "
            "stands before the right one, or a line names the wrong target. Then capture again.",
            ground.takes(free, rows, kinds.REDIRECT_MISSING),
            count,
            {"verdict": "moved"},
            raised=True,
        )


def redirects_missing(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield causes for moved pages whose old path does not lead to them, or not for good."""
    ledger, moved = ground.ledger, ground.ledger.fate == Fate.MOVED
    missing = ground.rows(free, kinds.REDIRECT_MISSING)
    if missing.any():
        yield Cause(
            "redirects_missing",
            Weight.MEND,
            f"{number(int(missing.sum()), 'moved page')} {'has' if missing.sum() == 1 else 'have'} no redirect",
            f"{int((moved & (ledger.redirect == Redirect.PERMANENT)).sum()):,} of {int(moved.sum()):,} moved "
            "pages are reached from their old path by a permanent redirect.",
            "Add a permanent redirect (301) from each old path to the page, so that bookmarks and search "
            "results go on to work.",
            ground.takes(free, missing, kinds.REDIRECT_MISSING),
            int(missing.sum()),
            {"verdict": "moved"},
        )
    temporary = ground.rows(free, kinds.REDIRECT_TEMPORARY)
    if temporary.any():
        yield Cause(
            "redirects_temporary",
            Weight.MEND,
            f"{number(int(temporary.sum()), 'redirect')} {'is' if temporary.sum() == 1 else 'are'} not permanent",
            "The old path answers 302, 303 or 307 where the move is for good.",
            "Answer 301 or 308 instead: search engines keep the old address for a temporary redirect.",
            ground.takes(free, temporary, kinds.REDIRECT_TEMPORARY),
            int(temporary.sum()),
            {"verdict": "moved"},
        )
