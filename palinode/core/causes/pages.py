"""What no other cause explains, grouped by fate and section."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Weight
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.wording import number

_CAPTURE_AGAIN = "Then capture the destination again."


def _by_section(ledger: Ledger, rows: np.ndarray) -> Iterator[tuple[str, np.ndarray]]:
    for code in dict.fromkeys(ledger.section[rows].tolist()):
        yield ledger.section_names[code], rows & (ledger.section == code)


def pages_lost(ledger: Ledger, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each section with lost pages."""
    for section, rows in _by_section(ledger, free & (ledger.fate == Fate.LOST)):
        count = int(rows.sum())
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "pages_lost",
            Weight.BLOCKS,
            f"{number(count, 'page')} of {section} {'is' if count == 1 else 'are'} not at the destination",
            f"First of them: {_path(ledger.left_address[first])}, {ledger.detail[first]}.",
            f"Copy what is missing, or retire it with a reason if it is meant to go. {_CAPTURE_AGAIN}",
            rows,
            {"fate": "lost", "section": section},
        )


def pages_altered(ledger: Ledger, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the altered pages."""
    rows = free & (ledger.fate == Fate.ALTERED)
    count = int(rows.sum())
    if count:
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "pages_altered",
            Weight.MEND,
            f"{number(count, 'page')} {'reads' if count == 1 else 'read'} differently",
            f"{_path(ledger.left_address[first])}: {ledger.detail[first]}{'.' if count == 1 else ', and others.'}",
            f"Open each pair and see whether the change is meant. {_CAPTURE_AGAIN}",
            rows,
            {"fate": "altered"},
        )


def pages_not_judged(ledger: Ledger, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages about which nothing can be said."""
    rows = free & (ledger.fate == Fate.UNKNOWN)
    count = int(rows.sum())
    if count:
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "pages_not_judged",
            Weight.MEND,
            f"{number(count, 'page')} could not be judged",
            f"{_path(ledger.left_address[first])}: {ledger.detail[first].removeprefix('not judged: ')}.",
            "Capture the destination again; raise the limits, or open the door, if that is the reason.",
            rows,
            {"fate": "unknown"},
        )


def pages_new(ledger: Ledger, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages that exist only at the destination."""
    rows = free & (ledger.fate == Fate.NEW)
    count = int(rows.sum())
    if count:
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "pages_new",
            Weight.NOTE,
            f"{number(count, 'page')} {'exists' if count == 1 else 'exist'} only at the destination",
            f"{_path(ledger.right_address[first])}{'.' if count == 1 else ' and others.'}",
            "See whether they are meant: an installer leaves samples behind.",
            rows,
            {"fate": "new"},
        )


def _path(address: str) -> str:
    return address[address.find("/", 8) :]
