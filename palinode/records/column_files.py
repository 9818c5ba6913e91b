"""The columns of a closed capture, written once as arrays that every comparison maps into memory.

They follow from the capture's answers and facts alone, and are made anew where one is missing or of an older version.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Annotated, Any, get_args, get_type_hints

import numpy as np
from django.db import connection

from palinode.core.columns import References, Referrers, offsets
from palinode.core.fields import Field
from palinode.records import array_files, bulk_copy, plans
from palinode.records.lines import Lines
from palinode.records.models import Capture

VERSION = 5
_LINES = "replace({0}, E'\\n', ' ')"
_NO_PRINTS = f"decode(repeat('00', {8 * len(Field)}), 'hex')"
_FIRST_EIGHT = "('x' || encode(substr(a.body, 1, 8), 'hex'))::bit(64)::bigint"


_RECOGNISED = """CASE WHEN a.status IN (401, 403, 407, 429, 451) OR a.status >= 500 THEN coalesce((SELECT g.recognised
    FROM records_facts g WHERE g.move_id = %(move)s AND g.key = a.facts LIMIT 1), 0::int2)
    ELSE coalesce(f.recognised, 0::int2) END"""
"""Of pages, and of answers that say no, whose body may say why: a notice, a wall, a database that is away."""


@dataclass(frozen=True)
class Read:
    """How a column is read."""

    kind: str
    """As in records/bulk_copy.py."""
    sql: str
    """Of an answer ``a``, its facts ``f`` and its address ``d``."""


@dataclass(frozen=True)
class CaptureColumns:
    """n answers of a capture in order of their identities, with the fingerprints of its pages; shape (n,)."""

    ident: Annotated[np.ndarray, Read("i8", "a.ident")]
    """int64, ascending."""
    status: Annotated[np.ndarray, Read("i2", "a.status")]
    """int16; -1 where nothing was fetched."""
    is_page: Annotated[np.ndarray, Read("bool", "a.is_page")]
    known: Annotated[np.ndarray, Read("i2", "a.known | coalesce(q.known, 0::int2)")]
    """int16: bits of core/discovery.py, those that became known after it was asked among them."""
    target: Annotated[np.ndarray, Read("i8", "a.target")]
    noindex: Annotated[np.ndarray, Read("bool", "coalesce(f.robots LIKE '%%noindex%%', false)")]
    recognised: Annotated[np.ndarray, Read("i2", _RECOGNISED)]
    whole: Annotated[np.ndarray, Read("i8", "f.whole")]
    edge_sum: Annotated[np.ndarray, Read("i8", "f.edge_sum")]
    template: Annotated[np.ndarray, Read("i8", "f.template")]
    words: Annotated[np.ndarray, Read("i4", "f.words")]
    images: Annotated[np.ndarray, Read("i4", "f.images")]
    links: Annotated[np.ndarray, Read("i4", "f.links")]
    forms: Annotated[np.ndarray, Read("i4", "f.forms")]
    length: Annotated[np.ndarray, Read("i8", "a.length")]
    """int64: bytes of the body."""
    body: Annotated[np.ndarray, Read("i8", _FIRST_EIGHT)]
    """int64: the first eight bytes of the body's digest; 0 for none."""
    facts: Annotated[np.ndarray, Read("i8", "f.key")]
    """int64: the key of a page's facts; 0 for an answer that has none which are compared."""
    asked_for: Annotated[np.ndarray, Read("i2", "q.asked_for")]
    """int16: as in core/scope.py; -1 where it was not said."""
    prints: Annotated[np.ndarray, Read("bytes", f"coalesce(f.prints, {_NO_PRINTS})")]
    """int64 (n * fields): one for each of core/fields.py."""
    text: Annotated[np.ndarray, Read("lines", "d.text")]
    """uint8: the addresses in UTF-8, one a line; so are the next four, and ``elsewhere_text``."""
    title: Annotated[np.ndarray, Read("lines", _LINES.format("f.title"))]
    media_type: Annotated[np.ndarray, Read("lines", _LINES.format("a.media_type"))]
    language: Annotated[np.ndarray, Read("lines", _LINES.format("f.language"))]
    reason: Annotated[np.ndarray, Read("lines", _LINES.format("a.reason"))]
    offsets: np.ndarray
    """int64 (n + 1,): cuts ``refers`` and ``places`` into those of each answer."""
    refers: np.ndarray
    """int32: for each reference in a compared field the row that it leads to; n and more for one of ``elsewhere``."""
    places: np.ndarray
    """uint8: where each reference stands (core/fields.py)."""
    elsewhere: np.ndarray
    """int64: identities that are referred to and were not asked, ascending."""
    elsewhere_text: np.ndarray
    asked_offsets: np.ndarray
    """int64 (n + 1,): cuts ``asked_by`` into the pages that refer to each answer."""
    asked_by: np.ndarray
    """int32: rows of pages, whatever the place in them, each page once."""

    @cached_property
    def _lines(self) -> dict[str, Lines]:
        return {}

    def lines(self, name: str) -> Lines:
        """Return the texts of one of the columns of the n answers; where they end is looked for once."""
        if name not in self._lines:
            self._lines[name] = Lines(getattr(self, name), len(self.ident))
        return self._lines[name]

    @cached_property
    def targets(self) -> np.ndarray:
        """int64: the identity that each reference leads to."""
        found: np.ndarray = np.concatenate([self.ident, self.elsewhere])[self.refers]
        return found


