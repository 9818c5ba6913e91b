"""Rows of the check of pages, with what holds the two pages of each together."""

from dataclasses import dataclass

import numpy as np

from palinode.core.fates import FoundBy
from palinode.records import outcome_rows, outcomes, row_blocks
from palinode.records.models import Comparison

CHECK = "pages"
_NUMBERS = ["left", "right", "found_by", "certainty", "content_change", "shared_change"]


@dataclass(frozen=True)
class PageRow:
    """A row of pages, as its pair is opened."""

    rank: int
    left_address: str | None
    right_address: str | None
    content_change: int
    """Bits of core/fields.py: of what differs on the page alone, and of what it shares with many."""
    is_pair: bool
    """It has a partner, so that its two pages were compared."""
    found_by: FoundBy
    certainty: float


def row(comparison: Comparison, rank: int) -> PageRow | None:
    """Return a row of a comparison's pages; None if there is none of this rank."""
    outcome = outcomes.of(comparison, CHECK)
    if outcome is None or (found := row_blocks.at(outcome.pk, [rank]).get(rank)) is None:
        return None
    (numbers,) = outcome_rows.numbers_of(outcome.pk, _NUMBERS, [rank])
    return PageRow(
        rank,
        found.left,
        found.right,
        numbers["content_change"] | max(0, numbers["shared_change"]),
        bool(numbers["left"] and numbers["right"]),
        FoundBy(numbers["found_by"]),
        round(numbers["certainty"], 3),
    )


def found_elsewhere(comparison: Comparison, lefts: np.ndarray) -> dict[int, str]:
    """Return the addresses of the partners of some left pages, by identity, where the rule expects another one."""
    outcome = outcomes.of(comparison, CHECK)
    if outcome is None:
        return {}
    left, found_by = outcome_rows.column(outcome.pk, "left"), outcome_rows.column(outcome.pk, "found_by")
    by_rule = np.isin(found_by, [FoundBy.NOTHING, FoundBy.RULE])
    ranks = np.flatnonzero(~by_rule & (left != 0) & np.isin(left, lefts)).tolist()
    return {int(left[row.rank]): row.right for row in row_blocks.at(outcome.pk, ranks).values() if row.right}
