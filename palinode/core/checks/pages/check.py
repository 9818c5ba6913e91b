"""The check of pages: it alone pairs; the others read its pairs."""

import numpy as np

from palinode.core.checks.check import Cell, Check, Column, Reads, Verdict
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Outcome, Rows, with_items
from palinode.core.checks.pages import findings, kinds
from palinode.core.checks.thread import Thread
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger

VERDICTS = {
    Fate.LOST: Verdict("lost", "Lost", Thread.CUT, wants=True),
    Fate.UNKNOWN: Verdict("unknown", "Not judged", Thread.DOTS, wants=True),
    Fate.ALTERED: Verdict("altered", "Altered", Thread.WAVY, wants=True),
    Fate.MOVED: Verdict("moved", "Moved", Thread.BENT),
    Fate.NEW: Verdict("new", "New", Thread.RING),
    Fate.RETIRED: Verdict("retired", "Retired", Thread.DASHED),
    Fate.KEPT: Verdict("kept", "Kept", Thread.STRAIGHT),
}


def rows(ledger: Ledger) -> Rows:
    """Return the rows of a ledger of pages."""
    return Rows(
        verdict=ledger.fate,
        group=ledger.group,
        groups=ledger.group_names,
        place=ledger.place,
        left=ledger.left_address,
        right=ledger.right_address,
        left_note=ledger.left_title,
        right_note=ledger.detail,
        numbers={
            "left": ledger.left.astype(np.int64),
            "right": ledger.right.astype(np.int64),
            "source_status": ledger.left_status.astype(np.int16),
            "destination_status": ledger.right_status.astype(np.int16),
            "content_change": ledger.content_change.astype(np.int32),
            "shared_change": ledger.shared_change.astype(np.int32),
            "found_by": ledger.found_by.astype(np.uint8),
            "certainty": ledger.certainty.astype(np.float32),
            "address_change": ledger.address_change.astype(np.uint8),
            "redirect": ledger.redirect.astype(np.uint8),
            "asked": ledger.asked.astype(np.uint8),
            "visits": ledger.visits.astype(np.int64),
            "last_visit": ledger.last_visit.astype(np.int32),
            "template": ledger.template.astype(np.int16),
        },
    )


def judge(looked: Looked) -> Outcome:
    """Return the rows of pages, and what is wrong with them or differs."""
    assert looked.pages is not None
    return with_items(rows(looked.pages), findings.find(looked.pages, looked.shared))


CHECK = Check(
    name="pages",
    version=4,
    title="Pages",
    view="pages",
    reads=(Reads.PAIRS,),
    needs=(Reads.PAIRS,),
    verdicts=tuple(VERDICTS[fate] for fate in Fate),
    kinds=kinds.ALL,
    columns=(
        Column("source_url", "Source", Cell.LEFT),
        Column("destination_url", "Destination", Cell.RIGHT),
        Column("fate", "Fate", Cell.VERDICT),
        Column("detail", "What differs", Cell.RIGHT_NOTE),
        Column("source_status", "Status at the source", Cell.NUMBER),
        Column("destination_status", "Status at the destination", Cell.NUMBER),
        Column("visits", "Visits, by imported logs", Cell.NUMBER),
        Column("last_visit", "Day of the last visit", Cell.NUMBER),
        Column("source_title", "Title", Cell.LEFT_NOTE),
        Column("section", "Section", Cell.GROUP),
    ),
    groups_label="Section",
    shown=("content_change", "shared_change", "source_status", "destination_status", "visits", "last_visit"),
    filters=("template",),
    judge=judge,
)
