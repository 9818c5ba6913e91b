"""Dates or languages are rendered differently: the same text under another setting of language, format or zone."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered, first_of
from palinode.core.checks.pages import kinds
from palinode.core.difference_signs import Sign
from palinode.core.fates import Fate
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST = 2


def dates_otherwise(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages on which dates or times are written otherwise, and nothing else in the text."""
    rows, _ = altered(ground, free, Sign.DATES)
    texts = (kinds.TEXT, kinds.HEADINGS, kinds.TITLE)
    takes = ground.takes(free, rows, *texts)
    count = int(ground.under(takes).sum())
    if count >= _FEWEST:
        yield Cause(
            "dates_otherwise",
            Weight.MEND,
            f"Dates are written otherwise on {number(count, 'page')}",
            f"{first_of(ground, rows)}: but for dates and times the text is the same.",
            "Compare the site's language, date format and time zone in its settings, and the server's own. "
            "Then capture again.",
            takes,
            count,
            {"verdict": "altered"},
            instead="If the days themselves differ by one, it is the time zone; if only their form, the date format.",
        )


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
            {"verdict": "altered"} if (ground.ledger.fate[rows] == Fate.ALTERED).any() else {},
        )
