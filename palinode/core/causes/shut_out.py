"""Robots rules shut search engines out of what was open at the source."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered_rows
from palinode.core.checks.pages import kinds
from palinode.core.fates import Fate
from palinode.core.weight import Weight
from palinode.core.wording import number


def search_engines_shut_out(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages that say noindex now and did not before."""
    ledger = ground.ledger
    paired = np.isin(ledger.fate, [Fate.KEPT, Fate.ALTERED, Fate.MOVED])
    rows = ground.rows(free, kinds.NOINDEX)
    if not rows.any():
        return
    everywhere = rows.sum() >= 0.9 * paired.sum()
    yield Cause(
        "shut_out",
        Weight.BLOCKS if everywhere else Weight.MEND,
        "Search engines are shut out of the whole site"
        if everywhere
        else "The destination asks search engines to stay away",
        f"noindex on {number(int(rows.sum()), 'page')} that had none at the source.",
        "Switch the setting off that keeps search engines away while the site is being built, or take "
        "the X-Robots-Tag header out of the server's configuration.",
        ground.takes(free, rows, kinds.NOINDEX),
        int(rows.sum()),
        altered_rows(ledger, rows),
        raised=bool(everywhere),
    )
