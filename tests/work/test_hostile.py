"""A capture of a host that means no good: each corner ends as a row, the rest is captured to the end."""

import gzip
import re
import time
import zlib
from unittest import mock

from palinode.gather import fetch
from palinode.records.models import Address, Answer, Facts
from tests.hostile import (
    BOMB,
    HTML,
    Hostile,
    Passing,
    drips,
    endless,
    head,
    moves,
    page,
    sends,
    silent,
    whole,
)
from tests.site import Site
from tests.site import page as site_page
from tests.work.base import MoveTestCase

GZIP = "Content-Encoding: gzip"
OK = [f"/ok/{n}" for n in range(40)]
TEXT = "flour " * 200


def corners() -> dict[str, tuple[object, int | None, str, bool]]:
    """Return path to what is done there, and the outcome: status, reason (a pattern, all of it), whether a page."""
    return {
        "/silent": (silent, None, "timed out three times", False),
        "/drip-head": (drips(b"HTTP/1.1 200 OK\r\nX: ", b"a"), None, "timed out three times", False),
        "/drip-fields": (drips(b"HTTP/1.1 200 OK\r\n", b"X-A: b\r\n"), None, "timed out three times", False),
        "/drip-body": (drips(head(HTML, length=10**6), b"a"), None, "timed out three times", False),
        "/drip-chunks": (drips(head(HTML, "Transfer-Encoding: chunked"), b"1\r\na\r\n"), None, "timed out three times", False),
        "/endless": (endless, 200, "cut off: longer than 50 MB", True),
        "/bomb": (sends(whole(BOMB, HTML, GZIP)), 200, "cut off: longer than 50 MB when unpacked", True),
        "/bomb-in-bomb": (sends(whole(gzip.compress(BOMB), HTML, f"{GZIP}, gzip")), 200, "cut off: .* unpacked", True),
        "/gzip-short": (sends(whole(gzip.compress(page("Cut").encode())[:-9], HTML, GZIP)), 200, "its compression breaks off", True),
        "/gzip-lie": (sends(whole(page("Plain"), HTML, GZIP)), 200, "its compression is not there", True),
        "/deflate-bare": (sends(whole(zlib.compress(page("Bare").encode(), wbits=-15), HTML, "Content-Encoding: deflate")), 200, "", True),
        "/coding": (sends(whole(page("Odd"), HTML, "Content-Encoding: rot13")), 200, "its coding is not known: rot13", True),
        "/chunk-broken": (sends(head(HTML, "Transfer-Encoding: chunked") + b"5\r\nflour\r\nzz\r\n"), None, "the answer is not HTTP three times|the body broke off three times", False),
        "/chunk-short": (sends(head(HTML, "Transfer-Encoding: chunked") + b"ff\r\nflour"), None, "the body broke off three times", False),
        "/chunk-huge": (sends(head(HTML, "Transfer-Encoding: chunked") + b"f" * 300 + b"\r\n"), None, "the answer is not HTTP three times|the body broke off three times", False),
        "/short": (sends(head(HTML, length=1000) + b"flour"), None, "the body broke off three times", False),
        "/long": (
            sends(head(HTML, length=5) + b"flour" * 100),
            None,
            "the answer is not HTTP three times",
            False,
        ),
        "/length-less": (sends(head(HTML) + page("Until the end").encode()), 200, "", True),
        "/lengths": (sends(head(HTML, "Content-Length: 3", length=5) + b"flour"), None, "the answer is not HTTP three times", False),
        "/length-minus": (sends(head(HTML, "Content-Length: -5") + b"flour"), None, "the answer is not HTTP three times", False),
        "/garbage": (sends(b"220 mail.example ready\r\n"), None, "the answer is not HTTP three times", False),
        "/nothing": (sends(b""), None, "the host hung up three times", False),
        "/field-huge": (sends(b"HTTP/1.1 200 OK\r\nX: " + b"a" * 300_000 + b"\r\n\r\n"), None, "the answer is not HTTP three times", False),
        "/fields-many": (sends(head(HTML, *(f"X-{n}: {n}" for n in range(20_000)), length=5) + b"flour"), None, "the answer is not HTTP three times", False),
        "/status-odd": (sends(whole(page("Odd"), status="999 Go away")), 999, "", False),
        "/early": (drips(b"", b"HTTP/1.1 103 Early Hints\r\n\r\n", 0.01), None, "timed out three times|the answer is not HTTP three times", False),
        "/no-content": (sends(head(status="204 No Content")), 204, "", False),
        "/part": (sends(whole(page("Part"), HTML, "Content-Range: bytes 0-9/100", status="206 Partial Content")), 206, "", False),
        "/circle": (sends(moves("/circle")), 302, "", False),
        "/to-canary": (sends(moves("http://127.0.0.1:{canary}/taken")), 302, "", False),
        "/to-canary-by-name": (sends(moves("http://old.example:{canary}/taken")), 302, "", False),
        "/to-script": (sends(moves("javascript:alert(1)")), 302, "", False),
        "/to-nowhere": (sends(moves("http://[::1")), 302, "", False),
        "/to-huge": (sends(moves("/" + "a" * 7000)), 302, "", False),
        "/to-blank": (sends(moves(" ")), 302, "", False),
        "/without-location": (sends(whole("", status="301 Moved Permanently")), 301, "", False),
        "/slow-down": (Passing(1, "429 Too Many Requests", "0"), 200, "", True),
        "/later": (Passing(1, "503 Service Unavailable", "0"), 200, "", True),
        "/never": (Passing(9, "503 Service Unavailable", "86400"), 503, "", False),
        "/date-later": (Passing(9, "503 Service Unavailable", "Fri, 31 Dec 2027 23:59:59 GMT"), 503, "", False),
        "/nested": (sends(whole("<main>" + "<div>" * 100_000 + "deep")), 200, "", True),
        "/nested-tables": (sends(whole("<table><tr><td>" * 20_000)), 200, "", True),
        "/attribute": (sends(whole(f"<main><p title='{'a' * 3_000_000}'>{TEXT}</p>")), 200, "", True),
        "/title": (sends(whole(f"<title>{'flour ' * 200_000}</title><main>x")), 200, "", True),
        "/comment": (sends(whole("<main>before<!--" + "a" * 100_000)), 200, "", True),
        "/links": (sends(whole("<main>" + "".join(f"<a href='/ok/{n % 40}?#{n}'>x</a>" for n in range(30_000)))), 200, "", True),
        "/zero": (sends(whole(b"<title>a\0b</title><main>\0\0flour")), 200, "", True),
        "/utf-16": (sends(whole("\ufeff<title>Wide</title><main>flour".encode("utf-16-le"), "Content-Type: text/html")), 200, "", True),
        "/latin": (sends(whole("<title>M\u00fchle</title>".encode("latin-1"), "Content-Type: text/html")), 200, "", True),
        "/charset": (sends(whole(page("Odd"), "Content-Type: text/html; charset=no-such-thing")), 200, "", True),
        "/empty": (sends(whole("")), 200, "", True),
        "/image-lie": (sends(whole(page("Not an image"), "Content-Type: image/png")), 200, "", False),
        "/cookies": (sends(whole(page("Cookies"), HTML, *(f"Set-Cookie: a{n}=b" for n in range(90)))), 200, "", True),
    }  # fmt: skip


class HostileTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.canary = self.stack.enter_context(Site({}))
        self.expected = corners()
        for path, (_, *outcome) in self.expected.items():
            if path.startswith("/to-canary"):
                to = f"http://{'old.example' if 'name' in path else '127.0.0.1'}:{self.canary.port}/taken"
                self.expected[path] = (sends(moves(to)), *outcome)
        links = [*self.expected, *OK, f"http://127.0.0.1:{self.canary.port}/linked"]
        home = site_page("Home", *links).body
        self.host = self.stack.enter_context(
            Hostile({path: corner for path, (corner, *_) in self.expected.items()}, home)
        )
        self.allow(self.host.allowed)

    def test_every_corner_is_a_row_and_the_rest_is_captured_to_the_end(self):
        move = self.move(self.host, self.host)
        started = time.monotonic()
        with mock.patch.multiple(fetch, LONGEST_PAUSE=0.2, _PAUSE=(0.1,)):
            capture = self.capture(move, "source", concurrency=16, answer_seconds=2)
        self.assertLess(time.monotonic() - started, 120, "every corner has its bound")
        self.assertTrue(capture.complete, (capture.why, capture.limits))
        found = self.inventory(capture)
        for path, (_, status, reason, is_page) in self.expected.items():
            with self.subTest(path):
                self.assertIn(path, found)
                self.assertEqual((found[path][0], found[path][2]), (status, is_page), found[path])
                self.assertTrue(re.fullmatch(reason, found[path][1] or ""), found[path])
        for path in OK:
            self.assertEqual(found[path], (200, None, True))
        self.assertEqual(self.canary.asked, [], "what is forbidden was never touched")
        self.check_what_was_read(capture)

    def check_what_was_read(self, capture) -> None:
        titles = {
            path: Facts.objects.filter(move_id=capture.move_id, key=key).values_list("title", flat=True)[0]
            for path, key in self.facts_of(capture).items()
        }
        for path, title in {
            "/gzip-lie": "Plain", "/deflate-bare": "Bare", "/length-less": "Until the end",
            "/utf-16": "Wide", "/latin": "Mühle", "/charset": "Odd", "/zero": "ab", "/slow-down": "/slow-down",
        }.items():  # fmt: skip
            with self.subTest(path):
                self.assertEqual(titles[path].replace("\ufffd", ""), title)
        self.assertLessEqual(len(titles["/title"]), 1000)
        lie = Address.objects.get(move_id=capture.move_id, text="http://old.example/image-lie")
        self.assertEqual(Answer.objects.get(capture=capture, ident=lie.ident).media_type, "text/html")

    def facts_of(self, capture) -> dict[str, int]:
        rows = Answer.objects.filter(capture=capture, is_page=True).values_list("ident", "facts")
        texts = dict(Address.objects.filter(move_id=capture.move_id).values_list("ident", "text"))
        return {texts[ident].removeprefix("http://old.example"): key for ident, key in rows}
