"""Imports a list of addresses into a move: read in a process of its own, all of it or nothing."""

from dataclasses import dataclass
from typing import BinaryIO

from django.contrib.auth.models import User
from django.db import transaction

from palinode.core import address as addresses
from palinode.core.documents.address_list import Tally
from palinode.core.scope import Scope
from palinode.core.wording import number
from palinode.gather import lists
from palinode.gather.lists import ListError, Part
from palinode.records import address_lists, disk
from palinode.records.models import Import, ImportedAddress, Move
from palinode.work import readers, scopes
from palinode.work.comparing import comparison_job
from palinode.work.importing import on_disk
from palinode.work.readers import Unreadable

UNPACKED_LIMIT = 4_000_000_000
"""Bytes of a list, unpacked."""
SECONDS = 60.0
"""That a list may take while somebody waits for it in the browser."""


class HostError(ValueError):
    """A side has no such host; the message is for a person."""


@dataclass(frozen=True)
class Outcome:
    """What came of a list."""

    new: int
    tally: Tally


def import_list(
    move: Move,
    which: str,
    file: BinaryIO,
    name: str,
    author: User,
    column: str = "",
    host: str = "",
    seconds: float = SECONDS,
) -> Outcome:
    """Keep the addresses of a side that a list names, of a CSV in the ``column`` given; gzip is unpacked.

    A log names paths alone: they are those of the ``host`` given, or of the main one. Where visits became known, the
    latest captures are compared anew. Raises HostError for a host that the side has not, ListError if the file cannot
    be read to its end in so many seconds, or names no address of the side, and ColumnError if it has no such column;
    then nothing is kept.
    """
    new, last = 0, Part([], Tally(), 0, "")
    scope = scopes.of_side(move, which)
    base = _base(scope, host.strip())
    try:
        disk.mind()
        with on_disk.path_of(file) as path, transaction.atomic():
            read = (lists.parts, path, name, scope, base, column, UNPACKED_LIMIT)
            counted = ImportedAddress.objects.filter(move=move, which=which, visits__gt=0).exists()
            for last in readers.stream(seconds, *read):
                new += address_lists.add(move, which, last.found)
            if not last.tally.named:
                raise ListError(_nothing(name, last.tally))
            if last.tally.visits and counted and _was_imported(move, which, last.sha256):
                raise ListError(f"{name} was imported already, and its visits are counted.")
            _note(move, which, name, author, last, new)
            if last.tally.visits and which == "source":
                comparison_job.order_latest(move)
    except disk.DiskFull as error:
        raise ListError(str(error)) from None
    except Unreadable as error:
        raise ListError(f"{name} {error}. Cut it into parts, or import it by the command line.") from None
    return Outcome(new, last.tally)


def _base(scope: Scope, host: str) -> str:
    found = {addresses.split(base).host: base for base in reversed(scope.bases)}
    if host and host not in found:
        raise HostError(f"The side has no host {host}. It has {', '.join(reversed(found))}.")
    return found[host] if host else scope.bases[0]


def _was_imported(move: Move, which: str, sha256: str) -> bool:
    return Import.objects.filter(move=move, which=which, kind=Import.Kind.LIST, sha256=sha256).exists()


def _note(move: Move, which: str, name: str, author: User, last: Part, new: int) -> None:
    Import.objects.create(
        move=move,
        which=which,
        kind=Import.Kind.LIST,
        name=name[-255:],
        bytes=last.size,
        sha256=last.sha256,
        state=Import.State.DONE,
        said=f"{number(new, 'new address', 'new addresses')} of {number(last.tally.lines, 'line')}.",
        shown_elsewhere=[[address, host, times] for (address, host), times in last.tally.shown.items()],
        author=author,
    )


def _nothing(name: str, tally: Tally) -> str:
    if not tally.lines:
        return f"{name} is empty."
    said = f"None of the {tally.lines:,} lines of {name} names an address of this side"
    if tally.elsewhere:
        return f"{said}; {tally.elsewhere:,} name other sites. Is it the list of the other side?"
    example = f" The first is {tally.examples[0]}" if tally.examples else ""
    return f"{said}. A line needs an address that begins with http://, https:// or a slash.{example}"
