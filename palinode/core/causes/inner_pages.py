"""All inner pages are not found while the home page works: rewrite rules were not rebuilt."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import Asked, Fate
from palinode.core.weight import Weight
from palinode.core.wording import number

_SHARE = 0.9
_FEWEST = 3


def inner_pages_not_found(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause when nearly every inner page that was judged is not found, and the home page is there."""
    ledger = ground.ledger
    home = ledger.in_section("/")
    judged = (ledger.left != 0) & ~np.isin(ledger.fate, [Fate.RETIRED, Fate.UNKNOWN])
    inner = judged & ~home
    lost = inner & ground.rows(free, kinds.LOST) & (ledger.asked == Asked.NOT_FOUND)
    home_works = bool((home & judged & (ledger.fate != Fate.LOST)).any())
    if not home_works or lost.sum() < max(_FEWEST, _SHARE * inner.sum()):
        return
    yield Cause(
        "inner_pages",
        Weight.BLOCKS,
        "The home page works, the pages below it are not found",
        f"{number(int(lost.sum()), 'page')} of {int(inner.sum()):,} below the home page answer not found.",
        "The new server does not hand inner addresses to the site. Rebuild its rewrite rules (on Apache: "
        "allow .htaccess for the folder; on nginx: try_files), or save the permalink settings once, "
        "then capture the destination again.",
        ground.takes(free, lost, kinds.LOST),
        int(lost.sum()),
        {"verdict": "lost"},
    )
