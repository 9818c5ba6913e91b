"""A cache still serves an older copy: asked past it, the same pages say something else."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import FIELDS, first_of
from palinode.core.checks.pages import kinds
from palinode.core.weight import Weight
from palinode.core.wording import number

_NEARLY_ALL = 0.5
_KINDS = (*FIELDS, kinds.NOINDEX)


def older_copy(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for altered pages behind a cache: those seen so, or all if most of the sample were so."""
    beside, ledger = ground.beside, ground.ledger
    if not beside.older:
        return
    rows = ground.rows(free, *_KINDS)
    if beside.older_share < _NEARLY_ALL:
        seen = [row for row in np.flatnonzero(rows).tolist() if ledger.right_address[row] in beside.older]
        rows = np.isin(np.arange(len(rows)), seen)
    count = int(rows.sum())
    if count:
        yield Cause(
            "older_copy",
            Weight.MEND,
            f"A cache serves an older copy of {number(count, 'page')}",
            f"{first_of(ground, rows)}: asked past caches, the destination says something else"
            f"{f'; it is kept for {beside.older_by}' if beside.older_by else ''}.",
            "Empty the cache or the proxy in front of the destination, or connect past it. Then capture again.",
            ground.takes(free, rows, *_KINDS),
            count,
            {"verdict": "altered"},
        )
