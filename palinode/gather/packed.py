"""Files as people pack them: gzip, bzip2, xz, Zstandard, ZIP and tar, one in the other, read as they stream by."""

import bz2
import io
import lzma
import struct
import tarfile
import zipfile
import zlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import BinaryIO, cast

from backports import zstd
from isal import igzip

from palinode.gather import zip_directory

_LAYERS = 4
"""Packings one in the other."""
_ENTRIES = 100_000
_RATIO = 1_000
"""Times its own size that a file may unpack to, beyond …"""
_ANY_RATIO = 64 << 20
"""… what any file may."""
_NAMED = 10
_TAR_MAGIC = (257, b"ustar")
_STREAMS: tuple[tuple[bytes, str, Callable[[BinaryIO], object]], ...] = (
    (b"\x1f\x8b", "gzip", lambda file: igzip.IGzipFile(fileobj=file)),  # type: ignore[no-untyped-call]
    (b"BZh", "bzip2", bz2.BZ2File),
    (b"\xfd7zXZ\0", "xz", lzma.LZMAFile),
    (b"\x28\xb5\x2f\xfd", "Zstandard", zstd.ZstdFile),
)
_BROKEN = (
    EOFError,
    OSError,
    ValueError,
    RuntimeError,
    NotImplementedError,
    struct.error,
    zlib.error,
    lzma.LZMAError,
    tarfile.TarError,
    zipfile.BadZipFile,
    zipfile.LargeZipFile,
    zstd.ZstdError,
)


class PackedError(ValueError):
    """A file cannot be unpacked; the message is for a person, and names the file."""


class NoEntryError(PackedError):
    """An archive holds no file that is looked for."""


@dataclass(frozen=True)
class Entry:
    """A file within an archive."""

    name: str
    size: int
    """Bytes as it is packed."""
    beginning: bytes
    """Its first bytes, unpacked."""


Choice = Callable[[Entry], bool]
"""Says whether an entry of an archive is the one that is looked for."""


