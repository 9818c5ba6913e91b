"""The items of two sides facing each other: which is which, and in what those that are the same item differ."""

from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from palinode.core.platforms.items import Installation, Items
from palinode.core.platforms.platform import Field

NOBODY = -1
_SHARE = 0.5
"""Of the items that both sides number alike: from then on the numbers are those of before."""
SHORTER = 10
"""Percent of its text that an item may lack without a word: addresses in it may be shorter than they were …"""
_FEW_BYTES = 64
"""… and so many bytes."""


@dataclass(frozen=True)
class Difference:
    """In what the two sides of one item differ."""

    left: int
    """Its place among the left items; so is ``right``."""
    right: int
    shorter: bool
    """Its text lacks more than addresses would explain."""
    said: tuple[str, ...]
    """In words, one for each field."""


@dataclass(frozen=True)
class Facing:
    """Which items face each other, and how these differ."""

    right: np.ndarray
    """int64 (left items,): place of the same item on the right; NOBODY where there is none."""
    left: np.ndarray
    """int64 (right items,): the other way round."""
    differences: dict[int, Difference]
    """By the place on the left."""


class Side:
    """The items of a table on one side, with those of other tables that they name."""

    def __init__(self, items: Items, installation: Installation) -> None:
        self.items = items
        self.identity, self.type = items.column(Field.IDENTITY), items.column(Field.TYPE)
        self.slug, self.title = items.column(Field.SLUG), items.column(Field.TITLE)
        self.status, self.date = items.statuses, items.column(Field.DATE)
        self.author = _authors(items, installation)
        parents = _held(items.table.parents or items.table.name, installation)
        self.above = _above(items, parents)
        """The place of each item's parent in its table, NOBODY for none; empty where nothing is said of parents."""
        self.parent = _parents(items, parents, self.above)
        """What the parent of each is called."""
        self.file, self.sizes = items.column(Field.FILE), items.sizes

    def __len__(self) -> int:
        """Return the number of items."""
        return self.items.count


def _held(name: str, installation: Installation) -> Items | None:
    """Return the items of a table."""
    return next((one for one in installation.items if one.table.name == name), None)


def _keys(items: Items) -> list[str]:
    """Return by what others name the items of a table."""
    return items.column(Field.KEY if items.table.columns.get(Field.KEY) else Field.IDENTITY)


def _called(items: Items) -> list[str]:
    return [slug or title for slug, title in zip(items.column(Field.SLUG), items.column(Field.TITLE), strict=True)]


def _authors(items: Items, installation: Installation) -> list[str]:
    """Return who wrote each item; empty where nobody who wrote anything is known."""
    if not items.table.authors:
        return items.column(Field.AUTHOR)
    authors = _held(items.table.authors, installation)
    if authors is None or not authors.count:
        return [""] * items.count
    known = dict(zip(_keys(authors), _called(authors), strict=True))
    return [known.get(one, one) for one in items.column(Field.AUTHOR)]


def _above(items: Items, parents: Items | None) -> list[int]:
    if parents is None or Field.PARENT not in items.fields:
        return []
    places = {key: at for at, key in enumerate(_keys(parents))}
    return [places.get(one, NOBODY) for one in items.column(Field.PARENT)]


def _parents(items: Items, parents: Items | None, above: list[int]) -> list[str]:
    called = _called(parents) if above and parents else []
    # A number of what is not there says nothing, and no parent is written as nought.
    return [
        called[place] if place != NOBODY else "" if said.isdigit() else said
        for place, said in zip(above or [NOBODY] * items.count, items.column(Field.PARENT), strict=True)
    ]


def face(left: Side, right: Side, alike: bool, parents: Facing | None = None, shorter: float = SHORTER) -> Facing:
    """Hold the items of one table on two sides against each other.

    ``parents`` is how those face each other that are their parents; None for themselves. ``alike`` says whether both
    were read from the same kind of file, so that texts and titles are written alike; ``shorter`` is how many percent of
    its text an item may lack.
    Items are the same by the platform's number, then slug, date and title, whichever survived.
    """
    ours = np.full(len(left), NOBODY, np.int64)
    theirs = np.full(len(right), NOBODY, np.int64)

    def pair(one: int, other: int) -> None:
        ours[one], theirs[other] = other, one

    numbered = _numbered(left, right)
    agreeing = [(one, other) for one, other in numbered if _agree(left, one, right, other)]
    # Numbers that were given anew say nothing, though some of them fit.
    certain = len(agreeing) >= _SHARE * len(numbered)
    for one, other in agreeing:
        if certain or _agreement(left, one, right, other) > 1:
            pair(one, other)
    for key in (_slug_and_date, _slug_and_title, _title_and_date, _slug, _title):
        for one, other in _unique(left, right, ours, theirs, key):
            pair(one, other)
    if certain:
        for one, other in numbered:
            if ours[one] == NOBODY and theirs[other] == NOBODY:
                pair(one, other)
    above = ours if parents is None else parents.right
    found = {}
    for one in np.flatnonzero(ours != NOBODY).tolist():
        if difference := _difference(left, one, right, int(ours[one]), alike, above, shorter):
            found[one] = difference
    return Facing(ours, theirs, found)


