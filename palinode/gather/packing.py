"""Packs what is written as a file that was read: by gzip, bzip2, xz or Zstandard, or not at all."""

import bz2
import lzma
import zlib
from collections.abc import Callable, Sequence
from typing import Protocol

from backports import zstd


class Compressor(Protocol):
    """What packs pieces one after the other."""

    def compress(self, data: bytes) -> bytes:
        """Return what can be written by now."""

    def flush(self) -> bytes:
        """Return what is left."""


_COMPRESSORS: dict[str, tuple[str, Callable[[], Compressor]]] = {
    "gzip": (".gz", lambda: zlib.compressobj(6, zlib.DEFLATED, 31)),
    "bzip2": (".bz2", bz2.BZ2Compressor),
    "xz": (".xz", lzma.LZMACompressor),
    "Zstandard": (".zst", zstd.ZstdCompressor),
}


_PACKED = tuple(ending for ending, _ in _COMPRESSORS.values())
_ENDINGS = (*_PACKED, ".zip", ".tar", ".tgz")


class Packer:
    """Packs pieces as a file was packed."""

    def __init__(self, compressor: Compressor | None) -> None:
        self._compressor = compressor

    def pack(self, data: bytes) -> bytes:
        """Return what can be written of a further piece."""
        return self._compressor.compress(data) if self._compressor else data

    def close(self) -> bytes:
        """Return what is left to be written."""
        return self._compressor.flush() if self._compressor else b""


def of(packings: Sequence[str]) -> Packer:
    """Return what packs like a file with these packings, outermost first; an archive is not made again."""
    known = _COMPRESSORS.get(packings[0]) if len(packings) == 1 else None
    return Packer(known[1]() if known else None)


def name(of_file: str) -> str:
    """Return what a dump is called that was written anew from another: of one in an archive, plain."""
    stem = of_file
    for ending in _ENDINGS:
        stem = stem.removesuffix(ending)
    kept = of_file[len(stem) :]
    return f"{stem.removesuffix('.sql')}-replaced.sql{kept if kept in _PACKED else ''}"
