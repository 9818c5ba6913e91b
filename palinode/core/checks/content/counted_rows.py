"""Rows of what is counted: items of one noun and status on both sides, with those that are not the same."""

from collections import Counter, defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from palinode.core.checks.content import verdicts
from palinode.core.checks.content.facing_tables import FacingTable
from palinode.core.checks.content.other_counts import OtherCounts
from palinode.core.checks.content.seen_pages import NOT_SEEN
from palinode.core.checks.kind import Kind
from palinode.core.checks.outcome import Items, Row
from palinode.core.findings import Finding
from palinode.core.platforms.facing import NOBODY, Side
from palinode.core.platforms.items import is_folded, named
from palinode.core.wording import sentence

_NAMED = 3
"""Items that a note names."""
_MOST_LISTED = 100_000
"""Items that one row lists."""

NEWER = "only at the destination, newer than all of the source"
Bucket = tuple[str, str, bool]
"""Noun, status in words, whether nobody misses such items."""


@dataclass
class _Change:
    """What is said of one item."""

    left: int
    right: int
    what: str


@dataclass
class _Counted:
    """The items of one bucket."""

    left: int = 0
    right: int = 0
    missing: list[_Change] = field(default_factory=list)
    hidden: list[_Change] = field(default_factory=list)
    """They are there, under another status."""
    more: list[_Change] = field(default_factory=list)
    shorter: list[_Change] = field(default_factory=list)
    different: list[_Change] = field(default_factory=list)
    unreached: list[_Change] = field(default_factory=list)
    """They are there, and their page is lost."""
    seen: list[int] = field(default_factory=lambda: [0, 0])
    """How many of either side have a page."""

    def all(self) -> list[_Change]:
        return [*self.missing, *self.hidden, *self.unreached, *self.shorter, *self.different, *self.more]


@dataclass(frozen=True)
class PagesOf:
    """The rows of pages on which the items of a table are seen."""

    left: np.ndarray
    """int64 (left items,): NOT_SEEN for none; so are those of ``right``."""
    right: np.ndarray
    lost: np.ndarray
    """bool (left items,): its page is lost."""
    place: Callable[[int], str]
    """Returns where the page of a row stands at the source, or else at the destination."""


def rows(
    table: FacingTable,
    pages: PagesOf | None,
    others: OtherCounts,
    left_out: frozenset[str],
    found: list[Finding],
    first: int,
) -> list[Row]:
    """Return the rows of one table, from the row ``first`` of the check on; what is wrong goes to ``found``.

    ``others`` are the numbers of other evidence. ``left_out`` are nouns, and nouns with a
    status, that people left out.
    """
    counted = _counted(table, pages)
    made: list[Row] = []
    for place, ((noun, status, folded), one) in enumerate(sorted(counted.items(), key=_order)):
        name = _name(noun, status)
        about = locus(table, noun, status)
        aside = folded or bool({noun, name} & left_out)
        numbers = _numbers(table, one, noun, status, pages, others)
        if not aside and not _is_shown_alike(table, one, status):
            made.append(_not_judged(table, one, about, first + place, numbers))
            continue
        if not aside:
            _find(table, one, status, about, first + len(made), found)
        made.append(_row(table, one, about, aside, _is_shown(table, status), first + place, pages, numbers))
    return made


def _is_shown_alike(table: FacingTable, one: _Counted, status: str) -> bool:
    """Whether the evidence of both sides shows such items, so that one that is not there is missing.

    A dump and an export do not show the same of what visitors do not see, nor do two APIs with a password for one.
    """
    if _is_shown(table, status):
        return table.evidence[0] == table.evidence[1] or table.left.items.table.shown_by_all
    return table.evidence[0] == table.evidence[1] and not ("api" in table.evidence and not (one.left and one.right))


def _not_judged(table: FacingTable, one: _Counted, name: str, order: int, numbers: dict[str, int]) -> Row:
    kinds = table.evidence
    note = f"the {kinds[0]} and the {kinds[1]} do not show the same of these"
    return Row(verdicts.UNKNOWN, f"{one.left:,}", f"{one.right:,}", sentence(name), note, order=order, numbers=numbers)


