"""The check of files: every file of the baseline by what its address gives at the destination."""

from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core import file_groups
from palinode.core.answers import NEVER_ASKED, FileAnswers
from palinode.core.checks.check import Cell, Check, Column, Reads, Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Items, Outcome, Row, outcome
from palinode.core.checks.shown_rows import ShownRows
from palinode.core.checks.thread import Thread
from palinode.core.file_family import family
from palinode.core.findings import Finding, columns
from palinode.core.rule import Rule
from palinode.core.weight import Weight
from palinode.core.wording import number

FILE_MISSING = Kind(
    "file_missing",
    "file missing",
    Weight.MEND,
    fault="file",
    shared=True,
    seen_on=("page asks for it", "pages ask for it"),
)
"""A file that pages of the destination ask for."""
FILES_GONE = Kind(
    "files_gone",
    "files gone that no page asks for",
    Weight.NOTE,
    remedy="Other sites and search engines may still lead to them: copy them, or accept that they are gone.",
)
FILES_REPLACED = Kind(
    "files_replaced",
    "something else in place of files",
    Weight.MEND,
    remedy="Open one of them: a page, or a file of another kind, answers under its address. Copy them from the source.",
)
FILES_MOVED = Kind(
    "files_moved",
    "files in another place",
    Weight.NOTE,
    remedy="Put them where they were, or redirect the folder; then capture again.",
)
VERDICTS = (
    Verdict("lost", "Lost", Thread.CUT, wants=True),
    Verdict("replaced", "Something else", Thread.CUT, wants=True),
    Verdict("unknown", "Not judged", Thread.DOTS),
    Verdict("altered", "Altered", Thread.WAVY),
    Verdict("moved", "Moved", Thread.BENT),
    Verdict("new", "New", Thread.RING),
    Verdict("same", "Same", Thread.STRAIGHT),
)
LOST, REPLACED, UNKNOWN, ALTERED, MOVED, NEW, SAME = range(len(VERDICTS))
_HOPS = 5
_MOST_TOLD = 5_000
"""Missing files that pages ask for and that are told one by one."""


@dataclass(frozen=True)
class _Found:
    """What became of one file."""

    verdict: int
    note: str
    to: str = ""
    """Where it was found, or expected."""


class _Destination:
    """The answers of the destination, as the files of the source are looked up in them."""

    def __init__(self, right: FileAnswers, bases: tuple[str, ...], rule: Rule) -> None:
        self.answers, self.rule = right, rule
        self.homes = frozenset(addresses.ident(rule.reached(base)) for base in bases)
        self.row = dict(zip(right.ident.tolist(), range(len(right.text)), strict=True))
        self.pages = frozenset(right.pages.tolist())
        self.by_body: dict[tuple[int, int], list[int]] = defaultdict(list)
        """Digest and length of bodies to the files that have them; empty files are left out."""
        for row in np.flatnonzero((right.status == 200) & (right.length > 0)).tolist():
            self.by_body[int(right.body[row]), int(right.length[row])].append(row)

    def final(self, row: int) -> str:
        """Return the address of an answer in its final form."""
        text = self.answers.text[row]
        return self.rule.forms.final_of(text) if self.rule.forms else text

    def found(self, left: FileAnswers, row: int, ident: int, expected: str) -> _Found:
        """Return what became of a file that is expected where ``ident`` was asked."""
        right = self.answers
        moved = self._elsewhere(left, row)
        for hop in range(_HOPS):
            if ident in self.pages:
                return moved or _Found(
                    REPLACED, "redirects to a page" if hop else "a page answers in its place", expected
                )
            place = self.row.get(ident, -1)
            if place < 0:
                said = "redirects to where the capture did not ask" if hop else "never asked"
                return moved or _Found(UNKNOWN, said, expected)
            status = int(right.status[place])
            if not 300 <= status < 400 or not right.target[place]:
                break
            ident = int(right.target[place])
            if ident in self.homes:
                return moved or _Found(LOST, "redirects to the home page", expected)
        if status == 200:
            return self._held(left, row, place, self.final(place) if hop else expected, bool(hop))
        if status == -1:
            return _Found(UNKNOWN, f"not fetched: {right.reason[place]}", expected)
        return moved or _Found(LOST, "not found" if status in (404, 410) else f"answers {status}", expected)

    def _held(self, left: FileAnswers, row: int, place: int, at: str, redirected: bool) -> _Found:
        """Return what a file is beside the one that answers for it."""
        right = self.answers
        one, other = family(left.media_type[row], left.text[row]), family(right.media_type[place], right.text[place])
        if left.body[row] == right.body[place] and left.length[row] == right.length[place]:
            return _Found(MOVED, "by a redirect", at) if redirected else _Found(SAME, "", at)
        if one and other and one != other:
            return _Found(REPLACED, f"{one} became {other}", at)
        if left.status[row] == NEVER_ASKED:
            return _Found(MOVED if redirected else SAME, "what it held at the source is not known", at)
        before, after = int(left.length[row]), int(right.length[place])
        return _Found(ALTERED, f"{before:,} bytes became {after:,}" if before != after else "as long, other bytes", at)

    def _elsewhere(self, left: FileAnswers, row: int) -> _Found | None:
        """Return where the very file stands; None if nowhere that was asked."""
        rows = self.by_body.get((int(left.body[row]), int(left.length[row])), []) if left.body[row] else []
        if not rows:
            return None
        name = _name(left.text[row]).lower()
        best = min(rows, key=lambda one: (_name(self.answers.text[one]).lower() != name, self.answers.text[one]))
        return _Found(MOVED, "in another place", self.final(best))


