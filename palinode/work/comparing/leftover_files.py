"""Loads the leftovers of a capture of pages: read from its stored answers once for what is looked for, and kept."""

import hashlib
import logging
from collections.abc import Sequence

import numpy as np
import orjson

from palinode.core import rule as rules
from palinode.core.checks.leftovers.check import CHECK
from palinode.core.leftovers import served, stored, wanted
from palinode.core.leftovers.served import ARRAYS, Gathering, ServedLeftovers
from palinode.core.leftovers.stored import StoredLeftovers
from palinode.core.leftovers.wanted import Wanted
from palinode.records import array_files, check_options
from palinode.records.models import Capture, Move
from palinode.work import read_leftovers, readers
from palinode.work.comparing import stored_answers
from palinode.work.importing import site_file_reading
from palinode.work.readers import Unreadable

log = logging.getLogger(__name__)

_STORED = ("said",)


def load(held: Sequence[Capture]) -> ServedLeftovers | None:
    """Return the leftovers of the destination's pages; None for the source, and where nothing is looked for."""
    capture = held[0]
    if capture.which != "destination":
        return None
    looked_for = of_move(capture.move)
    if not looked_for:
        return None
    name = _name(capture, looked_for)
    kept = array_files.once(capture.move_id, name, ARRAYS, lambda: _made(capture, looked_for).arrays())
    return ServedLeftovers.of(looked_for, kept)


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

    def count() -> None:
        gathering.unread += 1

    for ident, address, leftovers in stored_answers.read(capture, read_leftovers.read, looked_for, unread=count):
        gathering.add(ident, address, leftovers)
    return gathering.made()