def _is_shown(table: FacingTable, status: str) -> bool:
    left = table.left.items.table
    return status in {left.statuses.get(raw, raw) for raw in left.shown} or "" in left.shown


def locus(table: FacingTable, noun: str, status: str) -> str:
    """Return what a row of a table is called, and what its findings are about."""
    return f"{table.label} {_name(noun, status)}".strip()


def _name(noun: str, status: str) -> str:
    return f"{_plural(noun)}{f', {status}' if status else ''}"


def _order(item: tuple[Bucket, _Counted]) -> tuple[bool, int]:
    (_, _, folded), one = item
    return folded, -max(one.left, one.right)


def _plural(noun: str) -> str:
    if noun.endswith("y") and noun[-2:-1] not in "aeiou":
        return f"{noun[:-1]}ies"
    return noun if noun.endswith("s") else f"{noun}s"


def _buckets(side: Side) -> list[Bucket]:
    table = side.items.table
    known: dict[tuple[str, str], Bucket] = {}
    found = []
    for kind, status in zip(side.type, side.status, strict=True):
        if (kind, status) not in known:
            known[kind, status] = (*named(table, kind, status), is_folded(table, kind, status))
        found.append(known[kind, status])
    return found


def _counted(table: FacingTable, pages: PagesOf | None) -> dict[Bucket, _Counted]:
    """Return the items of a table by bucket."""
    found: dict[Bucket, _Counted] = defaultdict(_Counted)
    latest = max(table.left.date, default="")
    ours, theirs = _buckets(table.left), _buckets(table.right)
    for at, bucket in enumerate(ours):
        one, other = found[bucket], int(table.facing.right[at])
        one.left += 1
        is_seen = pages is not None and int(pages.left[at]) != NOT_SEEN
        one.seen[0] += is_seen
        if other == NOBODY:
            one.missing.append(_Change(at, NOBODY, "missing"))
            continue
        lost = pages is not None and bool(pages.lost[at])
        one.seen[1] += is_seen and not lost
        difference = table.facing.differences.get(at)
        said = ", ".join(difference.said) if difference else ""
        if theirs[other] != bucket:
            one.hidden.append(_Change(at, other, said))
            found[theirs[other]].more.append(_Change(at, other, said))
        elif lost:
            one.unreached.append(_Change(at, other, f"its page is lost{f', {said}' if said else ''}"))
        elif difference:
            (one.shorter if difference.shorter else one.different).append(_Change(at, other, said))
    for at, bucket in enumerate(theirs):
        found[bucket].right += 1
        if int(table.facing.left[at]) == NOBODY:
            newer = latest and table.right.date[at] > latest
            found[bucket].more.append(_Change(NOBODY, at, NEWER if newer else "only at the destination"))
            found[bucket].seen[1] += pages is not None and int(pages.right[at]) != NOT_SEEN
    return found


def _find(table: FacingTable, one: _Counted, status: str, about: str, row: int, found: list[Finding]) -> None:
    """Tell what is wrong with the items of a bucket."""
    shown = _is_shown(table, status)
    for kind, changes, what in (
        (verdicts.ITEMS_MISSING if shown else verdicts.OTHERS_MISSING, one.missing, "missing"),
        (verdicts.ITEMS_HIDDEN if shown else None, one.hidden, "under another status"),
        (verdicts.ITEMS_SHORTER, one.shorter, "with a shorter text"),
        (verdicts.ITEMS_DIFFERENT, one.different + ([] if shown else one.hidden), "different"),
    ):
        if kind is not None and changes:
            found.append(_finding(kind, table, changes, f"{about}: {len(changes):,} {what}", about, row))


def _finding(kind: Kind, table: FacingTable, changes: list[_Change], said: str, about: str, row: int) -> Finding:
    first = changes[0]
    looks = "\n".join(sorted(f"{_label(table.left, one.left)} {one.what}" for one in changes))
    left, right = _label(table.left, first.left), _label(table.right, first.right)
    return Finding(kind, about, 1, left, right, f"{said}: {_names(table, changes)}", row=row, looks=looks)


