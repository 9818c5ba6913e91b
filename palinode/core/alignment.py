"""Which items of two lists are the same and in the same order, within bounds whatever the lists hold."""

from collections import Counter
from collections.abc import Hashable, Iterator, Sequence
from difflib import SequenceMatcher

MOST = 3_000
"""Items of a stretch that are matched in any order; longer ones are matched by what is there once on both sides."""
MOST_EQUAL = 300_000
"""Pairs of equal items in a stretch; where the same stands again and again, there are too many to try."""

Match = tuple[int, int, int]
"""Place in one list, place in the other, length of the run that is the same."""
Opcode = tuple[str, int, int, int, int]
"""As difflib has them: ``equal``, ``replace``, ``delete`` or ``insert``, and the two stretches."""


def matches(one: Sequence[Hashable], other: Sequence[Hashable]) -> list[Match]:
    """Return the runs that are the same, in order."""
    start = next((i for i, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), min(len(one), len(other)))
    tail = zip(reversed(one[start:]), reversed(other[start:]), strict=False)
    end = next((i for i, (a, b) in enumerate(tail) if a != b), min(len(one), len(other)) - start)
    inner, beside = one[start : len(one) - end], other[start : len(other) - end]
    found = [(0, 0, start)] if start else []
    if not set(inner).isdisjoint(beside):
        found += [(start + a, start + b, size) for a, b, size in _inner(inner, beside)]
    return found + ([(len(one) - end, len(other) - end, end)] if end else [])


def _inner(one: Sequence[Hashable], other: Sequence[Hashable]) -> Iterator[Match]:
    """Yield the runs that are the same of what lies between a common beginning and end."""
    if _is_small(one, other):
        yield from (run for run in SequenceMatcher(None, one, other, autojunk=False).get_matching_blocks() if run.size)
    else:
        yield from ((a, b, 1) for a, b in _anchors(one, other))


def opcodes(one: Sequence[Hashable], other: Sequence[Hashable]) -> Iterator[Opcode]:
    """Yield how one list becomes the other."""
    a = b = 0
    for start, end, length in [*matches(one, other), (len(one), len(other), 0)]:
        if start > a and end > b:
            yield "replace", a, start, b, end
        elif start > a:
            yield "delete", a, start, b, end
        elif end > b:
            yield "insert", a, start, b, end
        if length:
            yield "equal", start, start + length, end, end + length
        a, b = start + length, end + length


def _is_small(one: Sequence[Hashable], other: Sequence[Hashable]) -> bool:
    if max(len(one), len(other)) > MOST:
        return False
    counts = Counter(other)
    return sum(counts[item] for item in one) <= MOST_EQUAL


def _anchors(one: Sequence[Hashable], other: Sequence[Hashable]) -> Iterator[tuple[int, int]]:
    """Yield places of items that each list has once, as far as they stand in the same order."""
    places = {item: place for place, item in enumerate(other)}
    for items in (one, other):
        seen: set[Hashable] = set()
        for item in items:
            if item in seen:
                places.pop(item, None)
            seen.add(item)
    last = -1
    for place, item in enumerate(one):
        there = places.get(item, -1)
        if last < there <= last + MOST:
            yield place, there
            last = there
