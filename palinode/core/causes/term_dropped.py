"""A category or another term was dropped, and what was filed under it stands under another one now."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.content.verdicts import ITEMS_DIFFERENT, ITEMS_MISSING
from palinode.core.checks.pages import kinds
from palinode.core.checks.tables.verdicts import TABLE_SHORT
from palinode.core.weight import Weight


def term_dropped(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for the terms of each table that are gone while another one has grown by as much."""
    content = ground.outcomes.get("content")
    for one in content.gives["dropped"] if content is not None else ():
        takes = ground.at(
            place
            for place, finding in ground.shared(free, ITEMS_MISSING, ITEMS_DIFFERENT).items()
            if finding.locus == one.locus
        )
        takes |= ground.at(
            place for place, finding in ground.shared(free, TABLE_SHORT).items() if finding.locus in one.tables
        )
        if not takes.any():
            continue
        rows = np.zeros(len(ground.ledger.fate), bool)
        rows[[row for row in one.pages if row >= 0]] = True
        takes |= ground.takes(free, rows, kinds.LOST, kinds.STOOD_IN)
        yield Cause(
            "term_dropped",
            Weight.MEND,
            f"“{one.dropped}” was dropped, and what was in it went to “{one.grown}”",
            f"{one.before:,} were filed under “{one.dropped}”. “{one.grown}” had {one.had:,}, and has {one.has:,}.",
            "Make the term again at the destination, and file under it what was there; or redirect its address, and "
            "accept it.",
            takes,
            max(1, int(ground.under(takes).sum())),
            {"check": "content"},
        )
