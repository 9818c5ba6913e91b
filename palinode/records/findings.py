"""The findings of a comparison: kept with the outcomes of checks, told in the order of their judgement."""

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from django.db import connection

from palinode.core.causes.cause import Cause
from palinode.core.checks import registry
from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.findings import Before, FindingHistory, Findings, State
from palinode.core.weight import Weight
from palinode.records import bulk_copy, outcome_items
from palinode.records.models import CheckOutcome, Comparison, ComparisonCheck, Judgement, Move
from palinode.records.outcome_items import Listed

RECORD = np.dtype(
    [
        ("outcome", "<u2"),  # place among the outcomes of the comparison
        ("place", "<i4"),  # place among the findings of that outcome
        ("kind", "<u2"),  # place among the words of the judgement
        ("state", "u1"),
        ("weight", "u1"),
        ("key", "<i8"),
        ("subject", "<i8"),
        ("row", "<i4"),  # rank in the ledger of its check; -1 for none
        ("since", "<i2"),  # the round in which it was found first
        ("fresh", "u1"),  # the comparison before did not have it
        ("returned", "u1"),  # it was cleared, and is back
        ("unseen", "u1"),  # carried over, since it could not be looked at this time
        ("cause", "<i2"),  # place among the causes of the standing; -1 for none
        ("decision", "<i8"),  # of what is expected, if that sets it aside; 0 for none
    ]
)
"""One finding of a judgement, packed."""
UNSEEN = "its page could not be judged this time"
_COLUMNS = 'f.outcome_id, f.place, f."row", f.pages, f.left_address, f.right_address, f.detail, f.items'


def comparison_before(comparison: Comparison) -> Comparison | None:
    """Return the comparison of the move that was made before this one; of its two sides, not of one side's captures."""
    return (
        Comparison.objects.filter(move=comparison.move_id, state=Comparison.State.MADE, pk__lt=comparison.pk)
        .filter(left__which="source", right__which="destination")
        .order_by("-pk")
        .first()
    )


def latest(move: Move) -> Comparison | None:
    """Return the last comparison of a move's two sides that was made."""
    found = move.comparisons.filter(state=Comparison.State.MADE)
    return found.filter(left__which="source", right__which="destination").order_by("-pk").first()


class Judged:
    """The findings of a comparison with what became of each, as arrays."""

    def __init__(self, comparison: Comparison) -> None:
        self.comparison = comparison
        found = Judgement.objects.filter(comparison_id=comparison.pk).first()
        self.words: list[str] = found.kinds if found else []
        self.records = np.frombuffer(bytes(found.findings) if found else b"", RECORD)

    @cached_property
    def checks(self) -> list[ComparisonCheck]:
        """The outcomes that the comparison holds, by their places."""
        return list(self.comparison.checks.select_related("outcome"))

    @cached_property
    def numbers(self) -> np.ndarray:
        """int64: the number of each of them."""
        return np.array([one.outcome_id for one in self.checks], np.int64)

    @property
    def kinds(self) -> list[Kind]:
        """The kinds that occur."""
        return [registry.KINDS[word] for word in self.words]

    def counts(self) -> list[list[Any]]:
        """Return ``[state, weight, kind, findings]``, in their order."""
        columns = (self.records[name].astype(np.int64) for name in ("state", "weight", "kind"))
        state, weight, kind = columns
        codes, number = np.unique((state * 8 + weight) * 4_096 + kind, return_counts=True)
        return [
            [State(code >> 15).word, Weight(code >> 12 & 7).word, self.words[code & 4_095], count]
            for code, count in zip(codes.tolist(), number.tolist(), strict=True)
        ]


