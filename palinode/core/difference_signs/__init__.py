"""Signs of why the two pages of a pair differ: damaged characters, cut texts, messages, a missing form.

A new sign is one file with a function of both pages, a member of :class:`Sign`, and its line here.
"""

from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np

from palinode.core.difference_signs import characters, dates, ending, markers, messages
from palinode.core.difference_signs.old import OldAddresses
from palinode.core.difference_signs.sign import Sign
from palinode.core.difference_signs.text import Text, read

__all__ = ["MOST_READ", "OldAddresses", "RowSigns", "Sign", "Text", "chosen", "gather", "read", "signs_of"]

MOST_READ = 3_000
"""Pairs of a comparison whose texts are read for signs; for others it is concluded from those."""

FIRST_READ = 400
"""After so many no more are read, if all that differ alike show the same."""
_SHARE = 0.95
_ALL = 0.99


def _form_gone(left: Text, right: Text) -> bool:
    return left.forms > 0 and right.forms == 0


_SIGNS: tuple[tuple[Sign, Callable[[Text, Text], bool]], ...] = (
    (Sign.DAMAGED, characters.damaged),
    (Sign.CUT, ending.cut),
    (Sign.MARKERS, markers.shown),
    (Sign.MESSAGES, messages.shown),
    (Sign.DATES, dates.otherwise),
    (Sign.FORM_GONE, _form_gone),
)


def signs_of(left: Text, right: Text, old: OldAddresses) -> tuple[Sign, frozenset[str]]:
    """Return the signs of a pair, and the texts of parts that are gone; ``old`` tells addresses of the source."""
    found = Sign.NONE
    for sign, shows in _SIGNS:
        if shows(left, right):
            found |= sign
    if old.among(right.written):
        found |= Sign.LEADS_BACK
    texts = ending.gone(left, right)
    return (found | Sign.PART_GONE if texts else found), texts


@dataclass(frozen=True)
class RowSigns:
    """The signs on the rows of a ledger."""

    signs: np.ndarray
    """int32 (rows,): bits of Sign."""
    gone: Mapping[int, frozenset[str]] = field(default_factory=dict)
    """Row to the texts of parts that are gone there."""

    @classmethod
    def nothing(cls, rows: int) -> "RowSigns":
        """Return what holds where no pair was read."""
        return cls(np.zeros(rows, np.int32))

    def show(self, sign: Sign) -> np.ndarray:
        """Return bool (rows,): which show a sign."""
        found: np.ndarray = self.signs & int(sign) != 0
        return found


def chosen(rows: np.ndarray, own: np.ndarray) -> np.ndarray:
    """Return those of some rows whose pairs are read, at most MOST_READ: FIRST_READ evenly, then the others.

    Where there are more, those that differ as no others do (``own``, bool, a row each) go before those that do not.
    """
    if len(rows) > MOST_READ:
        alone, others = rows[own], rows[~own]
        rows = np.sort(np.concatenate([alone, _evenly(others, MOST_READ - min(MOST_READ, len(alone)))]))
        rows = _evenly(rows, MOST_READ)
    first = np.zeros(len(rows), bool)
    first[np.linspace(0, max(0, len(rows) - 1), min(FIRST_READ, len(rows))).astype(np.int64)] = True
    found: np.ndarray = np.concatenate([rows[first], rows[~first]])
    return found


def _evenly(rows: np.ndarray, number: int) -> np.ndarray:
    """Return at most so many of some rows, evenly."""
    if len(rows) <= number:
        return rows
    found: np.ndarray = rows[np.linspace(0, len(rows) - 1, number).astype(np.int64)] if number else rows[:0]
    return found


def settled(read_pairs: Mapping[int, tuple[Sign, frozenset[str]]], changed: np.ndarray) -> bool:
    """Whether the pairs read so far tell of all others: those in which the same fields differ show the same signs."""
    groups: dict[int, Counter[Sign]] = {}
    for row, (sign, _) in read_pairs.items():
        groups.setdefault(int(changed[row]), Counter())[sign] += 1
    return all(most >= _ALL * sum(tally.values()) for tally in groups.values() for _, most in tally.most_common(1))


def gather(
    number: int, read_pairs: Mapping[int, tuple[Sign, frozenset[str]]], differing: np.ndarray, changed: np.ndarray
) -> RowSigns:
    """Return the signs of a ledger of ``number`` rows from those pairs that were read.

    A pair among ``differing`` (rows) that was not read shows what nearly all those show in which the same
    fields differ (``changed``, bits, a row each).
    """
    signs = np.zeros(number, np.int32)
    for row, (sign, _) in read_pairs.items():
        signs[row] = int(sign)
    unread = np.setdiff1d(differing, np.array(list(read_pairs), np.int64))
    for bits in np.unique(changed[unread]).tolist():
        alike = [sign for row, (sign, _) in read_pairs.items() if changed[row] == bits]
        tally = Counter(one for sign in alike for one in sign)
        common = sum(one for one, count in tally.items() if alike and count >= _SHARE * len(alike))
        signs[unread[changed[unread] == bits]] = int(common)
    return RowSigns(signs, {row: texts for row, (_, texts) in read_pairs.items() if texts})
