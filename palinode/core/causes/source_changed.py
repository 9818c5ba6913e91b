"""The source changed since the baseline: what differs is what the source itself says by now."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import FIELDS, first_of
from palinode.core.checks.pages import kinds
from palinode.core.weight import Weight
from palinode.core.wording import number


def source_changed(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for what a later capture of the source explains."""
    later, ledger = ground.beside.later, ground.ledger
    if later is None:
        return
    altered = np.isin(ledger.left, np.array(sorted(later.altered), np.int64)) & (ledger.left != 0)
    gone = np.isin(ledger.left, np.array(sorted(later.gone), np.int64)) & (ledger.left != 0)
    came = np.isin(ledger.right, np.array(sorted(later.came), np.int64)) & (ledger.left == 0)
    takes = ground.takes(free, altered, *FIELDS)
    takes |= ground.takes(free, gone, kinds.LOST) | ground.takes(free, came, kinds.NEW)
    rows = ground.under(takes)
    if rows.any():
        count = int(rows.sum())
        yield Cause(
            "source_changed",
            Weight.MEND,
            f"The source changed since the baseline, on {number(count, 'page')}",
            f"{first_of(ground, rows)}: the destination says what the source says in its capture of {later.when}.",
            "Name the later capture of the source the baseline, if it is complete, and compare again.",
            takes,
            count,
            {},
        )