def judge(looked: Looked) -> Outcome:
    """Hold each file of the source against what its address gives at the destination."""
    left, right, rule = looked.left.files, looked.right.files, looked.rule
    assert left is not None and right is not None
    there = _Destination(right, looked.right.bases, rule)
    # In an order of their own: answers come in any.
    at = sorted(np.flatnonzero(np.isin(left.status, (200, NEVER_ASKED))).tolist(), key=left.text.__getitem__)
    expected = rule.expect_many([left.text[row] for row in at])
    idents = addresses.idents([rule.reached(one) for one in expected])
    found = [there.found(left, row, ident, one) for row, ident, one in zip(at, idents.tolist(), expected, strict=True)]
    asking = np.append(right.asking, 0)[right.find(idents)].tolist()
    shown = ShownRows(looked.pages, rule) if looked.pages is not None else None

    def shown_by(place: int) -> np.ndarray | None:
        row = int(right.find(idents[place : place + 1])[0])
        return shown.of(right.asked_by(row)) if shown is not None and row >= 0 else None

    return _told(left, there, at, found, asking, shown_by)


def _name(address: str) -> str:
    return address.partition("?")[0].rpartition("/")[2]


def _told(
    left: FileAnswers,
    there: _Destination,
    at: list[int],
    found: list[_Found],
    asking: list[int],
    shown_by: Callable[[int], np.ndarray | None],
) -> Outcome:
    """Return the rows of folders and kinds of files, and what is wrong with them."""
    paths = [addresses.path(left.text[row]) for row in at]
    rows: list[Row] = []
    findings: list[Finding] = []
    for verdict in range(len(VERDICTS)):
        chosen = [place for place, one in enumerate(found) if one.verdict == verdict]
        for group in _groups(verdict, paths, chosen, found):
            members = group.members
            told = [(left.text[at[one]], found[one], asking[one], one) for one in members]
            _find(verdict, group, told, len(rows), findings, shown_by)
            kept = len(members) if verdict in (SAME, ALTERED, MOVED) else 0
            items = Items(
                (
                    [left.text[at[one]] for one in members],
                    [found[one].to for one in members],
                    [found[one].note for one in members],
                )
            )
            numbers = {"source_files": len(members), "destination_files": kept}
            note = _note(verdict, group, [found[one] for one in members])
            rows.append(
                Row(verdict, f"{len(members):,}", f"{kept:,}", group.name, note, order=-len(members), numbers=numbers,
                    items=None if verdict == SAME else items)
            )  # fmt: skip
    _new(there, found, rows)
    return outcome(rows, columns(CHECK.kinds, [], findings))


