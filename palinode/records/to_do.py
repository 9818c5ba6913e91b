"""What a comparison wants done, read from its last judgement: a task for each cause, with the addresses it is about."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from palinode.core.causes import cause_kind
from palinode.core.causes.cause_kind import Who
from palinode.core.findings import State
from palinode.core.to_do import Task, TaskAddress
from palinode.core.weight import Weight
from palinode.records import findings, judgements, outcome_rows
from palinode.records.findings import Choice
from palinode.records.judgements import JudgedFindings
from palinode.records.models import Comparison

_TOGETHER = 2_000
_SETS = 20
"""Findings whose pages are held at once, which may be all of a site."""


def causes_for(comparison: Comparison, who: Who | None) -> list[dict[str, Any]]:
    """Return the causes of a comparison that somebody can mend, in their order; of everybody without ``who``."""
    causes = [cause_kind.told(one) for one in comparison.standing.get("causes", [])]
    return [one for one in causes if who is None or one["who"] == who]


def tasks(comparison: Comparison, who: Who | None = None) -> Iterator[Task]:
    """Yield what somebody, or everybody, can do about a comparison, the heaviest first."""
    judged = JudgedFindings(comparison)
    for one in causes_for(comparison, who):
        yield Task(
            Who(one["who"]),
            Weight[one["weight"].upper()],
            one["title"],
            one["remedy"],
            one.get("instead", ""),
            _places(judged, one["number"]),
        )


def _places(judged: JudgedFindings, cause: int) -> Iterator[TaskAddress]:
    """Yield the addresses of the open findings of a cause; one that several pages show is told once for each."""
    at = judged.ordered(Choice(state=State.OPEN, cause=cause).of(judged))
    for start in range(0, len(at), _SETS):
        some = at[start : start + _SETS]
        several = [place for place, one in enumerate(some.tolist()) if judged.records["row"][one] < 0]
        pages = dict(zip(several, judgements.shown_on(judged, some[several]), strict=True))
        for place, one in enumerate(findings.shown(judged, some)):
            if place in pages and len(pages[place].row):
                yield from _on_pages(judged, pages[place].row, one["detail"])
            else:
                yield TaskAddress(one["left_address"] or "", one["right_address"] or "", one["detail"])


def _on_pages(judged: JudgedFindings, ranks: np.ndarray, detail: str) -> Iterator[TaskAddress]:
    outcome = findings.pages_of_comparison(judged)
    for start in range(0, len(ranks), _TOGETHER):
        for row in outcome_rows.rows_at(outcome, ranks[start : start + _TOGETHER].tolist()):
            yield TaskAddress(row.left or "", row.right or "", detail)
