"""Old addresses replaced in the dump of a capture: what would change, and the dump written anew."""

from collections.abc import Iterator

from palinode.core.leftovers.replacement import ColumnChange
from palinode.gather import packing
from palinode.records.models import Capture
from palinode.work import read_leftovers, readers
from palinode.work.comparing import leftover_files

_SECONDS = 60.0
"""That a person waits for what would change."""


def changes(capture: Capture, identifiers_too: bool = False) -> list[ColumnChange]:
    """Return what a replacement would change in a capture's dump, by table and column; the most first.

    Raises Unreadable, and what reading a dump may end with.
    """
    *_, found = readers.stream(_SECONDS, read_leftovers.changes, *_given(capture, identifiers_too))
    assert isinstance(found, list), "it is the last step"
    return sorted(found, key=lambda one: -one.cells)


def pieces(capture: Capture, identifiers_too: bool = False) -> Iterator[bytes]:
    """Yield a capture's dump with its old addresses replaced, packed as it came. Raises as :func:`changes` does."""
    for piece in readers.stream(None, read_leftovers.replaced, *_given(capture, identifiers_too)):
        if isinstance(piece, bytes):
            yield piece


def statements(capture: Capture, identifiers_too: bool = False) -> Iterator[bytes]:
    """Yield statements that do the same in a live database. Raises as :func:`changes` does."""
    yield from readers.stream(None, read_leftovers.statements, *_given(capture, identifiers_too))


def name(capture: Capture) -> str:
    """Return what the dump is called that is written anew."""
    return packing.name(capture.file.name)


def _given(capture: Capture, identifiers_too: bool) -> tuple[object, ...]:
    move, file = capture.move, capture.file
    return move.pk, file.stored, file.name, leftover_files.of_move(move), move.rule, identifiers_too
