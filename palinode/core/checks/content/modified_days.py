"""On which days the pages were last modified, by the sitemaps of both sides: search engines ask again by these."""

from collections import Counter

import numpy as np

from palinode.core.checks.content import verdicts
from palinode.core.checks.content.listed_pages import listed, reached
from palinode.core.checks.looked import NO_DAY, Looked
from palinode.core.checks.outcome import Items, Row
from palinode.core.discovery import Discovery
from palinode.core.findings import Finding
from palinode.core.ledger import Ledger
from palinode.core.wording import number

_NAME = "Days of change in the sitemap"
_ORDER = 2_001
_CLOSE = 1
"""Days by which two may differ: a site may tell the day where it stands, and no time of it."""
_MOST_LISTED = 100_000


def modified_days(looked: Looked, pages: Ledger, found: list[Finding], row: int) -> list[Row]:
    """Return the row of days, as the row ``row`` of the check; none where the source's sitemaps tell none.

    A page whose content differs may well have another day. What is wrong goes to ``found``.
    """
    left, right = looked.left.known, looked.right.known
    if left is None or right is None or left.modified is None or right.modified is None or not left.modified.any():
        return []
    both = listed(looked, pages, Discovery.SITEMAP)
    at_left, at_right = reached(looked, pages)
    before, after = _days(left.modified, at_left), _days(right.modified, at_right)
    told = both.left & both.right & (before != NO_DAY)
    lost = told & (after == NO_DAY)
    other = told & ~lost & (np.abs(before - after) > _CLOSE) & (pages.content_change == 0)
    count, wrong = int(told.sum()), int(lost.sum() + other.sum())
    if not count:
        return []
    same = f"{count - wrong:,}"
    numbers = {"source_sitemap": count, "destination_sitemap": count - wrong}
    if not wrong:
        return [Row(verdicts.SAME, f"{count:,}", same, _NAME, "", order=_ORDER, numbers=numbers)]
    note = "; ".join(_said(int(lost.sum()), after[other]))
    at = np.flatnonzero(lost | other)
    at = at[np.argsort(pages.place[at])][:_MOST_LISTED].tolist()
    places = [pages.left_place(one) for one in at]
    what = ["without a day" if lost[one] else "another day, the content is the same" for one in at]
    items = Items(([_word(before[one]) for one in at], [_word(after[one]) for one in at], what, places))
    detail = f"{_NAME}: {note}"
    looks = "\n".join(map(" ".join, zip(*items.columns, strict=True)))
    found.append(Finding(verdicts.DAYS_CHANGED, _NAME, wrong, "", "", detail, row=row, looks=looks))
    return [Row(verdicts.DIFFERENT, f"{count:,}", same, _NAME, note, order=_ORDER, numbers=numbers, items=items)]


def _days(modified: np.ndarray, at: np.ndarray) -> np.ndarray:
    # The place of none is the last.
    found: np.ndarray = np.append(modified, NO_DAY)[at]
    return found


def _said(lost: int, others: np.ndarray) -> list[str]:
    said = [f"{number(lost, 'page has', 'pages have')} no day any more"] if lost else []
    if len(others):
        (day, times), *rest = Counter(others.tolist()).most_common(2)
        most = f": {_word(day)}" if not rest else f", most {_word(day)}" if times > 1 else ""
        said.append(f"{number(len(others), 'page has', 'pages have')} another day and the same content{most}")
    return said


def _word(day: int) -> str:
    return "" if day == NO_DAY else str(np.datetime64(int(day), "D"))
