"""The ledger of a comparison: its rows in columns, their order, and the counts of it."""

from bisect import bisect_left
from dataclasses import dataclass, field

import numpy as np

from palinode.core import address as addresses
from palinode.core.differences import Difference
from palinode.core.fates import Fate
from palinode.core.fields import Field

_TEMPLATES = 200
"""Templates that are told apart."""
_FEWEST = 2
MOST_GROUPS = 200
"""Groups of the rows of a check at most."""
OTHERS = "other sections"
"""The group of those sections that are none of their own."""


@dataclass(frozen=True)
class Differences:
    """What differs in k pairs, field by field."""

    row: np.ndarray
    """int64 (k,): rows of the ledger."""
    seen: np.ndarray
    """int64 (k, fields): what both sides say in each field, as one number."""
    said: list[dict[Field, str]]
    """Of each pair, what differs in words, by field, but for what many pages share."""
    whole: np.ndarray
    """int32 (k,): bits of the fields in which a page differs in more than single differences name."""
    told: list[Difference] = field(default_factory=list)
    """The differences one by one; their places are rows of the ledger."""


@dataclass(frozen=True)
class Ledger:
    """The rows of a comparison, worst first; lists and arrays of length n.

    Within a fate, rows stand by group and address, so that every choice of fate and group is a
    run of ranks, and a run's start and length follow from ``counts``.
    """

    fate: np.ndarray
    place: np.ndarray
    """Rank of the row when all are ordered by group and address."""
    section: np.ndarray
    """Places in ``section_names``."""
    section_names: list[str]
    """In order of address."""
    group: np.ndarray
    """Places in ``group_names``; a group is a section, or what is left where there are too many."""
    group_names: list[str]
    left: np.ndarray
    """Identity of the left page; 0 where there is none."""
    right: np.ndarray
    """Identity of the right page; 0 where there is none."""
    left_address: list[str]
    left_title: list[str]
    right_address: list[str]
    detail: list[str]
    found_by: np.ndarray
    certainty: np.ndarray
    address_change: np.ndarray
    content_change: np.ndarray
    """Bits of the fields that differ on the page alone."""
    shared_change: np.ndarray
    """Bits of the fields in which it differs as many others do; they leave its fate alone."""
    redirect: np.ndarray
    asked: np.ndarray
    left_status: np.ndarray
    right_status: np.ndarray
    """-1 where nothing was fetched."""
    recognised: np.ndarray
    """What answered at the destination is recognised as (recognition/kind.py)."""
    shut_out: np.ndarray
    """bool: search engines are asked to stay away at the destination, and were not at the source."""
    visits: np.ndarray
    """int64: how often people asked for the page at the source, by imported logs; -1 where there are none."""
    last_visit: np.ndarray
    """int32: the day on which they did last, as 20261112; -1 for never."""
    template: np.ndarray
    """int16: which template the row's page stands in, the most frequent 1; 0 for those of few pages."""
    differences: Differences
    homes: tuple[str, str]
    """Home page's address of the main host of either side."""

    def in_section(self, name: str) -> np.ndarray:
        """Return bool of shape (n,): which rows stand in a section."""
        rows: np.ndarray = self.section == (self.section_names.index(name) if name in self.section_names else -1)
        return rows

    def left_place(self, row: int) -> str:
        """Return where a row's source page stands: its path, with the host before it where that is a further one."""
        return addresses.places([self.left_address[row]], self.homes[0])[0]

    def right_place(self, row: int) -> str:
        """The same of its page at the destination."""
        return addresses.places([self.right_address[row]], self.homes[1])[0]

    def rows_of(self, idents: np.ndarray) -> np.ndarray:
        """Return the rows (int64) of left pages by their identities, all of which must be there."""
        order = np.argsort(self.left)
        found: np.ndarray = order[np.searchsorted(self.left[order], idents)]
        return found

    def count(self, fate: Fate) -> int:
        """Return how many rows have this fate."""
        return int((self.fate == fate).sum())

    @property
    def crossing(self) -> list[tuple[str, str, str, int]]:
        """Left group, right group (empty for none), fate, rows: the bands of Standing."""
        names = {name: code for code, name in enumerate([*self.group_names, ""])}
        nowhere = names[""]
        arrives = np.isin(self.fate, [Fate.ALTERED, Fate.MOVED, Fate.KEPT, Fate.NEW])
        to = np.where(arrives, self.group, nowhere)
        for row in np.flatnonzero(arrives & (self.address_change != 0)).tolist():
            name = addresses.section(self.right_address[row], self.homes[1])
            if name not in names and len(names) >= 2 * MOST_GROUPS:
                name = OTHERS
            to[row] = names.setdefault(name, len(names))
        start = np.where(self.left != 0, self.group, nowhere)
        words, fates = list(names), len(Fate)
        bands, first, count = np.unique(
            (start * len(words) + to) * fates + self.fate, return_index=True, return_counts=True
        )
        return [
            (words[band // fates // len(words)], words[band // fates % len(words)], Fate(band % fates).word, number)
            for band, number in zip(bands[first.argsort()].tolist(), count[first.argsort()].tolist(), strict=True)
        ]


def templates(prints: np.ndarray) -> np.ndarray:
    """Return int16 (n,): the number of each row's template, by fingerprints (int64, n); 0 for those of few pages."""
    _, which, count = np.unique(prints, return_inverse=True, return_counts=True)
    order = np.argsort(-count, kind="stable")
    number = np.zeros(len(count), np.int16)
    named = order[:_TEMPLATES][count[order[:_TEMPLATES]] >= _FEWEST]
    number[named] = np.arange(1, len(named) + 1)
    found: np.ndarray = number[which]
    return found


@dataclass(frozen=True)
class Arrangement:
    """How n rows stand."""

    order: np.ndarray
    """int64 (n,): the rows, worst first, then by group, the most visited first, then by address."""
    place: np.ndarray
    """int64 (n,): place of each row when all are ordered by group and address."""
    section: np.ndarray
    """int64 (n,): places in ``section_names``."""
    section_names: list[str]
    """In order of address."""
    group: np.ndarray
    """int64 (n,): places in ``group_names``."""
    group_names: list[str]


def arrange(fate: np.ndarray, places: list[str], visits: np.ndarray) -> Arrangement:
    """Return how rows stand, by their fates, where their pages stand on their side (address.places), and their visits.

    By address means segment by segment, so that a section stays together. A section is a group of its own, unless there
    are too many: then those with the fewest rows stand together behind the others.
    """
    if not places:
        nothing = np.zeros(0, np.int64)
        return Arrangement(nothing, nothing, nothing, [], nothing, [])
    # An address holds no line end and no blank, so all are translated at once.
    keys = "\n".join(places).replace("/", "\1").replace("?", "\2").split("\n")
    by_address = np.array(sorted(range(len(keys)), key=keys.__getitem__), np.int64)
    starts, names = [0], []
    while starts[-1] < len(keys):
        names.append(addresses.section_of(places[by_address[starts[-1]]]))
        after = names[-1].replace("/", "\1") + "\3"
        starts.append(bisect_left(by_address, after, lo=starts[-1], key=keys.__getitem__))
    sizes = np.diff(starts)
    codes = np.empty(len(keys), np.int64)
    codes[by_address] = np.repeat(np.arange(len(names)), sizes)
    group, group_names = codes, names
    if len(names) > MOST_GROUPS:
        own = np.sort(np.argsort(-sizes, kind="stable")[: MOST_GROUPS - 1])
        to = np.full(len(names), len(own))
        to[own] = np.arange(len(own))
        group, group_names = to[codes], [*(names[at] for at in own.tolist()), OTHERS]
        by_address = by_address[np.argsort(group[by_address], kind="stable")]
    place = np.empty(len(keys), np.int64)
    place[by_address] = np.arange(len(keys))
    order = by_address[np.lexsort((-visits[by_address], group[by_address], fate[by_address]))]
    return Arrangement(order, place, codes, names, group, group_names)
