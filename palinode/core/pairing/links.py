"""Pairs by links: where pages that are the same otherwise led to the one, they lead to the other now."""

from collections import Counter
from collections.abc import Set

import numpy as np

from palinode.core.columns import find as place
from palinode.core.fates import FoundBy
from palinode.core.pairing.found import Found

_CERTAIN = (0.75, 0.9, 0.95)
"""By how many pages say so: one, two, more."""
_MOST = 2_000

Links = tuple[np.ndarray, np.ndarray]
"""Targets (int64) of pages end to end, and where each page's start (int64, one more than pages)."""


def find(
    expected: np.ndarray,
    alone_left: np.ndarray,
    alone_right: np.ndarray,
    left: Links,
    right: Links,
    apart: Set[tuple[int, int]],
) -> Found:
    """Pair pages without a partner by what n pairs of pages that say the same link to.

    ``expected`` (int64) is where each of ``alone_left`` (identities) was expected; ``left`` are the links of the n
    left pages as they are expected, ``right`` those of their partners. What pages do not agree on is no pair, and
    so are those in ``apart``.
    """
    order = np.argsort(expected)
    expected, alone_left, alone_right = expected[order], alone_left[order], np.sort(alone_right)
    votes: Counter[tuple[int, int]] = Counter()
    owner = np.repeat(np.arange(len(left[1]) - 1), np.diff(left[1]))
    for page in np.unique(owner[place(expected, left[0]) >= 0]).tolist()[:_MOST]:
        one = left[0][left[1][page] : left[1][page + 1]]
        other = right[0][right[1][page] : right[1][page + 1]]
        gone, came = np.setdiff1d(one, other), np.setdiff1d(other, one)
        gone, came = gone[place(expected, gone) >= 0], came[place(alone_right, came) >= 0]
        if len(gone) == len(came) == 1:
            votes[int(gone[0]), int(came[0])] += 1
    of_left, of_right = Counter(a for a, _ in votes), Counter(b for _, b in votes)
    agreed = [(a, b, count) for (a, b), count in votes.items() if of_left[a] == of_right[b] == 1]
    idents = alone_left[place(expected, np.array([a for a, _, _ in agreed], np.int64))]
    kept = [
        (ident, b, _CERTAIN[min(count, len(_CERTAIN)) - 1])
        for ident, (_, b, count) in zip(idents.tolist(), agreed, strict=True)
        if (ident, b) not in apart
    ]
    return Found(
        np.array([one for one, _, _ in kept], np.int64),
        np.array([other for _, other, _ in kept], np.int64),
        np.array([certainty for _, _, certainty in kept], np.float64),
        np.full(len(kept), int(FoundBy.LINKS)),
        np.full(len(kept), 1 << FoundBy.LINKS),
    )
