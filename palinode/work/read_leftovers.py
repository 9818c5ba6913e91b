"""Leftovers read where answers and dumps are stored. Run in reading processes, without models: see work/readers.py."""

from collections.abc import Iterator
from contextlib import contextmanager

from palinode.core import rule as rules
from palinode.core.dumps.contents import Gathering
from palinode.core.leftovers import answer, statement
from palinode.core.leftovers.answer import Leftover
from palinode.core.leftovers.identifiers import Identifier, find
from palinode.core.leftovers.replacement import ColumnChange, Replacement
from palinode.core.leftovers.stored import Finder, StoredLeftovers
from palinode.core.leftovers.wanted import Wanted
from palinode.gather import packing, site_files
from palinode.gather.site_files import Dump
from palinode.records.folder import Folder
from palinode.work import stored_answer
from palinode.work.stored_answer import StoredAnswer

_PIECE = 1 << 20
_HEAD = b"-- Make a dump first. Each statement changes one cell, if that still holds what the dump said.\n"
_STEP = 8_000_000
"""Bytes after which it is said how far reading is."""


def read(answers: list[StoredAnswer], wanted: Wanted) -> list[tuple[int, str, list[Leftover]]]:
    """Return what stored answers have of what is wanted; those that have nothing are left out."""
    found = []
    for one in answers:
        headers, body = stored_answer.opened(one)
        if leftovers := answer.read(headers, body, wanted):
            found.append((one.ident, one.address, leftovers))
    return found


def identifiers(answers: list[StoredAnswer]) -> list[tuple[str, list[Identifier]]]:
    """Return the identifiers of services that stored answers name; those that name none are left out."""
    found = []
    for one in answers:
        text = stored_answer.text(one, "html", "script")
        if named := list(dict.fromkeys(find(text))):
            found.append((one.address, named))
    return found


def of_dump(
    move: int, stored: str, name: str, wanted: Wanted, beside: tuple[bytes, ...]
) -> Iterator[int | StoredLeftovers]:
    """Yield now and then how many bytes of a stored dump were read, and last what it has of what is wanted.

    Raises what reading a dump may end with.
    """
    finder = Finder(wanted, beside)
    with _opened(move, stored, name) as dump:
        gathering, said = Gathering(finder.take), 0
        for part in dump.script().parts():
            gathering.add(part)
            if dump.taken - said > _STEP:
                said = dump.taken
                yield said
    yield finder.made()


def replaced(
    move: int, stored: str, name: str, wanted: Wanted, rule: str, identifiers_too: bool
) -> Iterator[bytes | list[ColumnChange]]:
    """Yield a stored dump with what is expected in the place of old addresses, packed as it came; last what changed.

    A dump within an archive comes plain. Raises what reading a dump may end with.
    """
    pieces: list[bytes] = []
    replacement = Replacement(wanted, rules.read(rule), identifiers_too)
    with _opened(move, stored, name) as dump:
        packer = packing.of(dump.packings)
        for _ in replacement.steps(dump.read, dump.quoting, pieces.append):
            if sum(map(len, pieces)) > _PIECE:
                yield packer.pack(b"".join(pieces))
                pieces.clear()
        yield packer.pack(b"".join(pieces)) + packer.close()
    yield replacement.changes


def statements(move: int, stored: str, name: str, wanted: Wanted, rule: str, identifiers_too: bool) -> Iterator[bytes]:
    """Yield statements that change the cells of a live database as a replacement changes those of its stored dump.

    Those that count what will change come first, which takes one more reading of the dump. Raises what reading a dump
    may end with.
    """
    yield _HEAD
    *_, counted = changes(move, stored, name, wanted, rule, identifiers_too)
    assert isinstance(counted, list), "it is the last step"
    pieces: list[bytes] = []
    replacement = Replacement(wanted, rules.read(rule), identifiers_too, pieces.append)
    with _opened(move, stored, name) as dump:
        for one in counted:
            pieces.append(b"-- %d of these are to change:\n" % one.cells)
            pieces.append(statement.count(one.table, one.column, wanted.fragments, dump.quoting))
        pieces.append(b"BEGIN;\n")
        for _ in replacement.steps(dump.read, dump.quoting):
            if sum(map(len, pieces)) > _PIECE:
                yield b"".join(pieces)
                pieces.clear()
    yield b"".join([*pieces, b"COMMIT;\n"])


def changes(
    move: int, stored: str, name: str, wanted: Wanted, rule: str, identifiers_too: bool
) -> Iterator[int | list[ColumnChange]]:
    """Yield now and then how many bytes of a stored dump were read, and last what a replacement would change.

    Raises what reading a dump may end with.
    """
    replacement, said = Replacement(wanted, rules.read(rule), identifiers_too), 0
    with _opened(move, stored, name) as dump:
        for _ in replacement.steps(dump.read, dump.quoting):
            if dump.taken - said > _STEP:
                said = dump.taken
                yield said
    yield replacement.changes


@contextmanager
def _opened(move: int, stored: str, name: str) -> Iterator[Dump]:
    with Folder(move).open(stored) as file:
        dump = site_files.opened(file, name, kind="dump")
        assert isinstance(dump, Dump), "it was recognised as one"
        yield dump
