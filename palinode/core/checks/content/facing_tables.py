"""Which items are held against which: of each platform the installations and tables that both sides have."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from palinode.core.platforms import facing, ties
from palinode.core.platforms.facing import Facing, Side
from palinode.core.platforms.items import Installation, SiteItems
from palinode.core.platforms.ties import Tied

KINDS = ("dump", "export", "api")
"""Kinds of captures that have items, the one that knows most first."""
_CHOICES = [(one, one) for one in KINDS] + [(one, other) for one in KINDS for other in KINDS if one != other]


@dataclass(frozen=True)
class FacingTable:
    """One table of items on both sides."""

    installations: tuple[Installation, Installation]
    left: Side
    right: Side
    facing: Facing
    evidence: tuple[str, str]
    """Of which kind of capture each side is."""
    label: str
    """Tells installations apart where there are several; empty otherwise."""
    tied: Tied | None = None
    """What is tied to the items of either side; None where nothing is."""


def tables(
    left: Sequence[SiteItems], right: Sequence[SiteItems], shorter: float = facing.SHORTER
) -> Iterator[FacingTable]:
    """Yield what can be held against each other: of each platform the best evidence, of the same kind if possible.

    ``shorter`` is how many percent of its text an item may lack.
    """
    names = dict.fromkeys(one.platform.name for side in left for one in side.installations)
    for name in names:
        ours, theirs = ({one.kind: _of(one, name) for one in side if _of(one, name)} for side in (left, right))
        kinds = next(((one, other) for one, other in _CHOICES if one in ours and other in theirs), None)
        if kinds is None:
            continue
        pairs = list(_installations(ours[kinds[0]], theirs[kinds[1]]))
        for one, other in pairs:
            label = one.prefix or one.database if len(pairs) > 1 else ""
            yield from _faced(one, other, kinds, label, shorter)


def _of(held: SiteItems, platform: str) -> list[Installation]:
    return [one for one in held.installations if one.platform.name == platform]


def _installations(
    left: Sequence[Installation], right: Sequence[Installation]
) -> Iterator[tuple[Installation, Installation]]:
    """Yield installations that face each other: by their prefix, else the one with most items and the one with most."""
    rest = list(right)
    open_ones = []
    for one in left:
        same = [other for other in rest if other.platform is one.platform and other.prefix == one.prefix]
        if len(same) == 1:
            rest.remove(same[0])
            yield one, same[0]
        else:
            open_ones.append(one)
    for one in sorted(open_ones, key=_size, reverse=True):
        if others := [other for other in rest if other.platform is one.platform]:
            best = max(others, key=_size)
            rest.remove(best)
            yield one, best


def _size(one: Installation) -> int:
    return sum(items.count for items in one.items)


def _faced(
    one: Installation, other: Installation, kinds: tuple[str, str], label: str, shorter: float
) -> Iterator[FacingTable]:
    """Yield the tables of two installations."""
    faced: dict[str, tuple[Side, Side, Facing]] = {}
    for ours, theirs in zip(one.items, other.items, strict=True):
        left, right = Side(ours, one), Side(theirs, other)
        parents = faced[ours.table.parents][2] if ours.table.parents in faced else None
        faced[ours.table.name] = left, right, facing.face(left, right, kinds[0] == kinds[1], parents, shorter)
    tied: dict[str, Tied] = {}
    for links in zip(one.links, other.links, strict=False):
        to = links[0].table.to
        left, right, found = faced[to]
        tied[to] = ties.count(faced[links[0].table.of], left, right, links)
        faced[to] = left, right, ties.compared(found, tied[to])
    for name, (left, right, found) in faced.items():
        yield FacingTable((one, other), left, right, found, kinds, label, tied.get(name))
