"""Expected differences: what the pages of a comparison say is read, and findings are set aside."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from palinode.core import address as addresses
from palinode.core import expected
from palinode.core import rule as rules
from palinode.core.checks import registry
from palinode.core.expected import Differing, Expectation, Said, What
from palinode.core.findings import State
from palinode.core.volatile import Volatile
from palinode.records import findings as stored
from palinode.records import judgements
from palinode.records import page_texts as kept
from palinode.records.findings import Choice
from palinode.records.judgements import JudgedFindings
from palinode.records.models import Answer, Capture, Comparison
from palinode.work import evidence, readers
from palinode.work import region as _region
from palinode.work.capturing import sampling as learnt
from palinode.work.readers import Unreadable

_Pair = tuple[str, str]
_TOGETHER = 500
MOST_TRIED = 200_000
MOST_READ = 5_000
"""Pages whose stored markup is read again for one region; differences on further pages stay open."""


def set_aside(
    comparison: Comparison, differing: Differing, expectations: list[Expectation], volatile: Volatile
) -> np.ndarray:
    """Return int64 (n,): for each finding the number of the expectation that sets it aside, 0 for none."""
    return expected.set_aside(differing, expectations, _Reading(comparison, volatile).of)


def tried(comparison: Comparison, expectation: Expectation) -> list[dict[str, Any]]:
    """Return the open findings of a comparison that an expectation would set aside."""
    _, rows = stored.page(comparison, Choice(state=State.OPEN), 0, MOST_TRIED)
    words = list(dict.fromkeys(row["kind"] for row in rows))
    judged = JudgedFindings(comparison)
    differing = Differing(
        tuple(registry.KINDS[word] for word in words),
        np.array([words.index(row["kind"]) for row in rows], np.int16),
        judged.records["subject"][[row["number"] for row in rows]].astype(np.int64),
        np.array([row["row"] is None for row in rows], bool),
        [row["left_address"] or "" for row in rows],
        [row["right_address"] or "" for row in rows],
        comparison.left.bases[0],
    )
    volatile = learnt.volatile_of(comparison.left) | learnt.volatile_of(comparison.right)
    aside = set_aside(comparison, differing, [replace(expectation, number=1)], volatile) != 0
    if where := expectation.where:
        partly = np.flatnonzero(expected.in_part(expectation, differing))
        numbers = np.array([rows[at]["number"] for at in partly.tolist()], np.int64)
        for at, shown in zip(partly.tolist(), judgements.shown_on(judged, numbers), strict=True):
            aside[at] = where.among(shown).any()
    return [row for row, is_meant in zip(rows, aside.tolist(), strict=True) if is_meant]


class _Reading:
    """Reads what pages of a comparison say, as an expectation needs it."""

    def __init__(self, comparison: Comparison, volatile: Volatile) -> None:
        self.comparison, self.volatile = comparison, volatile
        self.rule = rules.read(comparison.rule)

    def of(self, one: Expectation) -> expected.Pages:
        """Return a function that reads both pages of a pair, leaving out the region that an expectation names."""

        def pages(pairs: list[_Pair]) -> dict[_Pair, tuple[Said, Said]]:
            found: dict[_Pair, tuple[Said, Said]] = {}
            pairs = pairs[:MOST_READ] if one.what == What.REGION else pairs
            for start in range(0, len(pairs), _TOGETHER):
                found |= self._said(pairs[start : start + _TOGETHER], one)
            return found

        return pages

    def _said(self, pairs: list[_Pair], one: Expectation) -> dict[_Pair, tuple[Said, Said]]:
        left = [addresses.ident(address) for address, _ in pairs]
        right = [addresses.ident(self.rule.reached(address)) for _, address in pairs]
        sides = []
        for capture, idents in ((self.comparison.left, left), (self.comparison.right, right)):
            said = kept.pages(capture, idents, self.volatile)
            sides.append(self._without(capture, said, one.selector) if one.what == What.REGION else _alone(said))
        return {
            pair: (sides[0][a], sides[1][b])
            for pair, a, b in zip(pairs, left, right, strict=True)
            if a in sides[0] and b in sides[1]
        }

    def _without(self, capture: Capture, said: Mapping[int, tuple[Said, bytes]], selector: str) -> dict[int, Said]:
        """Return what pages say when a region of their stored markup is taken out; those let go of are left out."""
        found: dict[int, Said] = {}
        answers = {
            answer.ident: answer
            for answer in Answer.objects.filter(capture=capture, ident__in=list(said)).select_related("capture")
        }
        for ident, (one, _) in said.items():
            stored = evidence.stored(answers[ident]) if ident in answers else None
            try:
                blocks = (
                    readers.ours().run(_region.without, stored, selector, capture.access["base"]) if stored else None
                )
            except (FileNotFoundError, Unreadable, ValueError):
                continue
            if blocks is None:
                continue
            main = [(block.kind, block.text) for block in self.volatile.masked(blocks) if block.main]
            found[ident] = Said(one.title, one.description, main, ident)
        return found


def _alone(said: Mapping[int, tuple[Said, bytes]]) -> dict[int, Said]:
    return {ident: one for ident, (one, _) in said.items()}
