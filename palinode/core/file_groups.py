"""Sums files up in the few statements that say most: a whole folder, a kind of file, a year."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass

_DEEPEST = 30
"""Folders of a path that are looked at: one that nests for ever is told by its topmost ones."""
_FEWEST = 3
"""Files of an ending or a year that are told as such."""


@dataclass(frozen=True)
class Group:
    """Some files that are told together."""

    name: str
    """A folder, ``*.webp``, or ``2016 in /uploads``."""
    members: tuple[int, ...]
    """Places of the files."""
    of: int
    """How many files there are of which these are some."""

    @property
    def whole(self) -> bool:
        """All that there are belong to it."""
        return len(self.members) == self.of


def folders(path: str) -> list[str]:
    """Return the folders that a path stands in, the topmost first: ``/``, ``/a/``, ``/a/b/``."""
    found: list[str] = []
    end = path.partition("?")[0].rfind("/")
    at = path.find("/")
    while 0 <= at <= end and len(found) < _DEEPEST:
        found.append(path[: at + 1])
        at = path.find("/", at + 1)
    return found


def groups(paths: Sequence[str], chosen: Sequence[int]) -> list[Group]:
    """Sort some of many files into groups, the largest first; each file is in one.

    ``paths`` are those of all files, ``chosen`` the places of those that are told. Topmost folders that are chosen
    whole come first, then endings and years of which all are, then what is left folder by folder.
    """
    every: dict[str, int] = defaultdict(int)
    for path in paths:
        for folder in folders(path):
            every[folder] += 1
    some: dict[str, int] = defaultdict(int)
    for at in chosen:
        for folder in folders(paths[at]):
            some[folder] += 1
    found: dict[str, list[int]] = defaultdict(list)
    left: list[int] = []
    for at in chosen:
        whole = next((one for one in folders(paths[at]) if some[one] == every[one] and every[one] > 1), None)
        (found[whole] if whole else left).append(at)
    told = [Group(name, tuple(members), every[name]) for name, members in found.items()]
    for naming in (_ending, _year):
        told_now, left = _whole(paths, left, naming)
        told += told_now
    rest: dict[str, list[int]] = defaultdict(list)
    for at in left:
        rest[folders(paths[at])[-1]].append(at)
    told += [Group(name, tuple(members), every[name]) for name, members in rest.items()]
    return sorted(told, key=lambda one: (-len(one.members), one.name))


def _whole(paths: Sequence[str], left: list[int], named: Callable[[str], str]) -> tuple[list[Group], list[int]]:
    """Return the groups of a naming of which every file is among those left, and what is left then."""
    every: dict[str, int] = defaultdict(int)
    for path in paths:
        every[named(path)] += 1
    some: dict[str, list[int]] = defaultdict(list)
    for at in left:
        some[named(paths[at])].append(at)
    told = [
        Group(name, tuple(members), every[name])
        for name, members in some.items()
        if name and len(members) == every[name] and len(members) >= _FEWEST
    ]
    taken = {at for one in told for at in one.members}
    return told, [at for at in left if at not in taken]


def _ending(path: str) -> str:
    name = path.partition("?")[0].rpartition("/")[2]
    return f"*.{name.rpartition('.')[2].lower()}" if "." in name else ""


def _year(path: str) -> str:
    parts = path.partition("?")[0].split("/")[1:-1]
    for at, part in enumerate(parts):
        if len(part) == 4 and part.isdigit() and part[:2] in ("19", "20"):
            return f"{part} in /{'/'.join(parts[:at])}"
    return ""
