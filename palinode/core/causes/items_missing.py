"""Items are missing from the database, and their pages with them: an import stopped, or left rows out."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.content.verdicts import ITEMS_MISSING, OTHERS_MISSING
from palinode.core.checks.pages import kinds
from palinode.core.checks.tables.verdicts import IMPORT_STOPPED, TABLE_ABSENT, TABLE_SHORT
from palinode.core.weight import Weight
from palinode.core.wording import number

_LOST = (kinds.LOST, kinds.STOOD_IN)


def items_missing(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for what is missing from the database, with the pages that are lost for that reason."""
    content = ground.outcomes.get("content")
    stopped = ground.shared(free, IMPORT_STOPPED)
    missing = ground.shared(free, ITEMS_MISSING, OTHERS_MISSING)
    short = ground.shared(free, TABLE_SHORT, TABLE_ABSENT)
    rows = np.zeros(len(ground.ledger.fate), bool)
    if content is not None:
        rows[content.gives["missing"]] = True
        for one in () if stopped else content.gives["dropped"]:
            # What became of these is known.
            rows[[row for row in one.pages if row >= 0]] = False
            missing = {place: finding for place, finding in missing.items() if finding.locus != one.locus}
            short = {place: finding for place, finding in short.items() if finding.locus not in one.tables}
    pages = ground.takes(free, rows, *_LOST)
    if not stopped and not (missing and (short or pages.any())):
        return
    lost = int(ground.under(pages).sum())
    first = next(iter((stopped or missing).values()))
    takes = pages | ground.at([*stopped, *missing, *short])
    yield Cause(
        "items_missing",
        Weight.BLOCKS,
        "the import of the database stopped before its end" if stopped else "items are missing from the database",
        f"{first.detail}." + (f" {_lost(lost)} for that reason." if lost else ""),
        first.kind.remedy,
        takes,
        lost or 1,
        {"check": "tables" if stopped else "content"},
        raised=bool(stopped),
        instead="If the items are in the trash, or somebody deleted them on purpose, accept them with that reason.",
    )


def _lost(count: int) -> str:
    return f"{number(count, 'page is', 'pages are')} lost".capitalize()
