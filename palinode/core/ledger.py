"""The ledger of a comparison: its rows in columns, their order, and the counts of it."""

from bisect import bisect_left
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.fates import Fate
from palinode.core.fields import Field

_TEMPLATES = 200
"""Templates that are told apart."""
_FEWEST = 2


@dataclass(frozen=True)
class Differences:
    """What differs in k pairs, field by field."""

    row: np.ndarray
    """int64 (k,): rows of the ledger."""
    seen: np.ndarray
    """int64 (k, fields): what both sides say in each field, as one number."""
    said: list[dict[Field, str]]
    """Of each pair, what differs in words, by field."""


@dataclass(frozen=True)
class Ledger:
    """The rows of a comparison, worst first; lists and arrays of length n.

    Within a fate, rows stand by section and address, so that every choice of fate and section is a
    run of ranks, and a run's start and length follow from ``counts``.
    """

    fate: np.ndarray
    place: np.ndarray
    """Rank of the row when all are ordered by address."""
    section: np.ndarray
    """Places in ``section_names``."""
    section_names: list[str]
    """In order of address."""
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
    redirect: np.ndarray
    asked: np.ndarray
    left_status: np.ndarray
    right_status: np.ndarray
    """-1 where nothing was fetched."""
    recognised: np.ndarray
    """What answered at the destination is recognised as (recognition/kind.py)."""
    shut_out: np.ndarray
    """bool: search engines are asked to stay away at the destination, and were not at the source."""
    template: np.ndarray
    """int16: which template the row's page stands in, the most frequent 1; 0 for those of few pages."""
    differences: Differences

    def in_section(self, name: str) -> np.ndarray:
        """Return bool of shape (n,): which rows stand in a section."""
        rows: np.ndarray = self.section == (self.section_names.index(name) if name in self.section_names else -1)
        return rows

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
        """Left section, right section (empty for none), fate, rows: the bands of Standing."""
        names = {name: code for code, name in enumerate([*self.section_names, ""])}
        nowhere = names[""]
        arrives = np.isin(self.fate, [Fate.ALTERED, Fate.MOVED, Fate.KEPT, Fate.NEW])
        to = np.where(arrives, self.section, nowhere)
        for row in np.flatnonzero(arrives & (self.address_change != 0)).tolist():
            to[row] = names.setdefault(addresses.section(self.right_address[row]), len(names))
        start = np.where(self.left != 0, self.section, nowhere)
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


def section(path: str) -> str:
    """Return the first segment of a path with its slash."""
    return "/" + path.split("/", 2)[1].split("?", 1)[0]


def arrange(fate: np.ndarray, paths: list[str]) -> tuple[np.ndarray, np.ndarray, np.ndarray, list[str]]:
    """Return the rows' order worst first, each row's place by address, its section, and the sections' names.

    By address means segment by segment, so that a section stays together; names are in that order.
    """
    if not paths:
        nothing = np.zeros(0, np.int64)
        return nothing, nothing, nothing, []
    # An address holds no line end and no blank, so all are translated at once.
    keys = "\n".join(paths).replace("/", "\1").replace("?", "\2").split("\n")
    by_address = np.array(sorted(range(len(keys)), key=keys.__getitem__), np.int64)
    place = np.empty(len(keys), np.int64)
    place[by_address] = np.arange(len(keys))
    ranked = by_address[np.argsort(fate[by_address], kind="stable")]
    starts, names = [0], []
    while starts[-1] < len(keys):
        names.append(section(paths[by_address[starts[-1]]]))
        after = names[-1].replace("/", "\1") + "\3"
        starts.append(bisect_left(by_address, after, lo=starts[-1], key=keys.__getitem__))
    codes = np.empty(len(keys), np.int64)
    codes[by_address] = np.repeat(np.arange(len(names)), np.diff(starts))
    return ranked, place, codes, names
