"""What pages say otherwise than their partners: what a comparison has to look up for it."""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from palinode.core import address as addresses
from palinode.core import compare, differences
from palinode.core.columns import find as find_in
from palinode.core.compare import Paired
from palinode.core.differences import DifferingPairs, PageText, Sources, Told
from palinode.core.markup import Block
from palinode.core.rule import Rule
from palinode.core.volatile import Volatile
from palinode.records import expected_columns, page_facts, sides
from palinode.records.models import Capture, Comparison

_TOGETHER = 500
"""Pairs whose texts are held at once."""


def find(comparison: Comparison, paired: Paired, pairs: DifferingPairs, rule: Rule, volatile: Volatile) -> Told:
    """Return the differences of the pairs that differ; ``volatile`` is what is not compared."""
    looked_up = _LookedUp(comparison, paired, pairs, rule, volatile)
    return differences.find(pairs, Sources(lambda: compare.sizes(paired), looked_up.addresses, looked_up.texts))


class _LookedUp:
    """Addresses and texts of the pages of a comparison."""

    def __init__(
        self, comparison: Comparison, paired: Paired, pairs: DifferingPairs, rule: Rule, volatile: Volatile
    ) -> None:
        self.comparison, self.paired, self.pairs, self.rule, self.volatile = comparison, paired, pairs, rule, volatile

    def addresses(self, left: np.ndarray, right: np.ndarray) -> tuple[Mapping[int, str], Mapping[int, str]]:
        """Return the addresses that pages refer to, by what is expected for them; and those that right pages do."""
        expected, there = self.paired.moved
        # What pages that were found elsewhere are expected at stands in the place of where they are.
        order = np.argsort(there)
        at = find_in(there[order], left)
        before = np.where(at >= 0, np.append(expected[order], 0)[at], left)
        known = expected_columns.sources(self.comparison.left, self.rule, np.unique(before))
        told = {one: known[other] for one, other in zip(left.tolist(), before.tolist(), strict=True) if other in known}
        return told, sides.addresses_of(self.comparison.right, right, self.rule.forms)

    def texts(self, at: np.ndarray) -> Iterator[tuple[int, PageText, PageText]]:
        """Yield what both pages of some pairs say."""
        left = self.paired.left.ident[self.paired.rows[np.flatnonzero(self.paired.unlike)[at]]]
        right = addresses.idents([self.rule.reached(self.pairs.right.text[place]) for place in at.tolist()])
        for start in range(0, len(at), _TOGETHER):
            some = slice(start, start + _TOGETHER)
            one = _texts(self.comparison.left, left[some], self.volatile)
            other = _texts(self.comparison.right, right[some], self.volatile)
            for place, a, b in zip(at[some].tolist(), left[some].tolist(), right[some].tolist(), strict=True):
                if a in one and b in other:
                    yield place, one[a], other[b]


def _texts(capture: Capture, idents: np.ndarray, volatile: Volatile) -> dict[int, PageText]:
    found = {}
    for page in page_facts.pages(capture, idents):
        blocks = _main(page.rest.blocks, volatile) if volatile else page.rest.main
        found[page.ident] = PageText(blocks, page.rest.open_graph, page.address, page.rest.links)
    return found


def _main(blocks: Sequence[Block], volatile: Volatile) -> list[tuple[str, str]]:
    return [(block.kind, block.text) for block in volatile.masked(blocks) if block.main]
