"""A whole folder below a section is lost: a folder of uploads, a part of the tree."""

from collections import Counter
from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import Fate
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST = 3


def folders_lost(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each folder, the topmost first, of which every page that was judged is lost."""
    ledger = ground.ledger
    lost = ground.rows(free, kinds.LOST)
    judged = (ledger.left != 0) & ~np.isin(ledger.fate, [Fate.RETIRED, Fate.UNKNOWN])
    if lost.sum() < _FEWEST:
        return
    folders = {row: _folders(ledger.left_address[row]) for row in np.flatnonzero(judged).tolist()}
    every = Counter(folder for some in folders.values() for folder in some)
    gone = Counter(folder for row in np.flatnonzero(lost).tolist() for folder in folders.get(row, ()))
    for folder in sorted(gone, key=lambda name: (name.count("/"), name)):
        rows = np.zeros(len(lost), bool)
        rows[[row for row in np.flatnonzero(lost).tolist() if folder in folders[row]]] = True
        count = int(rows.sum())
        if gone[folder] < every[folder] or count < _FEWEST:
            continue
        lost &= ~rows
        yield Cause(
            "folder_lost",
            Weight.BLOCKS,
            f"The folder {folder} is not at the destination",
            f"All {number(count, 'page')} in it are lost; others of its section are there.",
            "Copy the folder, or import its part again. Then capture again.",
            ground.takes(free, rows, kinds.LOST),
            count,
            {"verdict": "lost"},
        )


def _folders(address: str) -> tuple[str, ...]:
    """Return the folders below the section that an address stands in, the topmost first."""
    parts = addresses.path(address).partition("?")[0].split("/")[1:-1]
    return tuple("/" + "/".join(parts[:depth]) for depth in range(2, len(parts) + 1))
