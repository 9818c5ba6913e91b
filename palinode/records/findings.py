"""The findings of a comparison: chosen, counted, and shown in the order of its last judgement."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db import connection

from palinode.core.checks import registry
from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.findings import State
from palinode.core.judgement import marks
from palinode.core.weight import Weight
from palinode.records import bulk_copy, outcome_items
from palinode.records.judgements import JudgedFindings
from palinode.records.models import CheckOutcome, Comparison, Decision, Move
from palinode.records.outcome_items import Listed

UNSEEN = "its page could not be judged this time"
_COLUMNS = 'f.outcome_id, f.place, f."row", f.pages, f.left_address, f.right_address, f.detail, f.items'


def latest(move: Move) -> Comparison | None:
    """Return the last comparison of a move's two sides that was made."""
    found = move.comparisons.filter(state=Comparison.State.MADE)
    return found.filter(left__which="source", right__which="destination").order_by("-pk").first()


@dataclass(frozen=True)
class Choice:
    """Which findings are wanted; None for all."""

    state: State | None = None
    weight: Weight | None = None
    kind: str | None = None
    check: str | None = None
    cause: int | None = None
    decision: int | None = None
    """The decision that sets them aside."""
    find: str = ""
    numbers: tuple[int, ...] | None = None
    rows: tuple[int, ...] | None = None
    """Ranks of the rows on which they stand, in the ledger of ``check``."""
    with_shared: bool = False
    """Those too that the pages of these rows share with many."""

    def of(self, judged: JudgedFindings) -> np.ndarray:
        """Return the places (ascending) of the findings of a judgement that are wanted."""
        records = judged.records
        wanted = np.ones(len(records), bool)
        if self.state is not None:
            wanted &= records["state"] == int(self.state)
        if self.weight is not None:
            wanted &= records["weight"] == int(self.weight)
        if self.kind is not None:
            wanted &= records["kind"] == (judged.words.index(self.kind) if self.kind in judged.words else -1)
        if self.cause is not None:
            wanted &= records["cause"] == self.cause
        if self.decision is not None:
            wanted &= records["decision"] == self.decision
        if self.check is not None:
            places = [one.place for one in judged.checks if one.outcome.check_name == self.check]
            wanted &= np.isin(records["outcome"], places)
        if self.rows is not None:
            here = (records["row"] >= 0) & np.isin(records["row"], self.rows)
            wanted &= here | _shared_by(judged, self.rows) if self.with_shared else here
        if self.numbers is not None:
            chosen = np.zeros(len(records), bool)
            chosen[[one for one in self.numbers if one < len(records)]] = True
            wanted &= chosen
        at = np.flatnonzero(wanted)
        return _matching(judged, at, self.find) if self.find else at


def _shared_by(judged: JudgedFindings, rows: tuple[int, ...]) -> np.ndarray:
    """Return bool: the findings about pages that stand on no row, and that the pages of some rows show."""
    records, found = judged.records, np.zeros(len(judged.records), bool)
    for one in judged.checks:
        if one.outcome.check_name == "pages" and not one.carried:
            places = outcome_items.places_of_pages(one.outcome, rows)
            found |= (records["outcome"] == one.place) & (records["row"] < 0) & np.isin(records["place"], places)
    return found


def _matching(judged: JudgedFindings, at: np.ndarray, find: str) -> np.ndarray:
    """Return those of some findings whose sides or words hold a text."""
    pattern = f"%{bulk_copy.like(find)}%"
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT outcome_id, place FROM records_checkfinding WHERE outcome_id = ANY(%s) "
            "AND (left_address ILIKE %s OR right_address ILIKE %s OR detail ILIKE %s)",
            [judged.numbers.tolist(), pattern, pattern, pattern],
        )
        kept = set(cursor.fetchall())
    numbers = judged.numbers[judged.records["outcome"][at]].tolist()
    places = judged.records["place"][at].tolist()
    return at[[pair in kept for pair in zip(numbers, places, strict=True)]]


