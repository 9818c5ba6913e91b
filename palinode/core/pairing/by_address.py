"""Finds partners by their addresses: where the rule expects them, where a redirect leads, at the old path."""

from collections.abc import Mapping

import numpy as np

from palinode.core import address as addresses
from palinode.core import hops
from palinode.core.columns import SideColumns
from palinode.core.fates import Asked, FoundBy, Redirect
from palinode.core.page import CLOSED, PASSING
from palinode.core.pairing.pairs import Pairs
from palinode.core.recognition.page_kind import PageKind

_MANY = 5
_MOSTLY = 0.8
"""Of so many pages so great a part said something of its own."""


def _asked(side: SideColumns, row: np.ndarray, ends: hops.Ends, home: np.ndarray, known_as: np.ndarray) -> np.ndarray:
    """Return an Asked for each row that was looked up and followed to its end.

    ``known_as`` is what the left page was recognised as: a page that is the same on both sides is no doubt.
    """
    end = ends.row
    kind = np.append(side.recognised, PageKind.NONE)[end]
    never = np.append(side.status, -1)
    status = never[end]
    is_page = np.append(side.is_page, False)[end]
    return np.select(
        [
            row < 0,
            ends.loops,
            end < 0,
            home & (ends.hops > 0),
            is_page & (kind == PageKind.NOT_FOUND) & (kind != known_as),
            is_page & (kind == PageKind.HOME) & (kind != known_as),
            is_page & (kind != PageKind.NONE) & (kind != known_as),
            (kind != PageKind.NONE) & (np.isin(status, list(CLOSED | PASSING)) | (status >= 500)),
            is_page,
            status == -1,
            np.isin(status, list(PASSING)),
            np.isin(status, list(CLOSED)),
            status == 200,
            status >= 500,
        ],
        [
            Asked.NEVER,
            Asked.LOOP,
            Asked.AWAY,
            Asked.HOME,
            Asked.NOT_FOUND,
            Asked.HOME,
            Asked.NOT_TRUSTED,
            Asked.NOT_TRUSTED,
            Asked.PAGE,
            Asked.NOT_FETCHED,
            Asked.PASSING,
            Asked.CLOSED,
            Asked.NO_PAGE,
            Asked.FAILED,
        ],
        Asked.NOT_FOUND,
    )


def _look(
    side: SideColumns, idents: np.ndarray, is_home: np.ndarray, known_as: np.ndarray
) -> tuple[np.ndarray, hops.Ends, np.ndarray]:
    """Look addresses up in a side and follow their redirects; a home page is no page's redirect."""
    row = side.find(idents)
    ends = hops.follow(side, row)
    homes = side.find(addresses.idents(list(side.homes)))
    return row, ends, _asked(side, row, ends, np.isin(ends.row, homes[homes >= 0]) & ~is_home, known_as)


def find(
    right: SideColumns,
    texts: list[str],
    origins: Mapping[str, str],
    planned: np.ndarray,
    expected_ident: np.ndarray,
    known_as: np.ndarray,
) -> Pairs:
    """Return the pairs of n left pages.

    ``texts`` are their addresses, whose path the rule changes where it is ``planned`` (bool, n); ``origins`` says which
    scheme and host take the place of theirs; ``expected_ident`` (int64, n) are the identities of what the rule makes of
    them; ``known_as`` is what they were recognised as.
    """
    # What says the same as the home page under another address may well lead there.
    is_home = np.array([text.find("/", 8) == len(text) - 1 for text in texts], bool) | (known_as == PageKind.HOME)
    row, ends, asked = _look(right, expected_ident, is_home, known_as)
    partner = np.where(asked == Asked.PAGE, ends.row, -1)
    found_by = np.where(partner < 0, FoundBy.NOTHING, np.where(ends.hops > 0, FoundBy.REDIRECT, FoundBy.RULE))
    redirect = np.where(
        found_by == FoundBy.REDIRECT, np.where(ends.permanent, Redirect.PERMANENT, Redirect.TEMPORARY), Redirect.NONE
    )
    status = ends.status.copy()
    hop_count, at = ends.hops.copy(), np.where(ends.row >= 0, ends.row, row)

    # Where the rule changes the path, the old path at the destination says whether it redirects.
    old = np.flatnonzero(planned)
    if len(old):
        old_texts = [addresses.at_origin(texts[i], origins) for i in old.tolist()]
        _old_row, old_ends, old_asked = _look(right, addresses.idents(old_texts), is_home[old], known_as[old])
        leads = (old_asked == Asked.PAGE) & (old_ends.hops > 0)
        same = leads & (old_ends.row == partner[old])
        kind = np.where(old_ends.permanent, Redirect.PERMANENT, Redirect.TEMPORARY)
        told = np.select(
            [same, leads, old_asked == Asked.HOME, np.isin(old_asked, [Asked.NEVER, Asked.NOT_FETCHED])],
            [kind, Redirect.ELSEWHERE, Redirect.ELSEWHERE, Redirect.NOT_ASKED],
            Redirect.MISSING,
        )
        has = partner[old] >= 0
        redirect[old] = np.where(has, told, redirect[old])
        hop_count[old] = np.where(has & same, old_ends.hops, hop_count[old])
        status[old] = np.where(has & same, old_ends.status, status[old])
        elsewhere = ~has & (old_asked == Asked.PAGE)
        found = old[elsewhere]
        partner[found] = old_ends.row[elsewhere]
        at[found] = old_ends.row[elsewhere]
        found_by[found] = np.where(leads[elsewhere], FoundBy.REDIRECT, FoundBy.OLD_PATH)
        redirect[found] = np.where(leads[elsewhere], kind[elsewhere], Redirect.NONE)
        hop_count[found] = old_ends.hops[elsewhere]
        status[found] = old_ends.status[elsewhere]
    certainty = np.where(partner >= 0, 1.0, 0.0)
    nothing = np.zeros(len(texts), np.int64)
    leads = np.full(len(texts), -1)
    return Pairs(partner, asked, found_by, planned, redirect, hop_count, status, at, certainty, nothing, leads)


def in_place_of_many(left_whole: np.ndarray, right: SideColumns, pairs: Pairs) -> np.ndarray:
    """Return bool of shape (n,): left pages in whose place one page answers that answers in many others' too.

    ``left_whole`` (int64, n) are digests of what the left pages say. It is such a page if several addresses say the
    very same, and the pages expected there said different things, none of them this.
    """
    at = np.flatnonzero((pairs.found_by == FoundBy.RULE) & (pairs.partner >= 0))
    said = right.whole[pairs.partner[at]]
    values, which, count = np.unique(said, return_inverse=True, return_counts=True)
    found = np.zeros(len(left_whole), bool)
    for group in np.flatnonzero((count >= _MANY) & (values != 0)).tolist():
        rows = at[which == group]
        here = left_whole[rows]
        if values[group] not in here and len(np.unique(here)) >= _MOSTLY * len(rows):
            found[rows] = True
    return found


def new(right: SideColumns, pairs: Pairs) -> np.ndarray:
    """Return the rows of right pages that are nobody's partner, and do not answer in a page's place."""
    taken = np.zeros(len(right.ident) + 1, bool)
    taken[pairs.partner] = True
    taken[pairs.at[pairs.asked == Asked.NOT_TRUSTED]] = True
    taken[:-1] |= np.isin(right.recognised, [PageKind.NOT_FOUND, PageKind.HOME, PageKind.OTHER])
    return np.flatnonzero(right.is_page & ~taken[:-1])
