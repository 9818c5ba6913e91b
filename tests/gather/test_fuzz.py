"""Readers of files that people import, against anything: what they cannot read they say, and within a bound."""

import io
import unittest
import zipfile

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from palinode.core import robots
from palinode.core.documents import address_list
from palinode.core.documents.address_list import ColumnError, Tally
from palinode.core.scope import Scope
from palinode.gather import pages
from palinode.gather.pages import ArchiveError
from palinode.gather.warc import reader, record, segment
from palinode.gather.warc.reader import Damaged
from tests.core.test_fuzz import mess, mutated, raw
from tests.gather.test_warc import exchange

CALM = settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])
WARC = record.info("x", "x.warc.gz") + record.records(exchange(), None)[0]
PLAIN = (
    b"WARC/1.1\r\nWARC-Type: response\r\nWARC-Target-URI: http://mill.example/\r\nContent-Length: 76\r\n\r\n"
    b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\n\r\n\r\n"
)
LOG = b'203.0.113.9 - - [04/May/2026:12:00:00 +0000] "GET /shop/rye?x=1 HTTP/1.1" 200 512 "http://a.example/" "B/1"\n'
CSV = b'Page,Clicks\n"http://mill.example/a,b",3\n/c;4\n'
ROBOTS = b"User-agent: *\nDisallow: /cellar*\nCrawl-delay: 2\nSitemap: http://mill.example/map.xml\n"


def zipped() -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("mill.example/index.html", "<title>Mill</title>")
        made.writestr("mill.example/a/b.css", "p{}")
    return file.getvalue()


class FuzzTest(unittest.TestCase):
    @CALM
    @given(st.one_of(raw, mutated(WARC), mutated(PLAIN)))
    def test_warc(self, data):
        try:
            for one in reader.records(io.BytesIO(data)):
                self.assertLessEqual(len(one.block), one.length)
                one.fault()
                found = segment.recorded(one)
                self.assertIsInstance(found.body, bytes)
        except Damaged as error:
            self.assertLessEqual(0, error.offset)
            self.assertIn("at byte", str(error))

    @CALM
    @given(st.one_of(raw, mutated(zipped())))
    def test_zip(self, data):
        try:
            for one in pages.exchanges(io.BytesIO(data), "http://mill.example/"):
                self.assertTrue(one.address.startswith("http://mill.example/"))
        except ArchiveError as error:
            self.assertTrue(str(error))

    @CALM
    @given(st.one_of(mess, st.sampled_from([LOG, CSV]).flatmap(mutated).map(lambda one: one.decode("utf-8", "replace"))), st.sampled_from(["", "1", "Page"]))  # fmt: skip
    def test_lists_and_logs(self, text, column):
        tally = Tally()
        try:
            for address, *_ in address_list.read(
                text.split("\n"), Scope(("http://mill.example/",)), tally, column=column
            ):
                self.assertTrue(address.startswith("http://mill.example/"))
        except ColumnError as error:
            self.assertIn("There is no column", str(error))

    @CALM
    @given(st.one_of(raw, mutated(ROBOTS)))
    def test_robots(self, data):
        _, rules = robots.read(data)
        rules.can_fetch("http://mill.example/cellar", "Palinode")
