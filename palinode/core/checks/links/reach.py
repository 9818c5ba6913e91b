"""How far pages lie from the home page, and which of them nothing links."""

import numpy as np

from palinode.core import hops
from palinode.core.links import Links

NOT_REACHED = -1


class Reach:
    """The steps from the home page of a side to each of its n answers, by links that readers may follow."""

    def __init__(self, links: Links, places: frozenset[int], home: int) -> None:
        """``home`` is the identity of the home page, as it was asked; ``places`` are those whose links count."""
        n = len(links.ident)
        ends = np.append(hops.follow(links, np.arange(n)).row, -1).astype(np.int32)
        # What nobody asked ends nowhere.
        to = ends[np.minimum(links.to, n)]
        chosen = links.of_places(places) & (to >= 0) & (to != links.page)
        page, to = links.page[chosen], to[chosen]
        self.linked = np.zeros(n, bool)
        """bool (n,): another page links to it, perhaps by a redirect."""
        self.linked[to] = True
        at = links.find(np.array([home]))
        self.depth = _depths(page, to, ends[at[at >= 0]], n)
        """int16 (n,): steps from the home page; NOT_REACHED where no links lead."""


def _depths(page: np.ndarray, to: np.ndarray, home: np.ndarray, n: int) -> np.ndarray:
    """Return the steps to each answer; ``page`` ascends."""
    starts = np.searchsorted(page, np.arange(n + 1))
    depth = np.full(n, NOT_REACHED, np.int16)
    frontier = home[home >= 0]
    step = 0
    while len(frontier):
        depth[frontier] = step
        step += 1
        near = np.unique(np.concatenate([to[starts[one] : starts[one + 1]] for one in frontier.tolist()]))
        frontier = near[depth[near] == NOT_REACHED]
    return depth
