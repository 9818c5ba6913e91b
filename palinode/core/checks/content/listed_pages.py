"""Pages that the sitemaps of both sides list, counted, with those that only the source's lists."""

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.content import verdicts
from palinode.core.checks.looked import KnownAddresses, Looked
from palinode.core.checks.outcome import Items, Row
from palinode.core.discovery import Discovery
from palinode.core.findings import Finding
from palinode.core.ledger import Ledger

_NAME = "Pages in the sitemap"


def listed_pages(looked: Looked, pages: Ledger, found: list[Finding], row: int) -> list[Row]:
    """Return the row of pages in sitemaps, none where the source has no sitemap; what is wrong goes to ``found``."""
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
        return [Row(verdicts.UNKNOWN, f"{before:,}", "", _NAME, note, order=2_000, numbers=numbers)]
    # A page that is lost is missing there for that reason.
    missing = np.flatnonzero(ours & ~theirs & (pages.right != 0))
    missing = missing[np.argsort(pages.place[missing])]
    note, items, verdict = "", None, verdicts.SAME if before == after else verdicts.MORE
    if len(missing):
        verdict = verdicts.MISSING
        places = [pages.left_place(at) for at in missing.tolist()]
        items = Items(
            (places, [pages.right_place(at) for at in missing.tolist()], ["not listed any more"] * len(places), places)
        )
        note = f"{len(places):,} not listed any more: {places[0]}{', and others' if len(places) > 1 else ''}"
        found.append(
            Finding(verdicts.SITEMAP_SHORTER, _NAME, len(places), places[0], "", note, row=row, looks="\n".join(places))
        )
    elif before > after:
        verdict, note = verdicts.SAME, f"{before - after:,} of them are lost"
    return [Row(verdict, f"{before:,}", f"{after:,}", _NAME, note, order=2_000, numbers=numbers, items=items)]


def _listed(known: KnownAddresses, idents: np.ndarray) -> np.ndarray:
    """Return bool (rows,): which pages a sitemap of their side lists."""
    at = known.find(idents)
    found: np.ndarray = (idents != 0) & (at >= 0) & (np.append(known.known, 0)[at] & int(Discovery.SITEMAP) != 0)
    return found
