"""Follows redirects through the hops that a capture recorded."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from palinode.core.page import PERMANENT, REDIRECTS

MOST = 10
"""Hops followed; what takes more is taken for a loop."""


@dataclass(frozen=True)
class Ends:
    """Where each of n rows leads; arrays of shape (n,)."""

    row: np.ndarray
    """Row at which the hops end; -1 where they leave what was asked."""
    hops: np.ndarray
    permanent: np.ndarray
    """Every hop was permanent."""
    loops: np.ndarray
    status: np.ndarray
    """int16: of the first hop that is not permanent, else of the first; 0 without hops."""


class Answers(Protocol):
    """n answers, some of which redirect."""

    @property
    def ident(self) -> np.ndarray:
        """int64 (n,)"""

    @property
    def status(self) -> np.ndarray:
        """int16 (n,)"""

    @property
    def target(self) -> np.ndarray:
        """int64 (n,): identity of where each leads on to; 0 for none."""

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 where there is none."""


def follow(side: Answers, rows: np.ndarray) -> Ends:
    """Follow the redirects of a side from the given rows; -1 stays -1."""
    redirects = np.isin(side.status, list(REDIRECTS)) & (side.target != 0)
    permanent_status = np.isin(side.status, list(PERMANENT))
    following = np.full(len(side.ident) + 1, -1)
    following[np.flatnonzero(redirects)] = side.find(side.target[redirects])
    row = rows.copy()
    hops = np.zeros(len(rows), np.int16)
    permanent = np.ones(len(rows), bool)
    status = np.zeros(len(rows), np.int16)
    going = (row >= 0) & redirects[row] if len(redirects) else np.zeros(len(rows), bool)
    for _ in range(MOST):
        at = np.flatnonzero(going)
        if not len(at):
            break
        tells = (status[at] == 0) | (permanent[at] & ~permanent_status[row[at]])
        status[at] = np.where(tells, side.status[row[at]], status[at])
        permanent[at] &= permanent_status[row[at]]
        hops[at] += 1
        row[at] = following[row[at]]
        going[at] = (row[at] >= 0) & redirects[row[at]]
    return Ends(row, hops, permanent, going, status)
