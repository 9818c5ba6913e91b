"""What many addresses have in common, so that one trap does not starve a capture.

A calendar without end, facets that combine, a session's number in each link, a relative link that
should not be one: such a site has no end of addresses, and they look alike.
"""

import re
from dataclasses import dataclass

from palinode.core import address as addresses

_LIKE = 3_000
_REPEATING = 20
_TIMES = 3
_NUMBER = re.compile(r"\d+")


@dataclass(frozen=True)
class Pattern:
    """What is common to addresses, and how many of them are asked at most."""

    text: str
    most: int


REPEATING = Pattern("a path that repeats itself", _REPEATING)


def of(address: str) -> Pattern | None:
    """Return the pattern that an address falls under.

    With a query it is the path with numbers made 0, and the query's names; without one there is none, since
    such pages are as many as the site has, unless segments repeat three times in a row.
    """
    parts = addresses.split(address)
    if _repeats(parts.path):
        return REPEATING
    if len(parts.query) < 2:
        return None
    names = sorted({_NUMBER.sub("0", piece.partition("=")[0]) for piece in parts.query[1:].split("&") if piece})
    return Pattern(f"{_NUMBER.sub('0', parts.path)}?{'&'.join(names)}"[:500], _LIKE)


def _repeats(path: str) -> bool:
    segments = path.strip("/").split("/")
    if len(segments) < _TIMES or len(set(segments)) > len(segments) - _TIMES + 1:
        return False
    for length in range(1, len(segments) // _TIMES + 1):
        for start in range(len(segments) - _TIMES * length + 1):
            first = segments[start : start + length]
            if all(segments[start + n * length : start + (n + 1) * length] == first for n in range(1, _TIMES)):
                return True
    return False
