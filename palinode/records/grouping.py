"""Rows of a ledger by what they have in common besides fate and section: their cause, their template."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from django.db import connection

from palinode.core.fates import Fate
from palinode.records.models import Comparison, LedgerParts, LedgerRow


@dataclass(frozen=True)
class Group:
    """Rows that belong together."""

    key: str
    """By which the ledger shows them alone."""
    name: str
    rows: int
    fates: dict[str, int]


def by_section(comparison: Comparison) -> list[Group]:
    """Return the sections, in order of address."""
    fates: dict[str, Counter[str]] = {name: Counter() for name, _ in comparison.sections}
    for fate, section, number in comparison.counts:
        fates[section][fate] += number
    return [Group(name, name, number, dict(fates[name])) for name, number in comparison.sections]


def by_cause(comparison: Comparison) -> list[Group]:
    """Return the causes that stand on rows, as the standing has them."""
    causes = comparison.standing.get("causes", [])
    found = []
    for place, cause in enumerate(causes):
        ranks = of_cause(comparison, place)
        if len(ranks):
            found.append(Group(str(place), cause["title"], len(ranks), fates(comparison, ranks)))
    return found


def by_template(comparison: Comparison) -> list[Group]:
    """Return the templates that several pages stand in, the most frequent first; the rest together at the end."""
    numbers = _templates(comparison)
    found = []
    for number in [*range(1, int(numbers.max(initial=0)) + 1), 0]:
        ranks = np.flatnonzero(numbers == number)
        if len(ranks):
            first = LedgerRow.objects.get(comparison_id=comparison.pk, rank=int(ranks[0]))
            example = first.left_address or first.right_address or ""
            name = f"like {example[example.find('/', 8) :]}" if number else "in templates of their own"
            found.append(Group(str(number), name, len(ranks), fates(comparison, ranks)))
    return found


def of_cause(comparison: Comparison, cause: int) -> np.ndarray:
    """Return the ranks (ascending) of the rows on which findings of a cause stand."""
    with connection.cursor() as cursor:
        cursor.execute(
            'SELECT DISTINCT "row" FROM records_finding WHERE comparison_id = %s AND cause = %s AND "row" IS NOT NULL',
            [comparison.pk, cause],
        )
        return np.sort(np.array([row for (row,) in cursor.fetchall()], np.int64))


def of_template(comparison: Comparison, number: int) -> np.ndarray:
    """Return the ranks (ascending) of the rows whose pages stand in a template."""
    return np.flatnonzero(_templates(comparison) == number)


def _templates(comparison: Comparison) -> np.ndarray:
    parts = LedgerParts.objects.filter(comparison=comparison).only("template").first()
    return np.frombuffer(bytes(parts.template) if parts else b"", "<i2")


def fates(comparison: Comparison, ranks: np.ndarray) -> dict[str, int]:
    """Return how many of some ranks (ascending) have each fate."""
    ends = np.cumsum([number for _, _, number in comparison.counts])
    words = [fate for fate, _, _ in comparison.counts]
    places, count = np.unique(np.searchsorted(ends, ranks, side="right"), return_counts=True)
    tally: Counter[str] = Counter()
    for place, number in zip(places.tolist(), count.tolist(), strict=True):
        tally[words[place]] += number
    return {fate.word: tally[fate.word] for fate in Fate if tally[fate.word]}


def within(ranks: np.ndarray, spans: Sequence[tuple[int, int]]) -> np.ndarray:
    """Return those of some ranks that stand in spans (first, length)."""
    inside = np.zeros(len(ranks), bool)
    for first, length in spans:
        inside |= (ranks >= first) & (ranks < first + length)
    found: np.ndarray = ranks[inside]
    return found
