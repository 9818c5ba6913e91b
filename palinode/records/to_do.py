"""What a comparison wants done, read from its last judgement: a task for each cause, with the addresses it is about."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from palinode.core.causes import cause_kind
from palinode.core.causes.cause_kind import Who
from palinode.core.findings import State
from palinode.core.to_do import Place, Task
from palinode.core.weight import Weight
from palinode.records import findings, judgements, outcome_rows
from palinode.records.findings import Choice
from palinode.records.judgements import JudgedFindings
from palinode.records.models import Comparison

_TOGETHER = 2_000
_SETS = 20
"""Findings whose pages are held at once, which may be all of a site."""


def who_of(cause: dict[str, Any]) -> Who:
    """Return who can mend a cause."""
    return Who(cause["who"]) if "who" in cause else cause_kind.of(cause["kind"]).who


def causes_for(comparison: Comparison, who: Who | None) -> list[dict[str, Any]]:
    """Return the causes of a comparison that somebody can mend, in their order; of everybody without ``who``."""
    return [one for one in comparison.standing.get("causes", []) if who is None or who_of(one) is who]


def tasks(comparison: Comparison, who: Who | None = None) -> Iterator[Task]:
    """Yield what somebody, or everybody, can do about a comparison, the heaviest first."""
    judged = JudgedFindings(comparison)
    for one in causes_for(comparison, who):
        yield Task(
            who_of(one),
            Weight[one["weight"].upper()],
            one["title"],
            one["remedy"],
            one.get("instead", ""),
            _places(judged, one["number"]),
        )


def _places(judged: JudgedFindings, cause: int) -> Iterator[Place]:
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
                yield Place(one["left_address"] or "", one["right_address"] or "", one["detail"])


def _on_pages(judged: JudgedFindings, ranks: np.ndarray, detail: str) -> Iterator[Place]:
    outcome = findings.pages_of_comparison(judged)
    for start in range(0, len(ranks), _TOGETHER):
        for row in outcome_rows.rows_at(outcome, ranks[start : start + _TOGETHER].tolist()):
            yield Place(row.left or "", row.right or "", detail)
