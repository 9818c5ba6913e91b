"""What causes of altered pages have in common: which rows they hold, and the first of them."""

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Ground
from palinode.core.checks.pages import kinds
from palinode.core.difference_signs import Sign

FIELDS = tuple(kinds.FIELD_OF)


def altered(ground: Ground, free: np.ndarray, sign: Sign) -> tuple[np.ndarray, np.ndarray]:
    """Return the rows with free findings of fields that show a sign (bool, rows), and those findings (bool)."""
    rows = ground.rows(free, *FIELDS) & ground.show(sign)
    return rows, ground.takes(free, rows, *FIELDS)


def first_of(ground: Ground, rows: np.ndarray) -> str:
    """Return the path of the first of some rows, and whether there are others."""
    at = int(np.flatnonzero(rows)[0])
    address = ground.ledger.left_address[at] or ground.ledger.right_address[at]
    return addresses.path(address) + (" and others" if rows.sum() > 1 else "")
