"""Looks where the text of pages without a partner stands: in pages that grew, or in pages that shrank."""

import numpy as np

from palinode.core.columns import PageDetails
from palinode.core.compare import Paired
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.pairing.parts import NO_PARTS, Parts, held
from palinode.records.pairing_input import PairingInput

_MOST = 1_000
"""Pages of a side, those that changed in length most, in which texts are looked for."""


def find(texts: PairingInput, paired: Paired, told: list[PageDetails], ledger: Ledger) -> Parts:
    """Return which of a ledger's lost and new pages were merged and split; ``told`` are the details of both sides."""
    lost = np.intersect1d(paired.alone_left, ledger.left[ledger.fate == Fate.LOST])
    new = np.intersect1d(paired.alone_right, ledger.right[ledger.fate == Fate.NEW])
    if not len(lost) and not len(new):
        return NO_PARTS
    at = np.flatnonzero(paired.unlike & (paired.pairs.partner >= 0))
    left, right = paired.left.ident[paired.rows[at]], paired.right.ident[paired.pairs.partner[at]]
    grown = told[1].of(right).words - told[0].of(left).words
    merged = split = {}
    if len(lost):
        wholes = np.union1d(_most(right, grown), new)
        merged = held(texts.source(lost), texts.destination(wholes))
    if len(new):
        wholes = np.union1d(_most(left, -grown), lost)
        split = held(texts.destination(new), texts.source(wholes))
    return Parts(merged, split)


def _most(idents: np.ndarray, change: np.ndarray) -> np.ndarray:
    order = np.argsort(-change, kind="stable")[:_MOST]
    found: np.ndarray = idents[order[change[order] > 0]]
    return found
