"""Archives of static pages: what becomes which address, and what is refused."""

import io
import unittest
import zipfile

from palinode.gather import pages
from palinode.gather.pages import ArchiveError

BASE = "http://old.example/"


def archive(*entries: tuple[str, str], links: tuple[str, ...] = ()) -> io.BytesIO:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as made:
        for name, text in entries:
            info = zipfile.ZipInfo(name, (2026, 5, 4, 12, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            info.external_attr = 0o120777 << 16 if name in links else 0o100644 << 16
            made.writestr(info, text)
    file.seek(0)
    return file


def read(file: io.BytesIO, base: str = BASE) -> dict[str, str]:
    return {one.address: one.headers["content-type"] for one in pages.exchanges(file, base)}


class PagesTest(unittest.TestCase):
    def test_files_become_addresses(self):
        found = read(archive(("index.html", "H"), ("shop/index.htm", "S"), ("shop/rye & co.html", "R"), ("a.css", "")))
        self.assertEqual(
            found,
            {
                BASE: "text/html",
                f"{BASE}shop/": "text/html",
                f"{BASE}shop/rye%20%26%20co.html": "text/html",
                f"{BASE}a.css": "text/css",
            },
        )

    def test_the_folder_that_stands_for_the_site_is_left_off(self):
        for top in ("copy/", "mirror/www.old.example/", "old.example/"):
            with self.subTest(top):
                self.assertEqual(list(read(archive((f"{top}index.html", "H"), (f"{top}a.html", "A")))), [BASE, f"{BASE}a.html"])  # fmt: skip
        two = read(archive(("old.example/index.html", "H"), ("fonts.example/f.woff", "F"), ("old.example/.x/y", "")))
        self.assertEqual(list(two), [BASE], "other hosts' and hidden files are not the site's")

    def test_below_a_folder(self):
        found = read(archive(("index.html", "H"), ("a.html", "A")), "http://old.example/~mill/")
        self.assertEqual(list(found), ["http://old.example/~mill/", "http://old.example/~mill/a.html"])

    def test_what_is_refused_says_which_entry(self):
        for file, said in [
            (archive(("index.html", "H"), ("../x", "")), "“../x” would lie outside"),
            (archive(("/etc/x", "")), "“/etc/x” would lie outside"),
            (archive(("a/..\\..\\x", "")), "would lie outside"),
            (archive(("c:/x", "")), "would lie outside"),
            (archive(("link", "/etc/passwd"), links=("link",)), "“link” is a link"),
            (archive(), "holds no files"),
            (io.BytesIO(b"PK\x03\x04 and no more"), "broken"),
            (io.BytesIO(archive(("a", "b" * 1000)).getvalue()[:-60]), "broken"),
        ]:
            with self.subTest(said), self.assertRaisesRegex(ArchiveError, said):
                read(file)

    def test_a_file_that_swells_is_cut(self):
        bomb = archive(("index.html", "a" * 60_000_000))
        self.assertLess(len(bomb.getvalue()), 100_000)
        (one,) = pages.exchanges(bomb, BASE)
        self.assertTrue(one.truncated)
        self.assertEqual(len(one.body), 50_000_000)

    def test_archives_that_state_too_much_are_refused(self):
        file = archive(("index.html", "H"))
        with zipfile.ZipFile(file) as read_back:
            entry = read_back.infolist()[0]
        entry.file_size = pages.TOTAL + 1
        with self.assertRaisesRegex(ArchiveError, "GB when unpacked"):
            pages._refuse([entry])
