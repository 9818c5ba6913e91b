"""The ledger of a comparison: its rows in columns, their order, and the counts of it."""

from collections import Counter
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.fates import Fate


@dataclass(frozen=True)
class Ledger:
    """The rows of a comparison, worst first; lists and arrays of length n.

    Within a fate, rows stand by section and address, so that every choice of fate and section is a
    run of ranks, and a run's start and length follow from ``counts``.
    """

    fate: np.ndarray
    place: np.ndarray
    """Rank of the row when all are ordered by address."""
    section: list[str]
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
    shut_out: np.ndarray
    """bool: search engines are asked to stay away at the destination, and were not at the source."""

    @property
    def counts(self) -> list[tuple[str, str, int]]:
        """Rows by fate and section, in the order of the rows."""
        found = Counter(zip(self.fate.tolist(), self.section, strict=True))
        return [(Fate(fate).word, section, number) for (fate, section), number in found.items()]

    @property
    def sections(self) -> list[tuple[str, int]]:
        """Rows by section, in order of address."""
        found = Counter(self.section)
        return [(section, found[section]) for section in sorted(found, key=order)]

    def count(self, fate: Fate) -> int:
        """Return how many rows have this fate."""
        return int((self.fate == fate).sum())

    @property
    def crossing(self) -> list[tuple[str, str, str, int]]:
        """Left section, right section (empty for none), fate, rows: the bands of Standing."""
        arrives = np.isin(self.fate, [Fate.ALTERED, Fate.MOVED, Fate.KEPT, Fate.NEW])
        to = [section if there else "" for section, there in zip(self.section, arrives.tolist(), strict=True)]
        for row in np.flatnonzero(arrives & (self.address_change != 0)).tolist():
            to[row] = addresses.section(self.right_address[row])
        start = [section if left else "" for section, left in zip(self.section, self.left.tolist(), strict=True)]
        found = Counter(zip(start, to, self.fate.tolist(), strict=True))
        return [(a, b, Fate(fate).word, number) for (a, b, fate), number in found.items()]


def order(path: str) -> str:
    """Return a key that sorts paths segment by segment, so that a section stays together."""
    return path.replace("/", "\1").replace("?", "\2")


def section(path: str) -> str:
    """Return the first segment of a path with its slash."""
    return "/" + path.split("/", 2)[1].split("?", 1)[0]


def arrange(fate: np.ndarray, paths: list[str]) -> tuple[np.ndarray, np.ndarray, list[str]]:
    """Return the rows' order worst first, each row's place by address, and each row's section."""
    keys = [order(path) for path in paths]
    by_address = np.array(sorted(range(len(keys)), key=keys.__getitem__), np.int64)
    place = np.empty(len(keys), np.int64)
    place[by_address] = np.arange(len(keys))
    ranked = by_address[np.argsort(fate[by_address], kind="stable")] if len(keys) else by_address
    return ranked, place, [section(path) for path in paths]
