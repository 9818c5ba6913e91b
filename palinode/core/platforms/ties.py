"""What is tied to each item on both sides: posts to a category, say, that are filed under another one now."""

from collections import Counter
from dataclasses import replace

from palinode.core.platforms.facing import NOBODY, Difference, Facing, Side
from palinode.core.platforms.items import Links


def with_ties(of: tuple[Side, Side, Facing], to: tuple[Side, Side, Facing], links: tuple[Links, Links]) -> Facing:
    """Return how the items face each other to which others are tied, with how many of these became other ones.

    ``of`` are the items that are tied. Only those count that visitors see on both sides: what is missing is told by
    itself.
    """
    left, right, facing = of
    shown = left.items.table.shown
    both = [
        (at, int(facing.right[at]))
        for at in range(len(left))
        if facing.right[at] != NOBODY and left.status[at] in shown and right.status[int(facing.right[at])] in shown
    ]
    before = _counted(links[0], to[0], {left.identity[at] for at, _ in both})
    after = _counted(links[1], to[1], {right.identity[other] for _, other in both})
    found = dict(to[2].differences)
    for at, other in enumerate(to[2].right.tolist()):
        if other == NOBODY or before[at] == after[other]:
            continue
        said = f"{left.items.table.noun}s in it: {before[at]:,} became {after[other]:,}"
        known = found.get(at) or Difference(at, other, False, ())
        found[at] = replace(known, said=(*known.said, said))
    return replace(to[2], differences=found)


def _counted(links: Links, to: Side, identities: set[str]) -> Counter[int]:
    """Return how many of some items are tied to each, by its place."""
    wanted = {int(ident) for ident in identities if ident.isdigit()}
    places = {int(ident): at for at, ident in enumerate(to.identity) if ident.isdigit()}
    pairs = zip(links.of.tolist(), links.to.tolist(), strict=True)
    return Counter(places[other] for one, other in pairs if one in wanted and other in places)
