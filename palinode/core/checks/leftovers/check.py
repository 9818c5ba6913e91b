"""The check of leftovers: each old address that is still served, by what must be mended, facing what is expected."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core import platforms
from palinode.core.checks.check import Cell, Check, Column, Reads
from palinode.core.checks.kind import Kind
from palinode.core.checks.leftovers import dependences, verdicts
from palinode.core.checks.leftovers.line import DATABASE, GROUPS, SERIALIZED, SETTINGS, TEMPLATE, TEXT, Line
from palinode.core.checks.leftovers.served_lines import served_lines
from palinode.core.checks.leftovers.stored_lines import damaged, stored_lines
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Items, Outcome, Row, outcome
from palinode.core.findings import Finding, columns
from palinode.core.leftovers.places import Use
from palinode.core.leftovers.search import Kind as What
from palinode.core.leftovers.search import Occurrence
from palinode.core.leftovers.stored import DamagedValue
from palinode.core.options import option
from palinode.core.wording import number

_ROBOTS = "/robots.txt"
_MOST_ROWS = 5_000
_ADDRESSES = {f"option {name}" for one in platforms.ALL if one.settings for name in one.settings.addresses}
"""Where it is said where the site stands, of which the check of the platform tells."""


@dataclass(frozen=True)
class LeftoversOptions:
    """What people may set."""

    names: tuple[str, ...] = option(
        (),
        "Also look for",
        "One a line: another old host name, an address below which all is old, an IP address, a folder of the old "
        "server's disk (/var/www/mill). The hosts of the source are looked for anyway.",
    )
    base64: bool = option(False, "In base64 too", "Texts in base64 are looked into, which takes longer.")


def judge(looked: Looked) -> Outcome:
    """Group the leftovers of the destination by what must be mended."""
    served, stored = looked.right.leftovers, looked.right.stored_leftovers
    if served is None:
        return outcome([], columns(CHECK.kinds, [], []), unseen=("leftover addresses, since no name is old",))
    lines = list(served_lines(looked, served))
    lines += [(line, None) for line in _besides(stored_lines(looked, stored), lines)] if stored else []
    rows: list[Row] = []
    found: list[Finding] = []
    for line, on in sorted(lines, key=lambda one: -one[0].times)[:_MOST_ROWS]:
        _tell(line, on, looked, rows, found)
    for (table, column, setting), values in damaged(looked).items():
        _tell_damaged(f"option {setting}" if setting else f"{table}, {column}", values, rows, found)
    rows += dependences.rows(looked)
    return outcome(rows, columns(CHECK.kinds, [], found), GROUPS, tuple(_unseen(looked, len(lines))), True)


def _unseen(looked: Looked, lines: int) -> Iterator[str]:
    served, stored = looked.right.leftovers, looked.right.stored_leftovers
    if served is not None and served.unread:
        yield f"leftovers of {number(served.unread, 'answer')} whose record cannot be read"
    if served is not None and served.left_out:
        yield f"{number(served.left_out, 'further leftover')} of pages, of more forms than are kept"
    if lines > _MOST_ROWS:
        yield f"{lines - _MOST_ROWS:,} further forms of leftovers, each in fewer places"
    if stored is not None and stored.left_out:
        yield f"{number(stored.left_out, 'further leftover')} of the database, of more forms than are kept"


def _besides(stored: Iterable[Line], served: Sequence[tuple[Line, object]]) -> Iterator[Line]:
    """Yield what the database holds and no page shows; what both have is noted with the page's line."""
    shown = {(line.left, line.right): line for line, _ in served if line.group in (TEXT, TEMPLATE)}
    for line in stored:
        beside = shown.get((line.left, line.right)) if line.group == DATABASE else None
        if beside is None:
            yield line
        else:
            beside.cells += line.cells
            beside.items += line.items


def _tell(line: Line, on: np.ndarray | None, looked: Looked, rows: list[Row], found: list[Finding]) -> None:
    """Add the row of a line, and what is wrong to what was found."""
    verdict, note, kind = _judged(line, looked)
    if line.cells and line.answers:
        note = _joined(note, f"{number(line.cells, 'cell')} of the database")
    places = [place for place, *_ in line.items]
    if set(places) == {_ROBOTS}:
        kind, note = None, "told by the check of robots"
    if kind is not None:
        detail = f"{line.place}: {line.left}{f', expected {line.right}' if line.right else ''}"
        where = next(filter(None, places), "")
        locus = f"{line.place} {line.left}"
        count = max(1, line.answers or line.cells)
        found.append(Finding(kind, locus, count, where, "", detail, "", len(rows), on, detail))
    place = f"{line.place}, in the template" if line.group == TEMPLATE else line.place
    numbers = {"times": line.times, "answers": line.answers, "cells": line.cells}
    items = Items(tuple(map(list, zip(*line.items, strict=True))))
    right = line.left if verdict == verdicts.STAYS else line.right
    rows.append(Row(verdict, line.left, right, place, note, line.group, -line.times, numbers, items))


