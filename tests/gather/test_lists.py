"""Lists in files: packed, joined, in other encodings, cut anywhere."""

import gzip
import tempfile
import unittest
from unittest import mock

from palinode.core.scope import Scope
from palinode.gather import lists

BASE = "http://old.example/"


def read(data: bytes) -> tuple[set[str], lists.Part]:
    """Return the paths that a file names, and the last part of it."""
    with tempfile.NamedTemporaryFile() as file:
        file.write(data)
        file.flush()
        parts = list(lists.parts(file.name, "list", Scope((BASE,)), BASE, "", 10**9))
    return {address.removeprefix(BASE) for part in parts for _, address, *_ in part.found}, parts[-1]


class ListsTest(unittest.TestCase):
    def test_packed_joined_and_other_encodings(self):
        for data, wanted in [
            (gzip.compress(b"/a\n/b\n"), {"a", "b"}),
            (gzip.compress(b"/a\n") + gzip.compress(b"/b"), {"a", "b"}),
            ("/a\r\n/b\r/c".encode("utf-16"), {"a", "b", "c"}),
            (b"\xef\xbb\xbf/a\n/\xff\n", {"a", "%EF%BF%BD"}),
            (b"/" + b"a" * 9_000 + b"\n/b", {"b"}),
        ]:
            with self.subTest(data[:20]), mock.patch.object(lists, "_CHUNK", 7):
                found, last = read(data)
                self.assertEqual({path for path in found if len(path) < 100}, wanted)
                self.assertEqual((last.size, len(last.sha256)), (len(data), 64))

    def test_each_part_says_how_far_it_is(self):
        with mock.patch.object(lists, "_BATCH", 2), tempfile.NamedTemporaryFile() as file:
            file.write(b"/a\n/b\n/c\n")
            file.flush()
            parts = list(lists.parts(file.name, "list", Scope((BASE,)), BASE, "", 10**9))
        self.assertEqual([(len(part.found), part.tally.lines) for part in parts], [(2, 2), (1, 3)])
