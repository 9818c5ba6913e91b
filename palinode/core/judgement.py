"""A judgement: a comparison seen with the decisions of a moment. Findings and causes stay, their weight changes."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from palinode.core import edges, standing
from palinode.core.causes import cause_kind
from palinode.core.columns import find
from palinode.core.findings import State
from palinode.core.standing import Basis, Weighed
from palinode.core.weight import Weight

PAGES = 0
"""Place of the check of pages among the outcomes of a comparison: it is the first, since the others read its pairs."""


@dataclass(frozen=True)
class Found:
    """The n findings of a comparison, as a judgement looks at them; arrays of shape (n,)."""

    key: np.ndarray
    seen: np.ndarray
    kind: np.ndarray
    """Places in ``kinds``."""
    kinds: Sequence[str]
    """Words of the kinds that occur."""
    check: np.ndarray
    """Places of the outcomes that they are kept with."""
    row: np.ndarray
    """Rank in the ledger of its check; -1 for none."""
    cleared: np.ndarray
    """bool: found by a comparison before, and gone."""
    fresh: np.ndarray
    """bool: the comparison before did not have it."""
    returned: np.ndarray
    """bool: it was cleared, and is back."""
    gone_now: np.ndarray
    """bool: cleared since the comparison before."""
    cause: np.ndarray
    """Places among the causes of the comparison; -1 for none."""
    follows: np.ndarray
    """int64: the finding that each only follows from; -1 for none."""
    has_before: bool
    """There is a comparison before."""

    def __len__(self) -> int:
        return len(self.key)

    @property
    def marks(self) -> np.ndarray:
        """int64: what makes each the same finding that still looks the same."""
        return marks(self.key, self.seen)


@dataclass(frozen=True)
class SomePages:
    """Where a decision holds, if not everywhere: in one section, or on some pages."""

    section: str = ""
    pages: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int64))
    """Their identities (int64)."""

    def among(self, shown: "ShownOn") -> np.ndarray:
        """Return bool: which of some pages are meant."""
        found: np.ndarray = shown.section == self.section if self.section else np.isin(shown.ident, self.pages)
        return found


@dataclass(frozen=True)
class ShownOn:
    """The pages that show a finding; arrays of the same length."""

    ident: np.ndarray
    section: np.ndarray
    """Names of sections (object)."""
    row: np.ndarray
    """Ranks in the ledger of pages."""


PagesOf = Callable[[np.ndarray], Sequence[ShownOn]]
"""Gives the pages that show some findings, by their places."""


@dataclass(frozen=True)
class InPart:
    """Findings that a decision sets aside on some pages alone."""

    decision: int
    marks: np.ndarray
    """int64, ascending."""
    where: SomePages


@dataclass(frozen=True)
class Accepted:
    """The findings that people accepted."""

    marks: np.ndarray
    """int64, ascending."""
    decisions: np.ndarray
    """int64: the decision that accepted each."""
    in_part: tuple[InPart, ...] = ()
    """In the order in which they were decided."""

    @classmethod
    def of(cls, held: Sequence[tuple[int, np.ndarray]], in_part: Sequence[InPart] = ()) -> "Accepted":
        """Return what decisions accept, each given with its marks; a later one holds before an earlier one."""
        every = np.concatenate([np.zeros(0, np.int64), *(marks for _, marks in held)])
        numbers = np.repeat(np.array([one for one, _ in held], np.int64), [len(marks) for _, marks in held])
        # Of equal marks the last stands last, and is the one that is kept.
        order = np.lexsort((np.arange(len(every)), every))
        every, numbers = every[order], numbers[order]
        last = np.append(every[1:] != every[:-1], True)[: len(every)]
        return cls(every[last], numbers[last], tuple(in_part))


@dataclass(frozen=True)
class Judged:
    """What n findings count for; arrays of shape (n,)."""

    state: np.ndarray
    """uint8: a State."""
    decision: np.ndarray
    """int64: the decision that sets it aside; 0 for none."""
    weight: np.ndarray
    """uint8: a Weight."""
    causes: tuple[Weighed, ...]
    """Those that something open belongs to, in their order."""
    standing: Mapping[str, Any]
    """As :func:`palinode.core.standing.judge` gives it, with what changed since the comparison before."""
    aside: Mapping[int, int] = field(default_factory=dict)
    """Place of a finding that is open to the number of its pages on which it is set aside."""


def marks(key: np.ndarray, seen: np.ndarray) -> np.ndarray:
    """Return int64: one number for a finding's key and what it looks like (both int64)."""
    return edges.mixed(key, seen)


def weights_of(kinds: Sequence[str], declared: Mapping[str, Weight], given: Mapping[str, Weight]) -> np.ndarray:
    """Return uint8: the weight of each kind, as a person gave it or as its check declares it."""
    return np.array([int(given.get(word, declared[word])) for word in kinds], np.uint8)