def _groups(verdict: int, paths: list[str], chosen: list[int], found: list[_Found]) -> list[file_groups.Group]:
    """Return the groups of the files of one verdict."""
    if verdict == SAME:
        # By the first folder: more would be told of what is in order than of what is not.
        by_folder: dict[str, list[int]] = defaultdict(list)
        for place in chosen:
            by_folder[file_groups.folders(paths[place])[:2][-1]].append(place)
        return [file_groups.Group(name, tuple(some), len(some)) for name, some in sorted(by_folder.items())]
    if verdict == MOVED:
        moves: dict[tuple[str, str], list[int]] = defaultdict(list)
        for place in chosen:
            to = file_groups.folders(addresses.path(found[place].to))[-1]
            moves[file_groups.folders(paths[place])[-1], to].append(place)
        return [file_groups.Group(one, tuple(some), len(some)) for (one, _), some in sorted(moves.items())]
    return file_groups.groups(paths, chosen)


def _note(verdict: int, group: file_groups.Group, found: list[_Found]) -> str:
    count = len(group.members)
    if verdict == SAME:
        return ""
    if verdict == MOVED:
        at = file_groups.folders(addresses.path(found[0].to))[-1]
        return f"in {at}, where redirects lead" if found[0].note == "by a redirect" else f"in {at}"
    said = list(dict.fromkeys(one.note for one in found))
    how = said[0] if len(said) == 1 else f"{said[0]}, and others"
    if verdict == LOST and group.whole and group.of > 1:
        return f"all {group.of:,}: {how}"
    return how if count == 1 else f"{count:,} of {group.of:,}: {how}"


def _find(
    verdict: int,
    group: file_groups.Group,
    members: list[tuple[str, _Found, int, int]],
    row: int,
    findings: list[Finding],
    shown_by: Callable[[int], np.ndarray | None],
) -> None:
    """Tell what is wrong with the files of a group."""
    if verdict == LOST:
        told = sum(one.kind is FILE_MISSING for one in findings)
        asked = [one for one in members if one[2]][: max(0, _MOST_TOLD - told)]
        for text, one, asking, place in asked:
            on = shown_by(place)
            # Of those that are no rows, as error pages, the number alone is known.
            on, pages = (on, len(on)) if on is not None and len(on) else (None, asking)
            findings.append(Finding(FILE_MISSING, "", pages, text, one.to, one.note, text, row, on))
        members = [one for one in members if not one[2]]
    kind = {LOST: FILES_GONE, REPLACED: FILES_REPLACED, MOVED: FILES_MOVED}.get(verdict)
    if kind and members:
        first, one, *_ = members[0]
        names = "\n".join(text for text, *_ in members)
        said = f"{number(len(members), 'file')} of {group.name}: {one.note}"
        findings.append(Finding(kind, group.name, 1, first, one.to, said, row=row, looks=names))


def _new(there: _Destination, found: list[_Found], rows: list[Row]) -> None:
    """Tell of files that only the destination has, by their first folder."""
    known = {one.to for one in found if one.verdict in (SAME, ALTERED, MOVED, REPLACED)}
    new: dict[str, list[str]] = defaultdict(list)
    for row in np.flatnonzero(there.answers.status == 200).tolist():
        text = there.final(row)
        if text not in known:
            new[file_groups.folders(addresses.path(text))[:2][-1]].append(text)
    for folder, texts in sorted(new.items()):
        nothing = [""] * len(texts)
        numbers = {"source_files": 0, "destination_files": len(texts)}
        items = Items((nothing, texts, nothing))
        rows.append(Row(NEW, "0", f"{len(texts):,}", folder, "", order=-len(texts), numbers=numbers, items=items))


CHECK = Check(
    name="files",
    version=2,
    title="Files",
    view="counts",
    reads=(Reads.PAIRS, Reads.FILES),
    needs=(Reads.FILES,),
    after=("pages",),
    verdicts=VERDICTS,
    kinds=(FILE_MISSING, FILES_REPLACED, FILES_MOVED, FILES_GONE),
    columns=(
        Column("files", "Files", Cell.LEFT_NOTE),
        Column("source_files", "At the source", Cell.NUMBER),
        Column("destination_files", "At the destination", Cell.NUMBER),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What differs", Cell.RIGHT_NOTE),
    ),
    items=("source", "destination", "what"),
    judge=judge,
)
