"""The findings of a comparison: chosen, counted, and shown in the order of its last judgement."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db import connection

from palinode.core.checks import registry
from palinode.core.checks.kind import Kind
from palinode.core.checks.pages import kinds
from palinode.core.checks.thread import Thread
from palinode.core.findings import State
from palinode.core.judgement import ShownOn, SomePages, marks
from palinode.core.weight import Weight
from palinode.records import bulk_copy, judgements, outcome_items, outcome_rows
from palinode.records.judgements import DROPPED, JudgedFindings
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
    follows: int | None = None
    """What only follows from one of them; without it, and without rows or numbers, what counts by itself."""
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
            wanted &= (records["decision"] == self.decision) | _in_part(judged).get(self.decision, False)
        if self.check is not None:
            places = [one.place for one in judged.checks if one.outcome.check_name == self.check]
            wanted &= np.isin(records["outcome"], places)
        if self.rows is not None:
            here = (records["row"] >= 0) & np.isin(records["row"], self.rows)
            wanted &= here | _shared_by(judged, self.rows) if self.with_shared else here
        if self.follows is not None:
            wanted &= records["follows"] == self.follows
        elif self.rows is None and self.numbers is None:
            wanted &= records["follows"] < 0
        if self.numbers is not None:
            chosen = np.zeros(len(records), bool)
            chosen[[one for one in self.numbers if one < len(records)]] = True
            wanted &= chosen
        at = np.flatnonzero(wanted)
        return _matching(judged, at, self.find) if self.find else at


def _in_part(judged: JudgedFindings) -> dict[int, np.ndarray]:
    """Return for each decision that holds on some pages alone bool: the open findings that it sets aside there."""
    places = np.array(sorted(judged.aside), np.int64)
    if not len(places):
        return {}
    records = judged.records[places]
    known = marks(records["key"].astype(np.int64), records["seen"].astype(np.int64))
    found = {}
    for part in judgements.accepted(judged).in_part:
        about = np.zeros(len(judged.records), bool)
        about[places[np.isin(known, part.marks)]] = True
        found[part.decision] = about
    return found


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


def page(
    comparison: Comparison, choice: Choice, first: int, most: int, unfold: int | None = None
) -> tuple[int, list[dict[str, Any]]]:
    """Return how many findings a choice has, and some of them; below one, to ``unfold``, what only follows from it."""
    judged = JudgedFindings(comparison)
    at = judged.ordered(choice.of(judged))
    if unfold is not None and len(there := np.flatnonzero(at == unfold)):
        at = np.insert(at, there[0] + 1, Choice(follows=unfold).of(judged))
    found = shown(judged, at[first : first + most])
    if choice.rows is not None and choice.with_shared:
        found = _as_on(judged, choice.rows, found)
    return len(at), found


def _as_on(judged: JudgedFindings, rows: Sequence[int], found: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return findings as they count on some rows of pages: what is set aside there alone is accepted there."""
    if not any(one["aside"] for one in found):
        return found
    pages = _pages(judged, rows)
    accepted = judgements.accepted(judged).in_part
    some = judged.records[[one["number"] for one in found]]
    told = []
    for one, mark in zip(found, marks(some["key"].astype(np.int64), some["seen"].astype(np.int64)), strict=True):
        parts = [part for part in accepted if mark in part.marks and part.where.among(pages).all()]
        if one["aside"] and parts:
            number = parts[-1].decision
            one = one | {"state": State.ACCEPTED.word, "decision": number, **_decided(np.array([number]))[number]}
        told.append(one)
    return told


def _pages(judged: JudgedFindings, rows: Sequence[int]) -> ShownOn:
    """Return the pages of some rows of the check of pages."""
    return outcome_items.pages_at(pages_of_comparison(judged), np.array(rows, np.int64))


def pages_of_comparison(judged: JudgedFindings) -> CheckOutcome:
    """Return the outcome of the check of pages."""
    return next(one.outcome for one in judged.checks if one.outcome.check_name == "pages" and not one.carried)


def _column(judged: JudgedFindings, name: str, rows: Sequence[int]) -> np.ndarray:
    """Return an array of the check of pages at some rows."""
    column = outcome_rows.column(pages_of_comparison(judged).pk, name)
    found: np.ndarray = column[[row for row in rows if row < len(column)]]
    return found


