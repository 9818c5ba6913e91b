"""The check of permalinks: each pattern of the source's addresses, facing the one to which its pages crossed."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core import address_patterns, rule_trial
from palinode.core import rule as rules
from palinode.core.address_patterns import AddressPatterns
from palinode.core.checks.check import Cell, Check, Column, Reads
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Outcome, PageSet, Row, outcome
from palinode.core.checks.permalinks import verdicts
from palinode.core.fates import Fate, FoundBy
from palinode.core.findings import columns
from palinode.core.ledger import Ledger
from palinode.core.rule import Rule, RuleError
from palinode.core.wording import number

_FEWEST = 3
_SHARE = 0.02
"""Pages, and their share of a pattern, that crossed to another pattern than most: a row of its own."""
_MOST = 500
"""Patterns of a side that have rows, those of most pages."""
_MOST_TRIED = 30
"""Lines that are tried on all pages."""
_NOT_THERE = (404, 410)


def judge(looked: Looked) -> Outcome:
    """Hold the patterns of both sides' addresses against each other."""
    assert looked.pages is not None
    sides = _Sides(looked.pages)
    rows = [row for at in range(min(_MOST, len(sides.left.names))) for row in _of_left(at, sides, looked.rule)]
    rows += _new(sides)
    unseen = []
    if len(sides.left.names) > _MOST:
        unseen.append(f"{len(sides.left.names) - _MOST:,} patterns of few addresses")
    return outcome(rows, columns((), [], []), unseen=tuple(unseen))


class _Sides:
    """The pages of both sides with their patterns; -1 stands for none."""

    def __init__(self, pages: Ledger) -> None:
        self.pages = pages
        there, arrived = pages.left != 0, pages.right != 0
        self.left, self.left_of, places = _learnt(there, pages.left_address, pages.homes[0])
        self.right, self.right_of, _ = _learnt(arrived, pages.right_address, pages.homes[1])
        # Pages that were retired are meant to be gone.
        self.counts = there & (pages.fate != Fate.RETIRED)
        self.arrived = self.counts & arrived
        home = [row for row, place in zip(np.flatnonzero(there).tolist(), places, strict=True) if place == "/"]
        self.tried = 0
        """Lines that were tried so far."""
        self.has_home = bool(self.arrived[home].any())


def _learnt(there: np.ndarray, texts: list[str], home: str) -> tuple[AddressPatterns, np.ndarray, list[str]]:
    """Return the patterns of the pages that are there, the one of each row (-1 for none), and where they stand."""
    rows = np.flatnonzero(there)
    places = addresses.places([texts[row] for row in rows.tolist()], home)
    found = address_patterns.learn(places)
    of = np.full(len(there), -1)
    of[rows] = found.of
    return found, of, places


def _of_left(at: int, sides: _Sides, rule: Rule) -> Iterator[Row]:
    """Yield the rows of a pattern of the source: where most of its pages are, and where others are."""
    own = np.flatnonzero((sides.left_of == at) & sides.counts)
    if not len(own):
        return
    name, pages = sides.left.names[at], sides.pages
    crossed = own[sides.arrived[own]]
    to, counts = np.unique(sides.right_of[crossed], return_counts=True)
    order = np.argsort(-counts, kind="stable")
    missing = own[~sides.arrived[own]]
    said = number(len(own), "page")
    if not len(crossed):
        yield _gone(name, said, missing, sides)
        return
    for place, which in enumerate(order.tolist()):
        pattern, count = int(to[which]), int(counts[which])
        if place and count < max(_FEWEST, _SHARE * len(own)):
            continue
        rows = crossed[sides.right_of[crossed] == pattern]
        verdict, note = _crossed(name, sides.right.names[pattern], rows, sides, rule)
        if not place and len(missing):
            lost = int((pages.fate[missing] == Fate.LOST).sum())
            told = [f"{lost:,} did not arrive"] if lost else []
            told += [f"{len(missing) - lost:,} not judged"] if len(missing) > lost else []
            note = "; ".join(filter(None, (", ".join(told), note)))
            verdict = verdicts.PART if lost and verdict in (verdicts.SAME, verdicts.PLANNED) else verdict
            rows = np.concatenate([missing, rows])
        before = said if not place else f"of these {count:,}"
        yield _row(verdict, name, sides.right.names[pattern], before, note, count, rows, sides, at + place / 1_000)


