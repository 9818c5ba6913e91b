"""Brings the addresses of a list into a move: streamed, all of it or nothing."""

import codecs
import hashlib
import io
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

from django.contrib.auth.models import User
from django.db import transaction

from palinode.core import address as addresses
from palinode.core.documents.address_list import LINE_LIMIT, Tally, read
from palinode.core.known import Known
from palinode.core.wording import number
from palinode.records import brought
from palinode.records.models import Import, Move
from palinode.work import reach

_BATCH = 5_000
_CHUNK = 1 << 18
UNPACKED_LIMIT = 4_000_000_000
"""Bytes of a list, unpacked."""


class ListError(ValueError):
    """A list cannot be read; the message is for the person who brought it."""


@dataclass(frozen=True)
class Outcome:
    """What a list brought."""

    new: int
    tally: Tally


class _Digested:
    """A file that is read through, with the digest of what was read."""

    def __init__(self, file: BinaryIO) -> None:
        self.file, self.digest, self.size = file, hashlib.sha256(), 0

    def read(self, size: int) -> bytes:
        """Read on."""
        data = self.file.read(size)
        self.digest.update(data)
        self.size += len(data)
        return data


def bring(move: Move, which: str, file: BinaryIO, name: str, author: User, column: str = "") -> Outcome:
    """Keep the addresses of a side that a list names, of a CSV in the ``column`` given; gzip is unpacked.

    Raises ListError if it cannot be read to its end, or names no address of the side; then nothing is kept.
    """
    tally, new, digested = Tally(), 0, _Digested(file)
    pending: list[tuple[int, str, Known]] = []
    with transaction.atomic():
        for address, known in read(_lines(digested, name), reach.base(move, which), tally, column=column):
            pending.append((addresses.ident(address), address, known))
            if len(pending) >= _BATCH:
                new += brought.add(move, which, pending)
                pending = []
        new += brought.add(move, which, pending)
        if not tally.named:
            raise ListError(_nothing(name, tally))
        Import.objects.create(
            move=move,
            which=which,
            kind=Import.Kind.LIST,
            name=name[-255:],
            bytes=digested.size,
            sha256=digested.digest.hexdigest(),
            state=Import.State.DONE,
            said=f"{number(new, 'new address', 'new addresses')} of {number(tally.lines, 'line')}.",
            author=author,
        )
    return Outcome(new, tally)


def _nothing(name: str, tally: Tally) -> str:
    if not tally.lines:
        return f"{name} is empty."
    said = f"None of the {tally.lines:,} lines of {name} names an address of this side"
    if tally.elsewhere:
        return f"{said}; {tally.elsewhere:,} name other sites. Is it the list of the other side?"
    example = f" The first is {tally.examples[0]}" if tally.examples else ""
    return f"{said}. A line needs an address that begins with http://, https:// or a slash.{example}"


def _lines(file: _Digested, name: str) -> Iterator[str]:
    """Yield the lines of a file; a line longer than LINE_LIMIT is cut there."""
    first = file.read(_CHUNK)
    coding = "utf-16" if first.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)) else "utf-8"
    decoder = codecs.getincrementaldecoder(coding)("replace")
    rest = ""
    for chunk in _unpacked(first, file, name):
        text = rest + decoder.decode(chunk)
        *whole, rest = io.StringIO(text, newline=None).read().split("\n")
        yield from whole
        rest = rest[:LINE_LIMIT]
    rest += decoder.decode(b"", True)
    if rest:
        yield rest


def _unpacked(first: bytes, file: _Digested, name: str) -> Iterator[bytes]:
    packed = first.startswith(b"\x1f\x8b")
    stream, size, chunk, ended = zlib.decompressobj(31), 0, first, False
    while chunk:
        waiting = chunk
        while waiting:
            try:
                data = stream.decompress(waiting, _CHUNK) if packed else waiting
            except zlib.error:
                raise ListError(f"{name} is broken: its compression ends after {size:,} bytes.") from None
            size += len(data)
            if size > UNPACKED_LIMIT:
                raise ListError(f"{name} is longer than {UNPACKED_LIMIT // 10**9} GB. Cut it into parts.")
            yield data
            waiting, ended = (stream.unconsumed_tail, stream.eof) if packed else (b"", True)
            if packed and ended:
                # Logs that were rotated are often joined, each part packed for itself.
                waiting, stream = stream.unused_data, zlib.decompressobj(31)
        chunk = file.read(_CHUNK)
    if packed and not ended:
        raise ListError(f"{name} is broken: it is cut off after {size:,} bytes.")
