"""Section moves, learnt from pairs: what became of a part of the site's paths, as a line for the address rule."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

FEWEST = 3
"""Pairs from which a section move is learnt."""
_SHARE = 0.5
"""Of the pages of a section, how many must have gone the same way."""
_MOST = 5
_LOOKED_AT = 20


@dataclass(frozen=True)
class SectionMove:
    """A part of the site that stands elsewhere."""

    left: str
    """The path that its pages begin with, without the last slash; empty for the whole site."""
    right: str
    pages: int
    """How many of its pages went this way."""
    of: int
    """How many pages it has."""

    @property
    def line(self) -> str:
        """The line for the address rule."""
        return f"{self.left or '/'} -> {self.right or '/'}"


def learn(pairs: Iterable[tuple[str, str]], paths: Iterable[str]) -> list[SectionMove]:
    """Return the section moves that pairs (left path, right path) show, most pages first.

    ``pairs`` are those that no rule foresaw, ``paths`` those of all left pages.
    """
    found: Counter[tuple[str, str]] = Counter()
    for left, right in pairs:
        found[_apart(left.partition("?")[0], right.partition("?")[0])] += 1
    frequent = [(left, pages) for (left, _), pages in found.most_common(_LOOKED_AT) if pages >= FEWEST]
    every = list(paths) if frequent else []
    sizes = {left: sum(path.startswith(f"{left}/") for path in every) for left, _ in frequent}
    moves = [
        SectionMove(left, right, pages, sizes[left])
        for (left, right), pages in found.items()
        if left in sizes and pages >= max(FEWEST, _SHARE * sizes[left]) and left != right
    ]
    return sorted(moves, key=lambda one: (-one.pages, one.left))[:_MOST]


def _apart(left: str, right: str) -> tuple[str, str]:
    """Return what two paths begin with, without the segments in which they end alike."""
    one, other = left.rstrip("/").split("/"), right.rstrip("/").split("/")
    while len(one) > 1 and len(other) > 1 and one[-1] == other[-1]:
        one.pop()
        other.pop()
    return "/".join(one), "/".join(other)
