"""Pairs that a person confirmed or parted; they hold before all evidence."""

from collections.abc import Mapping, Set
from dataclasses import dataclass, field, replace

import numpy as np

from palinode.core.columns import SideColumns
from palinode.core.fates import FoundBy, Redirect
from palinode.core.pairing.pairs import Pairs, redirects


@dataclass(frozen=True)
class ByHand:
    """Pairs made and parted by hand, by the identities of their addresses."""

    together: Mapping[int, int] = field(default_factory=dict)
    """Left page to right page."""
    apart: Set[tuple[int, int]] = frozenset()
    """Left and right pages that are not the same page."""


def settle(pairs: Pairs, left: np.ndarray, right: SideColumns, by_hand: ByHand) -> Pairs:
    """Return pairs as a person would have them; ``left`` are the identities (int64, n) of the left pages.

    Who loses a partner to another page has none; a right page that the capture does not have changes nothing.
    """
    partner, found_by = pairs.partner.copy(), pairs.found_by.copy()
    redirect, at, certainty = pairs.redirect.copy(), pairs.at.copy(), pairs.certainty.copy()
    rows = {ident: row for row, ident in enumerate(left.tolist())} if by_hand.together or by_hand.apart else {}
    for one, other in by_hand.apart:
        row = rows.get(one, -1)
        if row >= 0 and partner[row] >= 0 and right.ident[partner[row]] == other:
            partner[row], found_by[row], redirect[row], certainty[row] = -1, FoundBy.NOTHING, Redirect.NONE, 0
    for one, other in by_hand.together.items():
        row, to = rows.get(one, -1), int(right.find(np.array([other]))[0])
        if row < 0 or to < 0 or not right.is_page[to] or partner[row] == to:
            continue
        loses = np.flatnonzero(partner == to)
        partner[loses], found_by[loses], certainty[loses] = -1, FoundBy.NOTHING, 0
        redirect[row] = redirects(pairs.asked[row : row + 1], found_by[row : row + 1] == FoundBy.REDIRECT)[0]
        partner[row], found_by[row], at[row], certainty[row] = to, FoundBy.HAND, to, 1
    return replace(pairs, partner=partner, found_by=found_by, redirect=redirect, at=at, certainty=certainty)
