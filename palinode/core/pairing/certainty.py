"""How certain a pair is, from what speaks for it, what speaks against it, and who else might be the partner."""

from dataclasses import dataclass

import numpy as np

from palinode.core.columns import find
from palinode.core.fates import FoundBy
from palinode.core.pairing.candidates import Candidates

TRUSTED = {
    FoundBy.NAME: 0.96,
    FoundBy.IDENTIFIER: 0.8,
    FoundBy.SEGMENT: 0.95,
    FoundBy.TITLE: 0.8,
    FoundBy.TEXT: 0.99,
    FoundBy.MEDIA: 0.75,
}
"""Of pairs that one evidence names at full strength and alone, how many are right (bench/certainty counts)."""

_OVERLAPS = (0.0, 0.05, 0.15, 0.3, 0.5, 0.9)
_SAY = (0.0, 0.1, 0.45, 0.85, 0.96, 1.0)
"""What a share of the text in common says."""
_SAY_MUCH = (0.0, 0.1, 0.75, 0.93, 0.97, 1.0)
"""What it says of long texts, in which the same share is many more words than anybody writes by chance."""
_ENOUGH, _MUCH = 20, 100
"""Shingles from which on a text speaks with full strength, and from which on it is long."""
_APART = (0.0, 0.02)
_AGAINST = 0.35
"""What is left of certainty if two texts that are long enough have nothing in common; all from the second share on."""
_UNDER_ONE_NAME = 0.55
"""How much more is left where paths end alike in several words: a page is written anew under its name."""
_NEARER = 8.0
_LONG = 400
"""Shingles from which on a text tells no better than it does which of two it is nearer to."""
_MOST_CERTAIN = 0.995


@dataclass(frozen=True)
class Weighed:
    """The evidence for c candidate pairs; arrays of shape (c,)."""

    certainty: np.ndarray
    found_by: np.ndarray
    """The evidence that says most, a FoundBy."""
    evidence: np.ndarray
    """Bits 1 << FoundBy of all that say something."""


def text_says(overlap: np.ndarray, sizes: np.ndarray) -> np.ndarray:
    """Return how much alike texts are; ``sizes`` are the shingles of the shorter of each two."""
    long = np.interp(sizes, (_ENOUGH, _MUCH), (0, 1))
    says = np.interp(overlap, _OVERLAPS, _SAY) * (1 - long) + np.interp(overlap, _OVERLAPS, _SAY_MUCH) * long
    said: np.ndarray = says * np.minimum(1, np.sqrt(sizes / _ENOUGH))
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
    least = np.full(len(left), _AGAINST)
    if path := said.get(FoundBy.SEGMENT):
        at = np.searchsorted(codes, path.left * width + path.right)
        least[at] += _UNDER_ONE_NAME * np.maximum(0, 2 * path.strength - 1)
    certainty = (1 - np.exp(doubt)) * np.where(sizes >= _ENOUGH, _left(overlap, least), 1.0)
    return Weighed(np.minimum(certainty, _MOST_CERTAIN), found_by, evidence)


def _left(overlap: np.ndarray, least: np.ndarray) -> np.ndarray:
    """Return what texts that are long enough leave of certainty: all, or as little as ``least`` if they are apart."""
    left: np.ndarray = least + (1 - least) * np.interp(overlap, _APART, (0, 1))
    return left


def _add(
    kind: FoundBy,
    at: np.ndarray,
    strength: np.ndarray,
    doubt: np.ndarray,
    best: np.ndarray,
    found_by: np.ndarray,
    evidence: np.ndarray,
) -> None:
    """Add one kind of evidence for the candidates ``at``; ``doubt`` is the logarithm of the doubt that is left."""
    says = TRUSTED[kind] * strength
    doubt[at] += np.log1p(-says)
    more = says > best[at]
    best[at[more]], found_by[at[more]] = says[more], kind
    evidence[at[says > 0.1]] |= 1 << kind


def beside_others(
    certainty: np.ndarray,
    left: np.ndarray,
    right: np.ndarray,
    chosen: np.ndarray,
    overlap: np.ndarray,
    sizes: np.ndarray,
) -> np.ndarray:
    """Return how certain each of the ``chosen`` candidates is beside all others that its pages could be in.

    At most one of a page's candidates is right, so that its odds stand against those of the best other. One that would
    take a page from its own partner counts as little as that costs, unless the two could change partners; and one whose
    text is less near than the chosen one's as little as that says, by ``overlap`` and ``sizes`` (as for weigh).
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
    say = _NEARER * np.sqrt(np.minimum(sizes, _LONG))
    near_left, near_right = (_held(rows, overlap, chosen)[rows] for rows in (left, right))
    from_right = np.where(chosen, 0, odds * (1 + back) / (1 + held_right[right]))
    from_right *= np.exp(-say * np.maximum(0, near_left - overlap))
    from_left = np.where(chosen, 0, odds * (1 + back) / (1 + held_left[left]))
    from_left *= np.exp(-say * np.maximum(0, near_right - overlap))
    others = np.maximum(_best(left, from_right), _best(right, from_left))
    beside: np.ndarray = odds / (odds + others + 1)
    return beside


def _partners(rows: np.ndarray, others: np.ndarray, chosen: np.ndarray) -> np.ndarray:
    """Return for each page of a side its chosen partner, -1 for none."""
    found = np.full(int(rows.max(initial=0)) + 1, -1)
    found[rows[chosen]] = others[chosen]
    return found


def _held(rows: np.ndarray, values: np.ndarray, chosen: np.ndarray) -> np.ndarray:
    """Return for each page of a side the value (odds, overlap) of its chosen pair, 0 for none."""
    found = np.zeros(int(rows.max(initial=0)) + 1)
    found[rows[chosen]] = values[chosen]
    return found


def _best(rows: np.ndarray, odds: np.ndarray) -> np.ndarray:
    """Return for each candidate the best odds among those of its page."""
    best = np.zeros(int(rows.max(initial=0)) + 1)
    np.maximum.at(best, rows, odds)
    found: np.ndarray = best[rows]
    return found
