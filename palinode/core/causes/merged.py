"""Redirects without the path, and pages that were merged into others or split: several addresses share one page."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST = 3


def redirects_without_path(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each page to which several others are redirected, and one for the rest."""
    ledger, rows = ground.ledger, ground.rows(free, kinds.MERGED)
    targets, count = np.unique(ledger.right[rows], return_counts=True)
    for target in targets[np.argsort(-count)].tolist():
        here = rows & (ledger.right == target)
        at = int(np.flatnonzero(here)[0])
        path, pages = ledger.right_place(at), int(here.sum())
        many = pages >= _FEWEST
        yield Cause(
            "redirects_without_path" if many else "pages_merged",
            Weight.BLOCKS if many else Weight.MEND,
            f"{number(pages, 'old address', 'old addresses')} {'leads' if pages == 1 else 'lead'} to {path} alone",
            f"{ledger.left_place(at)}{'' if pages == 1 else ' and others'} had "
            f"{'a page' if pages == 1 else 'pages'} of {'its' if pages == 1 else 'their'} own at the source.",
            "Look for a rule that drops the rest of the path, and redirect each old address to its own successor; "
            "or accept it, if the pages were merged into this one. Then capture again.",
            ground.takes(free, here, kinds.MERGED),
            pages,
            {"verdict": "moved"},
            raised=many,
        )


def merged_by_text(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for lost pages whose text stands in other pages now."""
    merged = ground.beside.parts.merged
    rows = ground.rows(free, kinds.LOST)
    rows &= np.isin(ground.ledger.left, np.array(sorted(merged), np.int64))
    count = int(rows.sum())
    if count:
        at = int(np.flatnonzero(rows)[0])
        yield Cause(
            "merged_by_text",
            Weight.BLOCKS,
            f"The text of {number(count, 'lost page')} stands in other pages",
            f"{ground.ledger.left_place(at)}: {ground.ledger.detail[at]}.",
            "If they were merged on purpose, redirect each old address for good (301) to the page that holds its text, "
            "or pair them by hand. Then capture again.",
            ground.takes(free, rows, kinds.LOST),
            count,
            {"verdict": "lost"},
        )


def split_pages(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each page whose text is spread over several new pages."""
    split = ground.beside.parts.split
    rows = ground.rows(free, kinds.NEW)
    for path in dict.fromkeys(split.values()):
        idents = [ident for ident, whole in split.items() if whole == path]
        here = rows & np.isin(ground.ledger.right, np.array(idents, np.int64))
        count = int(here.sum())
        if count:
            first = ground.ledger.right_place(int(np.flatnonzero(here)[0]))
            yield Cause(
                "page_split",
                Weight.NOTE,
                f"{path} was split: {number(count, 'new page has', 'new pages have')} its text",
                f"{first}{'' if count == 1 else ' and others'} {'says' if count == 1 else 'say'} what stood there.",
                "If it is meant, accept it; and see that from the old address all parts are found.",
                ground.takes(free, here, kinds.NEW),
                count,
                {"verdict": "new"},
            )