def _gone(name: str, said: str, missing: np.ndarray, sides: _Sides) -> Row:
    """Return the row of a pattern of which no page arrived."""
    pages, order = sides.pages, -float(len(missing))
    lost = missing[pages.fate[missing] == Fate.LOST]
    if not len(lost):
        return _row(verdicts.UNKNOWN, name, "", said, "none of them was judged", 0, missing, sides, order)
    note = f"{len(lost):,} did not arrive" if len(lost) < len(missing) else "none arrived"
    status = pages.right_status[lost]
    if np.isin(status, _NOT_THERE).all() and sides.has_home and len(lost) >= _FEWEST:
        note = f"all answer {int(status[0])}, while the home page answers: are the rewrite rules rebuilt?"
    return _row(verdicts.GONE, name, "", said, note, 0, missing, sides, order)


def _crossed(old: str, new: str, rows: np.ndarray, sides: _Sides, rule: Rule) -> tuple[int, str]:
    """Return the verdict of pages that crossed from one pattern to another, and what is said of it."""
    planned = int((sides.pages.found_by[rows] == FoundBy.RULE).sum())
    if old == new and planned * 2 >= len(rows):
        return verdicts.SAME, ""
    if planned * 2 >= len(rows):
        return verdicts.PLANNED, "as the address rule says"
    return verdicts.UNPLANNED, _proposal(old, new, rows, sides, rule)


def _proposal(old: str, new: str, rows: np.ndarray, sides: _Sides, rule: Rule) -> str:
    """Say what a line of the address rule would do, if there is one."""
    line = address_patterns.line(old, new)
    if not line:
        return "not in the rule, and no one line would carry them over"
    if sides.tried >= _MOST_TRIED:
        return f"not in the rule; the line “{line}” was not tried"
    sides.tried += 1
    try:
        after = rules.read(f"{rule.text.rstrip()}\n{line}")
    except RuleError:
        return "not in the rule, which says something else of these addresses"
    pages = sides.pages
    left = np.flatnonzero(sides.counts)
    partners = [pages.right_address[row] if pages.right[row] else "" for row in left.tolist()]
    trial = rule_trial.of(rule, after, [pages.left_address[row] for row in left.tolist()], partners)
    if not trial.planned:
        return "not in the rule, and no one line would carry them over"
    wrongly = f"{trial.wrong:,} wrongly" if trial.wrong else "none wrongly"
    return f"the line “{line}” would carry {trial.planned:,} over, and {wrongly}"


def _new(sides: _Sides) -> Iterator[Row]:
    """Yield the patterns that new pages of the destination have, and no page that crossed."""
    new = np.flatnonzero((sides.pages.left == 0) & (sides.pages.right != 0))
    taken = set(sides.right_of[sides.arrived].tolist())
    for pattern, count in zip(*np.unique(sides.right_of[new], return_counts=True), strict=True):
        if int(pattern) not in taken:
            rows = new[sides.right_of[new] == pattern]
            name, said = sides.right.names[int(pattern)], number(int(count), "new page")
            yield _row(verdicts.NEW, "", name, "", said, int(count), rows, sides, -float(count))


def _row(
    verdict: int, left: str, right: str, said: str, note: str, count: int, rows: np.ndarray, sides: _Sides, order: float
) -> Row:
    shown = rows[np.lexsort((sides.pages.place[rows], sides.pages.fate[rows]))].astype(np.int32)
    return Row(verdict, left, right, said, note, "", order, {"pages": count}, PageSet(shown))


CHECK = Check(
    name="permalinks",
    version=1,
    title="Patterns",
    view="permalinks",
    reads=(Reads.PAIRS,),
    after=("pages",),
    verdicts=verdicts.VERDICTS,
    kinds=(),
    columns=(
        Column("source", "Pattern at the source", Cell.LEFT),
        Column("explains", "Explains", Cell.LEFT_NOTE),
        Column("destination", "Pattern at the destination", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What of it", Cell.RIGHT_NOTE),
        Column("pages", "Pages that crossed", Cell.NUMBER),
    ),
    shown=("pages",),
    judge=judge,
)
