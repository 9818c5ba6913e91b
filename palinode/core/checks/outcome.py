"""What a check makes of its inputs: rows, findings, and what it could not look at."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from palinode.core.findings import Findings, ranked
from palinode.core.ledger import MOST_GROUPS


@dataclass(frozen=True)
class Rows:
    """n rows of a ledger in their order; lists and arrays of length n.

    They stand by verdict, then group; where groups are headings it is the other way round. Every choice of a verdict
    and a group is a run of ranks, and a run's start and length follow from the counts.
    """

    verdict: np.ndarray
    """int16: places among the check's verdicts."""
    group: np.ndarray
    """Places in ``groups``."""
    groups: list[str]
    """In the order in which they stand; one empty name where there are none."""
    place: np.ndarray
    """int64: place of each row when all are ordered by group and address, whatever their verdict."""
    left: list[str]
    """What stands at the source; empty for nothing."""
    right: list[str]
    left_note: list[str]
    right_note: list[str]
    numbers: Mapping[str, np.ndarray] = field(default_factory=dict)
    """Arrays by name, of integers or float32."""
    items: Sequence["Items | PageSet"] = ()
    """What rows and findings stand for; the array ``items`` says of each row which, -1 for none."""

    def __len__(self) -> int:
        return len(self.verdict)

    @cached_property
    def counts(self) -> list[tuple[int, int, int]]:
        """Verdict, group and number of rows of each run, in the order of the rows."""
        starts = np.flatnonzero(np.diff(self.verdict, prepend=-1) | np.diff(self.group, prepend=-1))
        lengths = np.diff(starts, append=len(self.verdict))
        return list(zip(self.verdict[starts].tolist(), self.group[starts].tolist(), lengths.tolist(), strict=True))

    @cached_property
    def by_group(self) -> list[tuple[str, int]]:
        """Rows by group, in the order of groups."""
        found = np.bincount(self.group, minlength=len(self.groups)) if len(self.groups) else np.zeros(0, np.int64)
        return list(zip(self.groups, found.tolist(), strict=True))


@dataclass(frozen=True)
class Items:
    """What a row stands for, say pages, as columns of texts of the same length."""

    columns: tuple[list[str], ...]

    def __len__(self) -> int:
        return len(self.columns[0]) if self.columns else 0


@dataclass(frozen=True)
class PageSet:
    """Pages that a row or a finding stands for, of a check that reads the check of pages."""

    rows: np.ndarray
    """int32: rows of the check of pages, in the order in which they are shown."""

    def __len__(self) -> int:
        return len(self.rows)

    @cached_property
    def digest(self) -> bytes:
        """Tells sets apart, so that each is kept once."""
        return hashlib.blake2b(self.rows.astype("<i4").tobytes(), digest_size=16).digest()


@dataclass(frozen=True)
class Outcome:
    """What a check makes of its inputs; a function of these, kept once and shared by all that have the same."""

    rows: Rows
    findings: Findings
    """Their rows are ranks."""
    finding_items: Mapping[int, int] = field(default_factory=dict)
    """Place of a finding to the number of the pages that show it, among the items of the rows."""
    unseen: tuple[str, ...] = ()
    """What could not be looked at, in sentences."""
    gives: Mapping[str, Any] = field(default_factory=dict)
    """What later checks may read."""


@dataclass(frozen=True)
class Row:
    """One row, as a check with few of them gives it."""

    verdict: int
    left: str = ""
    right: str = ""
    left_note: str = ""
    right_note: str = ""
    group: str = ""
    order: float = 0.0
    """Its place within verdict and group, the least first; then by what stands left, or right."""
    numbers: Mapping[str, int] = field(default_factory=dict)
    items: Items | PageSet | None = None


class _Numbers:
    """Numbers of sets of items, each set once."""

    def __init__(self) -> None:
        self.items: list[Items | PageSet] = []
        self._known: dict[object, int] = {}

    def of(self, items: Items | PageSet | None) -> int:
        """Return the number of a set; -1 for none."""
        if items is None:
            return -1
        key = items.digest if isinstance(items, PageSet) else id(items)
        if key not in self._known:
            self._known[key] = len(self.items)
            self.items.append(items)
        return self._known[key]

    def of_findings(self, findings: Findings) -> dict[int, int]:
        """Return by place the number of the pages that show a finding, for those that list them."""
        return {place: self.of(PageSet(one.on)) for place, one in findings.single.items() if one.on is not None}


def with_items(rows: Rows, findings: Findings) -> Outcome:
    """Return the outcome of a check whose rows stand for themselves, and some of whose findings list pages."""
    numbers = _Numbers()
    told = numbers.of_findings(findings)
    return Outcome(replace(rows, items=tuple(numbers.items)), findings, told)


def outcome(
    rows: Sequence[Row],
    findings: Findings,
    groups: Sequence[str] = (),
    unseen: tuple[str, ...] = (),
    group_headings: bool = False,
) -> Outcome:
    """Return the outcome of a check that gives its rows one by one: they are ranked here, with the findings on them.

    ``groups`` are those that rows may name, in their order; rows that name another one are an error (KeyError), and so
    are too many groups (ValueError). ``group_headings`` is what the check says of them.
    """
    names = list(groups) or [""]
    if len(names) > MOST_GROUPS:
        raise ValueError(f"{len(names):,} groups; {MOST_GROUPS} are the most")
    codes = {name: at for at, name in enumerate(names)}
    verdict = np.array([row.verdict for row in rows], np.int16)
    group = np.array([codes[row.group] for row in rows], np.int64)
    by_text = np.empty(len(rows), np.int64)
    texts = [row.left or row.right for row in rows]
    by_text[sorted(range(len(rows)), key=texts.__getitem__)] = np.arange(len(rows))
    outer, inner = (group, verdict) if group_headings else (verdict, group)
    ordered = np.lexsort((by_text, np.array([row.order for row in rows]), inner, outer))
    rank = np.empty(len(rows), np.int64)
    rank[ordered] = np.arange(len(rows))
    place = np.empty(len(rows), np.int64)
    place[np.lexsort((by_text, group))] = np.arange(len(rows))
    in_order = [rows[at] for at in ordered.tolist()]
    sets = _Numbers()
    stands_for = np.array([sets.of(row.items) for row in in_order], np.int64)
    told = ranked(findings, rank)
    finding_items = sets.of_findings(told)
    numbers = {
        name: np.array([row.numbers.get(name, -1) for row in in_order], np.int64)
        for name in dict.fromkeys(name for row in rows for name in row.numbers)
    }
    if (stands_for >= 0).any():
        numbers["items"] = stands_for
    return Outcome(
        Rows(
            verdict=verdict[ordered],
            group=group[ordered],
            groups=names,
            place=place[ordered],
            left=[row.left for row in in_order],
            right=[row.right for row in in_order],
            left_note=[row.left_note for row in in_order],
            right_note=[row.right_note for row in in_order],
            numbers=numbers,
            items=sets.items,
        ),
        told,
        finding_items,
        unseen,
    )
