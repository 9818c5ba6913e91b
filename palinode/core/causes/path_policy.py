"""Paths are written otherwise at the destination: a slash at their end came or went, or their letters changed case."""

from collections.abc import Callable, Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import AddressChange
from palinode.core.weight import Weight
from palinode.core.wording import number

_KINDS = (kinds.UNPLANNED, kinds.REDIRECT_MISSING, kinds.REDIRECT_TEMPORARY)
_FEWEST = 3
_POLICIES: tuple[tuple[str, Callable[[str], str], str, str, str], ...] = (
    (
        "slash_policy",
        lambda path: path.rstrip("/"),
        "Addresses end otherwise: with a slash, or without",
        "have a slash at their end on one side alone",
        "Let the new site keep the old form, or say it in the address rule and redirect for good (301) "
        "from one form to the other.",
    ),
    (
        "letter_case",
        lambda path: path.lower(),
        "Letters of paths changed between capitals and small",
        "differ from their old paths in capital letters alone",
        "The new server tells capitals from small letters, or names were made anew. Keep the old names, "
        "or redirect each old path for good (301).",
    ),
)


def path_policy(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each way in which whole paths are written otherwise."""
    ledger = ground.ledger
    moved = ground.rows(free, *_KINDS) & (ledger.address_change == AddressChange.UNPLANNED)
    paths = {
        row: (addresses.path(ledger.left_address[row]), addresses.path(ledger.right_address[row]))
        for row in np.flatnonzero(moved).tolist()
    }
    for kind, fold, title, said, remedy in _POLICIES:
        rows = np.zeros(len(moved), bool)
        rows[[row for row, (left, right) in paths.items() if left != right and fold(left) == fold(right)]] = True
        if rows.sum() < _FEWEST:
            continue
        yield Cause(
            kind,
            Weight.MEND,
            title,
            f"{number(int(rows.sum()), 'page')} {said}.",
            f"{remedy} Then capture again.",
            ground.takes(free, rows, *_KINDS),
            int(rows.sum()),
            {"verdict": "moved"},
        )