_HINTS = get_type_hints(CaptureColumns, include_extras=True)
_NAMES = tuple(one.name for one in fields(CaptureColumns))
_AS_READ: dict[str, Read] = {name: _HINTS[name].__metadata__[0] for name in _NAMES if get_args(_HINTS[name])}
_COLUMNS = ", ".join(f"{one.sql} AS {name}" for name, one in _AS_READ.items())
_TOGETHER = 1_000
_MAPPED = "_columns"
"""Where a capture that is held keeps its columns, so that they are let go of with it."""
_EDGES = """SELECT a.ident, f.targets, CASE WHEN a.status = 200 THEN f.compared ELSE 0 END,
    substr(f.places, 1, CASE WHEN a.status = 200 THEN f.compared ELSE 0 END)
    FROM records_answer a JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts
    WHERE a.capture_id = %(capture)s AND a.is_page ORDER BY a.ident"""
"""The references of pages; those in compared fields stand first."""
_SQL = f"""SELECT {_COLUMNS}
    FROM records_answer a JOIN records_address d ON d.move_id = %(move)s AND d.ident = a.ident
    LEFT JOIN records_frontier q ON q.capture_id = a.capture_id AND q.ident = a.ident AND q.variant = a.variant
    LEFT JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts AND a.status = 200
    WHERE a.capture_id = %(capture)s ORDER BY a.ident"""


def of(capture: Capture) -> CaptureColumns:
    """Return the columns of a capture; those of a closed one are kept, and mapped once for as long as it is held."""
    name = name_of(capture)
    mapped: tuple[str, CaptureColumns] | None = capture.__dict__.get(_MAPPED)
    if mapped and mapped[0] == name:
        return mapped[1]
    if found := array_files.read(capture.move_id, name, _NAMES):
        columns = CaptureColumns(**found)
        capture.__dict__[_MAPPED] = name, columns
        return columns
    made = _made(capture)
    if capture.state == Capture.State.CLOSED:
        array_files.keep(capture.move_id, name, {name: getattr(made, name) for name in _NAMES})
    return made


def names(captures: list[Capture]) -> set[str]:
    """Return the names of the files that some captures have, or would have."""
    return {name for one in captures for name in array_files.names(one.move_id, name_of(one), _NAMES).values()}