def sections_of(judged: JudgedFindings, number: int) -> list[dict[str, Any]]:
    """Return the sections of the pages that show a finding, with their numbers of pages, in order of address."""
    pages = judgements.shown_on(judged, np.array([number]))[0]
    return [{"section": name, "pages": count} for name, count in sorted(Counter(pages.section.tolist()).items())]


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
    decided, aside = _decided(some["decision"]), judged.aside
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
                "fresh": one["fresh"] == 1,
                "first_look": one["fresh"] == 2,
                "dropped": one["cleared"] == DROPPED,
                "returned": bool(one["returned"]),
                "row": one["row"] if one["row"] >= 0 else None,
                "follows": one["follows"] if one["follows"] >= 0 else None,
                "followers": int(judged.followers[place]),
                "cause": one["cause"] if one["cause"] >= 0 else None,
                "decision": one["decision"] or None,
                **decided.get(one["decision"], _NOT_DECIDED),
                "left_address": left,
                "right_address": right,
                "detail": UNSEEN if one["unseen"] else detail,
                "pages": pages,
                "aside": aside.get(place, 0),
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
    at = choice.of(judged)
    some = judged.records[at]
    told = marks(some["key"].astype(np.int64), some["seen"].astype(np.int64))
    found = {number: told[some["decision"] == number] for number in np.unique(some["decision"]).tolist() if number}
    for number, about in _in_part(judged).items():
        if about[at].any() and choice.decision in (None, number):
            found[number] = np.union1d(found.get(number, told[:0]), told[about[at]])
    return found


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


@dataclass(frozen=True)
class Acceptance:
    """Open findings that are to be accepted."""

    marks: np.ndarray
    """int64 (core/judgement.py)."""
    where: SomePages | None = None
    """On which pages alone; None for all."""


def acceptance(comparison: Comparison, choice: Choice, section: str, most: int) -> Acceptance:
    """Return the open findings of a choice, at most so many; with a ``section`` those that its pages show, there alone.

    Of rows of pages what other pages show as well is among them, and is accepted on these alone.
    """
    judged = JudgedFindings(comparison)
    at = choice.of(judged)
    at = at[judged.records["state"][at] == int(State.OPEN)]
    where = None
    if section:
        where = SomePages(section)
        here = [bool(where.among(pages).any()) for pages in judgements.shown_on(judged, at)]
        at = at[np.array(here, bool)]
    elif choice.rows is not None and choice.with_shared:
        # What so many pages share that it leaves their fates alone is no matter of one page.
        bits = int(np.bitwise_or.reduce(_column(judged, "content_change", choice.rows), initial=0))
        own = [place for place, kind in enumerate(judged.kinds) if bits >> kinds.OF_ROWS.get(kind, 31) & 1]
        at = at[(judged.records["row"][at] >= 0) | np.isin(judged.records["kind"][at], own)]
        if (judged.records["row"][at] < 0).any():
            where = SomePages(pages=_pages(judged, choice.rows).ident)
    some = judged.records[at[:most]]
    return Acceptance(marks(some["key"].astype(np.int64), some["seen"].astype(np.int64)), where)


def addresses_of(comparison: Comparison, cause: int) -> list[tuple[str | None, str | None]]:
    """Return left and right address of each page with an open finding of a cause, and of each that shows one."""
    judged = JudgedFindings(comparison)
    at = Choice(state=State.OPEN, cause=cause).of(judged)
    told = [(one["left_address"], one["right_address"]) for one in shown(judged, at)]
    ranks = _shown_rows(judged, at[judged.records["row"][at] < 0])
    told += [
        (row.left or None, row.right or None)
        for row in outcome_rows.rows_at(pages_of_comparison(judged), ranks.tolist())
    ]
    return list(dict.fromkeys(told))


def _shown_rows(judged: JudgedFindings, at: np.ndarray) -> np.ndarray:
    """Return the ranks (int64, ascending) of the pages that show some findings."""
    return np.unique(np.concatenate([at[:0], *(pages.row for pages in judgements.shown_on(judged, at))]))


def checks_of(comparison: Comparison, cause: int) -> list[str]:
    """Return the names of the checks that found what is open of a cause."""
    judged = JudgedFindings(comparison)
    places = np.unique(judged.records["outcome"][Choice(state=State.OPEN, cause=cause).of(judged)]).tolist()
    return [judged.checks[place].outcome.check_name for place in places]


def rows_of_cause(comparison: Comparison, outcome: CheckOutcome, cause: int) -> np.ndarray:
    """Return the ranks (ascending) of the rows of an outcome on which open findings of a cause stand."""
    judged = JudgedFindings(comparison)
    here = judged.numbers[judged.records["outcome"]] == outcome.pk
    own = (judged.records["state"] == int(State.OPEN)) & (judged.records["follows"] < 0)
    chosen = np.flatnonzero(here & own & (judged.records["cause"] == cause))
    rows = judged.records["row"][chosen].astype(np.int64)
    if outcome.check_name != "pages":
        return np.unique(rows[rows >= 0])
    return np.union1d(rows[rows >= 0], _shown_rows(judged, chosen[rows < 0]))


def set_aside_by(comparison: Comparison | None) -> dict[int, int]:
    """Return how many findings each decision sets aside in a comparison, by its number."""
    if comparison is None:
        return {}
    judged = JudgedFindings(comparison)
    told = judged.records["decision"][judged.records["follows"] < 0]
    found = Counter(told[told != 0].tolist())
    for number, about in _in_part(judged).items():
        found[number] += int(about.sum())
    return dict(found)


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