def page(comparison: Comparison, choice: Choice, first: int, most: int) -> tuple[int, list[dict[str, Any]]]:
    """Return how many findings a choice has, and some of them."""
    judged = JudgedFindings(comparison)
    at = judged.ordered(choice.of(judged))
    return len(at), shown(judged, at[first : first + most])


def shown(judged: JudgedFindings, at: np.ndarray) -> list[dict[str, Any]]:
    """Return some findings as they are shown, in the order given."""
    some = judged.records[at]
    numbers = judged.numbers[some["outcome"]].tolist()
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} FROM unnest(%s::bigint[], %s::int[]) AS w(outcome_id, place) CROSS JOIN LATERAL "
            "(SELECT * FROM records_checkfinding WHERE outcome_id = w.outcome_id AND place = w.place LIMIT 1) f",
            [numbers, some["place"].tolist()],
        )
        texts = {row[:2]: row[3:] for row in cursor.fetchall()}
    decided = _decided(some["decision"])
    found = []
    for place, number, record in zip(at.tolist(), numbers, some.tolist(), strict=True):
        one = dict(zip(some.dtype.names or (), record, strict=True))
        pages, left, right, detail, items = texts[number, one["place"]]
        kind = registry.KINDS[judged.words[one["kind"]]]
        found.append(
            {
                "number": place,
                "check": judged.checks[one["outcome"]].outcome.check_name,
                "kind": kind.word,
                "label": kind.label,
                "thread": _thread(kind, Weight(one["weight"]), State(one["state"])),
                "weight": Weight(one["weight"]).word,
                "state": State(one["state"]).word,
                "since": one["since"],
                "fresh": bool(one["fresh"]),
                "returned": bool(one["returned"]),
                "row": one["row"] if one["row"] >= 0 else None,
                "cause": one["cause"] if one["cause"] >= 0 else None,
                "decision": one["decision"] or None,
                **decided.get(one["decision"], _NOT_DECIDED),
                "left_address": left,
                "right_address": right,
                "detail": UNSEEN if one["unseen"] else detail,
                "pages": pages,
                "seen_on": kind.on(pages),
                "listed": items is not None,
            }
        )
    return found


def _decided(numbers: np.ndarray) -> dict[int, dict[str, Any]]:
    """Return by whom, why, when and until when the decisions of some numbers set findings aside."""
    named = [one for one in np.unique(numbers).tolist() if one]
    return {
        one.pk: {
            "decided_by": one.author.get_username(),
            "reason": one.reason,
            "decided_at": one.made_at,
            "ends_at": one.ends_at,
        }
        for one in Decision.objects.filter(pk__in=named).select_related("author")
    }


_NOT_DECIDED: dict[str, Any] = {"decided_by": "", "reason": "", "decided_at": None, "ends_at": None}


def pages_of(judged: JudgedFindings, number: int, first: int, most: int) -> Listed:
    """Return some of the pages that show a finding of a judgement, by its number."""
    record = judged.records[number]
    outcome = judged.checks[int(record["outcome"])].outcome
    return outcome_items.of_finding(outcome, int(record["place"]), first, most)


def _thread(kind: Kind, weight: Weight, state: State) -> Thread:
    return Thread.STRAIGHT if state == State.CLEARED else kind.thread_of(weight)


def stream(comparison: Comparison, batch: int = 5_000) -> Iterator[list[dict[str, Any]]]:
    """Yield all findings in batches, in their order."""
    judged = JudgedFindings(comparison)
    at = judged.ordered(np.arange(len(judged.records)))
    for first in range(0, len(at), batch):
        yield shown(judged, at[first : first + batch])


