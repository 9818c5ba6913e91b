"""Packed files: every packing, one in the other, and what is said of those that are broken, empty or too much."""

import bz2
import gzip
import io
import lzma
import random
import tarfile
import unittest
import zipfile

from backports import zstd

from palinode.gather.packed import Entry, Packed, PackedError

DUMP = b"-- MariaDB dump\n" + random.Random(2).randbytes(300_000).hex().encode()


def summed(data: bytes) -> bytes:
    """Pack by Zstandard with a checksum, as its own program does."""
    return zstd.compress(data, options={zstd.CompressionParameter.checksum_flag: 1})


PACKINGS = {"gzip": gzip.compress, "bzip2": bz2.compress, "xz": lzma.compress, "Zstandard": summed}


def is_dump(entry: Entry) -> bool:
    """Whether an entry is a dump."""
    return entry.beginning.startswith(b"-- MariaDB")


def opened(data: bytes, name: str = "shop.sql") -> Packed:
    """Open a file of some bytes."""
    return Packed(io.BytesIO(data), name, is_dump, 4_096)


def read(data: bytes) -> bytes:
    """Return all that a packed file holds."""
    packed, pieces = opened(data), []
    while piece := packed.read(100_000):
        pieces.append(piece)
    return b"".join(pieces)


def zipped(files: dict[str, bytes]) -> bytes:
    """Return a ZIP archive."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return made.getvalue()


def tarred(files: dict[str, bytes]) -> bytes:
    """Return a tar archive."""
    made = io.BytesIO()
    with tarfile.open(fileobj=made, mode="w") as archive:
        for name, data in files.items():
            entry = tarfile.TarInfo(name)
            entry.size = len(data)
            archive.addfile(entry, io.BytesIO(data))
    return made.getvalue()


class PackedTest(unittest.TestCase):
    def test_every_packing(self):
        self.assertEqual(read(DUMP), DUMP)
        for packing, packs in PACKINGS.items():
            packed = opened(packs(DUMP))
            self.assertEqual((packed.packings, packed.read(20)), ([packing], DUMP[:20]))
            self.assertEqual(read(packs(DUMP)), DUMP)
            # Parts that were packed by themselves and joined.
            self.assertEqual(read(packs(DUMP) + packs(b"more")), DUMP + b"more")
            self.assertEqual(read(zipped({"a.txt": b"x", "db/shop": packs(DUMP)})), DUMP)
            self.assertEqual(read(packs(tarred({"a.txt": b"x" * 5_000, "shop.sql": DUMP}))), DUMP)
            self.assertEqual(read(tarred({"shop.sql": packs(DUMP)})), DUMP)

    def test_which_file_it_is_is_said(self):
        packed = opened(zipped({"readme": b"hello", "../db/shop.sql": DUMP}), "backup.zip")
        self.assertEqual((packed.name, packed.packings), ("backup.zip: ../db/shop.sql", ["ZIP"]))

    def test_an_archive_without_one_or_with_several(self):
        for packs in (zipped, tarred):
            with self.assertRaisesRegex(PackedError, "shop.sql holds no such file"):
                opened(packs({"readme": b"hello"}))
        with self.assertRaisesRegex(PackedError, r"holds several: a.sql, b.sql. Name one of them"):
            opened(zipped({"a.sql": DUMP, "b.sql": DUMP}))

    def test_what_is_broken(self):
        for packing, packs in PACKINGS.items():
            data = packs(DUMP)
            for broken in (data[: len(data) // 2], data[:1_000] + b"\0" * 400 + data[1_400:]):
                with (
                    self.subTest(packing, size=len(broken)),
                    self.assertRaisesRegex(PackedError, f"shop.sql is broken or cut off: its {packing}"),
                ):
                    read(broken)
        for broken in (zipped({"a": DUMP})[:-40], tarred({"a": DUMP})[:5_000]):
            with self.assertRaisesRegex(PackedError, "shop.sql.* is broken or cut off"):
                read(broken)

    def test_a_bomb(self):
        bomb = lzma.compress(b"-- MariaDB dump\n" + b"\0" * (80 << 20))
        with self.assertRaisesRegex(PackedError, "unpacks to more than 1,000 times its size"):
            read(bomb)

    def test_an_encrypted_entry(self):
        data = bytearray(zipped({"a.sql": DUMP}))
        for magic, flags in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
            data[data.index(magic) + flags] |= 1
        with self.assertRaisesRegex(PackedError, "a.sql is encrypted"):
            opened(bytes(data))
