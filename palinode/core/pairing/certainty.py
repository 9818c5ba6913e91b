"""How certain a pair is, from what speaks for it, what speaks against it, and who else might be the partner."""

from dataclasses import dataclass

import numpy as np

from palinode.core.columns import find
from palinode.core.fates import FoundBy
from palinode.core.pairing.candidates import Candidates

TRUSTED = {
    FoundBy.NAME: 0.96,
    FoundBy.IDENTIFIER: 0.8,
    FoundBy.SEGMENT: 0.7,
    FoundBy.TITLE: 0.8,
    FoundBy.TEXT: 0.99,
    FoundBy.MEDIA: 0.75,
}
"""Of pairs that one evidence names at full strength and alone, how many are right (bench/pairs counts)."""

_OVERLAPS = (0.0, 0.05, 0.15, 0.3, 0.5, 0.9)
_SAY = (0.0, 0.1, 0.45, 0.85, 0.96, 1.0)
"""What a share of the text in common says."""
_ENOUGH = 20
"""Shingles from which on a text speaks with full strength."""
_APART = 0.02
_AGAINST = 0.35
"""What is left of certainty if two texts that are long enough have nothing in common."""
_MOST_CERTAIN = 0.995


@dataclass(frozen=True)
class Weighed:
    """All that is said of c candidate pairs; arrays of shape (c,)."""

    certainty: np.ndarray
    found_by: np.ndarray
    """The evidence that says most, a FoundBy."""
    evidence: np.ndarray
    """Bits 1 << FoundBy of all that say something."""


def text_says(overlap: np.ndarray, sizes: np.ndarray) -> np.ndarray:
    """Return how strongly texts say that they are the same; ``sizes`` are the shingles of the shorter of each two."""
    said: np.ndarray = np.interp(overlap, _OVERLAPS, _SAY) * np.minimum(1, np.sqrt(sizes / _ENOUGH))
    return said


def weigh(
    said: dict[FoundBy, Candidates], left: np.ndarray, right: np.ndarray, overlap: np.ndarray, sizes: np.ndarray
) -> Weighed:
    """Weigh candidates (left, right), each once, in ascending order of left, then right.

    ``said`` has what each evidence says of some of them, but the text, whose ``overlap`` is given for all, with
    the shingles of the shorter text.
    """
    width = int(right.max(initial=0)) + 1
    codes = left * width + right
    doubt, best = np.zeros(len(left)), np.zeros(len(left))
    found_by, evidence = np.full(len(left), int(FoundBy.NOTHING)), np.zeros(len(left), np.int64)
    for kind, one in said.items():
        at = np.searchsorted(codes, one.left * width + one.right)
        _add(kind, at, one.strength, doubt, best, found_by, evidence)
    _add(FoundBy.TEXT, np.arange(len(left)), text_says(overlap, sizes), doubt, best, found_by, evidence)
    certainty = 1 - np.exp(doubt)
    certainty[(sizes >= _ENOUGH) & (overlap < _APART)] *= _AGAINST
    return Weighed(np.minimum(certainty, _MOST_CERTAIN), found_by, evidence)


def _add(
    kind: FoundBy,
    at: np.ndarray,
    strength: np.ndarray,
    doubt: np.ndarray,
    best: np.ndarray,
    found_by: np.ndarray,
    evidence: np.ndarray,
) -> None:
    """Add what an evidence says of the candidates ``at``; ``doubt`` is the logarithm of what is left of it."""
    says = TRUSTED[kind] * strength
    doubt[at] += np.log1p(-says)
    more = says > best[at]
    best[at[more]], found_by[at[more]] = says[more], kind
    evidence[at[says > 0.1]] |= 1 << kind


def beside_others(certainty: np.ndarray, left: np.ndarray, right: np.ndarray, chosen: np.ndarray) -> np.ndarray:
    """Return how certain each of the ``chosen`` candidates is beside all others that its pages could be in.

    At most one of a page's candidates is right, so that its odds stand against those of the others. Another that would
    take a page from its own partner counts as little as that costs, unless the two could change partners.
    Candidates are in ascending order of left, then right; what is said of those not chosen has no meaning.
    """
    odds = certainty / (1 - certainty)
    of_left, of_right = _partners(left, right, chosen), _partners(right, left, chosen)
    held_left, held_right = _held(left, odds, chosen), _held(right, odds, chosen)
    width = int(right.max(initial=0)) + 1
    codes = left * width + right

    def between(lefts: np.ndarray, rights: np.ndarray) -> np.ndarray:
        at = find(codes, np.where((lefts >= 0) & (rights >= 0), lefts * width + rights, -1))
        return np.where(at >= 0, np.append(odds, 0)[at], 0)

    # Who would be left over by the one candidate, could they be a pair instead?
    back = between(of_right[right], of_left[left])
    from_right = np.where(chosen, 0, odds * (1 + back) / (1 + held_right[right]))
    from_left = np.where(chosen, 0, odds * (1 + back) / (1 + held_left[left]))
    others = np.maximum(_sums(left, from_right), _sums(right, from_left))
    beside: np.ndarray = odds / (odds + others + 1)
    return beside


def _partners(rows: np.ndarray, others: np.ndarray, chosen: np.ndarray) -> np.ndarray:
    """Return for each page of a side its chosen partner, -1 for none."""
    found = np.full(int(rows.max(initial=0)) + 1, -1)
    found[rows[chosen]] = others[chosen]
    return found


def _held(rows: np.ndarray, odds: np.ndarray, chosen: np.ndarray) -> np.ndarray:
    """Return for each page of a side the odds of its chosen pair, 0 for none."""
    found = np.zeros(int(rows.max(initial=0)) + 1)
    found[rows[chosen]] = odds[chosen]
    return found


def _sums(rows: np.ndarray, odds: np.ndarray) -> np.ndarray:
    sums: np.ndarray = np.bincount(rows, odds)[rows] if len(rows) else odds
    return sums
