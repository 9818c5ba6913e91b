"""Terms that were dropped while what was filed under them went to another one."""

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from palinode.core.checks.content.counted_rows import PagesOf, locus
from palinode.core.checks.content.facing_tables import FacingTable
from palinode.core.platforms.facing import NOBODY
from palinode.core.platforms.items import named

_SHARE = 0.8
"""Of what was filed under a dropped term, that another one must have grown by at least."""


class DroppedTerm(NamedTuple):
    """A term that was dropped, and the one that grew."""

    locus: str
    """Of the findings about terms of its kind."""
    dropped: str
    before: int
    """How many were filed under it."""
    grown: str
    had: int
    has: int
    pages: tuple[int, ...]
    """Rows of pages on which it is seen; NOT_SEEN for none."""
    tables: frozenset[str]
    """Names of the tables in which its rows stood, without prefix."""


def dropped_terms(table: FacingTable, pages: PagesOf | None) -> Iterator[DroppedTerm]:
    """Yield the terms of a table that are missing, each with the one of its kind that grew most, if by as much."""
    tied, left = table.tied, table.left
    if tied is None:
        return
    grown = [
        (tied.after[other] - tied.before[at], at, other)
        for at, other in enumerate(table.facing.right.tolist())
        if other != NOBODY and tied.after[other] > tied.before[at]
    ]
    for at in np.flatnonzero(table.facing.right == NOBODY).tolist():
        alike = [one for one in grown if left.type[one[1]] == left.type[at]]
        if not tied.before[at] or not alike or max(alike)[0] < _SHARE * tied.before[at]:
            continue
        _, most, other = max(alike)
        noun, status = named(left.items.table, left.type[at], left.status[at])
        seen = (int(pages.left[at]),) if pages is not None else ()
        names = [left.title[one] or left.slug[one] for one in (at, most)]
        yield DroppedTerm(
            locus=locus(table, noun, status),
            dropped=names[0],
            before=tied.before[at],
            grown=names[1],
            had=tied.before[most],
            has=tied.after[other],
            pages=seen,
            tables=_tables(table),
        )


def _tables(table: FacingTable) -> frozenset[str]:
    platform, name = table.installations[0].platform, table.left.items.table.name
    return frozenset({name, *(one.name for one in platform.more if one.of == name)})
