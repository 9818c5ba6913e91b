"""Merged and split pages: a page without a partner whose text stands in a page of the other side, among other text."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from palinode.core.pairing.pages import Pages

_FEWEST = 20
"""Shingles from which on a text can be told to stand in another."""
_SHARE = 0.6
"""Of a page's shingles, how many must stand in the other page."""
_COMMON = 8
"""A shingle that more pages have tells nothing."""


@dataclass(frozen=True)
class Parts:
    """What was merged and split."""

    merged: Mapping[int, str] = field(default_factory=dict)
    """Identity of a left page without a partner to the path of the right page that holds its text."""
    split: Mapping[int, str] = field(default_factory=dict)
    """Identity of a right page that is new to the path of the left page whose text it has."""


NO_PARTS = Parts()


def held(pages: Pages, others: Pages) -> dict[int, str]:
    """Return for pages whose text stands in one of the others, and is but a part of it: identity to that one's path."""
    values, owner = others.shingles.values, np.repeat(np.arange(len(others)), others.shingles.sizes)
    order = np.argsort(values, kind="stable")
    values, owner = values[order], owner[order]
    sizes, found = pages.shingles.sizes, {}
    for row in np.flatnonzero(sizes >= _FEWEST).tolist():
        own = pages.shingles.values[pages.shingles.offsets[row] : pages.shingles.offsets[row + 1]]
        start, end = np.searchsorted(values, own), np.searchsorted(values, own, side="right")
        telling = (end > start) & (end - start <= _COMMON)
        runs = zip(start[telling].tolist(), end[telling].tolist(), strict=True)
        places = [np.arange(a, b) for a, b in runs]
        if not places:
            continue
        votes = np.bincount(owner[np.concatenate(places)], minlength=len(others))
        best = int(votes.argmax())
        if votes[best] >= _SHARE * sizes[row] and others.shingles.sizes[best] > sizes[row]:
            found[int(pages.ident[row])] = others.path[best]
    return found
