"""Findings of comparisons as they are kept, and the judgements of them."""

import zlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any

import numpy as np

from palinode.core import expected
from palinode.core.causes.cause import Cause
from palinode.core.checks import registry
from palinode.core.checks.kind import Kind
from palinode.core.checks.pages import kinds
from palinode.core.expected import Differing
from palinode.core.findings import Before, FindingHistory, Findings, LeftOver, ShownBefore, State
from palinode.core.judgement import Accepted, Found, InPart, Judged, ShownOn
from palinode.core.standing import Basis
from palinode.core.weight import Weight
from palinode.records import decisions, outcome_items
from palinode.records.models import (
    CheckOutcome,
    Comparison,
    ComparisonCheck,
    ComparisonFindings,
    Decision,
    Judgement,
)

RECORD = np.dtype(
    [
        ("outcome", "<u2"),  # place among the outcomes of the comparison
        ("place", "<i4"),  # place among the findings of that outcome
        ("kind", "<u2"),  # place among the words of the comparison
        ("key", "<i8"),
        ("seen", "<i8"),  # what it looks like
        ("subject", "<i8"),
        ("row", "<i4"),  # rank in the ledger of its check; -1 for none
        ("since", "<i2"),  # the round in which it was found first
        ("fresh", "u1"),  # 1: the comparison before looked, and did not find it; 2: looked at for the first time
        ("returned", "u1"),  # it was cleared, and is back
        ("unseen", "u1"),  # carried over, since it could not be looked at this time
        ("cleared", "u1"),  # 1: since the comparison before; 2: earlier; 3: no longer judged
        ("cause", "<i2"),  # place among the causes of the comparison; -1 for none
        ("follows", "<i4"),  # the finding that it only follows from, by its place; -1 for none
    ]
)
"""One finding of a comparison, packed."""
STATE = np.dtype(
    [
        ("state", "u1"),
        ("decision", "<u2"),  # place among the decisions of the judgement, from 1; 0 for none
    ]
)
"""What one finding counts for in a judgement, packed."""
_JUDGED = np.dtype([*RECORD.descr, ("state", "u1"), ("weight", "u1"), ("decision", "<i8")])
_NOW, _EARLIER, DROPPED = 1, 2, 3
_SAYS_NOTHING = frozenset({kinds.NOT_JUDGED.word, kinds.STOOD_IN.word})
"""Kinds of findings about pages of which nothing else is said."""
_MOST_UNPACKED = 1_000_000_000


@dataclass(frozen=True)
class Carried:
    """Findings of the comparison before that this one does not have."""

    earlier: Comparison | None
    left_over: LeftOver
    """Over its records."""


class JudgedFindings:
    """The findings of a comparison, with what each counts for by the last judgement.

    ``records`` has the fields of RECORD, and ``state``, ``weight``, ``decision`` (the number of the decision that sets
    it aside). A finding is known by its place there: its number, which no judgement changes.
    """

    def __init__(self, comparison: Comparison) -> None:
        self.comparison = comparison
        self.found = ComparisonFindings.objects.filter(comparison_id=comparison.pk).first()
        self.words: list[str] = self.found.kinds if self.found else []
        kept = np.frombuffer(bytes(self.found.findings) if self.found else b"", RECORD)
        self.records = np.zeros(len(kept), _JUDGED)
        for name in RECORD.names or ():
            self.records[name] = kept[name]
        judgement = comparison.judgement
        if judgement is not None and judgement.states is not None and len(kept):
            states = unpacked(judgement, len(kept))
            self.records["state"] = states["state"]
            self.records["decision"] = np.array([0, *judgement.decisions], np.int64)[states["decision"]]
            self.records["weight"] = np.array([Weight[word.upper()] for word in judgement.weights], np.uint8)[
                kept["kind"]
            ]

    @property
    def aside(self) -> dict[int, int]:
        """Open findings that are set aside on some of their pages, with the number of these."""
        kept = self.comparison.judgement.aside if self.comparison.judgement else {}
        return {int(place): pages for place, pages in kept.items()}

    @cached_property
    def followers(self) -> np.ndarray:
        """int64: how many findings only follow from each."""
        follows = self.records["follows"]
        return np.bincount(follows[follows >= 0], minlength=len(self.records))

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

    def ordered(self, at: np.ndarray) -> np.ndarray:
        """Return some findings (places) in the order in which they are told: open ones first, the heaviest first."""
        codes = self.records["state"][at] * np.uint8(8) + self.records["weight"][at]
        found: np.ndarray = at[np.argsort(codes, kind="stable")]
        return found


