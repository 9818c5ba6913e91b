"""Lists that people import: lines, CSV of any make, access logs."""

import unittest

from palinode.core.discovery import Discovery
from palinode.core.documents.address_list import ColumnError, Tally, read
from palinode.core.scope import Scope

BASE = "http://mill.example/"


class AddressListTest(unittest.TestCase):
    def read(self, text: str, base: str = BASE) -> list[str]:
        self.tally = Tally()
        self.found = list(read(text.splitlines(), Scope((base,)), self.tally))
        return [address.removeprefix("http://mill.example") for address, *_ in self.found]

    def test_the_column_that_a_person_chose(self):
        lines = [
            "Title;Landing page;Clicks",
            "/not this;old.example/a?x=1;3",
            "/nor this;/b;4",
            "c;http://old.example/c;1",
            "d;;2",
        ]
        for column in ("landing PAGE", "2"):
            with self.subTest(column):
                tally = Tally()
                found = [text for text, *_ in read(lines, Scope(("http://old.example/",)), tally, column=column)]
                self.assertEqual(found, [f"http://old.example/{tail}" for tail in ("a?x=1", "b", "c")])
                self.assertEqual(tally.examples, ["line 5: d;;2"])
        with self.assertRaisesRegex(ColumnError, "no column “Page”. The first line has: Title, Landing page, Clicks"):
            list(read(lines, Scope(("http://old.example/",)), Tally(), column="Page"))

    def test_one_a_line(self):
        text = "\ufeffhttp://mill.example/a\n\n# the old shop\nHTTP://WWW.Mill.example/b?x=1#top\n/c\nhttp://other.example/d\nnonsense\n//x"
        self.assertEqual(self.read(text), ["/a", "http://www.mill.example/b?x=1", "/c"])
        self.assertEqual((self.tally.lines, self.tally.elsewhere, self.tally.unread), (8, 2, 1))
        self.assertEqual(self.tally.examples, ["line 7: nonsense"])
        self.assertEqual({known for _, known, _ in self.found}, {Discovery.LIST})

    def test_csv_of_any_make(self):
        for text in (
            "Page,Clicks\nhttp://mill.example/a,12\n/b,3",
            "Clicks;Adresse\n12;http://mill.example/a\n3;/b",
            "Clicks\tPage\n12\thttp://mill.example/a\n3\t/b",
            '"Top pages","Clicks"\n"http://mill.example/a","1,204"\n"/b","3"',
        ):
            with self.subTest(text):
                self.assertEqual(self.read(text), ["/a", "/b"])
                self.assertEqual(self.tally.unread, 0, "the first line is a heading")

    def test_an_address_with_a_comma_is_quoted_or_ends_there(self):
        self.assertEqual(self.read('\n"http://mill.example/a,b",7'), ["/a,b"])

    def test_access_logs(self):
        text = "\n".join(
            [
                '203.0.113.9 - - [01/May/2026:12:00:00 +0000] "GET /a?x=1 HTTP/1.1" 200 512',
                '203.0.113.9 - miller [01/May/2026:12:00:01 +0000] "GET /b HTTP/2.0" 301 0 "http://search.example/" "Agent (x)"',
                '2001:db8::1 - - [01/May/2026:12:00:02 +0000] "HEAD /c HTTP/1.1" 304 0 "-" "-"',
                '203.0.113.9 - - [01/May/2026:12:00:03 +0000] "GET /gone HTTP/1.1" 404 0',
                '203.0.113.9 - - [01/May/2026:12:00:04 +0000] "POST /login HTTP/1.1" 200 0',
                '203.0.113.9 - - [01/May/2026:12:00:05 +0000] "\\x16\\x03" 400 0',
                '203.0.113.9 - - [01/May/2026:12:00:06 +0000] "GET http://other.example/ HTTP/1.1" 200 0',
            ]
        )
        self.assertEqual(self.read(text), ["/a?x=1", "/b", "/c"])
        self.assertEqual((self.tally.failed, self.tally.elsewhere, self.tally.unread), (3, 1, 0))
        self.assertEqual({known for _, known, _ in self.found}, {Discovery.LOG})
        self.assertEqual(self.tally.named, {"log": 3})

    def test_visits_of_a_log(self):
        line = '203.0.113.9 - - [{}] "{} /a HTTP/1.1" {} 5{}'
        text = "\n".join(
            line.format(*one)
            for one in (
                ("01/May/2026:12:00:00 +0000", "GET", 200, ""),
                ("02/May/2026:12:00:00 +0000", "GET", 301, ' "-" "Mozilla/5.0 (X11)"'),
                ("03/May/2026:12:00:00 +0000", "HEAD", 200, ' "-" "Mozilla/5.0"'),
                ("04/May/2026:12:00:00 +0000", "GET", 200, ' "-" "Gathererbot/2.1 (+http://search.example/)"'),
                ("05/May/2026:12:00:00 +0000", "GET", 200, ' "http://a.example/robots" "Palinode/0.7 (x)"'),
                ("2026-05-06T12:00:00Z", "GET", 200, ""),
                ("06/May/2026:12:00:00 +0000", "GET", 404, ""),
            )
        )
        self.assertEqual(self.read(text), ["/a"] * 6)
        self.assertEqual([one.day for one in self.found], [20260501, 20260502, None, None, None, None])
        self.assertEqual(self.tally.visits, 2)

    def test_files_that_other_sites_show(self):
        self.read("\n".join(
            f'203.0.113.9 - - [01/May/2026:12:00:00 +0000] "GET {path} HTTP/1.1" 200 1 "{by}" "Mozilla/5.0"'
            for path, by in (
                ("/a.jpg", "https://walks.example/mill"), ("/a.jpg", "http://walks.example/"), ("/a.jpg", f"{BASE}p"),
                ("/a.jpg", "-"), ("/a.jpg", "android-app://walks"), ("/p", "http://walks.example/"), ("/s.woff2", "http://tides.example/"),
            )
        ))  # fmt: skip
        self.assertEqual(
            self.tally.shown, {(f"{BASE}a.jpg", "walks.example"): 2, (f"{BASE}s.woff2", "tides.example"): 1}
        )

    def test_a_log_of_a_further_host_names_its_paths(self):
        scope = Scope((BASE, "http://shop.mill.example/"))
        line = '203.0.113.9 - - [01/May/2026:12:00:00 +0000] "GET /rye HTTP/1.1" 200 5'
        for base, found in (("", f"{BASE}rye"), ("http://shop.mill.example/", "http://shop.mill.example/rye")):
            self.assertEqual([one.address for one in read([line], scope, Tally(), base=base)], [found])
        listed = ["http://shop.mill.example/rye", "shop.mill.example/oat"]
        self.assertEqual(len(list(read(["Page", *listed], scope, Tally(), column="1"))), 2)

    def test_only_what_is_below_the_side_s_address(self):
        self.assertEqual(self.read("/shop/a\n/other", "http://mill.example/shop"), ["/shop/a"])

    def test_lines_without_end_and_other_mess(self):
        self.assertEqual(self.read("x" * 10**6 + "\n" + "," * 10**5 + '\n"unclosed,/a\n\0\n'), [])
