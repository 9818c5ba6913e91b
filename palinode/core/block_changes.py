"""How the blocks of one text become those of another: which stayed, which changed, which went and which came."""

from collections.abc import Iterator

from palinode.core import alignment

Block = tuple[str, str]
"""Kind and text."""
_AHEAD = 30
"""Blocks further on in which the partner of a changed one is looked for."""
_ALIKE = 0.3


def runs(left: list[Block], right: list[Block]) -> Iterator[tuple[list[Block], list[Block], list[Block]]]:
    """Yield what is the same, and then what went and what came, until the end of both."""
    one, other = [text for _, text in left], [text for _, text in right]
    a = b = 0
    for start, end, length in [*alignment.matches(one, other), (len(one), len(other), 0)]:
        if start > a or end > b or not length:
            # What differed since the last run of the same stands before this one.
            yield [], left[a:start], right[b:end]
        if length:
            yield left[start : start + length], [], []
        a, b = start + length, end + length


def paired(left: list[Block], right: list[Block]) -> Iterator[tuple[Block | None, Block | None]]:
    """Yield the blocks of a stretch that differs beside each other: each left one with the first right one like it."""
    bags = [frozenset(text.split()) for _, text in right]
    at = 0
    for block in left:
        bag = frozenset(block[1].split())
        ahead = range(at, min(at + _AHEAD, len(right)))
        like = next((i for i in ahead if _alike(bag, bags[i])), None)
        if like is None:
            yield block, None
            continue
        yield from ((None, came) for came in right[at:like])
        yield block, right[like]
        at = like + 1
    yield from ((None, came) for came in right[at:])


def _alike(a: frozenset[str], b: frozenset[str]) -> bool:
    return 2 * len(a & b) >= _ALIKE * (len(a) + len(b))
