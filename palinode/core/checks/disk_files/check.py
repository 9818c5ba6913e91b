"""The check of files on disk: what is missing, more, different, empty, elsewhere; only what differs is a row."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fnmatch import fnmatch

import numpy as np

from palinode.core import address as addresses
from palinode.core import file_groups
from palinode.core.checks.check import Cell, Check, Column, Reads
from palinode.core.checks.disk_files import verdicts
from palinode.core.checks.disk_files.named_files import NamedFile, named_files
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Items, Outcome, Row, outcome
from palinode.core.findings import Finding, columns
from palinode.core.listings import facing
from palinode.core.listings.facing import Difference, Facing, Verdict
from palinode.core.listings.listing import UNKNOWN, Listing
from palinode.core.options import option
from palinode.core.wording import number, size

_VERDICTS = {
    Verdict.MISSING: verdicts.MISSING,
    Verdict.EMPTY: verdicts.EMPTY,
    Verdict.DIFFERENT: verdicts.DIFFERENT,
    Verdict.CASE: verdicts.LETTERS,
    Verdict.EXTRA: verdicts.MORE,
}
_KINDS = {
    verdicts.MISSING: verdicts.DISK_MISSING,
    verdicts.EMPTY: verdicts.DISK_EMPTY,
    verdicts.DIFFERENT: verdicts.DISK_DIFFERENT,
    verdicts.LETTERS: verdicts.DISK_LETTERS,
}
_SAID = {
    verdicts.MISSING: "missing",
    verdicts.EMPTY: "without a byte",
    verdicts.DIFFERENT: "with other content",
    verdicts.LETTERS: "in other capitals",
    verdicts.MORE: "only at the destination",
}
_TOP = "the folder of the site"
_MOST_LISTED = 100_000
"""Files that one row lists."""
_MOST_MOVES = 1_000


@dataclass(frozen=True)
class DiskFilesOptions:
    """What people may set."""

    left_out: tuple[str, ...] = option(
        ("wp-content/cache/", "wp-content/upgrade/", ".git/", "error_log", "*.log", "wp-config.php"),
        "Left out",
        "Folders, with a slash at their end, and names of files, in which * stands for anything; one a line.",
    )


@dataclass(frozen=True)
class _Sides:
    """Both lists, and which of their files are left out."""

    left: Listing
    right: Listing
    left_out: Sequence[str]

    def path(self, one: Difference) -> str:
        """Return where a file stands, or stood."""
        return self.left.paths[one.left] if one.left >= 0 else self.right.paths[one.right]

    def is_left_out(self, path: str) -> bool:
        """Whether people left a file out."""
        return any(_fits(path, one) for one in self.left_out)

    def said(self, one: Difference) -> tuple[str, str, str]:
        """Return a file on both sides, and what is said of it."""
        before = self.left.paths[one.left] if one.left >= 0 else ""
        after = self.right.paths[one.right] if one.right >= 0 else ""
        sizes = [
            int(side.size[at]) if at >= 0 else UNKNOWN for side, at in ((self.left, one.left), (self.right, one.right))
        ]
        known = [size(one) for one in sizes if one != UNKNOWN]
        differ = len(known) == len(sizes) and sizes[0] != sizes[1]
        return before, after, " became ".join(known) if differ else ", ".join(known[:1])


def judge(looked: Looked) -> Outcome:
    """Hold the lists of files of both hosts against each other."""
    left, right = looked.left.listing, looked.right.listing
    assert left is not None and right is not None
    sides = _Sides(left, right, (looked.options or DiskFilesOptions()).left_out)
    faced = facing.face(left, right)
    rows: list[Row] = []
    found: list[Finding] = []
    by_verdict: dict[int, list[Difference]] = defaultdict(list)
    aside = 0
    for one in faced.differences:
        if sides.is_left_out(sides.path(one)):
            aside += 1
        elif one.verdict is not Verdict.MOVED:
            by_verdict[_VERDICTS[one.verdict]].append(one)
    for verdict, some in sorted(by_verdict.items()):
        _tell(sides, verdict, some, rows, found)
    _moved(sides, faced, rows, found)
    _named(list(named_files(looked)), rows, found)
    said = f"{number(faced.same, 'file')}, compared by {faced.compared_by}"
    rows.append(Row(verdicts.SAME, f"{faced.same:,}", f"{faced.same:,}", "All others", said, order=0))
    if aside:
        rows.append(Row(verdicts.SET_ASIDE, "", f"{aside:,}", "Left out", "by the options of this check", order=1))
    told = outcome(rows, columns(CHECK.kinds, [], found), unseen=tuple(_unseen(sides)))
    missing = [left.paths[one.left] for one in by_verdict[verdicts.MISSING]]
    return replace(told, gives={"missing": _seen_at(missing, looked)})


def _seen_at(paths: list[str], looked: Looked) -> np.ndarray:
    """Return the rows of pages (int64) whose source page is one of some files, by its address: documents."""
    if looked.pages is None:
        return np.zeros(0, np.int64)
    wanted = addresses.idents([addresses.normal(f"{looked.left.bases[0]}{path}") or "" for path in paths])
    found: np.ndarray = np.flatnonzero(np.isin(looked.pages.left, wanted) & (looked.pages.left != 0))
    return found


def _fits(path: str, line: str) -> bool:
    if line.endswith("/"):
        return path.startswith(line) or f"/{line}" in path
    return fnmatch(path.rpartition("/")[2], line)


def _tell(sides: _Sides, verdict: int, some: list[Difference], rows: list[Row], found: list[Finding]) -> None:
    """Tell of files with one verdict, folder by folder."""
    paths = [f"/{path}" for path in (sides.left if verdict != verdicts.MORE else sides.right).paths]
    at = [one.left if verdict != verdicts.MORE else one.right for one in some]
    chosen = dict(zip(at, some, strict=True))
    for group in file_groups.groups(paths, at):
        members = [chosen[place] for place in group.members]
        count, folder = len(members), group.name.removeprefix("/") or _TOP
        whole = f"all {group.of:,} {_SAID[verdict]}" if group.whole and group.of > 1 else f"{count:,} {_SAID[verdict]}"
        before = 0 if verdict == verdicts.MORE else count
        after = 0 if verdict == verdicts.MISSING else count
        _find(sides, verdict, folder, members, whole, len(rows), found)
        rows.append(
            Row(
                verdict,
                f"{before:,}",
                f"{after:,}",
                folder,
                whole,
                order=-count,
                numbers={"source_files": before, "destination_files": after},
                items=_items(sides, members),
            )
        )


def _find(
    sides: _Sides, verdict: int, folder: str, members: list[Difference], said: str, row: int, found: list[Finding]
) -> None:
    kind = _KINDS.get(verdict)
    if kind is None:
        return
    first = sides.said(members[0])
    looks = "\n".join(sides.path(one) for one in members)
    found.append(Finding(kind, folder, 1, first[0], first[1], f"{folder}: {said}", row=row, looks=looks))


def _items(sides: _Sides, members: list[Difference]) -> Items:
    before, after, what = zip(*(sides.said(one) for one in members[:_MOST_LISTED]), strict=True)
    return Items((list(before), list(after), list(what), [""] * len(before)))


def _moved(sides: _Sides, faced: Facing, rows: list[Row], found: list[Finding]) -> None:
    """Tell of folders that went elsewhere as a whole, and of what else stands in another place."""
    moves: dict[tuple[str, str], list[Difference]] = defaultdict(list)
    for one in faced.differences:
        if one.verdict is Verdict.MOVED and not sides.is_left_out(sides.path(one)):
            step = facing.step(sides.left.paths[one.left], sides.right.paths[one.right])
            moves[step].append(one)
    largest = sorted(moves.items(), key=lambda item: -len(item[1]))
    for (before, after), members in largest[:_MOST_MOVES]:
        count = f"{len(members):,}"
        said = f"now in {after or _TOP}"
        numbers = {"source_files": len(members), "destination_files": len(members)}
        name = before or _TOP
        first = sides.said(members[0])
        looks = "\n".join(sides.path(one) for one in members)
        detail = f"files of {name} are {said}"
        found.append(
            Finding(verdicts.DISK_MOVED, f"{name} to {after}", 1, *first[:2], detail, row=len(rows), looks=looks)
        )
        items = _items(sides, members)
        rows.append(Row(verdicts.MOVED, count, count, name, said, order=-len(members), numbers=numbers, items=items))


def _named(files: Sequence[NamedFile], rows: list[Row], found: list[Finding]) -> None:
    """Tell of files that rows of the database name and nobody has."""
    if not files:
        return
    name = "Files that the database names"
    count = len(files)
    first = files[0]
    looks = "\n".join(one.path for one in files)
    detail = (
        f"{number(count, 'file')} that the database names {'is' if count == 1 else 'are'} not on disk: {first.path}"
    )
    found.append(Finding(verdicts.DISK_NAMED, name, 1, first.path, "", detail, row=len(rows), looks=looks))
    items = Items(
        (
            [one.path if one.was_there else "" for one in files],
            [""] * count,
            [f"named by {one.by}{'' if one.was_there else ', not at the source either'}" for one in files],
            [one.page for one in files],
        )
    )
    note = f"{count:,} not on disk: {first.path}{', and others' if count > 1 else ''}"
    rows.append(Row(verdicts.NAMED, f"{sum(one.was_there for one in files):,}", "0", name, note, items=items))


def _unseen(sides: _Sides) -> Iterator[str]:
    for which, side in (("source", sides.left), ("destination", sides.right)):
        if side.unread:
            yield f"{number(side.unread, 'line')} of the list of files of the {which}, which say nothing of a file"


CHECK = Check(
    name="disk",
    version=1,
    title="Files on disk",
    view="counts",
    reads=(Reads.PAIRS, Reads.LISTING, Reads.ITEMS),
    needs=(Reads.LISTING,),
    after=("pages",),
    verdicts=verdicts.VERDICTS,
    kinds=verdicts.KINDS,
    columns=(
        Column("folder", "Folder", Cell.LEFT_NOTE),
        Column("source_files", "At the source", Cell.NUMBER),
        Column("destination_files", "At the destination", Cell.NUMBER),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What differs", Cell.RIGHT_NOTE),
    ),
    items=("source", "destination", "what", "page"),
    judge=judge,
    options=DiskFilesOptions,
)
