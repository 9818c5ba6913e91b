"""An import was cut short: of pages with numbers, all after one are missing."""

import re
from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import Fate
from palinode.core.weight import Weight
from palinode.core.wording import number

_NUMBER = re.compile(r"\d+")
_FEWEST = 4


def numbers_missing(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each section of which all pages above a number are lost, and those below are there."""
    ledger = ground.ledger
    lost = ground.rows(free, kinds.LOST)
    for code in dict.fromkeys(ledger.section[lost].tolist()):
        judged = ~np.isin(ledger.fate, [Fate.RETIRED, Fate.UNKNOWN])
        here = np.flatnonzero((ledger.section == code) & (ledger.left != 0) & judged)
        numbers = np.array([_number(ledger.left_address[row]) for row in here.tolist()])
        here, numbers = here[numbers >= 0], numbers[numbers >= 0]
        gone = lost[here]
        if gone.sum() < _FEWEST or (~gone).sum() < _FEWEST or numbers[~gone].max() >= numbers[gone].min():
            continue
        rows = np.zeros(len(lost), bool)
        rows[here[gone]] = True
        last = int(numbers[~gone].max())
        yield Cause(
            "numbers_missing",
            Weight.BLOCKS,
            f"{ledger.section_names[code]} ends after number {last:,}",
            f"{number(int(gone.sum()), 'page')} with higher numbers are lost, those up to {last:,} are there.",
            "The import or the copy stopped there. Look for its limit of size, time or rows, and import the rest. "
            "Then capture again.",
            ground.takes(free, rows, kinds.LOST),
            int(gone.sum()),
            {"verdict": "lost", "group": ledger.section_names[code]},
        )


def _number(address: str) -> int:
    """Return the last number of an address's last segment and query; -1 for none."""
    found = _NUMBER.findall(addresses.path(address).rstrip("/").rpartition("/")[2])
    return int(found[-1][:15]) if found else -1
