"""What many addresses have in common, so that one trap does not starve a capture.

A calendar without end, facets that combine, a session's number in each link, a relative link that should not be
one: such a site has no end of addresses, and they look alike. So do the pages of a large site; which of the two it
is, only what they bring can tell (core/pattern_budget.py).

- ``/cal?month=4&year=2026`` is of ``/cal?month&year``, which is of ``/cal?…``
- ``/calendar/2031/04`` is of ``/calendar/0/0``, which is of ``/calendar/*/*``
- ``/journal/flour`` is of ``/journal/*``
- ``/about;sid=7f`` is of ``/about;sid``, which is of ``…;sid``
"""

import re
from dataclasses import dataclass

from palinode.core import address as addresses

_TIMES = 3
_DEEP = 4
"""Segments; deeper paths of one section are of one wide pattern."""
_LONGEST = 500
_NUMBER = re.compile(r"\d+")
_LONGEST_NUMBER = 6
"""Digits; longer ones are moments, tokens of sessions and the like."""
_NAME_BEFORE = re.compile(r"([A-Za-z]+)[^A-Za-z0-9]*$")
_COUNTING = frozenset(("page", "pages", "paged", "pg", "seite", "pagina", "offset", "start", "from")) | frozenset(
    ("year", "month", "week", "day", "date", "y", "m", "d", "cal", "calendar")
)
"""Names before a number that counts the pages of a list, or days."""


@dataclass(frozen=True)
class Pattern:
    """What is common to addresses."""

    text: str

    @property
    def ident(self) -> int:
        """The pattern's identity: a signed 64-bit number, never 0."""
        return addresses.ident(self.text) or 1

    @property
    def grows_at_rest(self) -> bool:
        """Whether it is given more only when nothing else is to be asked.

        Its addresses have parameters; only then is it known which of these do nothing to the content.
        """
        return "?" in self.text or ";" in self.text


REPEATING = Pattern("a path that repeats itself")
FOUND_LATE = Pattern("found when it was read again")
"""What a later version finds in the pages of a capture: no pattern, but left out like one."""


def of(address: str) -> tuple[Pattern, ...]:
    """Return the patterns that an address falls under, the narrowest first: one or two."""
    parts = addresses.split(address)
    if _repeats(parts.path):
        return (REPEATING,)
    path, parameters = _without_parameters(parts.path)
    if len(parts.query) > 1:
        names = sorted({_NUMBER.sub("0", piece.partition("=")[0]) for piece in parts.query[1:].split("&") if piece})
        of_path = _NUMBER.sub("0", parts.path if not parameters else path)
        return _distinct(f"{of_path}?{'&'.join(names)}", f"{of_path}?…")
    if parameters:
        named = ";".join(["", *parameters])
        return _distinct(f"{_NUMBER.sub('0', path)}{named}", f"…{named}")
    return _of_path(path)


def is_plain(address: str) -> bool:
    """Whether an address has neither a query, nor parameters or numbers in its path: there is an end of such."""
    path = addresses.path(address)
    return not ("?" in path or ";" in path or _NUMBER.search(path))


def is_numbered(address: str) -> bool:
    """Whether an address has one number, and that counts neither days nor the pages of a list.

    Of such addresses a site has as many as it has pages, also where these differ in numbers alone.
    """
    text = addresses.path(address)
    (number, *more) = [*_NUMBER.finditer(text), None]
    if number is None or more != [None] or len(number[0]) > _LONGEST_NUMBER:
        return False
    named = _NAME_BEFORE.search(text, 0, number.start())
    return not (named and named[1].lower() in _COUNTING)


def _of_path(path: str) -> tuple[Pattern, ...]:
    segments = path.strip("/").split("/")
    folded = [_NUMBER.sub("0", one) for one in segments]
    last = folded[-1] if folded[-1] == "0" else "*"
    narrow = "/".join(["", *folded[:-1], last])
    wide = [folded[0] if len(segments) > 1 else last, *["*"] * (len(segments) - 1)]
    return _distinct(narrow, "/".join(["", *wide[:_DEEP]]) + ("/…" if len(wide) > _DEEP else ""))


def _distinct(narrow: str, wide: str) -> tuple[Pattern, ...]:
    narrow, wide = narrow[:_LONGEST], wide[:_LONGEST]
    return (Pattern(narrow),) if narrow == wide else (Pattern(narrow), Pattern(wide))


def _without_parameters(path: str) -> tuple[str, list[str]]:
    """Return a path without the parameters of its segments (RFC 3986 section 3.3), and their names in order."""
    if ";" not in path:
        return path, []
    segments, names = [], []
    for segment in path.split("/"):
        bare, *parameters = segment.split(";")
        segments.append(bare)
        names += [_NUMBER.sub("0", one.partition("=")[0]) for one in parameters]
    return "/".join(segments), sorted(set(names))


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
