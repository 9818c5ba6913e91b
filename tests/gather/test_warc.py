"""WARC records: written by us, read and checked by an independent reader."""

import io
import unittest

from warcio.archiveiterator import ArchiveIterator
from warcio.checker import Checker

from palinode.gather.exchange import Exchange
from palinode.gather.warc import record, segment


def exchange(body: bytes = b"<p>flour</p>", address: str = "http://mill.example/a") -> Exchange:
    return Exchange(
        address=address,
        asked_at=1_790_000_000.5,
        took_ms=3,
        status=200,
        request_head=b"GET /a HTTP/1.1\r\nHost: mill.example\r\n\r\n",
        response_head=b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nX: 1\r\nX: 2\r\n\r\n",
        headers={"content-type": "text/html"},
        body=body,
        peer="203.0.113.8",
    )


class WarcTest(unittest.TestCase):
    def setUp(self):
        head = record.info("Palinode test", "x.warc.gz")
        first, stored = record.records(exchange(), None)
        again, _ = record.records(exchange(address="http://mill.example/b"), stored)
        self.offsets = [len(head), len(head) + len(first)]
        self.data = head + first + again

    def test_an_independent_reader_reads_it(self):
        found = []
        for one in ArchiveIterator(io.BytesIO(self.data), check_digests="raise"):
            found.append((one.rec_type, one.rec_headers.get_header("WARC-Target-URI"), one.content_stream().read()))
        self.assertEqual([kind for kind, _, _ in found], ["warcinfo", "response", "request", "revisit", "request"])
        self.assertEqual(found[1][1:], ("http://mill.example/a", b"<p>flour</p>"))
        self.assertEqual(found[3][1:], ("http://mill.example/b", b""))

    def test_its_own_check_passes(self):
        import contextlib
        import tempfile

        with tempfile.NamedTemporaryFile(suffix=".warc.gz") as file:
            file.write(self.data)
            file.flush()

            class Command:
                inputs = (file.name,)
                verbose = True

            said = io.StringIO()
            checker = Checker(Command)
            with contextlib.redirect_stdout(said):
                checker.process_all()
            self.assertEqual(checker.exit_value, 0, said.getvalue())
            self.assertIn("digest pass", said.getvalue())

    def test_records_are_read_back_at_their_offsets(self):
        file = io.BytesIO(self.data)
        first, again = (segment.response_at(file, offset) for offset in self.offsets)
        self.assertEqual((first.address, first.revisit, first.body), ("http://mill.example/a", False, b"<p>flour</p>"))
        self.assertEqual((first.status, first.headers["x"]), (200, "1, 2"))
        self.assertTrue(again.revisit)
        self.assertEqual(len(list(segment.responses(io.BytesIO(self.data)))), 2)
