"""Pairs the pages of two captures: both sides loaded, partners found, what differs told, the rows of pages arranged."""

from collections.abc import Set
from dataclasses import dataclass, replace

import numpy as np

from palinode.core import compare, partners
from palinode.core.boilerplate import NOTHING, Boilerplate
from palinode.core.columns import PageDetails
from palinode.core.compare import Paired
from palinode.core.ledger import Ledger
from palinode.core.pairing.parts import NO_PARTS, Parts
from palinode.core.rule import Rule
from palinode.core.visits import Visits
from palinode.core.volatile import Volatile
from palinode.records import address_lists, decisions, sides
from palinode.records.models import Comparison
from palinode.records.pairing_input import PairingInput
from palinode.work.capturing import sampling
from palinode.work.comparing import difference_signs, merged_pages, page_differences


@dataclass(frozen=True)
class Compared:
    """A comparison of both sides as far as the rows of its pages, with what was looked at on the way."""

    comparison: Comparison
    paired: Paired
    ledger: Ledger
    rule: Rule
    limits: tuple[str, ...]
    """Which limits bit in its captures, in words."""
    volatile: Volatile
    repeated: Boilerplate
    pieces: Parts
    visits: Visits
    """How often the addresses of the left side are visited."""

    @property
    def one_side(self) -> bool:
        """Both captures are of one side: no rule lies between them, and nothing is judged."""
        return is_of_one_side(self.comparison)


def is_of_one_side(comparison: Comparison) -> bool:
    """Whether both captures of a comparison are of one side."""
    return comparison.left.which == comparison.right.which


def find(comparison: Comparison, rule: Rule) -> Compared:
    """Load both captures of a comparison and pair their pages."""
    left = sides.load_left(comparison.left, rule)
    right = sides.load_right(comparison.right, rule.forms)
    said = decisions.by_hand(comparison.move)
    paired = compare.pair(left, right, said)
    one_side = is_of_one_side(comparison)
    volatile = sampling.volatile_of(comparison.left) | sampling.volatile_of(comparison.right)
    repeated = NOTHING if one_side else difference_signs.repeated(comparison, paired, rule)
    masks = replace(volatile, texts=repeated.texts)
    texts = PairingInput(comparison.left, comparison.right, rule)
    paired, left_told, right_told = _with_found(comparison, paired, rule, masks, said.apart, texts)
    retired = decisions.retired(comparison.move)
    pairs = compare.differing(paired, left_told, right_told, volatile.fields, repeated.idents)
    told = page_differences.find(comparison, paired, pairs, rule, masks)
    visits = address_lists.visits(comparison.move, comparison.left.which)
    ledger = compare.judge(paired, pairs, told, right_told, retired, visits)
    pieces = NO_PARTS if one_side else merged_pages.find(texts, paired, [left_told, right_told], ledger)
    ledger = compare.with_parts(ledger, pieces)
    limits = _cut_short(one_side, left.limits, right.limits)
    return Compared(comparison, paired, ledger, rule, limits, volatile, repeated, pieces, visits)


def _with_found(
    comparison: Comparison,
    paired: Paired,
    rule: Rule,
    volatile: Volatile,
    apart: Set[tuple[int, int]],
    texts: PairingInput,
) -> tuple[Paired, PageDetails, PageDetails]:
    """Add the pairs that no address led to; return all pairs, and the details of pages on both sides."""
    if not is_of_one_side(comparison):
        paired = partners.with_twins(paired, apart)
    told = (
        sides.details(comparison.left, paired.told_left, None, volatile),
        sides.details(comparison.right, paired.told_right, rule.forms, volatile),
    )
    if is_of_one_side(comparison):
        return paired, *told
    left, right = told
    paired = partners.search(paired, right, texts.source, texts.destination, apart)
    if len(np.setdiff1d(paired.told_right, right.ident)):
        # A page that is the partner of several addresses may be one of which nothing was wanted before.
        right = sides.details(comparison.right, np.union1d(paired.told_right, right.ident), rule.forms, volatile)
    return paired, left, right


def _cut_short(one_side: bool, left: tuple[str, ...], right: tuple[str, ...]) -> tuple[str, ...]:
    names = ("earlier capture", "later capture") if one_side else ("source capture", "destination capture")
    return tuple(f"{name} {text}" for name, limits in zip(names, (left, right), strict=True) for text in limits)
