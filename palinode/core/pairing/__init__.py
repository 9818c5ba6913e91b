"""Pairing: which page of the destination is which page of the source.

Where addresses do not say so (by_address.py), pages are held against each other by what they say of themselves. A new
evidence is one file with a function from two sides' pages to candidates, named here and weighed in certainty.py.
"""

from collections.abc import Callable, Set

import numpy as np

from palinode.core.fates import FoundBy
from palinode.core.pairing import (
    assignment,
    certainty,
    identifiers,
    media,
    names,
    numbered,
    segments,
    shingles,
    texts,
    titles,
)
from palinode.core.pairing.candidates import Candidates
from palinode.core.pairing.found import Found
from palinode.core.pairing.pages import Pages

__all__ = ["CERTAIN_ENOUGH", "EVIDENCE", "Found", "find"]

EVIDENCE: tuple[tuple[FoundBy, Callable[[Pages, Pages], Candidates]], ...] = (
    (FoundBy.NAME, names.find),
    (FoundBy.IDENTIFIER, identifiers.find),
    (FoundBy.SEGMENT, segments.find),
    (FoundBy.TITLE, titles.find),
    (FoundBy.MEDIA, media.find),
)
"""All but the text, which is asked of every candidate."""

CERTAIN_ENOUGH = 0.5
"""A pair that is more likely wrong than right is none."""


def find(left: Pages, right: Pages, parted: Set[tuple[int, int]] = frozenset()) -> Found:
    """Pair pages one to one; ``parted`` are identities (left, right) that a person said are two pages."""
    said = {kind: evidence(left, right) for kind, evidence in EVIDENCE}
    alike = texts.candidates(left.shingles, right.shingles)
    width = max(1, len(right))
    every = [(one.left, one.right) for one in said.values()] + [alike]
    codes = np.unique(np.concatenate([rows * width + others for rows, others in every]))
    rows, others = codes // width, codes % width
    told = shingles.weights(left.shingles, right.shingles)
    overlap = shingles.overlap(left.shingles, right.shingles, told, np.stack([rows, others], axis=1))
    sizes = np.minimum(told[0].sums[rows], told[1].sums[others])
    weighed = certainty.weigh(said, rows, others, overlap, sizes)
    allowed = (weighed.certainty > 0) & ~numbered.apart(left.path, right.path, rows, others, overlap)
    if parted:
        together = zip(left.ident[rows].tolist(), right.ident[others].tolist(), strict=True)
        allowed &= np.array([pair not in parted for pair in together], bool)
    at = np.flatnonzero(allowed)
    chosen = assignment.one_to_one(rows[at], others[at], weighed.certainty[at])
    beside = certainty.beside_others(weighed.certainty[at], rows[at], others[at], chosen, overlap[at], sizes[at])
    kept = chosen & (beside >= CERTAIN_ENOUGH)
    at, beside = at[kept], beside[kept]
    return Found(left.ident[rows[at]], right.ident[others[at]], beside, weighed.found_by[at], weighed.evidence[at])