def judge(
    found: Found,
    weights: np.ndarray,
    accepted: Accepted,
    aside: np.ndarray,
    causes: Sequence[Mapping[str, Any]],
    basis: Basis,
    stage: str,
    shown_on: PagesOf = lambda places: (),
) -> Judged:
    """Judge the findings of a comparison.

    ``weights`` (uint8) are those of ``found.kinds``, ``aside`` (int64, n) says which expectation sets a finding aside,
    0 for none; ``causes`` are those of the comparison as :meth:`Cause.plain` gives them; ``shown_on`` gives the pages
    that show some findings (places).
    """
    at = find(accepted.marks, found.marks)
    decision = np.where(aside != 0, aside, np.where(at >= 0, np.append(accepted.decisions, 0)[at], 0))
    decision, partly = _in_part(found, decision, accepted.in_part, shown_on)
    # What follows is set aside with what it follows from.
    following = (found.follows >= 0) & (decision == 0)
    decision[following] = decision[found.follows[following]]
    decision[found.cleared] = 0
    state = np.where(found.cleared, State.CLEARED, np.where(decision != 0, State.ACCEPTED, State.OPEN)).astype(np.uint8)
    weight = weights[found.kind] if len(found) else np.zeros(0, np.uint8)
    is_open = (state == State.OPEN) & (found.follows < 0)
    weighed = tuple(_weighed(found, causes, weight, is_open, shown_on))
    told = standing.judge(basis, weighed, stage)
    return Judged(state, decision, weight, weighed, told | {"since": _since(found, is_open)}, partly)


def _in_part(
    found: Found,
    decision: np.ndarray,
    in_part: Sequence[InPart],
    shown_on: PagesOf,
) -> tuple[np.ndarray, dict[int, int]]:
    """Return decisions with those that set a finding aside on all its pages together; and on how many, if not on all.

    ``decision`` (int64, n) sets findings aside as wholes.
    """
    marks, free = found.marks, (decision == 0) & ~found.cleared
    meant = {part.decision: free & (find(part.marks, marks) >= 0) for part in in_part}
    places = np.flatnonzero(np.any(list(meant.values()), axis=0)) if meant else np.zeros(0, np.int64)
    decision, partly = decision.copy(), dict[int, int]()
    for place, shown in zip(places.tolist(), shown_on(places) if len(places) else (), strict=True):
        aside, last = np.zeros(len(shown.ident), bool), 0
        for part in in_part:
            if meant[part.decision][place] and (here := part.where.among(shown)).any():
                aside |= here
                last = part.decision
        if last and aside.all():
            decision[place] = last
        elif last:
            partly[place] = int(aside.sum())
    return decision, partly


def _weighed(
    found: Found, causes: Sequence[Mapping[str, Any]], weight: np.ndarray, is_open: np.ndarray, shown_on: PagesOf
) -> list[Weighed]:
    """Return the causes of open findings, by weight, then in the order in which to mend them."""
    count = np.bincount(found.cause[is_open & (found.cause >= 0)], minlength=len(causes))
    weighed = []
    for place in np.flatnonzero(count).tolist():
        cause, here = causes[place], is_open & (found.cause == place)
        # A cause weighs what the heaviest of its findings weighs, so that the weights of a move hold for it too.
        own = Weight[cause["weight"].upper()] if cause["raised"] else Weight(int(weight[here].min()))
        whole = count[place] == cause["findings"]
        rows = cause["rows"] if whole else _rows(found, here, shown_on)
        title = cause["title"] if whole else f"{cause['title']} ({count[place]:,} of {cause['findings']:,} open)"
        weighed.append(Weighed(place, own, int(count[place]), rows, title))
    return sorted(weighed, key=lambda one: _rank(one, causes[one.place]))


def _rank(one: Weighed, cause: Mapping[str, Any]) -> tuple[int, int, int, int]:
    return one.weight, cause_kind.step(cause["kind"]), -cause.get("visits", 0), -one.rows


def _rows(found: Found, chosen: np.ndarray, shown_on: PagesOf) -> int:
    """Return on how many rows of pages some findings stand, or on how many pages that show them."""
    here = chosen & (found.check == PAGES)
    several = np.flatnonzero(chosen & (found.row < 0))
    rows = [found.row[here & (found.row >= 0)], *(one.row for one in (shown_on(several) if len(several) else ()))]
    return len(np.unique(np.concatenate(rows)))


def _since(found: Found, is_open: np.ndarray) -> dict[str, int]:
    """Return how many findings are new, back, and cleared since the comparison before; nothing for a first one."""
    if not found.has_before:
        return {}
    return {
        "fresh": int((found.fresh & is_open).sum()),
        "returned": int((found.returned & is_open).sum()),
        "cleared": int(found.gone_now.sum()),
    }