def accepted_marks(comparison: Comparison, choice: Choice) -> dict[int, np.ndarray]:
    """Return the marks (int64) of those findings of a choice that decisions set aside, by the decisions' numbers."""
    judged = JudgedFindings(comparison)
    some = judged.records[choice.of(judged)]
    some = some[some["decision"] != 0]
    told = marks(some["key"].astype(np.int64), some["seen"].astype(np.int64))
    return {number: told[some["decision"] == number] for number in np.unique(some["decision"]).tolist()}


def sides(judged: JudgedFindings, at: np.ndarray) -> tuple[list[str], list[str]]:
    """Return what stands left and right of some findings; empty for nothing."""
    some = judged.records[at]
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT coalesce(f.left_address, ''), coalesce(f.right_address, '') "
            "FROM unnest(%s::bigint[], %s::int[]) WITH ORDINALITY AS w(outcome_id, place, n) "
            "JOIN records_checkfinding f ON f.outcome_id = w.outcome_id AND f.place = w.place ORDER BY n",
            [judged.numbers[some["outcome"]].tolist(), some["place"].tolist()],
        )
        rows = cursor.fetchall()
    return [left for left, _ in rows], [right for _, right in rows]


def open_marks(comparison: Comparison, choice: Choice, most: int) -> np.ndarray:
    """Return the marks (int64, core/judgement.py) of the open findings of a choice, at most so many."""
    judged = JudgedFindings(comparison)
    at = choice.of(judged)
    some = judged.records[at[judged.records["state"][at] == int(State.OPEN)][:most]]
    return marks(some["key"].astype(np.int64), some["seen"].astype(np.int64))


def addresses_of(comparison: Comparison, cause: int) -> list[tuple[str | None, str | None]]:
    """Return left and right address of each page with an open finding of a cause."""
    judged = JudgedFindings(comparison)
    found = shown(judged, Choice(state=State.OPEN, cause=cause).of(judged))
    return list(dict.fromkeys((one["left_address"], one["right_address"]) for one in found))


def checks_of(comparison: Comparison, cause: int) -> list[str]:
    """Return the names of the checks that found what is open of a cause."""
    judged = JudgedFindings(comparison)
    places = np.unique(judged.records["outcome"][Choice(state=State.OPEN, cause=cause).of(judged)]).tolist()
    return [judged.checks[place].outcome.check_name for place in places]


def rows_of_cause(comparison: Comparison, outcome: CheckOutcome, cause: int) -> np.ndarray:
    """Return the ranks (ascending) of the rows of an outcome on which open findings of a cause stand."""
    judged = JudgedFindings(comparison)
    here = judged.numbers[judged.records["outcome"]] == outcome.pk
    chosen = here & (judged.records["cause"] == cause) & (judged.records["state"] == int(State.OPEN))
    rows = judged.records["row"][chosen]
    return np.unique(rows[rows >= 0]).astype(np.int64)


def set_aside_by(comparison: Comparison | None) -> dict[int, int]:
    """Return how many findings each decision sets aside in a comparison, by its number."""
    if comparison is None:
        return {}
    decisions = JudgedFindings(comparison).records["decision"]
    numbers, count = np.unique(decisions[decisions != 0], return_counts=True)
    return dict(zip(numbers.tolist(), count.tolist(), strict=True))


def by_kind(comparison: Comparison, choice: Choice) -> dict[str, dict[str, int]]:
    """Return how many findings a choice would have in each state, weight and kind, if it did not choose by that."""
    tally: dict[str, Counter[str]] = {"states": Counter(), "weights": Counter(), "kinds": Counter()}
    for state, weight, kind, number in comparison.counts:
        fits = {
            "states": choice.state is None or choice.state.word == state,
            "weights": choice.weight is None or choice.weight.word == weight,
            "kinds": choice.kind is None or choice.kind == kind,
        }
        for name, word in (("states", state), ("weights", weight), ("kinds", kind)):
            if all(fit for other, fit in fits.items() if other != name):
                tally[name][word] += number
    return {name: dict(counter) for name, counter in tally.items()}