def _tell_damaged(place: str, values: Sequence[DamagedValue], rows: list[Row], found: list[Finding]) -> None:
    """Add the row of serialized values that were damaged, and the finding."""
    first = values[0]
    note = f"row {first.row}: {first.why}{', and others' if len(values) > 1 else ''}"
    detail = f"{place}: {number(len(values), 'serialized value is', 'serialized values are')} damaged; {note}"
    looks = "\n".join(sorted(f"{one.row} {one.why}" for one in values))
    found.append(
        Finding(verdicts.VALUES_DAMAGED, place, len(values), "", first.beginning, detail, row=len(rows), looks=looks)
    )
    items = Items(([f"{one.table} {one.row}" for one in values], [one.why for one in values], [""] * len(values)))
    numbers = {"times": len(values), "answers": 0, "cells": len(values)}
    rows.append(Row(verdicts.DAMAGED, first.beginning, "", place, note, SERIALIZED, -len(values), numbers, items))


def _judged(line: Line, looked: Looked) -> tuple[int, str, Kind | None]:
    """Return the verdict of a line, what is said beside it, and the kind of its finding."""
    one = line.one
    if line.use is Use.KEPT:
        return verdicts.STAYS, "readers would show old items as new", None
    if line.group == SETTINGS and line.place in _ADDRESSES:
        return verdicts.BROKEN, "told by the check of the platform", None
    how = "" if one.spelling.word == "plain" else one.spelling.word
    if line.in_serialized:
        how = _joined(how, "inside a serialized value, whose length must change with it")
    if one.in_base64:
        how = "in base64"
    if one.kind is What.BELOW:
        return verdicts.NAMED, _joined(how, "goes with the old domain, if that is given up"), verdicts.NAME_BELOW
    if one.kind is What.MAIL:
        return verdicts.NAMED, "is there such a mailbox?", verdicts.MAIL
    if one.kind in (What.PATH, What.NUMBER):
        return verdicts.NAMED, _joined(how, "of the old server"), verdicts.SERVER
    if one.kind is What.NAME or line.use is Use.NAMED:
        return verdicts.NAMED, how, verdicts.NAMED_ONLY
    if line.use is Use.LOADED and one.plain.startswith("http:") and looked.right.bases[0].startswith("https:"):
        return verdicts.BROKEN, _joined(how, "http on an https page"), verdicts.INSECURE
    if line.group in (SETTINGS, DATABASE):
        return verdicts.WORKS, how, verdicts.STORED
    if _is_broken(one, looked):
        return verdicts.BROKEN, _joined(how, "the old host has no such page"), _kind(line)
    if line.place in ("header location", "header refresh", "redirect in the page"):
        return verdicts.WORKS, _joined(how, "sends visitors to the old host"), verdicts.LEADS_BACK
    if line.use is Use.LOADED:
        return verdicts.LOADS, how, verdicts.LOADED
    return verdicts.WORKS, _joined(how, "while the old host answers"), _kind(line)


def _kind(line: Line) -> Kind:
    return {Use.LOADED: verdicts.LOADED, Use.SENT: verdicts.SENT, Use.SAID: verdicts.SAID}.get(
        line.use, verdicts.LINKED
    )


def _is_broken(one: Occurrence, looked: Looked) -> bool:
    """Whether the source itself had nothing there."""
    files = looked.left.files
    if files is None or not one.address:
        return False
    row = int(files.find(np.array([addresses.ident(one.address)], np.int64))[0])
    return row >= 0 and int(files.status[row]) in (404, 410)


def _joined(*said: str) -> str:
    return "; ".join(filter(None, said))


CHECK = Check(
    name="leftovers",
    version=2,
    title="Leftovers",
    view="leftovers",
    reads=(
        Reads.PAIRS,
        Reads.FILES,
        Reads.LEFTOVERS,
        Reads.STORED_LEFTOVERS,
        Reads.LINKS,
        Reads.IDENTIFIERS,
        Reads.HOT_LINKS,
    ),
    needs=(Reads.FILES,),
    after=("pages",),
    verdicts=verdicts.VERDICTS,
    kinds=verdicts.KINDS,
    columns=(
        Column("place", "Stands in", Cell.LEFT_NOTE),
        Column("old", "Old form", Cell.LEFT),
        Column("expected", "Expected form", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What of it", Cell.RIGHT_NOTE),
        Column("times", "Times", Cell.NUMBER),
        Column("answers", "Pages and files", Cell.NUMBER),
        Column("cells", "Cells of the database", Cell.NUMBER),
    ),
    group_headings=True,
    shown=("times", "answers", "cells"),
    items=("page", "what", "times"),
    judge=judge,
    options=LeftoversOptions,
)
