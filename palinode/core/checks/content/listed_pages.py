"""Pages that the sitemaps of both sides list, counted by section, with those that only the source's lists."""

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.content import verdicts
from palinode.core.checks.looked import KnownAddresses, Looked
from palinode.core.checks.outcome import Items, Row
from palinode.core.discovery import Discovery
from palinode.core.findings import Finding
from palinode.core.ledger import Ledger
from palinode.core.wording import number

_NAME = "Pages in the sitemap"
_ORDER = 2_000


def listed_pages(looked: Looked, pages: Ledger, found: list[Finding], row: int) -> list[Row]:
    """Return the rows of pages in sitemaps: of each section that lacks some, and of all; none without a sitemap.

    What is wrong goes to ``found``; the first row is the row ``row`` of the check.
    """
    left, right = looked.left.known, looked.right.known
    if left is None or right is None:
        return []
    forms = looked.rule.forms
    asked = addresses.idents(list(map(looked.rule.reached, pages.right_address))) if forms else pages.right
    ours = _listed(left, pages.left)
    theirs = _listed(right, np.where(pages.right != 0, asked, 0))
    before, after = int(ours.sum()), int(theirs.sum())
    numbers = {"source_sitemap": before, "destination_sitemap": after}
    if not before:
        return []
    if not after:
        note = "no sitemap was found"
        return [Row(verdicts.UNKNOWN, f"{before:,}", "", _NAME, note, order=_ORDER, numbers=numbers)]
    # A page that is lost is missing there for that reason.
    missing = ours & ~theirs & (pages.right != 0)
    lost = int((ours & (pages.right == 0)).sum())
    made = [
        _section(pages, name, (ours & here, theirs & here, missing & here), found, row + at)
        for at, (name, here) in enumerate(_sections(pages, missing))
    ]
    said = {
        f"{int(missing.sum()):,} not listed any more": missing.any(),
        f"{number(lost, 'page is', 'pages are')} lost": lost,
    }
    note = "; ".join(text for text, holds in said.items() if holds)
    verdict = verdicts.MISSING if missing.any() else verdicts.UNREACHED if lost else verdicts.SAME
    if verdict == verdicts.SAME and after > before:
        verdict = verdicts.MORE
    whole = Row(verdict, f"{before:,}", f"{after:,}", _NAME, note, order=_ORDER, numbers=numbers)
    return [*made, whole]


def _sections(pages: Ledger, missing: np.ndarray) -> list[tuple[str, np.ndarray]]:
    """Return the sections of which pages are missing, with bool (rows,) of the rows of each; the most missing first."""
    counts = np.bincount(pages.group[missing], minlength=len(pages.group_names))
    order = np.argsort(-counts, kind="stable")
    return [(pages.group_names[at], pages.group == at) for at in order.tolist() if counts[at]]


def _section(
    pages: Ledger, name: str, listed: tuple[np.ndarray, np.ndarray, np.ndarray], found: list[Finding], row: int
) -> Row:
    """Return the row of a section of which pages are not listed any more, and tell of it."""
    ours, theirs, missing = listed
    at = np.flatnonzero(missing)
    at = at[np.argsort(pages.place[at])].tolist()
    places = [pages.left_place(one) for one in at]
    items = Items((places, [pages.right_place(one) for one in at], ["not listed any more"] * len(at), places))
    note = f"{len(places):,} not listed any more: {places[0]}{', and others' if len(places) > 1 else ''}"
    title = f"{_NAME}, {name}"
    detail = f"{title}: {note}"
    looks = "\n".join(places)
    found.append(Finding(verdicts.SITEMAP_SHORTER, title, len(places), places[0], "", detail, row=row, looks=looks))
    before, after = int(ours.sum()), int(theirs.sum())
    numbers = {"source_sitemap": before, "destination_sitemap": after}
    return Row(verdicts.MISSING, f"{before:,}", f"{after:,}", title, note, order=_ORDER, numbers=numbers, items=items)


def _listed(known: KnownAddresses, idents: np.ndarray) -> np.ndarray:
    """Return bool (rows,): which pages a sitemap of their side lists."""
    at = known.find(idents)
    found: np.ndarray = (idents != 0) & (at >= 0) & (np.append(known.known, 0)[at] & int(Discovery.SITEMAP) != 0)
    return found
