"""Lists of addresses in files that people import: streamed, unpacked within bounds. Run in reading processes."""

import codecs
import hashlib
import io
import zlib
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import BinaryIO, NamedTuple

from palinode.core import address as addresses
from palinode.core.discovery import Discovery
from palinode.core.documents.address_list import LINE_LIMIT, Tally, read
from palinode.core.scope import Scope

_BATCH = 2_000
_CHUNK = 1 << 18
_RATIO = 200
"""Times its own size that a file may unpack to; a log unpacks to twenty times."""
_ANY_RATIO = 1_000_000
"""Bytes that any file may unpack to."""
_BOMB = f"{{}} unpacks to more than {_RATIO} times its size, which no list does."


class ListError(ValueError):
    """A list cannot be read; the message is for the person who imports it."""


@dataclass(frozen=True)
class Part:
    """What was read of a list since the part before."""

    found: list["Listed"]
    tally: Tally
    """Of all that was read so far."""
    size: int
    """Bytes of the file so far."""
    sha256: str
    """Of the file, in the last part; empty before."""


class Listed(NamedTuple):
    """An address that lines of a list name."""

    ident: int
    text: str
    known: Discovery
    visits: int
    last_visit: int
    """Day of the last one, as 20261112; 0 for none."""


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


def parts(path: str, name: str, scope: Scope, base: str, column: str, most: int) -> Iterator[Part]:
    """Yield what a file names of a side, of a CSV in the ``column`` given; gzip is unpacked, to ``most`` bytes.

    Paths are those of the host of ``base``.

    Raises ListError if it cannot be read to its end, and ColumnError if it has no such column.
    """
    tally = Tally()
    found: dict[str, Listed] = {}
    with open(path, "rb") as opened:
        file = _Digested(opened)
        for address, known, day in read(_lines(file, name, most), scope, tally, column=column, base=base):
            before = found.get(address) or Listed(addresses.ident(address), address, known, 0, 0)
            visits, last = before.visits + (day is not None), max(before.last_visit, day or 0)
            found[address] = Listed(before.ident, address, before.known | known, visits, last)
            if len(found) >= _BATCH:
                yield Part(list(found.values()), replace(tally), file.size, "")
                found = {}
        yield Part(list(found.values()), tally, file.size, file.digest.hexdigest())


def _lines(file: _Digested, name: str, most: int) -> Iterator[str]:
    """Yield the lines of a file; a line longer than LINE_LIMIT is cut there."""
    first = file.read(_CHUNK)
    coding = "utf-16" if first.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)) else "utf-8"
    decoder = codecs.getincrementaldecoder(coding)("replace")
    rest = ""
    for chunk in _unpacked(first, file, name, most):
        text = rest + decoder.decode(chunk)
        *whole, rest = io.StringIO(text, newline=None).read().split("\n")
        yield from whole
        rest = rest[:LINE_LIMIT]
    rest += decoder.decode(b"", True)
    if rest:
        yield rest


def _refuse_bomb(first: bytes, name: str) -> None:
    """Raise ListError for a file whose first bytes already unpack to more than all may, before a line is read."""
    most = max(_ANY_RATIO, _RATIO * len(first))
    try:
        if len(zlib.decompressobj(31).decompress(first, most + 1)) > most:
            raise ListError(_BOMB.format(name))
    except zlib.error:
        # It is said where it breaks when it is read.
        return


def _unpacked(first: bytes, file: _Digested, name: str, most: int) -> Iterator[bytes]:
    packed = first.startswith(b"\x1f\x8b")
    if packed:
        _refuse_bomb(first, name)
    stream, size, chunk, ended = zlib.decompressobj(31), 0, first, False
    while chunk:
        waiting = chunk
        while waiting:
            try:
                data = stream.decompress(waiting, _CHUNK) if packed else waiting
            except zlib.error:
                raise ListError(f"{name} is broken: its compression ends after {size:,} bytes.") from None
            size += len(data)
            if size > most:
                raise ListError(f"{name} is longer than {most // 10**9} GB. Cut it into parts.")
            if packed and size > max(_ANY_RATIO, _RATIO * file.size):
                raise ListError(_BOMB.format(name))
            yield data
            waiting, ended = (stream.unconsumed_tail, stream.eof) if packed else (b"", True)
            if packed and ended:
                # Logs that were rotated are often joined, each part packed for itself.
                waiting, stream = stream.unused_data, zlib.decompressobj(31)
        chunk = file.read(_CHUNK)
    if packed and not ended:
        raise ListError(f"{name} is broken: it is cut off after {size:,} bytes.")