def name_of(capture: Capture) -> str:
    """Return the name of the columns of a capture; reading it again, or another version, makes another name."""
    return f"{capture.pk}-{VERSION}-{capture.readings}"


def _made(capture: Capture) -> CaptureColumns:
    values: dict[str, object] = {"move": capture.move_id, "capture": capture.pk}
    with plans.whole(), connection.cursor() as cursor:
        # A whole capture is read block by block, which takes two thirds of the time of row by row.
        cursor.execute("SET LOCAL enable_indexscan = off")
        found = bulk_copy.columns_out({name: one.kind for name, one in _AS_READ.items()}, _SQL, values)
    edges = _Edges(capture, found["ident"])
    return CaptureColumns(
        **{name: _array(one.kind, found[name]) for name, one in _AS_READ.items()},
        offsets=offsets(edges.sizes),
        refers=edges.refers,
        places=edges.places,
        elsewhere=edges.elsewhere,
        elsewhere_text=texts_of(capture, edges.elsewhere),
        asked_offsets=edges.referrers.offsets,
        asked_by=edges.referrers.by,
    )


@dataclass(frozen=True)
class _Part:
    """The references of some pages."""

    rows: np.ndarray
    """Rows of the pages among the answers."""
    targets: list[np.ndarray]
    compared: list[int]
    """How many of them, at their beginning, stand in compared fields."""
    places: bytes
    """Of those in compared fields, end to end."""

    def given_to(self, take: Callable[[np.ndarray, np.ndarray, np.ndarray], None]) -> None:
        """Let ``take`` have all targets end to end, with how many each page has."""
        take(self.rows, np.concatenate(self.targets), np.array([len(one) for one in self.targets]))


class _Edges:
    """The references of a capture, read some pages at a time: all of them are never held at once."""

    def __init__(self, capture: Capture, ident: np.ndarray) -> None:
        self.sizes = np.zeros(len(ident), np.int64)
        """How many in compared fields each answer has."""
        self.referrers = Referrers(ident)
        for part in _parts(capture, ident):
            self.sizes[part.rows] = part.compared
            part.given_to(self.referrers.count)
        references, places = References(ident, int(self.sizes.sum())), []
        for part in _parts(capture, ident):
            compared = [some[:number] for some, number in zip(part.targets, part.compared, strict=True)]
            references.add(np.concatenate(compared))
            places.append(part.places)
            part.given_to(self.referrers.put)
        self.refers, self.elsewhere = references.made()
        self.places = np.frombuffer(b"".join(places), np.uint8)


def _parts(capture: Capture, ident: np.ndarray) -> Iterator[_Part]:
    with (
        plans.whole(),
        bulk_copy.stream(_EDGES, {"move": capture.move_id, "capture": capture.pk}, _TOGETHER) as batches,
    ):
        for batch in batches:
            idents, targets, compared, places = zip(*batch, strict=True)
            yield _Part(
                np.searchsorted(ident, np.array(idents, np.int64)),
                [np.frombuffer(some, "<i8") for some in targets],
                list(compared),
                b"".join(places),
            )


def _array(kind: str, column: Any) -> np.ndarray:
    """Return a column as it is kept; bytes are int64, end to end."""
    found: np.ndarray = np.frombuffer(column, "<i8") if kind == "bytes" else column
    return found


def texts_of(capture: Capture, idents: np.ndarray) -> np.ndarray:
    """Return the texts of ascending identities, in their order, as lines.

    Raises ValueError if one is not kept, which cannot be while rows are written as they are.
    """
    found = bulk_copy.columns_out(
        {"ident": "i8", "text": "lines"},
        "SELECT ident, text FROM records_address WHERE move_id = %(move)s AND ident = ANY(%(idents)s) ORDER BY ident",
        {"move": capture.move_id, "idents": idents.tolist()},
    )
    if len(found["ident"]) != len(idents):
        raise ValueError("The text of an address is missing. Read the capture again.")
    lines: np.ndarray = found["text"]
    return lines
