"""Numbers that a person typed or pasted as a small table: what is counted, and how many there are."""

import re
from collections.abc import Iterator

MOST_LINES = 1_000
_LONGEST = 200
_LINE = re.compile(r"^\s*(?P<what>.+?)\s*[\t,;:=|]?\s*(?P<number>\d{1,3}(?:[ ,.'’\u00a0]\d{3})+|\d{1,15})\s*$")
_GROUPS = re.compile(r"[ ,.'’\u00a0]")
HEAD = "Numbers typed by hand, one a line:"
"""The line that a file of them begins with."""


class NumbersError(ValueError):
    """A table cannot be read; the message is for a person, and names the line."""


def read(text: str) -> dict[str, int]:
    """Return what is counted, in the order of the lines, and how many there are. Raises NumbersError.

    A line ends with its number, which may be cut into thousands; tabs, commas, colons and equals signs part the two.
    """
    found: dict[str, int] = {}
    for number, line in _lines(text):
        said = _LINE.match(line)
        if said is None:
            raise NumbersError(f"Line {number:,} does not end with a number: “{line.strip()[:60]}”.")
        what = " ".join(said["what"].split())[:_LONGEST]
        if what.lower() in {one.lower() for one in found}:
            raise NumbersError(f"Line {number:,} counts “{what}” a second time.")
        found[what] = int(_GROUPS.sub("", said["number"]))
    if not found:
        raise NumbersError("No line counts anything. Write what is counted and how many there are: Orders 1,284.")
    return found


def recognise(beginning: bytes) -> bool:
    """Whether a file begins like one of typed numbers."""
    return beginning.startswith(HEAD.encode())


def _lines(text: str) -> Iterator[tuple[int, str]]:
    lines = [
        (number, line) for number, line in enumerate(text.splitlines(), 1) if line.strip() and line.strip() != HEAD
    ]
    if len(lines) > MOST_LINES:
        raise NumbersError(f"It has more than {MOST_LINES:,} lines.")
    yield from lines
