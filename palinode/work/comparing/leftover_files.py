"""Loads the leftovers of a capture of pages: read from its stored answers once for what is looked for, and kept."""

import hashlib
import logging
from collections.abc import Iterator, Sequence

import numpy as np
import orjson
from django.db import connection

from palinode.core import rule as rules
from palinode.core.checks.leftovers.check import CHECK
from palinode.core.leftovers import served, stored, wanted
from palinode.core.leftovers.answer import Leftover
from palinode.core.leftovers.served import ARRAYS, Gathering, ServedLeftovers
from palinode.core.leftovers.stored import StoredLeftovers
from palinode.core.leftovers.wanted import Wanted
from palinode.records import array_files, check_options, plans
from palinode.records.models import Capture, Move
from palinode.work import read_leftovers, readers
from palinode.work.importing import site_file_reading
from palinode.work.read_leftovers import StoredAnswer
from palinode.work.readers import Readers, Unreadable
from palinode.work.record_location import At

log = logging.getLogger(__name__)

_TOGETHER = 40
"""Answers handed to a reading process at once."""
_FETCHED = 2_000
_PROCESSES = 2
_STORED = ("said",)
_SQL = f"""
    SELECT a.ident, d.text, s.name, a."offset", t.name, b."offset" FROM
    (SELECT * FROM records_answer WHERE capture_id = %(capture)s AND ident > %(after)s AND variant = 0
     AND segment_id IS NOT NULL ORDER BY ident LIMIT %(most)s) a {plans.ADDRESS}
    JOIN records_segment s ON s.id = a.segment_id AND s.let_go_at IS NULL
    JOIN records_capture c ON c.id = s.capture_id AND c.move_id = %(move)s
    LEFT JOIN LATERAL (SELECT * FROM records_body WHERE move_id = %(move)s AND digest = a.body LIMIT 1) b ON true
    LEFT JOIN records_segment t ON t.id = b.segment_id AND t.let_go_at IS NULL
    ORDER BY a.ident"""


def load(held: Sequence[Capture]) -> ServedLeftovers | None:
    """Return the leftovers of the destination's pages; None for the source, and where nothing is looked for."""
    capture = held[0]
    if capture.which != "destination":
        return None
    looked_for = of_move(capture.move)
    if not looked_for:
        return None
    name = _name(capture, looked_for)
    if arrays := array_files.read(capture.move_id, name, ARRAYS):
        return ServedLeftovers.of(looked_for, arrays)
    made = _made(capture, looked_for)
    array_files.keep(capture.move_id, name, made.arrays())
    return made


def load_stored(held: Sequence[Capture]) -> StoredLeftovers | None:
    """Return the leftovers of a side's latest dump; of the source the damaged values alone, since its names are right.

    None where nothing is looked for, and where the dump cannot be read again.
    """
    capture = held[-1]
    looked_for = of_move(capture.move)
    if not looked_for:
        return None
    name = _stored_name(capture, looked_for)
    if arrays := array_files.read(capture.move_id, name, _STORED):
        return StoredLeftovers.of(looked_for, orjson.loads(arrays["said"].tobytes()))
    old, new = _hosts(capture.move)
    wanted_there = looked_for if capture.which == "destination" else Wanted()
    try:
        made = _stored(capture, wanted_there, wanted.fragments_of((*old, *new)))
    except (FileNotFoundError, Unreadable, *site_file_reading.ERRORS):
        log.exception("the file of capture %s cannot be read again", capture.pk)
        return None
    said = orjson.dumps(made.plain())
    array_files.keep(capture.move_id, name, {"said": np.frombuffer(said, np.uint8)})
    return StoredLeftovers.of(looked_for, made.plain())


def _stored(capture: Capture, looked_for: Wanted, beside: tuple[bytes, ...]) -> StoredLeftovers:
    file = capture.file
    *_, made = readers.stream(None, read_leftovers.of_dump, capture.move_id, file.stored, file.name, looked_for, beside)
    assert isinstance(made, StoredLeftovers), "it is the last step"
    return made


def _hosts(move: Move) -> tuple[list[str], list[str]]:
    """Return the home pages of the old and the new hosts."""
    old, new = ([host.base for host in move.side(which).hosts] for which in ("source", "destination"))
    return old, new


def of_move(move: Move) -> Wanted:
    """Return what is looked for in a move: what its rule and hosts say, and what people added."""
    options = check_options.of(move, CHECK)
    old, new = _hosts(move)
    return wanted.of_move(old, new, rules.read(move.rule), options.names, options.base64)


def names(captures: Sequence[Capture]) -> set[str]:
    """Return the names of the files that captures have, or would have, for what is looked for now."""
    looked_for = {move.pk: of_move(move) for move in {one.move_id: one.move for one in captures}.values()}
    return {
        name
        for one in captures
        for what, arrays in (
            (_name(one, looked_for[one.move_id]), ARRAYS),
            (_stored_name(one, looked_for[one.move_id]), _STORED),
        )
        for name in array_files.names(one.move_id, what, arrays).values()
    }


def _stored_name(capture: Capture, looked_for: Wanted) -> str:
    return f"{_name(capture, looked_for)}-{stored.VERSION}"


def _name(capture: Capture, looked_for: Wanted) -> str:
    said = orjson.dumps([served.VERSION, capture.readings, looked_for])
    return f"{capture.pk}-leftovers-{hashlib.blake2b(said, digest_size=8).hexdigest()}"


def _made(capture: Capture, looked_for: Wanted) -> ServedLeftovers:
    gathering = Gathering(looked_for)
    with Readers(_PROCESSES) as readers:
        for some in _answers(capture):
            for ident, address, leftovers in _read(readers, some, looked_for, gathering):
                gathering.add(ident, address, leftovers)
    return gathering.made()


def _read(
    readers: Readers, some: list[StoredAnswer], looked_for: Wanted, gathering: Gathering
) -> list[tuple[int, str, list[Leftover]]]:
    """Read some answers; those that cannot be read are counted."""
    try:
        return readers.run(read_leftovers.read, some, looked_for)
    except (Unreadable, FileNotFoundError, ValueError):
        if len(some) == 1:
            gathering.unread += 1
            return []
        return [found for one in some for found in _read(readers, [one], looked_for, gathering)]


def _answers(capture: Capture) -> Iterator[list[StoredAnswer]]:
    """Yield where the answers of a capture lie, some at a time, as they lie one after the other."""
    move, after = capture.move_id, -(2**63)
    while True:
        values = {"capture": capture.pk, "move": move, "after": after, "most": _FETCHED}
        with connection.cursor() as cursor:
            cursor.execute(_SQL, values)
            rows = cursor.fetchall()
        if not rows:
            return
        after = rows[-1][0]
        found = [
            StoredAnswer(ident, text, At(move, name, offset), At(move, other, place) if other else None)
            for ident, text, name, offset, other, place in rows
        ]
        found.sort(key=lambda one: (one.record.name, one.record.offset))
        yield from (found[start : start + _TOGETHER] for start in range(0, len(found), _TOGETHER))
