"""What is tied to each item on both sides: posts to a category, say, that are filed under another one now."""

from collections import Counter
from dataclasses import dataclass, replace

from palinode.core.platforms.facing import NOBODY, Difference, Facing, Side
from palinode.core.platforms.items import Links


@dataclass(frozen=True)
class Tied:
    """How many items are tied to each of others, by the places of these; of those that visitors see on both sides."""

    noun: str
    """Of what is tied."""
    before: Counter[int]
    after: Counter[int]


def count(of: tuple[Side, Side, Facing], left: Side, right: Side, links: tuple[Links, Links]) -> Tied:
    """Count what is tied to the items of ``left`` and ``right``; ``of`` are the items that are tied.

    Only those count that visitors see on both sides: what is missing is told by itself.
    """
    ours, theirs, facing = of
    shown = ours.items.table.shown
    both = [
        (at, int(facing.right[at]))
        for at in range(len(ours))
        if facing.right[at] != NOBODY and ours.status[at] in shown and theirs.status[int(facing.right[at])] in shown
    ]
    before = _counted(links[0], left, {ours.identity[at] for at, _ in both})
    after = _counted(links[1], right, {theirs.identity[other] for _, other in both})
    return Tied(ours.items.table.noun, before, after)


def compared(facing: Facing, tied: Tied) -> Facing:
    """Return how items face each other, with those to which more or fewer are tied now."""
    found = dict(facing.differences)
    for at, other in enumerate(facing.right.tolist()):
        if other == NOBODY or tied.before[at] == tied.after[other]:
            continue
        said = f"{tied.noun}s in it: {tied.before[at]:,} became {tied.after[other]:,}"
        known = found.get(at) or Difference(at, other, False, ())
        found[at] = replace(known, said=(*known.said, said))
    return replace(facing, differences=found)


def _counted(links: Links, to: Side, identities: set[str]) -> Counter[int]:
    """Return how many of some items are tied to each, by its place."""
    wanted = {int(ident) for ident in identities if ident.isdigit()}
    places = {int(ident): at for at, ident in enumerate(to.identity) if ident.isdigit()}
    pairs = zip(links.of.tolist(), links.to.tolist(), strict=True)
    return Counter(places[other] for one, other in pairs if one in wanted and other in places)
