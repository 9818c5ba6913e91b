"""The patterns of a site's addresses: ``/journal/{year}/{month}/{name}``, ``/?p={number}``.

A segment of digits is a year, a month, a day or a number. A word is itself where a folder of that name holds several
pages, or where it ends many addresses (``feed``); else it is a name.
"""

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

_FEWEST = 3
"""Pages below a word that is one of the site's own folders."""
_MOST_WORDS = 12
"""Folders beside each other, from which on they are names themselves: of authors, of wares."""
_FEWEST_ALIKE = 5
"""Folders in which something is called alike, which is a word then: ``feed``, ``page``."""
_YEAR = re.compile(r"(?:19[5-9]|20[0-4])\d")
_PART_OF_DATE = re.compile(r"\d\d")
_DATED = re.compile(r"(?:19[5-9]|20[0-4])\d-\d\d(?:-\d\d)?-")
_LONGEST_ENDING, _LONGEST_WORD = 5, 16
YEAR, MONTH, DAY, NUMBER, NAME = "{year}", "{month}", "{day}", "{number}", "{name}"


@dataclass(frozen=True)
class AddressPatterns:
    """The patterns of n addresses."""

    names: list[str]
    """Patterns as they are shown, those of most addresses first."""
    of: list[int]
    """The place among them of each address; length n."""


def learn(paths: Sequence[str]) -> AddressPatterns:
    """Return the patterns of some paths, each with its query; a host of its own may stand before one."""
    # Most addresses differ in nothing but their last segment, so what can be said of folders is said once; and most of
    # these are names, which begin with a letter (behind the digits) and have no ending.
    pieces = [path.rpartition("/") for path in paths]
    cuts = {at: _cut(path) for at, path in enumerate(paths) if path[-1:] == "/" or "?" in path}
    for at, one in cuts.items():
        pieces[at] = one.folder, "/", one.last
    folders = Counter([folder for folder, *_ in pieces])
    words = _words(pieces, folders)
    shown = _folders(folders, words)
    named = {folder: f"{before}/{NAME}" for folder, before in shown.items()}
    found = [
        named[folder] if last > ":" and "." not in last and last not in words else _pattern(shown[folder], last, words)
        for folder, _, last in pieces
    ]
    for at, one in cuts.items():
        found[at] += one.end
    order = {name: at for at, (name, _) in enumerate(Counter(found).most_common())}
    return AddressPatterns(list(order), [order[name] for name in found])


class _Cut(NamedTuple):
    """A path with a query, or with a slash at its end."""

    folder: str
    end: str
    """What stands behind the last segment."""
    last: str


def _cut(path: str) -> _Cut:
    bare, mark, query = path.partition("?")
    slash = "/" if bare.endswith("/") and len(bare) > 1 else ""
    if slash and "/" not in bare[:-1]:
        # The home page of a further host.
        return _Cut(bare[:-1], f"{mark}{_parameters(query) if mark else ''}", "")
    folder, _, last = (bare[:-1] if slash else bare).rpartition("/")
    return _Cut(folder, f"{slash}{mark}{_parameters(query) if mark else ''}", last)


def _words(pieces: Iterable[tuple[str, str, str]], folders: Iterable[str]) -> frozenset[str]:
    """Return what several folders have alike as a name of theirs: ``feed``, ``page``.

    Folders of years and numbers do not count: one post has the same name each year.
    """
    counts = Counter([last for *_, last in pieces if len(last) <= _LONGEST_WORD])
    often = {last for last, count in counts.items() if count >= _FEWEST_ALIKE and last > ":"}
    places: dict[str, set[str]] = defaultdict(set)
    for folder, _, last in pieces if often else ():
        if last in often and not folder[-1:].isdigit():
            places[last].add(folder)
    for folder in folders:
        above, _, last = folder.rpartition("/")
        if last > ":" and not above[-1:].isdigit():
            places[last].add(above)
    return frozenset(
        last for last, some in places.items() if len(some) >= _FEWEST_ALIKE and not any(map(str.isdigit, last))
    )


def _pattern(before: str, last: str, words: frozenset[str]) -> str:
    return f"{before}/{last if last in words else _folded(last, before)}"


def _parameters(query: str) -> str:
    told = []
    for piece in query.split("&"):
        name, equals, value = piece.partition("=")
        told.append(f"{name}={NUMBER if value.isdecimal() else '{value}'}" if equals else name)
    return "&".join(told)


def _folders(counts: Counter[str], words: frozenset[str]) -> dict[str, str]:
    """Return the pattern of each folder, given how many addresses stand in each, and what is a word anywhere."""
    below: Counter[str] = Counter()
    for folder, count in counts.items():
        at = 0
        while at >= 0:
            at = folder.find("/", at + 1)
            below[folder if at < 0 else folder[:at]] += count
    beside: dict[str, int] = defaultdict(int)
    for folder, count in below.items():
        above, _, last = folder.rpartition("/")
        beside[above] += count >= _FEWEST and not last.isdecimal()
    shown: dict[str, str] = {"": ""}
    for folder in sorted(below, key=len):
        above, _, last = folder.rpartition("/")
        if not folder.startswith("/") and not above:
            # The name of a further host.
            shown[folder] = folder
            continue
        before = shown[above]
        own = below[folder] >= _FEWEST and beside[above] < _MOST_WORDS and not last.isdecimal()
        is_word = own or last in words
        shown[folder] = f"{before}/{last if is_word else _folded(last, before)}"
    return shown


def _folded(segment: str, before: str) -> str:
    """Return what a segment is, given the pattern before it."""
    if not segment:
        return ""
    bare, dot, ending = segment.rpartition(".")
    is_ending = bare and len(ending) <= _LONGEST_ENDING and ending.isalnum() and not ending.isdigit()
    ending = dot + ending if is_ending else ""
    bare = bare if is_ending else segment
    if segment[0] > ":":
        return NAME + ending
    if bare.isdecimal():
        return (_number(bare, before) if not ending else NUMBER) + ending
    if dated := _DATED.match(segment):
        return f"{YEAR}-{MONTH}{f'-{DAY}' if dated[0].count('-') > 2 else ''}-{NAME}{ending}"
    return NAME + ending


def _number(digits: str, before: str) -> str:
    if _PART_OF_DATE.fullmatch(digits):
        if before.endswith(YEAR):
            return MONTH
        if before.endswith(f"{YEAR}/{MONTH}"):
            return DAY
    return YEAR if _YEAR.fullmatch(digits) else NUMBER


def line(old: str, new: str) -> str:
    """Return the line of the address rule that carries addresses of one pattern over to another; empty for none.

    What ends alike stays; before it the rule knows words and numbers, and no names.
    """
    left, right = old.split("/"), new.split("/")
    while left and right and left[-1] == right[-1]:
        left.pop()
        right.pop()
    if old == new or len(left) == old.count("/") + 1:
        return ""
    beginnings = []
    for some in (left, right):
        told = [_NUMBERS.get(one, one) for one in some]
        if any("{" in one or "?" in one for one in told):
            return ""
        beginnings.append("/".join([*told, ""]))
    before, after = beginnings
    if before == "/":
        # All addresses have a line already.
        return ""
    return f"{before} -> {after}" if after.count("<number>") <= before.count("<number>") else ""


_NUMBERS = dict.fromkeys((YEAR, MONTH, DAY, NUMBER), "<number>")
