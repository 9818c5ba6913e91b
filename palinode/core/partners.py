"""Finds the partners of pages that no address led to, one kind of evidence after another."""

from collections.abc import Callable, Set
from dataclasses import replace

import numpy as np

from palinode.core import address as addresses
from palinode.core import edges, pairing
from palinode.core.columns import PageDetails, find
from palinode.core.compare import Paired, with_found
from palinode.core.fates import FoundBy
from palinode.core.pairing import Found, links, patterns, shingles, twins
from palinode.core.pairing.pages import Pages
from palinode.core.recognition.page_kind import PageKind

Apart = Set[tuple[int, int]]
"""Identities (left, right) that a person said are two pages."""
_BETTER = 0.75
"""How certain a partner must be to stand before one to which a redirect leads."""
_TELLS = 20
"""Shingles from which on two texts that have nothing in common refuse what a pattern proposes …"""
_NOTHING = 0.03
"""… and the share that is nothing."""
_CERTAIN_TWIN = 0.99


def search(
    paired: Paired,
    told: PageDetails,
    source: Callable[[np.ndarray], Pages],
    destination: Callable[[np.ndarray], Pages],
    apart: Apart = frozenset(),
) -> Paired:
    """Return pairs with those that are found among pages which no address led to, or a redirect alone.

    What :func:`with_twins` finds is found before. ``told`` are the details of the right pages that ``paired`` names;
    ``source`` and ``destination`` load pages as pairing reads them, by their identities.
    """
    paired = _without_right_twins(paired, told)
    doubtful = _doubtful(paired, told)
    if (len(paired.alone_left) or len(doubtful)) and len(paired.alone_right):
        paired = _with(paired, _by_content(paired, doubtful, source, destination, apart))
        paired = _with(paired, _by_links(paired, told, apart))
        paired = _with(paired, _by_patterns(paired, told, source, destination, apart))
    return _without_right_twins(with_twins(paired, apart), told)


def with_twins(paired: Paired, apart: Apart = frozenset()) -> Paired:
    """Return pairs with those of pages that are the same page as one that has a partner, under another address."""
    return _with(paired, _by_twins(paired, apart))


def _with(paired: Paired, found: Found) -> Paired:
    return with_found(paired, found) if len(found) else paired


def _doubtful(paired: Paired, told: PageDetails) -> np.ndarray:
    """Return the identities (ascending) of left pages whose redirect leads to a page of another title."""
    rows = np.flatnonzero(paired.doubtful)
    titles = told.of(paired.right.ident[paired.pairs.partner[rows]]).title
    differ = [paired.left.title[at] != title for at, title in zip(paired.rows[rows].tolist(), titles, strict=True)]
    return np.sort(paired.left.ident[paired.rows[rows[np.array(differ, bool)]]])


def _by_content(
    paired: Paired,
    doubtful: np.ndarray,
    source: Callable[[np.ndarray], Pages],
    destination: Callable[[np.ndarray], Pages],
    apart: Apart,
) -> Found:
    """Find partners by what pages say; one to which a redirect leads stays unless another one is clearly better."""
    alone = paired.alone_right
    led = paired.right.ident[paired.pairs.partner[np.isin(paired.left.ident[paired.rows], doubtful)]]
    found = pairing.find(source(np.union1d(paired.alone_left, doubtful)), destination(np.union1d(alone, led)), apart)
    better = ~np.isin(found.left, doubtful) | (found.certainty >= _BETTER)
    return _of(found, np.isin(found.right, alone) & better)


def _by_links(paired: Paired, told: PageDetails, apart: Apart) -> Found:
    """Find partners by the links of pages that are the same but for addresses."""
    pairs, left = paired.pairs, paired.left
    partner = pairs.partner
    alone = (partner < 0) & (left.recognised[paired.rows] == PageKind.NONE)
    same = (
        paired.unlike
        & (partner >= 0)
        & (pairs.found_by != FoundBy.TWIN)
        & (left.whole[paired.rows] == paired.right.whole[partner])
    )
    details = told.of(paired.right.ident[partner[same]])
    targets, _, ends = edges.slices(left.targets, left.places, left.offsets, paired.rows[same])
    return links.find(
        paired.expected_ident[alone],
        left.ident[paired.rows[alone]],
        paired.alone_right,
        (targets, ends),
        (details.targets, details.offsets),
        apart,
    )