def unpacked(judgement: Judgement, number: int) -> np.ndarray:
    """Return STATE of shape (n,): what findings count for, of no more than ``number`` of them.

    Raises zlib.error or ValueError for what is none.
    """
    data = zlib.decompressobj().decompress(bytes(judgement.states or b""), min(number * STATE.itemsize, _MOST_UNPACKED))
    return np.frombuffer(data, STATE)


def comparison_before(comparison: Comparison) -> Comparison | None:
    """Return the comparison of the move that was made before this one; of its two sides, not of one side's captures."""
    return (
        Comparison.objects.filter(move=comparison.move_id, state=Comparison.State.MADE, pk__lt=comparison.pk)
        .filter(left__which="source", right__which="destination")
        .select_related("judgement")
        .order_by("-pk")
        .first()
    )


def before(comparison: Comparison | None) -> Before:
    """Return the findings of the comparison before."""
    if comparison is None:
        return Before.nothing()
    judged = JudgedFindings(comparison)
    records = judged.records
    names = [one.outcome.check_name for one in judged.checks]
    unknown = np.isin(records["kind"], [at for at, word in enumerate(judged.words) if word in _SAYS_NOTHING])
    return Before(
        key=records["key"].astype(np.int64),
        subject=records["subject"].astype(np.int64),
        cleared=records["cleared"] != 0,
        since=records["since"].astype(np.int64),
        check=[names[at] for at in records["outcome"].tolist()],
        looked=frozenset(one.outcome.check_name for one in judged.checks if not one.carried),
        not_judged=records["subject"][unknown & (records["cleared"] == 0)].astype(np.int64),
    )


def shown(comparison: Comparison | None, at: np.ndarray) -> ShownBefore:
    """Return the pages that showed some findings (places) of a comparison."""
    if comparison is None:
        return ShownBefore(at, [])
    return ShownBefore(at, [one.ident for one in shown_on(JudgedFindings(comparison), at)])


def shown_on(judged: JudgedFindings, at: np.ndarray) -> list[ShownOn]:
    """Return the pages that show some findings (places), in their order."""
    nothing = np.zeros(0, np.int64)
    found = [ShownOn(nothing, nothing.astype(object), nothing)] * len(at)
    for place in np.unique(judged.records["outcome"][at]).tolist():
        here = np.flatnonzero(judged.records["outcome"][at] == place)
        told = outcome_items.shown_on(judged.checks[place].outcome, judged.records["place"][at[here]].tolist())
        for one, pages in zip(here.tolist(), told, strict=True):
            found[one] = pages
    return found


