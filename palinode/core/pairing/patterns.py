"""What the addresses of found pairs have in common: what became of the beginning of their paths.

``/2017/03/flour`` is ``/flour`` now, and so are two hundred others: the year and the month went. Then
``/2017/03/rye/wheel`` is looked for at ``/rye/wheel``. Such a pattern proposes; what two pages say confirms or refuses.
"""

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from palinode.core.pairing import endings

_NUMBER = re.compile(r"\d+")
FEWEST = 3
"""Pairs that must show a pattern."""
_MOST_BEGINNINGS = 5
"""Segments of a beginning."""

Segments = tuple[str, ...]


def segments(path: str) -> Segments:
    """Return the segments of a path without endings, index files and last slash; a query is a segment of its own."""
    bare, mark, query = path.partition("?")
    found = [endings.without(one) for one in bare.strip("/").split("/") if one]
    if found and found[-1] in endings.INDEX:
        found.pop()
    return (*found, *([f"?{query}"] if mark and query else []))


@dataclass(frozen=True)
class Pattern:
    """A beginning of old paths, its numbers made 0, and what stands in its place."""

    old: Segments
    new: Segments
    support: int
    """Pairs that show it."""
    exceptions: int
    """Pairs with the same old beginning that show another."""

    @property
    def certainty(self) -> float:
        """How likely a page is where the pattern says, from 0 to 1."""
        return self.support / (self.support + self.exceptions + 1)


def learn(pairs: Iterable[tuple[str, str]]) -> dict[Segments, Pattern]:
    """Return the patterns that pairs of paths show which differ, by their old beginning; of several the commonest."""
    shown: dict[Segments, Counter[Segments]] = defaultdict(Counter)
    for one, other in pairs:
        if one == other:
            continue
        if found := beginnings(one, other):
            shown[found[0]][found[1]] += 1
    learnt = {}
    for old, counts in shown.items():
        (new, support), every = counts.most_common(1)[0], counts.total()
        if support >= FEWEST:
            learnt[old] = Pattern(old, new, support, every - support)
    return learnt


def beginnings(one: str, other: str) -> tuple[Segments, Segments] | None:
    """Return what two paths begin with that end alike, the first one's numbers made 0; None if they do not."""
    left, right = segments(one), segments(other)
    same = 0
    while same < min(len(left), len(right)) and left[-1 - same] == right[-1 - same]:
        same += 1
    if not same or len(left) - same > _MOST_BEGINNINGS:
        return None
    return _folded(left[: len(left) - same]), right[: len(right) - same]


def folded(path: str) -> Segments:
    """Return the segments of a path with numbers made 0."""
    return _folded(segments(path))


def proposals(path: str, patterns: dict[Segments, Pattern]) -> Iterator[tuple[Segments, Pattern]]:
    """Yield where patterns look for a page, by the segments of its new path, the most specific pattern first."""
    old = segments(path)
    folded = _folded(old)
    for length in range(min(len(old) - 1, _MOST_BEGINNINGS), -1, -1):
        if pattern := patterns.get(folded[:length]):
            yield (*pattern.new, *old[length:]), pattern


def _folded(some: Segments) -> Segments:
    return tuple(_NUMBER.sub("0", one) for one in some)
