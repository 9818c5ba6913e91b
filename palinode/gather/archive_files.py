"""The files that an archive holds, by their names and sizes: ZIP, and tar plain or packed. None of them is unpacked."""

import tarfile
import zipfile
import zlib
from collections.abc import Iterator
from typing import BinaryIO

from palinode.gather import zip_directory
from palinode.gather.packed import PackedError

_MOST = 2_000_000
"""Files of an archive."""
_RATIO, _ANY_SIZE = 1_000, 64 << 30
"""Times its own size that a packed archive may unpack to, beyond what any may (bytes)."""
_ZIP = b"PK\x03\x04"
_BROKEN = (tarfile.TarError, zipfile.BadZipFile, zlib.error, EOFError, OSError, ValueError)


def is_archive(file: BinaryIO) -> bool:
    """Whether a file is an archive of one of these kinds, by its beginning."""
    file.seek(0)
    if file.read(len(_ZIP)) == _ZIP:
        return True
    file.seek(0)
    try:
        with tarfile.open(fileobj=file, mode="r|*") as archive:
            return archive.next() is not None
    except _BROKEN:
        return False
    finally:
        file.seek(0)


def files(file: BinaryIO, name: str) -> Iterator[tuple[str, int]]:
    """Yield path and size (bytes) of each file of an archive called ``name``. Raises PackedError."""
    size = file.seek(0, 2)
    file.seek(0)
    is_zip = file.read(len(_ZIP)) == _ZIP
    file.seek(0)
    try:
        yield from _of_zip(file) if is_zip else _of_tar(file, name, max(_ANY_SIZE, _RATIO * size))
    except PackedError:
        raise
    except _BROKEN as error:
        raise PackedError(f"{name} is broken or cut off: {str(error)[:200] or type(error).__name__}.") from None


def _of_zip(file: BinaryIO) -> Iterator[tuple[str, int]]:
    with zip_directory.opened(file, _MOST) as archive:
        for one in archive.infolist():
            if not one.is_dir():
                yield one.filename, one.file_size


def _of_tar(file: BinaryIO, name: str, most: int) -> Iterator[tuple[str, int]]:
    total = 0
    with tarfile.open(fileobj=file, mode="r|*") as archive:
        for number, one in enumerate(archive):
            total += one.size
            if number >= _MOST or total > most:
                raise PackedError(f"{name} holds more than is read: {_MOST:,} files, or {_RATIO:,} times its size.")
            if one.isfile():
                yield one.name, one.size
            # The library keeps what it passed; of a large archive that is much.
            archive.members = []  # type: ignore[attr-defined]