def keep_findings(
    comparison: Comparison,
    outcomes: Sequence[CheckOutcome],
    findings: Findings,
    history: FindingHistory,
    causes: Sequence[Cause],
    follows: np.ndarray,
    carried: Carried,
    basis: Basis,
) -> None:
    """Write the findings of a comparison with their causes. Needs a transaction."""
    cause = np.full(len(findings), -1)
    for place, one in enumerate(causes):
        cause[one.takes] = place
    cause = np.where(follows >= 0, cause[follows], cause)
    records = np.zeros(len(findings), RECORD)
    for name, column in (
        ("outcome", findings.check), ("place", findings.place), ("kind", findings.kind), ("key", findings.key),
        ("seen", findings.seen), ("subject", findings.subject), ("row", findings.row), ("since", history.since),
        ("fresh", history.fresh + 2 * history.first_look), ("returned", history.returned), ("cause", cause),
        ("follows", follows),
    ):  # fmt: skip
        records[name] = column
    words = [kind.word for kind in findings.kinds]
    held = [ComparisonCheck(comparison=comparison, place=at, outcome=one) for at, one in enumerate(outcomes)]
    if carried.earlier is not None:
        more, earlier_held = _carried(comparison, carried, words, len(held), len(records))
        records, held = np.concatenate([records, more]), held + earlier_held
    ComparisonCheck.objects.bulk_create(held)
    ComparisonFindings.objects.create(
        comparison=comparison,
        kinds=words,
        findings=records.tobytes(),
        causes=[one.plain() for one in causes],
        basis=basis.plain(),
        has_before=carried.earlier is not None,
    )


def _carried(
    comparison: Comparison, carried: Carried, words: list[str], first: int, before: int
) -> tuple[np.ndarray, list[ComparisonCheck]]:
    """Return records of findings of the comparison before, and the outcomes that they are kept with; extends words.

    ``first`` and ``before`` say how many outcomes and findings stand before them.
    """
    assert carried.earlier is not None
    earlier = JudgedFindings(carried.earlier)
    left = carried.left_over
    # What only followed is gone without a word.
    chosen = np.flatnonzero(left.unseen | ((left.gone | left.dropped) & (earlier.records["follows"] < 0)))
    # What stays open stands before what is cleared.
    chosen = chosen[np.argsort(~left.unseen[chosen], kind="stable")]
    records = np.zeros(len(chosen), RECORD)
    for name in RECORD.names or ():
        records[name] = earlier.records[name][chosen]
    places = np.unique(records["outcome"]).tolist()
    to = {place: first + at for at, place in enumerate(places)}
    kinds = {at: words.index(word) if word in words else -1 for at, word in enumerate(earlier.words)}
    for at in np.unique(records["kind"]).tolist():
        if kinds[at] < 0:
            words.append(earlier.words[at])
            kinds[at] = len(words) - 1
    records["outcome"] = [to[place] for place in records["outcome"].tolist()]
    records["kind"] = [kinds[at] for at in records["kind"].tolist()]
    was = records["cleared"]
    cleared = np.where(was == DROPPED, DROPPED, np.where(was != 0, _EARLIER, _NOW))
    records["cleared"] = np.select([left.unseen[chosen], left.dropped[chosen]], [0, DROPPED], cleared)
    records["unseen"] = left.unseen[chosen]
    records["row"], records["cause"], records["fresh"], records["returned"] = -1, -1, 0, 0
    number = {place: before + at for at, place in enumerate(chosen.tolist())}
    records["follows"] = [number.get(place, -1) for place in records["follows"].tolist()]
    held = [
        ComparisonCheck(comparison=comparison, place=to[place], outcome_id=int(earlier.numbers[place]), carried=True)
        for place in places
    ]
    return records, held


def found(judged: JudgedFindings) -> Found:
    """Return the findings of a comparison as a judgement looks at them."""
    records = judged.records
    return Found(
        key=records["key"].astype(np.int64),
        seen=records["seen"].astype(np.int64),
        kind=records["kind"].astype(np.int64),
        kinds=judged.words,
        check=records["outcome"].astype(np.int64),
        row=records["row"].astype(np.int64),
        cleared=records["cleared"] != 0,
        fresh=records["fresh"] == 1,
        returned=records["returned"] != 0,
        gone_now=records["cleared"] == _NOW,
        cause=records["cause"].astype(np.int64),
        follows=records["follows"].astype(np.int64),
        has_before=bool(judged.found and judged.found.has_before),
    )


