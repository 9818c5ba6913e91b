"""The parts of one export in a ZIP archive: WordPress writes a large export as several files."""

import zipfile
from collections.abc import Callable, Iterator
from typing import BinaryIO

from palinode.core.exports import wxr
from palinode.gather import zip_directory
from palinode.gather.packed import PackedError

_MOST = 10_000
_LOOKED_AT = 4_096
_RATIO, _ANY_SIZE = 1_000, 64 << 20
_ENCRYPTED = 1
_BROKEN = (zipfile.BadZipFile, zip_directory.TooMany, OSError, EOFError, RuntimeError, NotImplementedError, ValueError)


def names(file: BinaryIO) -> list[str]:
    """Return the names of the parts in an archive, in their order; none if it is no archive, or broken."""
    try:
        with zip_directory.opened(file, _MOST) as archive:
            return [one.filename for one in archive.infolist() if _is_part(archive, one)]
    except _BROKEN:
        return []
    finally:
        file.seek(0)


def read(file: BinaryIO, name: str, parts: list[str], note: Callable[[int], None]) -> Iterator[Callable[[int], bytes]]:
    """Yield for each of some parts what reads it, to be read to its end. Raises PackedError, as reading does.

    ``note`` is told how many bytes of all parts were read so far.
    """
    most = max(_ANY_SIZE, _RATIO * file.seek(0, 2))
    taken = 0

    def reading(opened: BinaryIO) -> Callable[[int], bytes]:
        def some(size: int) -> bytes:
            nonlocal taken
            try:
                data = opened.read(size)
            except _BROKEN as error:
                raise PackedError(f"{name} is broken: {str(error)[:200]}.") from None
            taken += len(data)
            note(taken)
            if taken > most:
                raise PackedError(f"{name} unpacks to more than {_RATIO:,} times its size, which no export does.")
            return data

        return some

    with zip_directory.opened(file, _MOST) as archive:
        for one in parts:
            with archive.open(one) as opened:
                yield reading(opened)  # type: ignore[arg-type]


def _is_part(archive: zipfile.ZipFile, one: zipfile.ZipInfo) -> bool:
    if one.is_dir() or one.flag_bits & _ENCRYPTED or not one.filename.lower().endswith(".xml"):
        return False
    with archive.open(one) as opened:
        return wxr.recognise(opened.read(_LOOKED_AT))
