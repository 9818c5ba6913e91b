"""Pairs: the parts of each left page's partner, kept apart."""

from dataclasses import dataclass

import numpy as np

from palinode.core.fates import Asked, Redirect

_ELSEWHERE = (Asked.HOME, Asked.LOOP, Asked.AWAY)
_NOT_ASKED = (Asked.NEVER, Asked.NOT_FETCHED, Asked.PASSING, Asked.CLOSED)


@dataclass(frozen=True)
class Pairs:
    """The parts of n left pages, kept apart; arrays of shape (n,)."""

    partner: np.ndarray
    asked: np.ndarray
    found_by: np.ndarray
    planned: np.ndarray
    """bool: the rule changes the path or the query."""
    redirect: np.ndarray
    hops: np.ndarray
    status: np.ndarray
    """int16: with which the redirect answers that ``redirect`` is about; 0 without one."""
    at: np.ndarray
    """Row of the right side that says what was asked and how it ended; -1 for none."""
    certainty: np.ndarray
    """float64, from 0 to 1; 0 without a partner."""
    evidence: np.ndarray
    """int64: bits 1 << FoundBy of all that speaks for the pair, where no address does."""
    leads: np.ndarray
    """int64: row of the right page to which a redirect leads that is not the partner; -1 for none."""


def redirects(asked: np.ndarray, led: np.ndarray) -> np.ndarray:
    """Return the Redirect of pages whose partner no address led to; ``asked`` says what their old addresses gave.

    ``led`` (bool) says whether that was a redirect to another page.
    """
    found: np.ndarray = np.select(
        [led | np.isin(asked, _ELSEWHERE), np.isin(asked, _NOT_ASKED)],
        [Redirect.ELSEWHERE, Redirect.NOT_ASKED],
        Redirect.MISSING,
    )
    return found
