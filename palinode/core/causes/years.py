"""Some years of a section are missing: a folder of uploads was not copied, or an import stopped at a date."""

import re
from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight
from palinode.core.wording import number

_YEAR = re.compile(r"(?<!\d)(?:19|20)\d\d(?!\d)")
_FEWEST = 3
_SHARE = 0.9
"""Of the pages of a year, how many must be lost, or there, for the year to count as that."""


def years_missing(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each section of which all years before or after one are lost, and the others are there."""
    ledger = ground.ledger
    lost = ground.rows(free, kinds.LOST)
    for code in dict.fromkeys(ledger.section[lost].tolist()):
        here = np.flatnonzero((ledger.section == code) & (ledger.left != 0) & ~_unjudged(ledger))
        years = np.array([_year(ledger.left_address[row]) for row in here.tolist()])
        gone = _gone(years, lost[here])
        if gone is None:
            continue
        rows = np.zeros(len(lost), bool)
        rows[here[np.isin(years, gone)]] = True
        rows &= lost
        if rows.sum() < _FEWEST:
            continue
        section = ledger.section_names[code]
        early = gone[0] == years[years > 0].min()
        when = f"before {gone[-1] + 1}" if early else f"after {gone[0] - 1}"
        span = f"{gone[0]} to {gone[-1]}" if len(gone) > 1 else str(gone[0])
        yield Cause(
            "years_missing",
            Weight.BLOCKS,
            f"{section} {when} is not at the destination",
            f"{number(int(rows.sum()), 'page')} of {span} are lost; the other years are there.",
            (
                "Copy the folders of these years: a limit of size or time often leaves the oldest out."
                if early
                else "The import or the copy stopped there. Look for its limit of size or time, and import the rest."
            )
            + " Then capture again.",
            ground.takes(free, rows, kinds.LOST),
            int(rows.sum()),
            {"verdict": "lost", "group": section},
        )


def _gone(years: np.ndarray, lost: np.ndarray) -> list[int] | None:
    """Return the years that are lost, if they are all those before or after one; None if they are not so."""
    every = np.unique(years[years > 0])
    share = np.array([lost[years == year].mean() for year in every])
    gone = share >= _SHARE
    if not gone.any() or gone.all() or ((share > 1 - _SHARE) & ~gone).any():
        return None
    # Once around from lost to there: the lost ones stand at one end.
    return every[gone].tolist() if np.count_nonzero(np.diff(gone.astype(int))) == 1 else None


def _unjudged(ledger: Ledger) -> np.ndarray:
    return np.isin(ledger.fate, [Fate.RETIRED, Fate.UNKNOWN])


def _year(address: str) -> int:
    found = _YEAR.search(address, address.find("/", 8))
    return int(found[0]) if found else 0
