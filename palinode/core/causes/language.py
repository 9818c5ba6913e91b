"""Pages name another language than at the source."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered_rows, first_of
from palinode.core.checks.pages import kinds
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST = 2


def language_changed(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages that name another language."""
    rows = ground.rows(free, kinds.LANGUAGE)
    count = int(rows.sum())
    if count >= _FEWEST:
        takes = ground.takes(free, rows, kinds.LANGUAGE)
        said = ground.findings.detail[int(np.flatnonzero(takes)[0])]
        yield Cause(
            "language_changed",
            Weight.NOTE,
            f"{number(count, 'page')} {'names' if count == 1 else 'name'} another language",
            f"{first_of(ground, rows)}: {said}.",
            "Set the site's language as it was at the source, and install its translations. Then capture again.",
            takes,
            count,
            altered_rows(ground.ledger, rows),
        )
