"""Differences told by fingerprints: two pages that say the same in such a field have the same one, whoever they are."""

from collections.abc import Iterator

import numpy as np

from palinode.core.differences.difference import Difference, DifferingPairs
from palinode.core.facts import text_print
from palinode.core.fields import Field

_FIELDS = (Field.ROBOTS, Field.LANGUAGE, Field.STRUCTURED)
_FEWEST = 2


def by_prints(pairs: DifferingPairs) -> Iterator[Difference]:
    """Yield differences that are the same wherever both fingerprints are."""
    for field in _FIELDS:
        at = pairs.differ(field)
        if field == Field.ROBOTS:
            shut = at[pairs.noindex[at]]
            if len(shut):
                yield Difference(field, "noindex", "noindex", shut, noindex=True)
            at = at[~pairs.noindex[at]]
        both = np.stack([pairs.left.prints[at, field], pairs.right.prints[at, field]], axis=1)
        for pair, here in _groups(both):
            said = "robots differ" if field == Field.ROBOTS else f"{field.label} differs"
            alike = " in the same way" if len(here) > 1 else ""
            yield Difference(field, f"{pair[0]} {pair[1]}", f"{said}{alike}", at[here], looks=said)


def descriptions(pairs: DifferingPairs) -> Iterator[Difference]:
    """Yield one difference for descriptions that are gone, and one for each that several pages have now."""
    at = pairs.differ(Field.DESCRIPTION)
    nothing = text_print("")
    for (right,), here in _groups(pairs.right.prints[at, Field.DESCRIPTION][:, None]):
        if right == nothing:
            yield Difference(Field.DESCRIPTION, "none", "description missing", at[here])
        elif len(here) >= _FEWEST:
            yield Difference(Field.DESCRIPTION, str(right), "the same description as on other pages", at[here])


def _groups(keys: np.ndarray) -> Iterator[tuple[tuple[int, ...], np.ndarray]]:
    """Yield each row of keys (m, columns) with the places where it stands."""
    if not len(keys):
        return
    rows, which = np.unique(keys, axis=0, return_inverse=True)
    which = which.reshape(-1)
    order = np.argsort(which, kind="stable")
    for row, here in zip(rows.tolist(), np.split(order, np.flatnonzero(np.diff(which[order])) + 1), strict=True):
        yield tuple(row), here
