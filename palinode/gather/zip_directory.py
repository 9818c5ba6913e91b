"""ZIP archives of strangers, opened only if their list of entries is bounded (APPNOTE sections 4.3.12 to 4.3.16).

The standard library makes an object of each entry in the central directory, however many it says there are.
"""

import struct
import zipfile
from typing import BinaryIO

_END, _END_SIZE = b"PK\x05\x06", 22
_LOCATOR, _LOCATOR_SIZE = b"PK\x06\x07", 20
_END_64, _END_64_SIZE = b"PK\x06\x06", 56
_ENTRY, _ENTRY_SIZE = b"PK\x01\x02", 46
_COMMENT = 65_535
_OF_ENTRY = 300
"""Bytes of the directory for each entry at most, on average."""


class TooMany(ValueError):
    """An archive lists more entries than are read; the message is for a person."""


def opened(file: BinaryIO, most: int) -> zipfile.ZipFile:
    """Open an archive of at most so many entries.

    Raises TooMany if it lists more, and zipfile.BadZipFile if it is none.
    """
    start, size = _place(file)
    if size > most * _OF_ENTRY or _count(file, start, size, most) > most:
        raise TooMany(f"the archive lists more than {most:,} files, which are read at most")
    file.seek(0)
    return zipfile.ZipFile(file)


def _place(file: BinaryIO) -> tuple[int, int]:
    """Return where the central directory begins and how long it is, as the standard library finds it."""
    length = file.seek(0, 2)
    first = max(0, length - _COMMENT - _END_SIZE)
    file.seek(first)
    tail = file.read(_COMMENT + _END_SIZE)
    at = tail.rfind(_END)
    if at < 0 or at + _END_SIZE > len(tail):
        raise zipfile.BadZipFile("File is not a zip file")
    end = first + at
    (size,) = struct.unpack_from("<L", tail, at + 12)
    if end >= _LOCATOR_SIZE + _END_64_SIZE:
        file.seek(end - _LOCATOR_SIZE - _END_64_SIZE)
        longer = file.read(_END_64_SIZE + _LOCATOR_SIZE)
        if longer.startswith(_END_64) and longer.startswith(_LOCATOR, _END_64_SIZE):
            (size,) = struct.unpack_from("<Q", longer, 40)
            end -= _LOCATOR_SIZE + _END_64_SIZE
    if size > end:
        raise zipfile.BadZipFile("Bad offset for central directory")
    return end - size, size


def _count(file: BinaryIO, start: int, size: int, most: int) -> int:
    """Return how many entries a central directory holds; no more than one above ``most`` are counted."""
    file.seek(start)
    listed, at, count = file.read(size), 0, 0
    while listed.startswith(_ENTRY, at) and at + _ENTRY_SIZE <= len(listed) and count <= most:
        at += _ENTRY_SIZE + sum(struct.unpack_from("<HHH", listed, at + 28))
        count += 1
    return count