def _names(table: FacingTable, changes: list[_Change]) -> str:
    named_ones = [_title(table.left, one.left) or _title(table.right, one.right) for one in changes[:_NAMED]]
    return ", ".join(named_ones) + (", and others" if len(changes) > _NAMED else "")


def _title(side: Side, at: int) -> str:
    if at == NOBODY:
        return ""
    text = side.title[at] or side.slug[at]
    return f"“{text[:80]}”" if text else f"number {side.identity[at]}"


def _label(side: Side, at: int) -> str:
    """Return what an item is called in a list: its title, and its number there."""
    return "" if at == NOBODY else f"{_title(side, at)} ({side.identity[at]})"


def _row(
    table: FacingTable,
    one: _Counted,
    name: str,
    aside: bool,
    shown: bool,
    place: int,
    pages: PagesOf | None,
    numbers: dict[str, int],
) -> Row:
    changes = one.all()
    verdict = _verdict(one, aside, shown)
    right = one.right - len(one.unreached) if verdict == verdicts.UNREACHED else one.right
    items = None if aside or not changes else _items(table, changes[:_MOST_LISTED], pages)
    note = "" if aside else _note(table, one)
    return Row(verdict, f"{one.left:,}", f"{right:,}", sentence(name), note, order=place, numbers=numbers, items=items)


def _verdict(one: _Counted, aside: bool, shown: bool) -> int:
    if aside:
        return verdicts.SET_ASIDE
    if one.missing or (shown and one.hidden):
        return verdicts.MISSING
    if one.unreached:
        return verdicts.UNREACHED
    if one.shorter or one.different or one.hidden:
        return verdicts.DIFFERENT
    return verdicts.MORE if one.more else verdicts.SAME


def _note(table: FacingTable, one: _Counted) -> str:
    said = []
    if one.missing:
        said.append(f"{len(one.missing):,} missing: {_names(table, one.missing)}")
    if one.hidden:
        said.append(_same_words(one.hidden))
    if one.unreached:
        said.append(f"{one.right:,} in the {table.evidence[1]}, {len(one.unreached):,} not at their address")
    if one.shorter:
        said.append(f"{len(one.shorter):,} with a shorter text")
    if one.different:
        said.append(f"{len(one.different):,} different: {_same_words(one.different)}")
    if new := [change for change in one.more if change.left == NOBODY]:
        newer = ", newer than all of the source" if all(one.what == NEWER for one in new) else ""
        said.append(f"{len(new):,} more: {_names(table, new)}{newer}")
    return "; ".join(said)


def _same_words(changes: list[_Change]) -> str:
    """Return what is said of several items, with how many it is said of where there are others."""
    (said, count), *rest = Counter(one.what for one in changes).most_common(2)
    return said if not rest else f"{said} ({count:,}), and others"


def _items(table: FacingTable, changes: list[_Change], pages: PagesOf | None) -> Items:
    columns: tuple[list[str], ...] = ([], [], [], [])
    for one in changes:
        columns[0].append(_label(table.left, one.left))
        columns[1].append(_label(table.right, one.right))
        columns[2].append(one.what)
        columns[3].append(_place(one, pages))
    return Items(columns)


def _place(one: _Change, pages: PagesOf | None) -> str:
    """Return where the page of an item stands; empty for none."""
    if pages is None:
        return ""
    row = int(pages.left[one.left]) if one.left != NOBODY else int(pages.right[one.right])
    return pages.place(row) if row != NOT_SEEN else ""


def _numbers(
    table: FacingTable,
    one: _Counted,
    noun: str,
    status: str,
    pages: PagesOf | None,
    others: OtherCounts,
) -> dict[str, int]:
    """Return what each evidence counts."""
    sides = (("source", one.left, 0), ("destination", one.right, 1))
    numbers = others.of(table, noun, status)
    numbers |= {f"{side}_{table.evidence[place]}": count for side, count, place in sides}
    if pages is not None and one.seen[0]:
        numbers |= {"source_pages": one.seen[0], "destination_pages": one.seen[1]}
    return numbers
