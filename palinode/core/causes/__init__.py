"""Causes: findings that share one likely reason and one remedy.

A new cause is one file with a function from the Ground, and which findings are still free, to causes, named here.
Each finding belongs to the first cause, in this order, that takes it: those that explain more stand first, so that
small ones do not steal from them.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.characters import characters_damaged
from palinode.core.causes.cut import pages_cut
from palinode.core.causes.extension import forms_gone, markers_shown, part_gone
from palinode.core.causes.files import folders_of_files, styles_missing
from palinode.core.causes.folders import folders_lost
from palinode.core.causes.inner_pages import inner_pages_not_found
from palinode.core.causes.kind_alone import kinds_alone
from palinode.core.causes.merged import merged_by_text, redirects_without_path, split_pages
from palinode.core.causes.messages import script_messages
from palinode.core.causes.numbers import numbers_missing
from palinode.core.causes.old_host import leads_back
from palinode.core.causes.older_copy import older_copy
from palinode.core.causes.other_name import answers_under_another_name
from palinode.core.causes.pages import pages_altered, pages_lost, pages_new, pages_not_judged
from palinode.core.causes.path_policy import path_policy
from palinode.core.causes.recognised import recognised
from palinode.core.causes.redirects import all_to_home, redirects_missing
from palinode.core.causes.rendering import dates_otherwise, language_changed
from palinode.core.causes.section_moved import sections_moved
from palinode.core.causes.sections import sections_lost
from palinode.core.causes.shut_out import search_engines_shut_out
from palinode.core.causes.source_changed import source_changed
from palinode.core.causes.template import template_differs
from palinode.core.causes.years import years_missing
from palinode.core.weight import Weight

Finder = Callable[[Ground, np.ndarray], Iterator[Cause]]

FINDERS: tuple[Finder, ...] = (
    inner_pages_not_found,
    recognised,
    all_to_home,
    source_changed,
    years_missing,
    numbers_missing,
    sections_lost,
    folders_lost,
    merged_by_text,
    pages_lost,
    search_engines_shut_out,
    path_policy,
    sections_moved,
    redirects_without_path,
    redirects_missing,
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
    folders_of_files,
    template_differs,
    pages_altered,
    pages_not_judged,
    split_pages,
    pages_new,
    kinds_alone,
)


def find(ground: Ground) -> list[Cause]:
    """Return the causes of all findings, by weight, then by number of rows.

    A cause weighs what the heaviest of its findings weighs, so that the weights of a move hold for it too.
    """
    free = ground.own
    found: list[Cause] = []
    for finder in FINDERS:
        for cause in finder(ground, free):
            weight = cause.weight if cause.raised else Weight(int(ground.findings.weight[cause.takes].min()))
            found.append(replace(cause, weight=weight))
            free &= ~cause.takes
    return sorted(found, key=lambda cause: (cause.weight, -cause.pages))