def before(comparison: Comparison | None) -> Before:
    """Return the findings of the comparison before."""
    if comparison is None:
        return Before.nothing()
    judged = Judged(comparison)
    shared = np.array([kind.shared for kind in judged.kinds] or [False], bool)
    records = judged.records
    return Before(
        key=records["key"].astype(np.int64),
        subject=records["subject"].astype(np.int64),
        state=records["state"].astype(np.int64),
        since=records["since"].astype(np.int64),
        shared=shared[records["kind"]],
    )


@dataclass(frozen=True)
class Carried:
    """Findings of the comparison before that this one does not have."""

    earlier: Comparison | None
    gone: np.ndarray
    """bool, over its records: cleared."""
    unseen: np.ndarray
    """bool: could not be looked at this time."""


def store(
    comparison: Comparison,
    outcomes: Sequence[CheckOutcome],
    findings: Findings,
    history: FindingHistory,
    causes: tuple[Cause, ...],
    carried: Carried,
) -> None:
    """Write what became of the findings of a comparison, open ones first. Needs a transaction."""
    cause = np.full(len(findings), -1)
    for place, one in enumerate(causes):
        cause[one.takes] = place
    records = np.zeros(len(findings), RECORD)
    for name, column in (
        ("outcome", findings.check), ("place", findings.place), ("kind", findings.kind), ("state", history.state),
        ("weight", findings.weight), ("key", findings.key), ("subject", findings.subject), ("row", findings.row),
        ("since", history.since), ("fresh", history.fresh), ("returned", history.returned), ("cause", cause),
        ("decision", history.aside),
    ):  # fmt: skip
        records[name] = column
    records = records[np.lexsort((findings.place, findings.check, findings.weight, history.state))]
    words = [kind.word for kind in findings.kinds]
    held = [ComparisonCheck(comparison=comparison, place=at, outcome=one) for at, one in enumerate(outcomes)]
    if carried.earlier is not None:
        more, earlier_held = _carried(comparison, carried, words, len(held))
        records, held = np.concatenate([records, more]), held + earlier_held
    ComparisonCheck.objects.bulk_create(held)
    Judgement.objects.create(comparison=comparison, kinds=words, findings=records.tobytes())


def _carried(
    comparison: Comparison, carried: Carried, words: list[str], first: int
) -> tuple[np.ndarray, list[ComparisonCheck]]:
    """Return records of findings of the comparison before, and the outcomes that they are kept with; extends words."""
    assert carried.earlier is not None
    earlier = Judged(carried.earlier)
    chosen = np.flatnonzero(carried.unseen | carried.gone)
    # What stays open stands before what is cleared.
    chosen = chosen[np.argsort(carried.gone[chosen], kind="stable")]
    records = earlier.records[chosen].copy()
    places = np.unique(records["outcome"]).tolist()
    to = {place: first + at for at, place in enumerate(places)}
    kinds = {at: words.index(word) if word in words else -1 for at, word in enumerate(earlier.words)}
    for at in np.unique(records["kind"]).tolist():
        if kinds[at] < 0:
            words.append(earlier.words[at])
            kinds[at] = len(words) - 1
    records["outcome"] = [to[place] for place in records["outcome"].tolist()]
    records["kind"] = [kinds[at] for at in records["kind"].tolist()]
    gone = carried.gone[chosen]
    records["state"][gone] = int(State.CLEARED)
    records["unseen"] = ~gone
    records["row"], records["cause"], records["decision"], records["fresh"], records["returned"] = -1, -1, 0, 0, 0
    held = [
        ComparisonCheck(comparison=comparison, place=to[place], outcome_id=int(earlier.numbers[place]), carried=True)
        for place in places
    ]
    return records, held