def _by_patterns(
    paired: Paired,
    told: PageDetails,
    source: Callable[[np.ndarray], Pages],
    destination: Callable[[np.ndarray], Pages],
    apart: Apart,
) -> Found:
    """Find partners where the addresses of found pairs say that a page would be."""
    pairs, left = paired.pairs, paired.left
    other_place = paired.elsewhere | ((pairs.partner >= 0) & pairs.planned)
    there = np.flatnonzero(other_place & (pairs.found_by != FoundBy.TWIN))
    elsewhere = there[paired.elsewhere[there]]
    moved = dict(zip(elsewhere.tolist(), told.of(paired.right.ident[pairs.partner[elsewhere]]).text, strict=True))
    shown = patterns.learn(
        (paired.paths[row], addresses.path(moved.get(row) or paired.expected[row])) for row in there.tolist()
    )
    alone_right = told.of(paired.alone_right)
    by_segments: dict[patterns.Segments, list[int]] = {}
    for ident, text in zip(alone_right.ident.tolist(), alone_right.text, strict=True):
        by_segments.setdefault(patterns.segments(addresses.path(text)), []).append(ident)
    proposed: list[tuple[int, int, float]] = []
    alone = (pairs.partner < 0) & (left.recognised[paired.rows] == PageKind.NONE)
    for row in np.flatnonzero(alone).tolist() if shown and by_segments else ():
        for where, pattern in patterns.proposals(paired.paths[row], shown):
            found = by_segments.get(where, [])
            # Two pages at one place, of other endings or slashes, are not told apart.
            if len(found) == 1 and (int(left.ident[paired.rows[row]]), found[0]) not in apart:
                proposed.append((int(left.ident[paired.rows[row]]), found[0], pattern.certainty))
                break
    return _confirmed(proposed, source, destination)


def _confirmed(
    proposed: list[tuple[int, int, float]],
    source: Callable[[np.ndarray], Pages],
    destination: Callable[[np.ndarray], Pages],
) -> Found:
    """Return what patterns propose, but for pages whose texts refuse it, and for what is proposed twice."""
    lefts, rights = (np.array([one[at] for one in proposed], np.int64) for at in (0, 1))
    values, count = np.unique(rights, return_counts=True)
    once = np.isin(rights, values[count == 1])
    certainty = np.array([one[2] for one in proposed], np.float64)
    if once.any():
        one, other = source(np.unique(lefts)), destination(np.unique(rights))
        at, to = _places(one.ident, lefts), _places(other.ident, rights)
        weights = shingles.weights(one.shingles, other.shingles)
        overlap = shingles.overlap(one.shingles, other.shingles, weights, np.stack([at, to], axis=1))
        sizes = np.minimum(one.shingles.sizes[at], other.shingles.sizes[to])
        once &= (sizes < _TELLS) | (overlap > _NOTHING)
    kinds = np.full(len(lefts), int(FoundBy.PATTERN))
    return _of(
        Found(lefts, rights, certainty, kinds, np.int64(1) << kinds), once & (certainty >= pairing.CERTAIN_ENOUGH)
    )


def _places(idents: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    order = np.argsort(idents)
    places: np.ndarray = order[find(idents[order], wanted)]
    return places


def _by_twins(paired: Paired, apart: Apart) -> Found:
    """Find the partners of pages that are the same page as one that has a partner, under another address."""
    pairs, left = paired.pairs, paired.left
    whole = left.whole[paired.rows]
    rows = twins.find(paired.paths, whole, np.flatnonzero(pairs.partner < 0), np.flatnonzero(pairs.partner >= 0))
    at, of = np.array(list(rows), np.int64), np.array(list(rows.values()), np.int64)
    kinds = np.full(len(at), int(FoundBy.TWIN))
    lefts, rights = left.ident[paired.rows[at]], paired.right.ident[pairs.partner[of]]
    found = Found(lefts, rights, np.full(len(at), _CERTAIN_TWIN), kinds, np.int64(1) << kinds)
    together = zip(lefts.tolist(), rights.tolist(), strict=True)
    return _of(found, np.array([pair not in apart for pair in together], bool))


def _without_right_twins(paired: Paired, told: PageDetails) -> Paired:
    """Leave out of the new pages those that are the same page as a partner, under another address."""
    right, pairs = paired.right, paired.pairs
    if not len(paired.new):
        return paired
    alike = np.isin(right.whole[pairs.partner], right.whole[paired.new]) & (pairs.partner >= 0)
    there = np.flatnonzero(alike & (pairs.found_by != FoundBy.TWIN))
    elsewhere = there[paired.elsewhere[there]]
    moved = dict(zip(elsewhere.tolist(), told.of(right.ident[pairs.partner[elsewhere]]).text, strict=True))
    partners = [addresses.path(moved.get(row) or paired.expected[row]) for row in there.tolist()]
    texts = [addresses.path(text) for text in told.of(right.ident[paired.new]).text]
    whole = np.concatenate([right.whole[paired.new], right.whole[pairs.partner[there]]])
    found = twins.find(texts + partners, whole, np.arange(len(texts)), np.arange(len(texts), len(whole)))
    new = np.ones(len(paired.new), bool)
    new[list(found)] = False
    return replace(paired, new=paired.new[new])


def _of(found: Found, chosen: np.ndarray) -> Found:
    return Found(*(column[chosen] for column in vars(found).values()))
