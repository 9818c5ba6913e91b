"""What causes of altered pages have in common: which rows they hold, and the first of them."""

import numpy as np

from palinode.core.causes.cause import Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger

FIELDS = tuple(kinds.FIELD_OF)


def altered_rows(ledger: Ledger, rows: np.ndarray) -> dict[str, str]:
    """Return what leads to the altered ones among some rows; nothing where what they share leaves all as they were."""
    return {"verdict": "altered"} if (ledger.fate[rows] == Fate.ALTERED).any() else {}


def first_of(ground: Ground, rows: np.ndarray) -> str:
    """Return the path of the first of some rows, and whether there are others."""
    at = int(np.flatnonzero(rows)[0])
    ledger = ground.ledger
    place = ledger.left_place(at) if ledger.left_address[at] else ledger.right_place(at)
    return place + (" and others" if rows.sum() > 1 else "")
