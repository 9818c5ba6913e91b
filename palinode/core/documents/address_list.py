"""Lists of addresses that a person imports: one a line, any CSV, access logs (common and combined format)."""

import calendar
import csv
import re
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import lru_cache
from typing import NamedTuple

from palinode.core import address as addresses
from palinode.core import file_family, hot_link
from palinode.core.discovery import Discovery
from palinode.core.scope import Scope

LINE_LIMIT = 20_000
"""Characters of a line; what is longer is no line of a list."""
_REQUEST = re.compile(r'^\S+ \S+ .{0,200}?\[([^\]]{1,60})\] "(GET|HEAD) (\S+)(?: HTTP/[\d.]+)?" (\d{3}) ')
_OTHER_REQUEST = re.compile(r'^\S+ \S+ .{0,200}?\[[^\]]{1,60}\] "')
_DAY = re.compile(r"(\d{2})/([A-Z][a-z]{2})/(\d{4}):")
_MONTHS = {name: number for number, name in enumerate(calendar.month_abbr) if name}
_MACHINE = re.compile(r"bot\b|crawl|spider|monitor|palinode|curl/|wget/|python-|preview", re.IGNORECASE)
"""What programs call themselves that nobody sits before."""
_EXAMPLES = 5
_SHOWN = frozenset({"image", "font", "style", "script", "sound", "film"})
"""Families of files that a page of another site may show as its own."""


class Named(NamedTuple):
    """An address that a line names."""

    address: str
    known: Discovery
    """The way that it became known."""
    day: int | None = None
    """On which a person visited it, as 20261112; None where the line tells of no visit."""


@dataclass
class Tally:
    """What became of the lines of a list."""

    lines: int = 0
    elsewhere: int = 0
    """Addresses of other sites."""
    failed: int = 0
    """Requests of a log that were not answered with a page or a redirect."""
    unread: int = 0
    """Lines without an address."""
    visits: int = 0
    """Requests of a log that were visits: answered, and not made by a program that says so."""
    examples: list[str] = field(default_factory=list)
    """The first of them, with their numbers."""
    shown: Counter[tuple[str, str]] = field(default_factory=Counter)
    """Files of this site that a log's requests say are shown by pages of other hosts: address and host; some of them,
    where there are many."""
    named: Counter[str] = field(default_factory=Counter)
    """The way (list, log) to the number of addresses of this site, repeated ones counted again."""


class ColumnError(ValueError):
    """There is no such column; the message is for a person."""


def read(
    lines: Iterable[str], scope: Scope, tally: Tally, headed: bool = True, column: str = "", base: str = ""
) -> Iterator[Named]:
    """Yield the addresses of a side that a list names; count the rest in ``tally``.

    A line is a request of an access log, or its first cell that looks like an address counts; commas,
    semicolons and tabs divide cells. A first line without an address is a heading, if the list is ``headed``.
    With ``column``, a heading or a number from 1, its cells are addresses, also without scheme. What is written as a
    path is one of the host of ``base``, or of the main one. Raises ColumnError if the first line has no such column.
    """
    base = base or scope.bases[0]
    at: int | None = None
    known: Discovery | None
    day: int | None = None
    referrer = ""
    for line in lines:
        tally.lines += 1
        text = line.strip().lstrip("\ufeff")
        if not text or text.startswith("#"):
            continue
        if column:
            if at is None:
                at = _column(text, column)
                if not column.isdigit():
                    continue
            known, written = Discovery.LIST, _of_column(text, at, scope)
        else:
            known, written, day, referrer = _written(text, tally)
        if known is None:
            continue
        address = addresses.normal(written, base) if written else None
        if address is None:
            if tally.lines > 1 or not headed:
                tally.unread += 1
                if len(tally.examples) < _EXAMPLES:
                    tally.examples.append(f"line {tally.lines}: {text[:80]}")
        elif not scope.holds(address):
            tally.elsewhere += 1
        else:
            tally.named["log" if known == Discovery.LOG else "list"] += 1
            tally.visits += day is not None
            if referrer:
                _count_shown(address, referrer, scope, tally)
            yield Named(address, known, day)


