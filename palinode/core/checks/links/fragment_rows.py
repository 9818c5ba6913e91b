"""Links to anchors of pages: whether the anchor is there, and was at the source."""

from collections.abc import Iterator

import numpy as np

from palinode.core.checks.links import verdicts
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import PageSet, Row
from palinode.core.checks.shown_rows import ShownRows
from palinode.core.findings import Finding
from palinode.core.fragments import Fragments
from palinode.core.ledger import Ledger

_MOST = 5_000
"""Rows of anchors that are not there."""


def rows(looked: Looked, pages: Ledger, group: str, first: int) -> tuple[list[Row], list[Finding]]:
    """Return a row for each anchor that links lead to and that is not there, and what is wrong.

    ``first`` is the number of the first row.
    """
    left, right = looked.left.fragments, looked.right.fragments
    made: list[Row] = []
    found: list[Finding] = []
    if left is None or right is None or looked.rule.forms:
        return made, found
    shown = ShownRows(pages, looked.rule)
    for target, fragment, linking in _missing(right):
        row = int(shown.find(np.array([target]))[0])
        if row < 0 or len(made) >= _MOST:
            continue
        was = left.has(int(pages.left[row]), fragment) if pages.left[row] else None
        before = f"{pages.left_place(row)}#{fragment}" if pages.left[row] else ""
        after, on = f"{pages.right_place(row)}#{fragment}", shown.of(linking)
        verdict = verdicts.BROKEN if was else verdicts.BEFORE if was is False else verdicts.UNKNOWN
        said = "the anchor is there" if was else "no such anchor" if was is False else ""
        note = {
            verdicts.BROKEN: "the page answers, the anchor is gone",
            verdicts.BEFORE: "no such anchor before, too",
        }.get(verdict, "no such anchor in what was answered; a script may make it")
        count = len(linking)
        if verdict == verdicts.BROKEN:
            address = f"{pages.right_address[row]}#{fragment}"
            where = pages.right_address[int(on[0])] if len(on) else ""
            detail = f"{after}: {note}"
            place = first + len(made)
            found.append(Finding(verdicts.ANCHOR_GONE, address, count, where, address, detail, address, place, on))
        items = PageSet(on) if len(on) else None
        made.append(Row(verdict, before, after, said, note, group, -count, {"pages": count}, items))
    return made, found


def _missing(right: Fragments) -> Iterator[tuple[int, str, np.ndarray]]:
    """Yield target, fragment and the pages that link there, for anchors that a page which was read has not."""
    there = right.missing()
    order = there[np.lexsort((right.fragment[there], right.target[there]))]
    new = np.diff(right.target[order], prepend=-1) != 0
    new |= np.diff(right.fragment[order], prepend=-1) != 0
    for some in np.split(order, np.flatnonzero(new)[1:]) if len(order) else ():
        yield int(right.target[some[0]]), right.texts[int(right.fragment[some[0]])], np.unique(right.page[some])