@dataclass(frozen=True)
class Choice:
    """Which findings are wanted; None for all."""

    state: State | None = None
    weight: Weight | None = None
    kind: str | None = None
    check: str | None = None
    cause: int | None = None
    find: str = ""
    ranks: tuple[int, ...] | None = None
    rows: tuple[int, ...] | None = None
    """Ranks of the rows on which they stand, in the ledger of ``check``."""

    def of(self, judged: Judged) -> np.ndarray:
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
        if self.check is not None:
            places = [one.place for one in judged.checks if one.outcome.check_name == self.check]
            wanted &= np.isin(records["outcome"], places)
        if self.rows is not None:
            wanted &= (records["row"] >= 0) & np.isin(records["row"], self.rows)
        if self.ranks is not None:
            chosen = np.zeros(len(records), bool)
            chosen[[rank for rank in self.ranks if rank < len(records)]] = True
            wanted &= chosen
        at = np.flatnonzero(wanted)
        return _matching(judged, at, self.find) if self.find else at


def _matching(judged: Judged, at: np.ndarray, find: str) -> np.ndarray:
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
    judged = Judged(comparison)
    at = choice.of(judged)
    return len(at), shown(judged, at[first : first + most])


def shown(judged: Judged, at: np.ndarray) -> list[dict[str, Any]]:
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
    found = []
    for rank, number, record in zip(at.tolist(), numbers, some.tolist(), strict=True):
        one = dict(zip(RECORD.names or (), record, strict=True))
        pages, left, right, detail, items = texts[number, one["place"]]
        kind = registry.KINDS[judged.words[one["kind"]]]
        found.append(
            {
                "rank": rank,
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
                "left_address": left,
                "right_address": right,
                "detail": UNSEEN if one["unseen"] else detail,
                "pages": pages,
                "seen_on": kind.on(pages),
                "listed": items is not None,
            }
        )
    return found


def pages_of(judged: Judged, rank: int, first: int, most: int) -> Listed:
    """Return some of the pages that show a finding of a judgement, by its rank."""
    record = judged.records[rank]
    outcome = judged.checks[int(record["outcome"])].outcome
    return outcome_items.of_finding(outcome, int(record["place"]), first, most)


def _thread(kind: Kind, weight: Weight, state: State) -> Thread:
    return Thread.STRAIGHT if state == State.CLEARED else kind.thread_of(weight)


def stream(comparison: Comparison, batch: int = 5_000) -> Iterator[list[dict[str, Any]]]:
    """Yield all findings in batches, in their order."""
    judged = Judged(comparison)
    for first in range(0, len(judged.records), batch):
        yield shown(judged, np.arange(first, min(first + batch, len(judged.records))))


def accepting(comparison: Comparison, choice: Choice, most: int) -> list[list[int]]:
    """Return key and looks of the open findings of a choice, at most so many."""
    judged = Judged(comparison)
    at = choice.of(judged)
    at = at[judged.records["state"][at] == int(State.OPEN)][:most]
    some = judged.records[at]
    numbers, places = judged.numbers[some["outcome"]].tolist(), some["place"].tolist()
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT f.outcome_id, f.place, f.seen FROM unnest(%s::bigint[], %s::int[]) AS w(outcome_id, place) "
            "CROSS JOIN LATERAL (SELECT * FROM records_checkfinding WHERE outcome_id = w.outcome_id "
            "AND place = w.place LIMIT 1) f",
            [numbers, places],
        )
        seen = {(outcome, place): looks for outcome, place, looks in cursor.fetchall()}
    keys = some["key"].tolist()
    return [[key, seen[number, place]] for key, number, place in zip(keys, numbers, places, strict=True)]


def addresses_of(comparison: Comparison, cause: int) -> list[tuple[str | None, str | None]]:
    """Return left and right address of each page with an open finding of a cause."""
    judged = Judged(comparison)
    found = shown(judged, Choice(state=State.OPEN, cause=cause).of(judged))
    return list(dict.fromkeys((one["left_address"], one["right_address"]) for one in found))


def checks_of(comparison: Comparison, cause: int) -> list[str]:
    """Return the names of the checks that found what is open of a cause."""
    judged = Judged(comparison)
    places = np.unique(judged.records["outcome"][Choice(state=State.OPEN, cause=cause).of(judged)]).tolist()
    return [judged.checks[place].outcome.check_name for place in places]


