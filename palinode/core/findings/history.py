"""What became of findings since the comparison before."""

from dataclasses import dataclass
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
    is_first: bool = False
    """There was no comparison before."""
    shared: np.ndarray | None = None
    """bool: which are about what many pages share; None where there are none."""

    @classmethod
    def nothing(cls) -> "Before":
        """Return what stands before a first comparison."""
        none = np.zeros(0, np.int64)
        return cls(none, none, none.astype(bool), none, True)


@dataclass(frozen=True)
class FindingHistory:
    """What became of n findings; arrays of shape (n,)."""

    since: np.ndarray
    """int64: the round in which each was found first."""
    returned: np.ndarray
    """bool: it was cleared, and is back."""
    fresh: np.ndarray
    """bool: it was not there in the comparison before, of which there was one."""


def history(key: np.ndarray, before: Before, number: int) -> FindingHistory:
    """Return the history of findings with these keys (int64, n) in round ``number``."""
    order = np.argsort(before.key)
    at = find(before.key[order], key)
    there = at >= 0
    row = np.append(order, -1)[at]
    since = np.where(there, np.append(before.since, number)[row], number)
    was_cleared = there & np.append(before.cleared, False)[row]
    return FindingHistory(since, was_cleared, ~there & (not before.is_first))


def left_over(
    key: np.ndarray, before: Before, not_judged: np.ndarray, unsure: bool = False
) -> tuple[np.ndarray, np.ndarray]:
    """Return bool (b,) twice: findings of the comparison before that are gone, and those that could not be looked at.

    ``key`` are those found now; ``not_judged`` identities of pages about which this comparison says nothing. Where it
    is ``unsure``, since it says so of most pages, it says nothing of what pages share either. A finding that was
    cleared stays so.
    """
    missing = find(np.sort(key), before.key) < 0
    unseen = missing & np.isin(before.subject, not_judged) & ~before.cleared
    if unsure and before.shared is not None:
        unseen |= missing & before.shared & ~before.cleared
    return missing & ~unseen, unseen
