"""Fates: what became of a left page, derived from its pair's parts in this one place."""

from enum import IntEnum

import numpy as np


class Fate(IntEnum):
    """A fate; numbers are the order in which a ledger shows them, worst first."""

    LOST = 0
    UNKNOWN = 1
    ALTERED = 2
    MOVED = 3
    NEW = 4
    RETIRED = 5
    KEPT = 6

    @property
    def word(self) -> str:
        """The word in code, API and interface."""
        return self.name.lower()


class Asked(IntEnum):
    """What asking for the expected address gave at the destination."""

    PAGE = 0
    NEVER = 1
    NOT_FETCHED = 2
    PASSING = 3
    """An answer of the moment: 429, 502, 503, 504."""
    CLOSED = 4
    """A door: 401, 403."""
    AWAY = 5
    """Redirected to where the capture did not ask."""
    NOT_FOUND = 6
    FAILED = 7
    NO_PAGE = 8
    LOOP = 9
    HOME = 10
    """Redirected to the home page."""
    NOT_TRUSTED = 11
    """A page that was recognised as something else: a notice, a wall, an error."""


class FoundBy(IntEnum):
    """How a partner was found."""

    NOTHING = 0
    RULE = 1
    REDIRECT = 2
    OLD_PATH = 3
    NAME = 4
    """By canonical or alternate links; this and what follows where no address says so (core/pairing)."""
    IDENTIFIER = 5
    SEGMENT = 6
    TITLE = 7
    TEXT = 8
    MEDIA = 9
    HAND = 10
    """A person said so."""
    LINKS = 11
    """Pages that led to the one lead to the other."""
    PATTERN = 12
    """Its address became what those of other pages became."""
    TWIN = 13
    """Under another address of its own side it is the same page, and that one has a partner."""


class AddressChange(IntEnum):
    """Whether path or query differ from the source's, and whether the rule said so."""

    NONE = 0
    PLANNED = 1
    UNPLANNED = 2


class Redirect(IntEnum):
    """What the old path answers at the destination, for a page that moved."""

    NONE = 0
    """Not needed."""
    PERMANENT = 1
    TEMPORARY = 2
    MISSING = 3
    ELSEWHERE = 4
    NOT_ASKED = 5


NOT_JUDGED = frozenset({Asked.NEVER, Asked.NOT_FETCHED, Asked.PASSING, Asked.CLOSED, Asked.AWAY, Asked.NOT_TRUSTED})
"""Answers that do not show that a page is not there."""


def judge(
    retired: np.ndarray, partner: np.ndarray, asked: np.ndarray, change: np.ndarray, content: np.ndarray
) -> np.ndarray:
    """Return the fate of each left page; all arrays have shape (n,).

    ``retired`` bool; ``partner`` row of the right page, -1 for none; ``asked`` an Asked; ``change`` an
    AddressChange; ``content`` bits of the compared fields that differ. The first that fits holds
    (DESIGN.md section 2).
    """
    paired = partner >= 0
    unknown = ~paired & np.isin(asked, [int(code) for code in NOT_JUDGED])
    return np.select(
        [retired, unknown, paired & (change != AddressChange.NONE), paired & (content != 0), paired],
        [Fate.RETIRED, Fate.UNKNOWN, Fate.MOVED, Fate.ALTERED, Fate.KEPT],
        Fate.LOST,
    ).astype(np.int16)