class Packed:
    """A file as it is within its packings; ``read`` gives it from its beginning to its end."""

    def __init__(self, file: BinaryIO, name: str, choice: Choice, looked_at: int) -> None:
        """Open a file called ``name``; ``choice`` says by its first bytes (``looked_at``) whether an entry is the one.

        Raises PackedError for what is broken, and where an archive holds no such entry, or several.
        """
        self.name = name
        self.packings: list[str] = []
        """Outermost first."""
        self._file, self._choice, self._looked_at = file, choice, looked_at
        self._packed, self._unpacked = file.seek(0, 2), 0
        file.seek(0)
        stream = _buffered(_Lent(file))
        for _ in range(_LAYERS):
            if (inner := self._within(stream)) is None:
                break
            stream = inner
        self._stream = stream

    def read(self, size: int) -> bytes:
        """Return so many further bytes or fewer, none at the end. Raises PackedError."""
        try:
            data = self._stream.read(size)
        except _BROKEN as error:
            raise self._broken(error) from None
        self._unpacked += len(data)
        if self._unpacked > max(_ANY_RATIO, _RATIO * self._packed):
            raise PackedError(f"{self.name} unpacks to more than {_RATIO:,} times its size, which no such file does.")
        return data

    def _within(self, stream: io.BufferedReader) -> io.BufferedReader | None:
        """Return what a stream holds packed; None if it is not packed."""
        try:
            beginning = stream.peek(512)
            for magic, packing, opens in _STREAMS:
                if beginning.startswith(magic):
                    self.packings.append(packing)
                    return _buffered(opens(cast(BinaryIO, stream)))
            if beginning.startswith(b"PK\x03\x04"):
                return self._of_zip(stream)
            at, magic = _TAR_MAGIC
            return self._of_tar(stream) if beginning[at:].startswith(magic) else None
        except _BROKEN as error:
            raise error if isinstance(error, PackedError) else self._broken(error) from None

    def _of_zip(self, stream: io.BufferedReader) -> io.BufferedReader:
        if self.packings:
            raise PackedError(f"{self.name} is a ZIP archive within {self.packings[-1]}. Unpack the outer one first.")
        self.packings.append("ZIP")
        archive = zip_directory.opened(cast(BinaryIO, stream), _ENTRIES)
        found = []
        for one in archive.infolist():
            if one.is_dir():
                continue
            if one.flag_bits & 1:
                raise PackedError(f"{self.name}: {one.filename[:200]} is encrypted. Unpack it first.")
            with archive.open(one) as opened:
                if self._chosen(one.filename, one.file_size, opened):
                    found.append(one)
        self._only([one.filename for one in found])
        return _buffered(archive.open(found[0]))

    def _of_tar(self, stream: io.BufferedReader) -> io.BufferedReader:
        """Return the first entry that is the one; a stream is not read twice to see whether there is another."""
        self.packings.append("tar")
        archive = tarfile.open(fileobj=stream, mode="r|")  # noqa: SIM115 (what it holds is read later)
        for number, one in enumerate(archive):
            if number >= _ENTRIES:
                raise PackedError(f"{self.name} lists more than {_ENTRIES:,} files, which are read at most.")
            opened = archive.extractfile(one) if one.isfile() else None
            if opened is None:
                continue
            if chosen := self._chosen(one.name, one.size, opened):
                self._only([one.name])
                return chosen
        self._only([])
        raise AssertionError("unreachable: none is one too few")

    def _chosen(self, name: str, size: int, opened: object) -> io.BufferedReader | None:
        """Return an entry as it is unpacked, from its beginning on, if it is the one."""
        stream = _buffered(opened)
        for magic, _, opens in _STREAMS:
            if stream.peek(len(magic)).startswith(magic):
                stream = _buffered(opens(cast(BinaryIO, stream)))
                break
        beginning = stream.read(self._looked_at)
        chosen = self._choice(Entry(name, size, beginning))
        return _buffered(_Again(beginning, stream)) if chosen else None

    def _only(self, names: list[str]) -> None:
        """Go on with the one name that there is. Raises PackedError."""
        if not names:
            raise NoEntryError(f"{self.name} holds no such file.")
        if len(names) > 1:
            more = "" if len(names) <= _NAMED else f" and {len(names) - _NAMED:,} more"
            raise PackedError(f"{self.name} holds several: {', '.join(names[:_NAMED])}{more}. Name one of them.")
        self.name = f"{self.name}: {names[0]}"

    def _broken(self, error: BaseException) -> PackedError:
        packing = self.packings[-1] if self.packings else "file"
        said = str(error)[:200] or type(error).__name__
        return PackedError(f"{self.name} is broken or cut off: its {packing} cannot be read further ({said}).")


def _buffered(opened: object) -> io.BufferedReader:
    return io.BufferedReader(cast(io.RawIOBase, opened), 1 << 18)


class _Lent(io.RawIOBase):
    """A file that belongs to somebody else, and is not closed with what reads it."""

    def __init__(self, file: BinaryIO) -> None:
        self._file = file

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def seek(self, offset: int, whence: int = 0) -> int:
        return self._file.seek(offset, whence)

    def tell(self) -> int:
        return self._file.tell()

    def readinto(self, buffer: object) -> int:
        view = memoryview(cast(bytearray, buffer))
        data = self._file.read(len(view))
        view[: len(data)] = data
        return len(data)


class _Again(io.RawIOBase):
    """A stream whose beginning was read already."""

    def __init__(self, beginning: bytes, rest: object) -> None:
        self._beginning, self._rest = io.BytesIO(beginning), rest

    def readable(self) -> bool:
        return True

    def readinto(self, buffer: object) -> int:
        view = memoryview(cast(bytearray, buffer))
        data = self._beginning.read(len(view)) or self._rest.read(len(view))  # type: ignore[attr-defined]
        view[: len(data)] = data
        return len(data)
