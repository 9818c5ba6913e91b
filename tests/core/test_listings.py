"""Lists of files: read from what programs print, and held against each other."""

import hashlib
import io
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

from palinode.core.listings import facing, listing
from palinode.core.listings.facing import Verdict
from palinode.core.listings.listing import Form, Listing, ListingError
from tests.site_files import listing_of

FILES = {
    "index.php": b"<?php",
    "uploads/2022/04/mill wheel.jpg": b"wheel",
    "uploads/2022/05/  two  spaces.jpg": b"spaces",
    "uploads/2023/täglich.pdf": b"daily",
    "uploads/back\\slash.txt": b"back",
    "uploads/new\nline.txt": b"line",
    "empty.txt": b"",
}


def read(data: bytes, form: Form, at_once: int = 50) -> Listing:
    """Read a list a few bytes at a time."""
    file = io.BytesIO(data)
    return listing_of(lambda size: file.read(at_once), form)


def by_digest(files: dict[str, bytes]) -> Listing:
    """Return a listing with digests."""
    return listing.made(
        {path.encode(): (listing.UNKNOWN, int.from_bytes(hashlib.sha256(data).digest()[:8], "big", signed=True))
         for path, data in files.items()}
    )  # fmt: skip


def by_size(files: dict[str, bytes]) -> Listing:
    """Return a listing with sizes."""
    return listing.made({path.encode(): (len(data), 0) for path, data in files.items()})


def told(left: Listing, right: Listing) -> set[tuple[str, str, str]]:
    """Return each difference: verdict, left path, right path."""
    return {
        (
            one.verdict.value,
            left.paths[one.left] if one.left >= 0 else "",
            right.paths[one.right] if one.right >= 0 else "",
        )
        for one in facing.face(left, right).differences
    }


class ProgramsTest(unittest.TestCase):
    """What the real programs of this machine print."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp(prefix="palinode-listing-"))
        self.addCleanup(shutil.rmtree, self.folder)
        for path, data in FILES.items():
            file = self.folder / path
            file.parent.mkdir(parents=True, exist_ok=True)
            file.write_bytes(data)
        (self.folder / "link").symlink_to("index.php")

    def printed(self, command: str) -> bytes:
        return subprocess.run(command, shell=True, cwd=self.folder, check=True, capture_output=True).stdout

    def test_digests(self):
        for program in ("sha256sum", "md5sum", "sha1sum", "sha512sum", "sha384sum"):
            data = self.printed(f"find . -type f -print0 | xargs -0 {program}")
            self.assertIs(listing.recognise(data), Form.DIGESTS)
            found = read(data, Form.DIGESTS)
            self.assertEqual((found.paths, found.unread), (sorted(FILES), 0))
            if program == "sha256sum":
                self.assertEqual(found.digest.tolist(), by_digest(FILES).digest.tolist())

    def test_sizes(self):
        # A line end in a name is the one thing that these two cannot tell.
        (self.folder / "uploads/new\nline.txt").unlink()
        wanted = {path: data for path, data in FILES.items() if "\n" not in path}
        for command, form in (("find . -type f -printf '%s %T@ %p\\n'", Form.FOUND), ("ls -lRA", Form.LONG),
                              ("ls -lR --time-style=full-iso .", Form.LONG)):  # fmt: skip
            data = self.printed(command)
            self.assertIs(listing.recognise(data), form)
            found = read(data, form)
            self.assertEqual((found.paths, found.unread), (sorted(wanted), 0))
            self.assertEqual(found.size.tolist(), [len(wanted[path]) for path in sorted(wanted)])


class ReadingTest(unittest.TestCase):
    def test_what_is_no_list(self):
        for data in (b"", b"hello\n", b"<html>\n", b"total 4\n", b"d41d8cd98f00b204e9800998ecf8427e\n"):
            self.assertIsNone(listing.recognise(data))

    def test_lines_that_say_nothing_are_counted(self):
        found = read(b"%s  a\nsha256sum: b: Permission denied\n\n" % (b"0" * 64), Form.DIGESTS)
        self.assertEqual((found.paths, found.unread), (["a"], 1))

    def test_a_line_without_an_end(self):
        with self.assertRaisesRegex(ListingError, r"Line 2 is longer than 65,536 bytes"):
            read(b"%s  a\n" % (b"0" * 64) + b"x" * 70_000, Form.DIGESTS, 1 << 20)


class FacingTest(unittest.TestCase):
    def test_each_verdict(self):
        left = {
            "a": b"1",
            "b": b"2",
            "gone": b"3",
            "Big.jpg": b"4",
            "full": b"5",
            "2022/x": b"6",
            "2022/y": b"7",
            "one": b"8",
        }
        right = {"a": b"1", "b": b"other", "big.jpg": b"4", "full": b"", "2022/2022/x": b"6", "2022/2022/y": b"7",
                 "two": b"8", "more": b"9"}  # fmt: skip
        wanted = {
            ("missing", "gone", ""), ("different", "b", "b"), ("other letters", "Big.jpg", "big.jpg"), ("empty", "full", "full"),
            ("moved", "2022/x", "2022/2022/x"), ("moved", "2022/y", "2022/2022/y"), ("extra", "", "more"),
        }  # fmt: skip
        self.assertEqual(told(by_digest(left), by_digest(right)), wanted | {("moved", "one", "two")})
        # Without digests, one file under another name is not told to be the same.
        self.assertEqual(told(by_size(left), by_size(right)), wanted | {("missing", "one", ""), ("extra", "", "two")})
        found = facing.face(by_digest(left), by_digest(right))
        self.assertEqual((found.same, found.compared_by), (1, "their digests"))
        self.assertEqual([(one.left, one.right, one.files) for one in found.subtrees], [("", "2022/", 2)])
        self.assertEqual([one.verdict for one in found.differences], sorted((one.verdict for one in found.differences),
                         key=list(Verdict).index))  # fmt: skip

    def test_sizes_against_digests(self):
        left, right = {"a": b"1", "b": b"2"}, {"a": b"one", "c": b"2"}
        self.assertEqual(told(by_size(left), by_digest(right)), {("missing", "b", ""), ("extra", "", "c")})
        self.assertIn("paths alone", facing.face(by_size(left), by_digest(right)).compared_by)

    def test_a_large_folder_one_deeper_beside_many_empty_files(self):
        left = {f"u/2022/{n // 50}/{n}.jpg": b"%d" % n for n in range(2_000)} | {f"e/{n}": b"" for n in range(3_000)}
        right = {f"u/2022/2022/{n // 50}/{n}.jpg": b"%d" % n for n in range(2_000)} | {
            f"f/{n}": b"" for n in range(3_000)
        }
        found = facing.face(by_digest(left), by_digest(right))
        largest = found.subtrees[0]
        self.assertEqual((largest.left, largest.right, largest.files), ("u/", "u/2022/", 2_000))

    def test_nothing(self):
        self.assertEqual(facing.face(by_size({}), by_size({})).differences, [])
        self.assertEqual(told(by_size({"a": b""}), by_size({})), {("missing", "a", "")})
