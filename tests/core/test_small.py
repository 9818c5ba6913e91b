"""The small readers: sitemaps, connect-to lines, kinds of move, facing texts, media types."""

import gzip
import unittest

from palinode.core import connect, move_kind, page
from palinode.core.connect import ConnectError
from palinode.core.discovery import Discovery
from palinode.core.documents import sitemap
from palinode.core.documents.sitemap import Sitemap
from palinode.core.scope import AskedFor, Place, Scope


class SitemapTest(unittest.TestCase):
    URLSET = b'<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><url><loc> http://a.example/x </loc></url></urlset>'

    def test_pages_and_index(self):
        self.assertEqual(sitemap.read(self.URLSET), Sitemap(["http://a.example/x"]))
        index = b"<sitemapindex><sitemap><loc>http://a.example/2.xml</loc></sitemap></sitemapindex>"
        self.assertEqual(sitemap.read(index), Sitemap(maps=["http://a.example/2.xml"]))

    def test_days_of_change(self):
        def days(*written: str) -> list[int]:
            entries = "".join(f"<url><lastmod>{one}</lastmod><loc>/{at}</loc></url>" for at, one in enumerate(written))
            return list(sitemap.read(f"<urlset>{entries}</urlset>".encode()).modified.items())

        self.assertEqual(
            # A time is that of UTC; what names no day tells none.
            days("2020-03-01", "2020-03-01T00:30:00+02:00", "2020-03-01T23:59:59Z", "2020-03", "soon", "1950-01-01"),
            [("/0", 18_322), ("/1", 18_321), ("/2", 18_322)],
        )
        index = b"<sitemapindex><sitemap><loc>/a</loc><lastmod>2020-03-01</lastmod></sitemap></sitemapindex>"
        self.assertEqual(sitemap.read(index).modified, {})

    def test_gzip_and_text(self):
        self.assertEqual(sitemap.read(gzip.compress(self.URLSET)).pages, ["http://a.example/x"])
        self.assertEqual(
            sitemap.read(b"http://a.example/1\nhttp://a.example/2\nnonsense").pages,
            ["http://a.example/1", "http://a.example/2"],
        )

    def test_hostile(self):
        bomb = b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><urlset><url><loc>&b;</loc></url></urlset>'
        for body in (bomb, b"<urlset><url>", b"", b"\x1f\x8bbroken", b"<html>"):
            with self.subTest(body[:10]):
                self.assertEqual(sitemap.read(body), Sitemap())


class ConnectTest(unittest.TestCase):
    def test_lines(self):
        both = connect.lines("https://mill.example/", "203.0.113.40", www=True)
        self.assertEqual(len(both), 4)
        self.assertIn({"host": "www.mill.example", "port": 80, "address": "203.0.113.40", "to_port": 80}, both)
        one = connect.lines("http://mill.example/", "[2001:db8::1]:8443", www=False)
        self.assertEqual(one, [{"host": "mill.example", "port": 80, "address": "2001:db8::1", "to_port": 8443}])
        self.assertEqual(connect.lines("http://mill.example/", " ", www=True), [])

    def test_written_is_what_was_typed(self):
        for typed, www in [
            ("203.0.113.40", True),
            ("203.0.113.40:8080", False),
            ("[2001:db8::1]:443", True),
            ("new.example", False),
        ]:
            found = connect.lines("https://mill.example/", typed, www)
            self.assertEqual(connect.written("https://mill.example/", found), (typed, www))

    def test_faults(self):
        for typed, said in [
            ("2001:db8::1", "brackets"),
            ("a b", "IP address"),
            ("x:99999", "1 to 65535"),
            ("http://x", "IP address"),
        ]:
            with self.subTest(typed), self.assertRaisesRegex(ConnectError, said):
                connect.lines("https://mill.example/", typed, www=False)


class KindTest(unittest.TestCase):
    def test_read_from_two_addresses(self):
        for source, destination, connects, expected in [
            ("http://a.example/", "http://b.example/", False, "name"),
            ("http://a.example/", "http://www.a.example/", False, "restore"),
            ("http://a.example/", "http://a.example/", True, "host"),
            ("http://a.example/", "https://a.example/", False, "scheme"),
            ("http://a.example/old/", "http://a.example/", False, "folder"),
        ]:
            self.assertEqual(move_kind.read(source, destination, connects), expected)


class PageTest(unittest.TestCase):
    def test_pages_and_files(self):
        for status, media, expected in [
            (200, "text/html", True), (200, "application/pdf", True), (200, "text/plain", True),
            (200, "image/png", False), (200, "text/css", False), (200, "application/json", False),
            (404, "text/html", False), (None, "", False),
        ]:  # fmt: skip
            self.assertEqual(page.is_page(status, media), expected, (status, media))
        self.assertEqual(page.charset('text/html; Charset="UTF-8"'), "UTF-8")

    def test_scope(self):
        scope = Scope(("http://mill.example/old/",))
        for address, place, expected in [
            ("https://www.mill.example/old/x", Place.LINK, AskedFor.PAGE),
            ("http://mill.example/old", Place.LINK, AskedFor.PAGE),
            ("http://mill.example/older", Place.LINK, None),
            ("http://mill.example/img.png", Place.IMAGE, AskedFor.FILE),
            ("http://other.example/img.png", Place.IMAGE, None),
            ("http://mill.example/old/form", Place.FORM, None),
        ]:
            self.assertEqual(scope.asked_for(address, place), expected, address)

    def test_known_in_words(self):
        self.assertEqual((Discovery.LINK | Discovery.SITEMAP).words, ["linked", "in a sitemap"])