def _numbered(left: Side, right: Side) -> list[tuple[int, int]]:
    there = {
        (kind, ident): at for at, (kind, ident) in enumerate(zip(right.type, right.identity, strict=True)) if ident
    }
    return [(at, there[key]) for at, key in enumerate(zip(left.type, left.identity, strict=True)) if key in there]


def _agreement(left: Side, one: int, right: Side, other: int) -> int:
    """Return in how many of slug, title and date two items agree."""
    return (
        (left.slug[one] != "" and left.slug[one] == right.slug[other])
        + (left.title[one] != "" and left.title[one] == right.title[other])
        + (left.date[one] != "" and left.date[one] == right.date[other])
    )


def _agree(left: Side, one: int, right: Side, other: int) -> bool:
    """Whether two items of one number are the same by what they are called; those without a name by date and author."""
    if not (left.slug[one] or left.title[one]):
        return left.date[one] == right.date[other] and left.author[one] == right.author[other]
    return left.slug[one] == right.slug[other] != "" or left.title[one] == right.title[other] != ""


def _slug_and_date(side: Side, at: int) -> tuple[str, ...]:
    return (side.type[at], side.slug[at], side.date[at]) if side.slug[at] and side.date[at] else ()


def _slug_and_title(side: Side, at: int) -> tuple[str, ...]:
    return (side.type[at], side.slug[at], side.title[at]) if side.slug[at] and side.title[at] else ()


def _title_and_date(side: Side, at: int) -> tuple[str, ...]:
    if not side.date[at] or not (side.title[at] or side.author[at]):
        return ()
    return side.type[at], side.title[at], side.author[at] if not side.title[at] else "", side.date[at]


def _slug(side: Side, at: int) -> tuple[str, ...]:
    return (side.type[at], side.slug[at]) if side.slug[at] else ()


def _title(side: Side, at: int) -> tuple[str, ...]:
    return (side.type[at], side.title[at]) if side.title[at] else ()


def _unique(left: Side, right: Side, ours: np.ndarray, theirs: np.ndarray, key: object) -> list[tuple[int, int]]:
    """Return pairs of items without a partner that alone on their side have the same key."""
    places = []
    for side, paired in ((left, ours), (right, theirs)):
        found: dict[tuple[str, ...], list[int]] = defaultdict(list)
        for at in np.flatnonzero(paired == NOBODY).tolist():
            if said := key(side, at):  # type: ignore[operator]
                found[said].append(at)
        places.append(found)
    here, there = places
    return [(some[0], there[said][0]) for said, some in here.items() if len(some) == 1 == len(there.get(said, ()))]


def _difference(
    left: Side, one: int, right: Side, other: int, alike: bool, above: np.ndarray, most: float
) -> Difference | None:
    said = []
    if left.status[one] != right.status[other]:
        words = left.items.table.statuses
        was, now = (words.get(status, status) for status in (left.status[one], right.status[other]))
        if was != now:
            said.append(f"{was or 'without a status'} became {now or 'without a status'}")
    shorter = False
    if alike and len(left.sizes) and len(right.sizes):
        before, after = int(left.sizes[one]), int(right.sizes[other])
        if shorter := before - after > max(_FEW_BYTES, most / 100 * before):
            said.append(f"text of {before:,} bytes became {after:,}")
    for name, ours, theirs in (
        ("title", left.title, right.title),
        ("slug", left.slug, right.slug),
        ("date", left.date, right.date),
        ("author", left.author, right.author),
        ("file", left.file, right.file),
    ):
        was, now = ours[one], theirs[other]
        if name == "author" and not (was and now):
            continue
        if was != now and (alike or (name in ("slug", "date") and was and now)):
            said.append(f"{name} {_short(was)} became {_short(now)}")
    if alike and not _have_same_parent(left, one, right, other, above):
        said.append(f"parent {_short(left.parent[one])} became {_short(right.parent[other])}")
    return Difference(one, other, shorter, tuple(said)) if said else None


def _have_same_parent(left: Side, one: int, right: Side, other: int, above: np.ndarray) -> bool:
    """Whether two items belong to the same one, whatever that is called now; one that is missing is told by itself."""
    if not (left.above and right.above):
        return left.parent[one] == right.parent[other] or not (left.parent[one] and right.parent[other])
    was, now = left.above[one], right.above[other]
    return now == NOBODY if was == NOBODY else int(above[was]) in (NOBODY, now)


def _short(text: str) -> str:
    if not text:
        return "nothing"
    return f"“{text[:60]}{'…' if len(text) > 60 else ''}”"
