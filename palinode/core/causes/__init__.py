"""Causes: findings that share one likely reason and one remedy.

A new cause is one file with a function from the Ground, and which findings are still free, to causes, named here.
Which cause takes a finding follows from what it explains: the most certain first, of these the one on most pages.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from palinode.core.causes import cause_kind
from palinode.core.causes.beginnings import beginnings_changed
from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.extension import part_gone
from palinode.core.causes.files import folders_of_files, styles_missing
from palinode.core.causes.files_not_copied import files_not_copied
from palinode.core.causes.folders import folders_lost
from palinode.core.causes.inner_pages import inner_pages_not_found
from palinode.core.causes.items_missing import items_missing
from palinode.core.causes.kind_alone import kinds_alone
from palinode.core.causes.language import language_changed
from palinode.core.causes.merged import merged_by_text, redirects_without_path, split_pages
from palinode.core.causes.numbers import numbers_missing
from palinode.core.causes.old_host import leads_back
from palinode.core.causes.older_copy import older_copy
from palinode.core.causes.other_name import answers_under_another_name
from palinode.core.causes.pages import pages_altered, pages_lost, pages_new, pages_not_judged
from palinode.core.causes.path_policy import path_policy
from palinode.core.causes.recognised import recognised
from palinode.core.causes.redirects import all_to_home, redirects_missing, redirects_wrong
from palinode.core.causes.section_moved import sections_moved
from palinode.core.causes.sections import sections_lost
from palinode.core.causes.shown_sign import (
    characters_damaged,
    dates_otherwise,
    forms_gone,
    markers_shown,
    pages_cut,
    script_messages,
)
from palinode.core.causes.shut_out import search_engines_shut_out
from palinode.core.causes.source_changed import source_changed
from palinode.core.causes.template import template_differs
from palinode.core.causes.term_dropped import term_dropped
from palinode.core.causes.years import years_missing
from palinode.core.weight import Weight
from palinode.core.wording import number

Finder = Callable[[Ground, np.ndarray], Iterator[Cause]]

EXPLAINING: tuple[Finder, ...] = (
    inner_pages_not_found,
    recognised,
    all_to_home,
    items_missing,
    term_dropped,
    files_not_copied,
    source_changed,
    years_missing,
    numbers_missing,
    sections_lost,
    folders_lost,
    merged_by_text,
    search_engines_shut_out,
    path_policy,
    beginnings_changed,
    sections_moved,
    redirects_without_path,
    redirects_wrong,
    answers_under_another_name,
    older_copy,
    characters_damaged,
    script_messages,
    markers_shown,
    leads_back,
    dates_otherwise,
    language_changed,
    part_gone,
    pages_cut,
    forms_gone,
    styles_missing,
    split_pages,
)
"""Those that say why; of two that explain as much and are as certain, the first takes the findings."""
REMAINING: tuple[Finder, ...] = (
    folders_of_files,
    template_differs,
    pages_lost,
    redirects_missing,
    pages_altered,
    pages_not_judged,
    pages_new,
    kinds_alone,
)
"""Those that gather what is left, in this order."""
_OVERLAP = 0.8
"""A second cause is named that would explain so many of a cause's findings."""
_MOST_LOOKS = 12
"""How often a finder looks at what others left; what it proposed and others took since is let go of then."""


def find(ground: Ground) -> list[Cause]:
    """Return the causes of all findings, by weight, then in the order in which to mend them, the most visited first,
    then by number of rows.

    A cause weighs what the heaviest of its findings weighs, so that the weights of a move hold for it too.
    """
    free = ground.own
    found: list[Cause] = []
    proposed = _Proposed(ground, free)
    first = proposed.all()
    for cause in proposed.chosen(free):
        found.append(replace(cause, instead=_instead(cause, first)))
    for finder in REMAINING:
        for cause in finder(ground, free):
            found.append(cause)
            free &= ~cause.takes
    weights = ground.findings.weight
    visited = np.maximum(ground.ledger.visits, 0)
    weighed = [
        replace(
            one,
            weight=one.weight if one.raised else Weight(int(weights[one.takes].min())),
            visits=int(visited[ground.under(one.takes)].sum()),
        )
        for one in found
    ]
    return sorted(weighed, key=lambda cause: (cause.weight, cause_kind.step(cause.kind), -cause.visits, -cause.pages))


class _Proposed:
    """What each finder proposes; a proposal of which another cause took a part is made anew before it is chosen."""

    def __init__(self, ground: Ground, free: np.ndarray) -> None:
        self.ground = ground
        self.by_finder = [list(finder(ground, free)) for finder in EXPLAINING]
        self.looks = [0] * len(EXPLAINING)

    def all(self) -> list[Cause]:
        return [cause for some in self.by_finder for cause in some]

    def chosen(self, free: np.ndarray) -> Iterator[Cause]:
        """Yield causes, the most certain first, of these the one that explains most; ``free`` is what none took."""
        while best := min(self._ranked(), default=None):
            *_, finder, place = best
            cause = self.by_finder[finder].pop(place)
            if (cause.takes & ~free).any():
                # What it could explain is less now; it may still explain more than the others.
                self._look_again(finder, free)
                continue
            free &= ~cause.takes
            yield cause

    def _ranked(self) -> Iterator[tuple[int, bool, int, int, int, int]]:
        for finder, some in enumerate(self.by_finder):
            for place, cause in enumerate(some):
                if cause.number:
                    yield cause.of_kind.certainty, not cause.raised, -cause.pages, -cause.number, finder, place

    def _look_again(self, finder: int, free: np.ndarray) -> None:
        self.looks[finder] += 1
        if self.looks[finder] <= _MOST_LOOKS:
            self.by_finder[finder] = list(EXPLAINING[finder](self.ground, free))
        else:
            self.by_finder[finder] = [one for one in self.by_finder[finder] if not (one.takes & ~free).any()]


def _instead(cause: Cause, proposed: Sequence[Cause]) -> str:
    """Return what else a cause could be: another that would explain nearly all of it, and what tells the two apart."""
    others = [
        (int((one.takes & cause.takes).sum()), -place, one)
        for place, one in enumerate(proposed)
        if one.kind != cause.kind
    ]
    shared, _, second = max(others, default=(0, 0, None), key=lambda one: one[:2])
    if second is None or shared < max(1, _OVERLAP * cause.number):
        return cause.instead
    told = f"{second.title}: that would explain {shared:,} of these {number(cause.number, 'finding')} as well."
    return " ".join(part for part in (told, second.of_kind.tells, cause.instead) if part)
