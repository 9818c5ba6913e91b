"""Whether what a dump holds fits a new host, before the move: sizes against its limits, engines and character sets."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from palinode.core.options import option
from palinode.core.wording import duration, number, sentence, size

_MEGABYTE = 1_000_000
_RATE = 3 * _MEGABYTE
"""Bytes of a dump that a modest database imports in a second."""
_UNPACKED_TWICE = 2
"""Tables and their indexes take about twice what their rows take in a dump."""


@dataclass(frozen=True)
class Limits:
    """What the new host allows; 0 and empty for what is not known."""

    upload: float = option(0.0, "Upload", "Megabytes of one uploaded file (upload_max_filesize, post_max_size).")
    seconds: float = option(0.0, "Import time", "Seconds that a script may run (max_execution_time).")
    memory: float = option(0.0, "Script memory", "Megabytes that a script may take (memory_limit).")
    packet: float = option(0.0, "Largest statement", "Megabytes that the database takes at once (max_allowed_packet).")
    disk: float = option(0.0, "Disk", "Megabytes that are free for the database.")
    engines: tuple[str, ...] = option((), "Engines", "Those that the database has, one a line: InnoDB.")
    charsets: tuple[str, ...] = option((), "Character sets", "Those that the database has, one a line: utf8mb4.")


@dataclass(frozen=True)
class Point:
    """One thing that was looked at."""

    fits: bool
    said: str
    """In a sentence."""


def points(plain: Mapping[str, Any], packed: int, limits: Limits) -> Iterator[Point]:
    """Yield what fits and what does not of a dump (``plain`` as core/site_contents.py keeps it, ``packed`` bytes long).

    Nothing is said of limits that are not known.
    """
    tables = plain.get("tables", [])
    rows = sum(one["size"] for one in tables)
    largest = max(tables, key=lambda one: one["largest"], default=None)
    if limits.upload:
        yield _under(packed, limits.upload, "the file", "can be uploaded", "Cut it, or import it by the command line")
    if limits.seconds:
        needs = rows // _RATE + 1
        fits = needs <= limits.seconds
        said = f"about {duration(int(needs))} to import, of {duration(int(limits.seconds))}"
        stopped = ": a script would be stopped before its end. Use the command line."
        yield Point(fits, sentence(said) + ("." if fits else stopped))
    if limits.memory:
        otherwise = "A script that reads it whole would fail"
        yield _under(packed, limits.memory, "the file", "fits into a script's memory", otherwise)
    if limits.packet and largest is not None:
        what = f"the largest row, in table {largest['name']},"
        otherwise = "Raise max_allowed_packet, or the row is left out"
        yield _under(largest["largest"], limits.packet, what, "can be imported", otherwise)
    if limits.disk:
        otherwise = "With its indexes it takes about twice what its rows take"
        yield _under(rows * _UNPACKED_TWICE, limits.disk, "the database", "has room", otherwise)
    for what, known, has in (
        ("engine", limits.engines, lambda definition: [definition["engine"]]),
        ("character set", limits.charsets, _charsets),
    ):
        if not known:
            continue
        names = {one.lower() for one in known}
        lacking: dict[str, list[str]] = {}
        for one in tables:
            for name in has(one["definition"]) if one["definition"] else ():
                if name and name.lower() not in names:
                    lacking.setdefault(name, []).append(one["name"])
        for name, those in lacking.items():
            have = number(len(those), "table has", "tables have")
            yield Point(False, f"{sentence(what)} {name} is not there, which {have}: {those[0]}.")
        if not lacking:
            yield Point(True, f"Each table's {what} is there.")


def _charsets(definition: Mapping[str, Any]) -> list[str]:
    return list(dict.fromkeys([definition["charset"], *(one["charset"] for one in definition["columns"])]))


def _under(found: int, limit: float, what: str, can: str, otherwise: str) -> Point:
    fits = found <= limit * _MEGABYTE
    said = f"{sentence(what)} has {size(found)}, of {size(int(limit * _MEGABYTE))}"
    return Point(fits, f"{said}: it {can}." if fits else f"{said}. {otherwise}.")