def differing(judged: JudgedFindings, at: np.ndarray, left: list[str], right: list[str]) -> Differing:
    """Return some findings (places) as expectations look at them; ``left`` and ``right`` are their addresses."""
    records = judged.records[at]
    kind, subject = records["kind"].astype(np.int16), records["subject"].astype(np.int64)
    return Differing(
        tuple(judged.kinds), kind, subject, records["row"] < 0, left, right, judged.comparison.left.bases[0]
    )


def accepted(judged: JudgedFindings) -> Accepted:
    """Return what people accepted, and what they expect on some pages alone of what several show."""
    move = judged.comparison.move
    said, marks, nothing = decisions.accepted(move), found(judged).marks, [""] * len(judged.records)
    every = differing(judged, np.arange(len(marks)), nothing, nothing)
    expectations = [
        InPart(one.number, np.sort(marks[meant]), one.where)
        for one in decisions.expected(move)
        if one.where and (meant := expected.in_part(one, every)).any()
    ]
    return replace(said, in_part=tuple(sorted([*said.in_part, *expectations], key=lambda part: part.decision)))


def keep(
    comparison: Comparison,
    kinds: Sequence[str],
    found: Found,
    judged: Judged,
    weights: np.ndarray,
    causes: Sequence[dict[str, Any]],
    expected: Sequence[int],
    decision: Decision | None,
    due_at: datetime | None,
) -> Judgement:
    """Write a judgement as the last of its comparison; of the one before, sentence and counts are kept."""
    named, kind, own = np.unique(judged.decision[judged.decision != 0]), found.kind, found.follows < 0
    states = np.zeros(len(kind), STATE)
    states["state"] = judged.state
    states["decision"] = np.where(judged.decision != 0, np.searchsorted(named, judged.decision) + 1, 0)
    told = [
        causes[one.place] | {"number": one.place, "weight": one.weight.word, "findings": one.findings, "rows": one.rows}
        for one in judged.causes
    ]
    made = Judgement.objects.create(
        comparison=comparison,
        decision=decision,
        due_at=due_at,
        counts=_counts(kinds, kind, judged, own),
        standing={**judged.standing, "causes": told},
        weights=[Weight(one).word for one in weights.tolist()],
        expected=list(expected),
        decisions=named.tolist(),
        states=zlib.compress(states.tobytes(), 1),
        aside={str(place): pages for place, pages in judged.aside.items()},
    )
    return _put_last(comparison, made)


def keep_plain(comparison: Comparison, standing: dict[str, Any]) -> Judgement:
    """Write what two captures of one side come to, of which nothing is judged. Needs a transaction."""
    ComparisonFindings.objects.create(comparison=comparison, findings=b"")
    return _put_last(
        comparison, Judgement.objects.create(comparison=comparison, standing={**standing, "causes": []}, states=b"")
    )


def _put_last(comparison: Comparison, made: Judgement) -> Judgement:
    if before := comparison.judgement:
        short = {name: before.standing.get(name) for name in ("sentence", "summary", "blocks", "since")}
        Judgement.objects.filter(pk=before.pk).update(
            states=None, expected=[], decisions=[], weights=[], aside={}, standing=short
        )
    comparison.judgement = made
    Comparison.objects.filter(pk=comparison.pk).update(judgement=made)
    return made


def _counts(kinds: Sequence[str], kind: np.ndarray, judged: Judged, own: np.ndarray) -> list[list[Any]]:
    """Return ``[state, weight, kind, findings]`` of those that count by themselves, in their order."""
    codes = (judged.state.astype(np.int64) * 8 + judged.weight) * 4_096 + kind
    codes, number = np.unique(codes[own], return_counts=True)
    return [
        [State(code >> 15).word, Weight(code >> 12 & 7).word, kinds[code & 4_095], count]
        for code, count in zip(codes.tolist(), number.tolist(), strict=True)
    ]


def due(now: datetime) -> list[Comparison]:
    """Return the comparisons of which a decision ended since they were judged."""
    return list(Comparison.objects.filter(judgement__due_at__lte=now).select_related("move", "judgement"))
