"""What became of findings since the comparison before."""

from collections.abc import Sequence, Set
from dataclasses import dataclass, field
from enum import IntEnum

import numpy as np

from palinode.core.columns import find


class State(IntEnum):
    """A state; numbers are the order in which findings are told."""

    OPEN = 0
    ACCEPTED = 1
    CLEARED = 2

    @property
    def word(self) -> str:
        """The word in code, API and interface."""
        return self.name.lower()


@dataclass(frozen=True)
class Before:
    """The findings of the comparison before; arrays of shape (b,)."""

    key: np.ndarray
    subject: np.ndarray
    """int64: identity of what each is about."""
    cleared: np.ndarray
    """bool: it was gone already."""
    since: np.ndarray
    """int16: the round in which it was found first."""
    check: Sequence[str]
    """The check that found each."""
    looked: frozenset[str] = frozenset()
    """Checks that were looked at."""
    not_judged: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int64))
    """int64: identities of pages about which it said nothing."""
    is_first: bool = False
    """There was no comparison before."""

    @classmethod
    def nothing(cls) -> "Before":
        """Return what stands before a first comparison."""
        none = np.zeros(0, np.int64)
        return cls(none, none, none.astype(bool), none, [], is_first=True)


@dataclass(frozen=True)
class FindingHistory:
    """What became of n findings; arrays of shape (n,)."""

    since: np.ndarray
    """int64: the round in which each was found first."""
    returned: np.ndarray
    """bool: it was cleared, and is back."""
    fresh: np.ndarray
    """bool: the comparison before looked, and did not find it."""
    first_look: np.ndarray
    """bool: it was not found before because nobody looked there."""


@dataclass(frozen=True)
class ShownBefore:
    """The pages that showed m findings of the comparison before."""

    at: np.ndarray
    """int64 (m,): places among its findings."""
    pages: Sequence[np.ndarray]
    """Identities of the pages of each (int64); none where it is about no page."""


@dataclass(frozen=True)
class LeftOver:
    """What became of the b findings of the comparison before that are not found any more; bool arrays of shape (b,)."""

    gone: np.ndarray
    """Looked at again, and gone."""
    unseen: np.ndarray
    """Carried over, since they could not be looked at."""
    dropped: np.ndarray
    """No longer judged: a decision took their pages out."""


def history(key: np.ndarray, looked: np.ndarray, before: Before, number: int) -> FindingHistory:
    """Return the history of findings with these keys (int64, n) in round ``number``.

    ``looked`` (bool, n) says whether the comparison before looked where each is.
    """
    order = np.argsort(before.key)
    at = find(before.key[order], key)
    there = at >= 0
    row = np.append(order, -1)[at]
    since = np.where(there, np.append(before.since, number)[row], number)
    was_cleared = there & np.append(before.cleared, False)[row]
    unknown = ~there & (not before.is_first)
    return FindingHistory(since, was_cleared, unknown & looked, unknown & ~looked)


def missing(key: np.ndarray, before: Before) -> np.ndarray:
    """Return the places (int64, ascending) of findings of the comparison before that are not among ``key``."""
    return np.flatnonzero(find(np.sort(key), before.key) < 0)


def left_over(
    before: Before, shown: ShownBefore, looked: Set[str], not_judged: np.ndarray, retired: np.ndarray
) -> LeftOver:
    """Return what became of findings that are :func:`missing`.

    ``shown`` are the pages that showed them; ``looked`` the checks that were looked at now; ``not_judged`` and
    ``retired`` identities of pages about which this comparison says nothing. One that was cleared stays so.
    """
    gone, unseen, dropped = (np.zeros(len(before.key), bool) for _ in range(3))
    subjects = np.isin(before.subject, not_judged)
    for at, pages in zip(shown.at.tolist(), shown.pages, strict=True):
        # Where half of its pages were not looked at, it may be there still.
        unknown = subjects[at] or (len(pages) and 2 * np.isin(pages, not_judged).sum() >= len(pages))
        if before.cleared[at]:
            gone[at] = True
        elif before.check[at] not in looked or unknown:
            unseen[at] = True
        elif len(pages) and np.isin(pages, retired).all():
            dropped[at] = True
        else:
            gone[at] = True
    return LeftOver(gone, unseen, dropped)
