"""Reads pages of both sides for why they differ: pairs for their signs, templates for what all pages share."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from palinode.core import address as addresses
from palinode.core import difference_signs, template
from palinode.core.boilerplate import FEWEST, NOTHING, SAMPLED, Boilerplate, Shown, between
from palinode.core.boilerplate import read as show
from palinode.core.columns import LeftColumns, SideColumns
from palinode.core.compare import Paired
from palinode.core.difference_signs import OldAddresses, RowSigns, Sign, Text
from palinode.core.fates import AddressChange, FoundBy
from palinode.core.fields import Field
from palinode.core.findings import Finding
from palinode.core.ledger import Ledger
from palinode.core.rule import Rule
from palinode.core.template import Template
from palinode.core.volatile import Volatile
from palinode.records import page_facts
from palinode.records.models import Capture, Comparison

_TOGETHER = 100
"""Pairs whose texts are held at once."""
_MOST_DIFFER = 0.5
"""Where fewer pages differ, no difference can stand on most of them."""


def of_rows(comparison: Comparison, ledger: Ledger, rule: Rule, volatile: Volatile) -> RowSigns:
    """Return what the pairs that differ show of why they do."""
    differing = ledger.differences.row
    # What a page alone differs in is told apart from what many do: in a new theme all differ, each in its own way too.
    changed = ledger.content_change.astype(np.int64) | ledger.shared_change.astype(np.int64) << len(Field)
    wanted = difference_signs.chosen(differing, ledger.content_change[differing] != 0)
    old = OldAddresses(rule, comparison.left.bases, comparison.right.bases)
    found: dict[int, tuple[Sign, frozenset[str]]] = {}
    for start in range(0, len(wanted), _TOGETHER):
        if start == difference_signs.FIRST_READ and difference_signs.settled(found, changed):
            break
        rows = wanted[start : start + _TOGETHER].tolist()
        left = np.array([ledger.left[row] for row in rows], np.int64)
        right = addresses.idents([rule.reached(ledger.right_address[row]) for row in rows])
        one, other = _texts(comparison.left, left, volatile), _texts(comparison.right, right, volatile)
        for row, a, b in zip(rows, left.tolist(), right.tolist(), strict=True):
            if a in one and b in other:
                found[row] = difference_signs.signs_of(one[a], other[b], old)
    return difference_signs.gather(len(ledger.fate), found, differing, changed)


def _texts(capture: Capture, idents: np.ndarray, volatile: Volatile) -> dict[int, Text]:
    found: dict[int, Text] = {}
    for page in page_facts.pages(capture, idents):
        blocks = volatile.masked(page.rest.blocks)
        found[page.ident] = difference_signs.read(page.address, volatile.masked_text(page.title), page.rest, blocks)
    return found


def repeated(comparison: Comparison, paired: Paired, rule: Rule) -> Boilerplate:
    """Return what repeats in the main content of one side's pages alone: most likely it is template."""
    at = np.flatnonzero(paired.pairs.found_by == FoundBy.RULE)
    if len(at) < FEWEST or paired.unlike[at].mean() < _MOST_DIFFER:
        return NOTHING
    rows = at[np.linspace(0, len(at) - 1, min(SAMPLED, len(at))).astype(np.int64)].tolist()
    final = rule.forms.final_of if rule.forms else str
    return between(
        _shown(comparison.left, paired.left.ident[paired.rows[rows]], rule.expect_many),
        _shown(comparison.right, _reached(paired, rule, rows), lambda texts: [final(text) for text in texts]),
    )


def _shown(capture: Capture, idents: np.ndarray, expected: Callable[[list[str]], list[str]]) -> list[Shown]:
    pages = page_facts.pages(capture, idents)
    return [show(page.address, page.rest, expected) for page in pages]


def _reached(paired: Paired, rule: Rule, rows: list[int]) -> np.ndarray:
    """Return the identities at which the destination was asked for what the rule expects."""
    return addresses.idents([rule.reached(paired.expected[row]) for row in rows])


def shared(
    comparison: Comparison, paired: Paired, ledger: Ledger, rule: Rule, volatile: Volatile, repeated: Boilerplate
) -> list[Finding]:
    """Return the findings that many pages share: of templates."""
    found = template.differences(_templates(comparison, paired, ledger, rule, volatile, repeated))
    return [one if one.on is None else replace(one, on=one.on[np.argsort(ledger.place[one.on])]) for one in found]


def _templates(
    comparison: Comparison, paired: Paired, ledger: Ledger, rule: Rule, volatile: Volatile, repeated: Boilerplate
) -> list[tuple[Template, Template, np.ndarray]]:
    """Return pairs of templates, each with the rows of the ledger whose pages stand in both."""
    partner = paired.pairs.partner
    left, right = _prints(paired.left, paired.rows), _prints(paired.right, np.maximum(partner, 0))
    said = (left != 0) | (right != 0) | bool(repeated.texts or repeated.targets)
    at = np.flatnonzero((partner >= 0) & (paired.pairs.found_by == FoundBy.RULE) & said)
    alike = [at[members] for members in template.groups(left[at], right[at])]
    rows = [int(members[0]) for members in alike]
    moved = _moved(ledger, rule)
    final = rule.forms.final_of if rule.forms else str

    def expected(texts: list[str]) -> list[str]:
        return [moved.get(text, text) for text in rule.expect_many(texts)]

    def reached(texts: list[str]) -> list[str]:
        # A menu that still names where a page was expected leads to it all the same.
        return [moved.get(text, text) for text in map(final, texts)]

    idents = (paired.left.ident[paired.rows[rows]], _reached(paired, rule, rows))
    one = _read(comparison.left, idents[0], expected, volatile, repeated)
    other = _read(comparison.right, idents[1], reached, volatile, repeated)
    in_ledger = ledger.rows_of(paired.left.ident[paired.rows])
    return [
        (one[a], other[b], in_ledger[members])
        for a, b, members in zip(idents[0].tolist(), idents[1].tolist(), alike, strict=True)
        if a in one and b in other
    ]


def _prints(side: LeftColumns | SideColumns, rows: np.ndarray) -> np.ndarray:
    found: np.ndarray = side.template[rows]
    return found


def _moved(ledger: Ledger, rule: Rule) -> dict[str, str]:
    """Return where pages were expected that were found elsewhere, and where they are."""
    rows = np.flatnonzero((ledger.address_change == AddressChange.UNPLANNED) & (ledger.left != 0)).tolist()
    rows += np.flatnonzero((ledger.found_by == FoundBy.REDIRECT) & (ledger.address_change == 0)).tolist()
    expected = rule.expect_many([ledger.left_address[row] for row in rows])
    return dict(zip(expected, [ledger.right_address[row] for row in rows], strict=True))


def _read(
    capture: Capture,
    idents: np.ndarray,
    expected: Callable[[list[str]], list[str]],
    volatile: Volatile,
    repeated: Boilerplate,
) -> dict[int, Template]:
    return {
        page.ident: template.read(page.address, page.rest, expected, volatile.masked, repeated)
        for page in page_facts.pages(capture, idents)
    }