def _count_shown(address: str, referrer: str, scope: Scope, tally: Tally) -> None:
    """Count a file that a page of another host shows."""
    if file_family.family("", address) not in _SHOWN:
        return
    page = addresses.normal(referrer)
    host = addresses.split(page).host if page else ""
    key = address, host
    if host and page and not scope.holds(page) and (key in tally.shown or len(tally.shown) < hot_link.MOST):
        tally.shown[key] += 1


def _written(text: str, tally: Tally) -> tuple[Discovery | None, str, int | None, str]:
    """Return the way and the address of a line as written, the day of a visit, and the address of the page that asked.

    The address is empty for none; a request that says nothing has no way.
    """
    if request := _REQUEST.match(text):
        when, method, address, status = request.groups()
        if not status.startswith(("2", "3")):
            tally.failed += 1
            return None, "", None, ""
        is_visit = method == "GET" and not _MACHINE.search(_agent(text[request.end() :]))
        referrer = _referrer(text[request.end() :])
        return Discovery.LOG, address, _day(when[:12]) if is_visit else None, referrer
    if _OTHER_REQUEST.match(text):
        tally.failed += 1
        return None, "", None, ""
    return Discovery.LIST, _cell(text[:LINE_LIMIT]), None, ""


def _agent(rest: str) -> str:
    """Return what a client calls itself, from the end of a line in the combined format; empty in the common one."""
    return rest.rsplit('"', 2)[1] if rest.endswith('"') and rest.count('"') >= 4 else ""


def _referrer(rest: str) -> str:
    """Return the address of the page that asked, as it is said in the combined format; empty for none."""
    written = rest.split('"', 2)
    return written[1] if len(written) == 3 and written[1].startswith(("http://", "https://")) else ""


@lru_cache(maxsize=1_000)
def _day(when: str) -> int | None:
    """Return the day of a moment as logs write it (``12/Nov/2026:``) as 20261112; None for what is none."""
    match = _DAY.match(when)
    if not match or match[2] not in _MONTHS:
        return None
    return int(match[3]) * 10_000 + _MONTHS[match[2]] * 100 + int(match[1])


def _column(first: str, column: str) -> int:
    cells = [cell.strip() for cell in _cells(first)]
    named = [cell.lower() for cell in cells]
    if column.strip().lower() in named:
        return named.index(column.strip().lower())
    if column.isdigit() and 1 <= int(column) <= len(cells):
        return int(column) - 1
    raise ColumnError(f"There is no column “{column}”. The first line has: {', '.join(cells)[:300]}.")


def _cells(text: str) -> list[str]:
    """Return the cells of a line: by tabs, semicolons or commas, whichever makes the most."""
    found = [text]
    for divider in ("\t", ";", ","):
        if text.count(divider) >= len(found):
            try:
                found = next(csv.reader([text], delimiter=divider), found)
            except csv.Error:
                continue
    return found


def _of_column(text: str, at: int, scope: Scope) -> str:
    cells = _cells(text)
    cell = cells[at].strip() if at < len(cells) else ""
    host = addresses.bare_host(cell.partition("/")[0].lower())
    for parts in map(addresses.split, scope.bases):
        if addresses.bare_host(parts.host) == host:
            return f"{parts.scheme}://{cell}"
    return cell if _is_address(cell) else ""


def _cell(text: str) -> str:
    if text.startswith(("http://", "https://", "/")) and not any(mark in text for mark in ',;\t"'):
        return text
    for divider in ("\t", ";", ","):
        if divider not in text:
            continue
        try:
            cells = next(csv.reader([text], delimiter=divider), [])
        except csv.Error:
            continue
        for cell in cells:
            if _is_address(cell.strip()):
                return cell.strip()
    bare = text.strip("\"' ")
    return bare if _is_address(bare) else ""


def _is_address(cell: str) -> bool:
    return cell.lower().startswith(("http://", "https://", "/")) and " " not in cell
