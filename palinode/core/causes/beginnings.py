"""What pages' addresses begin with changed in the same way, over many sections: a permalink setting, a folder."""

from collections import Counter
from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core import rule
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import AddressChange, Redirect
from palinode.core.ledger import Ledger
from palinode.core.pairing import patterns
from palinode.core.pairing.patterns import Segments
from palinode.core.weight import Weight
from palinode.core.wording import number

_KINDS = (kinds.UNPLANNED, kinds.REDIRECT_MISSING)
_FEWEST = 5
_SECTIONS = 2
"""From so many sections on it is one change for all of them; of one section alone causes/section_moved.py tells."""
_MOST = 5


def beginnings_changed(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each change of what addresses begin with that several sections share.

    Pages whose address began like that and that are lost belong to it: what did not arrive of what was moved.
    """
    ledger = ground.ledger
    moved = ground.rows(free, *_KINDS) & (ledger.address_change == AddressChange.UNPLANNED)
    lost = ground.rows(free, kinds.LOST)
    if moved.sum() < _FEWEST:
        return
    began = {row: _began(ledger, row) for row in np.flatnonzero(moved).tolist()}
    # What has no number in it, a line of the address rule can say (section_moved.py).
    numbered = (one for one in began.values() if one and one[0] != one[1] and any("0" in part for part in one[0]))
    commonest = Counter(numbered).most_common(_MOST)
    for (old, new), count in commonest:
        arrived = np.zeros(len(moved), bool)
        arrived[[row for row, one in began.items() if one == (old, new)]] = True
        gone = _beginning_with(ledger, lost, old)
        if count < _FEWEST or len(np.unique(ledger.section[arrived])) < _SECTIONS:
            continue
        lost &= ~gone
        rows = arrived | gone
        every, missing = int(rows.sum()), int(gone.sum())
        first = int(np.flatnonzero(arrived)[0])
        line = _line(old, new, ledger.left_address[first])
        left = f"; {number(missing, 'page')} {'is' if missing == 1 else 'are'} gone" if missing else ""
        yield Cause(
            "beginnings_changed",
            Weight.BLOCKS if missing else Weight.MEND,
            f"{_said(old, new, ledger.left_address[first])}: {count:,} of {number(every, 'page')} arrived{left}",
            f"{addresses.path(ledger.left_address[first])} is {addresses.path(ledger.right_address[first])} now, "
            "and so it is with the others; the address rule does not say so.",
            "Set the form of addresses (permalinks) as it was at the source; if it is meant to change, "
            + (f"add the line “{line}” to the address rule, and " if line else "")
            + "redirect each old address to its page for good (301)."
            + (" Import the pages that are gone." if missing else "")
            + " Then capture again.",
            # A redirect to another page is a fault of its own.
            ground.takes(free, rows & (ledger.redirect != Redirect.ELSEWHERE), *_KINDS, kinds.LOST),
            every,
            {"verdict": "moved"},
            line=line,
        )


def _began(ledger: Ledger, row: int) -> tuple[Segments, Segments] | None:
    return patterns.beginnings(addresses.path(ledger.left_address[row]), addresses.path(ledger.right_address[row]))


def _beginning_with(ledger: Ledger, rows: np.ndarray, old: Segments) -> np.ndarray:
    """Return bool (rows,): those of some rows whose old path begins like that, with something after it."""
    found = np.zeros(len(rows), bool)
    for row in np.flatnonzero(rows).tolist():
        path = patterns.folded(addresses.path(ledger.left_address[row]))
        found[row] = len(path) > len(old) and path[: len(old)] == old
    return found


def _line(old: Segments, new: Segments, example: str) -> str:
    """Return the line of the address rule that says it; empty where none does."""
    written = patterns.segments(addresses.path(example))[: len(old)]
    if any("0" in one and not part.isdigit() for one, part in zip(old, written, strict=True)) or "?" in "".join(old):
        return ""
    left = "/".join(rule.NUMBER if part.isdigit() else part for part in written)
    return f"/{left}/ -> /{''.join(f'{part}/' for part in new)}"


def _said(old: Segments, new: Segments, example: str) -> str:
    """Say what became of a beginning, by one address that had it."""
    written = patterns.segments(addresses.path(example))[: len(old)]
    is_date = set(old) == {"0"} and len(written[0]) == 4 and written[0][:2] in ("19", "20")
    what = "The date" if is_date else f"/{'/'.join(written)}"
    after = f"/{'/'.join(new)}"
    return (
        f"{what} went out of the address of every page"
        if not new
        else f"{what} became {after} in the address of every page"
    )
