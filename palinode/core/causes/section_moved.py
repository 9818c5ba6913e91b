"""A section stands elsewhere: most of its pages were found below another path, which the address rule does not know."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import AddressChange
from palinode.core.ledger import Ledger
from palinode.core.pairing.sections import SectionMove, learn
from palinode.core.weight import Weight
from palinode.core.wording import number

_KINDS = (kinds.UNPLANNED, kinds.REDIRECT_MISSING)


def moves(ledger: Ledger) -> list[SectionMove]:
    """Return the section moves that the pairs of a ledger show."""
    at = np.flatnonzero((ledger.address_change == AddressChange.UNPLANNED) & (ledger.left != 0) & (ledger.right != 0))
    pairs = [
        (addresses.path(ledger.left_address[row]), addresses.path(ledger.right_address[row])) for row in at.tolist()
    ]
    return learn(pairs, (addresses.path(address) for address in ledger.left_address if address)) if pairs else []


def sections_moved(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each section that moved as a whole, with the line that the address rule wants."""
    ledger = ground.ledger
    moved = ground.rows(free, *_KINDS) & (ledger.address_change == AddressChange.UNPLANNED)
    for move in moves(ledger) if moved.any() else []:
        rows = np.zeros(len(moved), bool)
        for row in np.flatnonzero(moved).tolist():
            left, right = addresses.path(ledger.left_address[row]), addresses.path(ledger.right_address[row])
            rows[row] = (
                left.startswith(move.left + "/")
                and right.startswith(move.right + "/")
                and left[len(move.left) :].strip("/") == right[len(move.right) :].strip("/")
            )
        if not rows.any():
            continue
        moved &= ~rows
        whole = not move.left
        yield Cause(
            "site_in_folder" if whole else "section_moved",
            Weight.MEND,
            f"The whole site stands in {move.right}"
            if whole
            else f"{move.left} became {move.right or 'the top folder'}",
            f"{move.pages:,} of {number(move.of, 'page')} stand there; the address rule does not say so.",
            f"If it is meant, add the line “{move.line}” to the address rule; if not, the copy lies one folder "
            "too deep: move it up, and correct the site's own address in its settings. Then compare again."
            if whole
            else f"Add the line “{move.line}” to the address rule, and a permanent redirect (301) for the section. "
            "Then compare again.",
            ground.takes(free, rows, *_KINDS),
            int(rows.sum()),
            {"verdict": "moved"},
            line=move.line,
        )
