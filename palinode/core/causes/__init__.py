"""Causes: rows of a ledger that share one likely reason and one remedy.

A new cause is one file with a function from a Ledger to causes, named here. Each row that blocks or
wants mending belongs to the first cause, in this order, that takes it.
"""

from collections.abc import Callable, Iterator

import numpy as np

from palinode.core.causes.cause import Cause
from palinode.core.causes.inner_pages import inner_pages_not_found
from palinode.core.causes.pages import pages_altered, pages_lost, pages_new, pages_not_judged
from palinode.core.causes.recognised import recognised
from palinode.core.causes.redirects import all_to_home, redirects_missing
from palinode.core.causes.sections import sections_lost
from palinode.core.causes.shut_out import search_engines_shut_out
from palinode.core.ledger import Ledger

Finder = Callable[[Ledger, np.ndarray], Iterator[Cause]]

FINDERS: tuple[Finder, ...] = (
    inner_pages_not_found,
    recognised,
    all_to_home,
    sections_lost,
    pages_lost,
    search_engines_shut_out,
    redirects_missing,
    pages_altered,
    pages_not_judged,
    pages_new,
)


def find(ledger: Ledger) -> list[Cause]:
    """Return the causes of a ledger, by weight, then by number of rows."""
    explained = np.zeros(len(ledger.fate), bool)
    found: list[Cause] = []
    for finder in FINDERS:
        for cause in finder(ledger, ~explained):
            found.append(cause)
            explained |= cause.rows
    return sorted(found, key=lambda cause: (cause.weight, -cause.number))
