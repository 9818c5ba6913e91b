"""Rows of an outcome grouped by something besides verdict and group: by cause, or by the value of an array."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core.checks import registry
from palinode.records import findings, outcome_rows, row_blocks
from palinode.records.models import CheckOutcome, Comparison


@dataclass(frozen=True)
class Group:
    """Rows that belong together."""

    key: str
    """By which the ledger shows them alone."""
    name: str
    rows: int
    verdicts: dict[str, int]


def by_group(outcome: CheckOutcome) -> list[Group]:
    """Return the groups of the check, in their order."""
    verdicts: dict[str, Counter[str]] = {name: Counter() for name, _ in outcome.groups}
    for verdict, group, number in outcome.counts:
        verdicts[group][verdict] += number
    return [Group(name, name, number, dict(verdicts[name])) for name, number in outcome.groups]


def by_cause(comparison: Comparison, outcome: CheckOutcome) -> list[Group]:
    """Return the causes that stand on rows, as the standing has them."""
    found = []
    for cause in comparison.standing.get("causes", []):
        ranks = findings.rows_of_cause(comparison, outcome, cause["number"])
        if len(ranks):
            found.append(Group(str(cause["number"]), cause["title"], len(ranks), verdicts(outcome, ranks)))
    return found


def by_filter(outcome: CheckOutcome, name: str) -> list[Group]:
    """Group the rows by the value of an array, the least first; rows with 0 stand together at the end."""
    numbers = outcome_rows.column(outcome.pk, name)
    found = []
    for number in [*range(1, int(numbers.max(initial=0)) + 1), 0]:
        ranks = np.flatnonzero(numbers == number)
        if len(ranks):
            (first,) = row_blocks.at(outcome.pk, [int(ranks[0])]).values()
            example = first.left or first.right or ""
            said = f"like {example[example.find('/', 8) :]}" if number else f"in {name}s of their own"
            found.append(Group(str(number), said, len(ranks), verdicts(outcome, ranks)))
    return found


def of_filter(outcome: CheckOutcome, name: str, number: int) -> np.ndarray:
    """Return the ranks (ascending) of the rows with a value of an array."""
    return np.flatnonzero(outcome_rows.column(outcome.pk, name) == number)


def verdicts(outcome: CheckOutcome, ranks: np.ndarray) -> dict[str, int]:
    """Return how many of some ranks (ascending) have each verdict."""
    ends = np.cumsum([number for _, _, number in outcome.counts])
    words = [verdict for verdict, _, _ in outcome.counts]
    places, count = np.unique(np.searchsorted(ends, ranks, side="right"), return_counts=True)
    tally: Counter[str] = Counter()
    for place, number in zip(places.tolist(), count.tolist(), strict=True):
        tally[words[place]] += number
    order = [one.word for one in registry.BY_NAME[outcome.check_name].verdicts]
    return {word: tally[word] for word in order if tally[word]}


def within(ranks: np.ndarray, spans: Sequence[tuple[int, int]]) -> np.ndarray:
    """Return those of some ranks that stand in spans (first, length)."""
    inside = np.zeros(len(ranks), bool)
    for first, length in spans:
        inside |= (ranks >= first) & (ranks < first + length)
    found: np.ndarray = ranks[inside]
    return found