def rows_of_cause(comparison: Comparison, outcome: CheckOutcome, cause: int) -> np.ndarray:
    """Return the ranks (ascending) of the rows of an outcome on which findings of a cause stand."""
    judged = Judged(comparison)
    here = judged.numbers[judged.records["outcome"]] == outcome.pk
    rows = judged.records["row"][here & (judged.records["cause"] == cause)]
    return np.unique(rows[rows >= 0]).astype(np.int64)


def set_aside_by(comparison: Comparison | None) -> dict[int, int]:
    """Return how many findings each expectation set aside in a comparison, by the number of its decision."""
    if comparison is None:
        return {}
    decisions = Judged(comparison).records["decision"]
    numbers, count = np.unique(decisions[decisions != 0], return_counts=True)
    return dict(zip(numbers.tolist(), count.tolist(), strict=True))


def by_kind(comparison: Comparison, choice: Choice) -> dict[str, dict[str, int]]:
    """Return how many findings a choice would have in each state, weight and kind, if it did not choose by that."""
    tally: dict[str, Counter[str]] = {"states": Counter(), "weights": Counter(), "kinds": Counter()}
    for state, weight, kind, number in comparison.findings:
        fits = {
            "states": choice.state is None or choice.state.word == state,
            "weights": choice.weight is None or choice.weight.word == weight,
            "kinds": choice.kind is None or choice.kind == kind,
        }
        for name, word in (("states", state), ("weights", weight), ("kinds", kind)):
            if all(fit for other, fit in fits.items() if other != name):
                tally[name][word] += number
    return {name: dict(counter) for name, counter in tally.items()}


def holds_together(comparison: Comparison) -> bool:
    """Whether the judgement of a comparison that came from elsewhere tells findings of its own outcomes alone."""
    judged = Judged(comparison)
    records, checks = judged.records, judged.checks
    own = {one.outcome.move_id for one in checks} <= {comparison.move_id}
    in_order = [one.place for one in checks] == list(range(len(checks)))
    if not own or not in_order or not set(judged.words) <= set(registry.KINDS):
        return False
    if not len(records):
        return True
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT outcome_id, count(*) FROM records_checkfinding WHERE outcome_id = ANY(%s) GROUP BY 1",
            [judged.numbers.tolist()],
        )
        known = dict(cursor.fetchall())
    sizes = np.array([known.get(one.outcome_id, 0) for one in checks], np.int64)
    rows = np.array([one.outcome.rows for one in checks], np.int64)
    if not (records["outcome"] < len(checks)).all() or not (records["kind"] < len(judged.words)).all():
        return False
    return bool(
        (records["place"] >= 0).all()
        and (records["place"] < sizes[records["outcome"]]).all()
        and (records["row"] < rows[records["outcome"]]).all()
        and (records["state"] <= max(State)).all()
        and (records["weight"] <= max(Weight)).all()
        and (records["cause"] < max(1, len(comparison.standing.get("causes", [])))).all()
        and not _unknown_decisions(comparison, records["decision"])
    )


def renumber_decisions(comparison: Comparison, number: Callable[[int], int | None]) -> None:
    """Give decisions that set findings aside their numbers here; a finding without its decision opens again."""
    judged = Judged(comparison)
    records = judged.records.copy()
    for old in np.unique(records["decision"][records["decision"] != 0]).tolist():
        records["decision"][judged.records["decision"] == old] = number(old) or 0
    Judgement.objects.filter(comparison_id=comparison.pk).update(findings=records.tobytes())


def _unknown_decisions(comparison: Comparison, numbers: np.ndarray) -> bool:
    """Whether findings are set aside by decisions of another move."""
    named = set(np.unique(numbers[numbers != 0]).tolist())
    return bool(named - set(comparison.move.decisions.filter(pk__in=named).values_list("pk", flat=True)))
