"""Pages that sitemaps and feeds of both sides list, counted, with those that are not listed any more."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.content import verdicts
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import KnownAddresses, Looked
from palinode.core.checks.outcome import Items, Row
from palinode.core.discovery import Discovery
from palinode.core.findings import Finding
from palinode.core.ledger import Ledger
from palinode.core.wording import number

_ORDER = 2_000


@dataclass(frozen=True)
class _Means:
    """Something in which a site lists its pages."""

    name: str
    evidence: str
    known: Discovery
    lists_all: bool
    """It lists all pages; the other the latest alone, so that one may push another out."""
    shorter: Kind


_MEANS = (
    _Means("Pages in the sitemap", "sitemap", Discovery.SITEMAP, True, verdicts.SITEMAP_SHORTER),
    _Means("Pages in the feeds", "feed", Discovery.FEED, False, verdicts.FEEDS_SHORTER),
)


@dataclass(frozen=True)
class Listed:
    """Which pages both sides list in one place; arrays of bool, one for each row of pages."""

    left: np.ndarray
    right: np.ndarray
    missing: np.ndarray
    """They are there, and not listed any more."""
    lost: np.ndarray
    """They are lost, and missing for that reason."""
    new: np.ndarray
    """The destination alone has them."""
    more: np.ndarray
    """Both sides have them, the destination alone lists them."""

    def within(self, rows: np.ndarray) -> "Listed":
        """Return those of some rows."""
        return Listed(*(one & rows for one in (self.left, self.right, self.missing, self.lost, self.new, self.more)))


def reached(looked: Looked, pages: Ledger) -> tuple[np.ndarray, np.ndarray]:
    """Return the places (int64, -1 for none) of the pages of each row among the known addresses of either side."""
    left, right = looked.left.known, looked.right.known
    assert left is not None and right is not None
    asked = pages.right
    if looked.rule.forms:
        asked = np.where(asked != 0, addresses.idents(list(map(looked.rule.reached, pages.right_address))), 0)
    return tuple(
        np.where(idents != 0, known.find(idents), -1) for known, idents in ((left, pages.left), (right, asked))
    )  # type: ignore[return-value]


def listed(looked: Looked, pages: Ledger, by: Discovery) -> Listed:
    """Return which pages are listed by sitemaps, or feeds."""
    assert looked.left.known is not None and looked.right.known is not None
    places = reached(looked, pages)
    left = _are_known(looked.left.known, places[0], by)
    right = _are_known(looked.right.known, places[1], by)
    is_new, is_lost = pages.left == 0, pages.right == 0
    only = right & ~left
    return Listed(left, right, left & ~right & ~is_lost, left & is_lost, only & is_new, only & ~is_new)


def listed_pages(looked: Looked, pages: Ledger, found: list[Finding], row: int) -> list[Row]:
    """Return the rows of pages that are listed; none of what the source does not have.

    What is wrong goes to ``found``; the first row is the row ``row`` of the check.
    """
    if looked.left.known is None or looked.right.known is None:
        return []
    made: list[Row] = []
    for means in _MEANS:
        made += _rows(means, listed(looked, pages, means.known), pages, found, row + len(made))
    return made


def _rows(means: _Means, both: Listed, pages: Ledger, found: list[Finding], row: int) -> list[Row]:
    before, after = int(both.left.sum()), int(both.right.sum())
    numbers = _numbers(means, both)
    if not before:
        return []
    if not after:
        note = f"no {means.evidence} was found"
        return [Row(verdicts.UNKNOWN, f"{before:,}", "", means.name, note, order=_ORDER, numbers=numbers)]
    made: list[Row] = []
    is_shorter = after + int(both.lost.sum()) < before
    if means.lists_all:
        for name, here in _sections(pages, both.missing):
            made.append(_shorter(means, f"{means.name}, {name}", pages, both.within(here), found, row + len(made)))
    elif is_shorter:
        return [_shorter(means, means.name, pages, both, found, row)]
    is_missing = means.lists_all and both.missing.any()
    verdict = verdicts.MISSING if is_missing else verdicts.UNREACHED if both.lost.any() else verdicts.SAME
    if verdict == verdicts.SAME and after > before:
        verdict = verdicts.MORE
    note = "; ".join(_told(both))
    return [*made, Row(verdict, f"{before:,}", f"{after:,}", means.name, note, order=_ORDER, numbers=numbers)]


def _numbers(means: _Means, both: Listed) -> dict[str, int]:
    return {
        f"source_{means.evidence}": int(both.left.sum()),
        f"destination_{means.evidence}": int(both.right.sum()),
    }


def _told(both: Listed) -> Iterator[str]:
    """Yield what makes the difference between the numbers: it adds up."""
    for rows, one, many in (
        (both.missing, "page is not listed any more", "pages are not listed any more"),
        (both.lost, "page is lost", "pages are lost"),
        (both.new, "page is new", "pages are new"),
        (both.more, "page is listed now", "pages are listed now"),
    ):
        if count := int(rows.sum()):
            yield number(count, one, many)


def _sections(pages: Ledger, missing: np.ndarray) -> list[tuple[str, np.ndarray]]:
    """Return the sections of which pages are missing, with bool (rows,) of the rows of each; the most missing first."""
    counts = np.bincount(pages.group[missing], minlength=len(pages.group_names))
    order = np.argsort(-counts, kind="stable")
    return [(pages.group_names[at], pages.group == at) for at in order.tolist() if counts[at]]


def _shorter(means: _Means, title: str, pages: Ledger, both: Listed, found: list[Finding], row: int) -> Row:
    """Return the row of pages some of which are not listed any more, and tell of it."""
    at = np.flatnonzero(both.missing)
    at = at[np.argsort(pages.place[at])].tolist()
    places = [pages.left_place(one) for one in at]
    items = Items((places, [pages.right_place(one) for one in at], ["not listed any more"] * len(at), places))
    first, *rest = _told(both)
    note = "; ".join([f"{first}: {places[0]}{', and others' if len(places) > 1 else ''}", *rest])
    looks = "\n".join(places)
    found.append(Finding(means.shorter, title, len(places), places[0], "", f"{title}: {note}", row=row, looks=looks))
    before, after = int(both.left.sum()), int(both.right.sum())
    numbers = _numbers(means, both)
    return Row(verdicts.MISSING, f"{before:,}", f"{after:,}", title, note, order=_ORDER, numbers=numbers, items=items)


def _are_known(known: KnownAddresses, at: np.ndarray, by: Discovery) -> np.ndarray:
    """Return bool (rows,): which addresses became known in a way; ``at`` are their places among those known."""
    found: np.ndarray = (at >= 0) & (np.append(known.known, 0)[at] & int(by) != 0)
    return found
