"""What a capture finds, and what it leaves alone: files that name others, traps without end."""

from unittest import mock

from palinode.core import pattern
from palinode.core.discovery import Discovery
from palinode.records.models import Answer
from tests.site import Answer as Served
from tests.site import page
from tests.work.base import MoveTestCase


def served(body: str, media: str) -> Served:
    return Served(body, headers={"Content-Type": media})


class FilesThatNameOthersTest(MoveTestCase):
    def test_style_sheets_feeds_manifests_and_headers(self):
        head = (
            '<link rel=stylesheet href="/css/s.css"><link rel=alternate type="application/rss+xml" href="/feed">'
            '<link rel=manifest href="/m.webmanifest"><meta http-equiv=refresh content="9; url=/refreshed">'
        )
        home = page("Home", head=head)
        home.headers["Link"] = "</next>; rel=next"
        site = {
            "/": home,
            "/css/s.css": served("@import 'more.css'; a{b:url(../paper.png)}", "text/css"),
            "/css/more.css": served("@font-face{src:url(/f.woff2)}", "text/css"),
            "/paper.png": served("x", "image/png"),
            "/f.woff2": served("x", "font/woff2"),
            "/feed": served("<rss><channel><item><link>/only-in-feed</link></item><link rel='next' href='/feed?p=2'/></channel></rss>", "application/rss+xml"),
            "/feed?p=2": served("<rss><channel><item><link>/on-its-second-page</link></item></channel></rss>", "application/rss+xml"),
            "/m.webmanifest": served('{"start_url":"/app","icons":[{"src":"/icon.png"}]}', "application/manifest+json"),
            **{path: page(path) for path in ("/only-in-feed", "/on-its-second-page", "/app", "/refreshed", "/next")},
            "/icon.png": served("x", "image/png"),
        }  # fmt: skip
        old, new = self.serve(site, {})
        capture = self.capture(self.move(old, new), "source")
        found = self.inventory(capture)
        self.assertEqual({path for path in found if path != "/sitemap.xml"}, set(site))
        self.assertEqual({found[path][0] for path in site}, {200})
        feed = Answer.objects.filter(capture=capture, known=int(Discovery.FEED))
        self.assertEqual(feed.count(), 3, "two pages, and the feed's second page")


class TrapTest(MoveTestCase):
    def test_a_trap_is_left_when_it_has_had_its_share_and_the_rest_is_captured(self):
        def site(path: str) -> Served | None:
            if path == "/":
                return page("Home", "/cal?m=1", "/down", *(f"/ok/{n}" for n in range(30)))
            if path.startswith("/cal?m="):
                month = int(path.partition("=")[2])
                return page(f"Month {month}", *(f"/cal?m={month * 3 + n}" for n in range(3)))
            if path.startswith("/down"):
                return page(path, f"{path}/down")
            return page(path) if path.startswith("/ok/") else None

        old, new = self.serve(site, {})
        with mock.patch.multiple(pattern, _LIKE=40, REPEATING=pattern.Pattern(pattern.REPEATING.text, 5)):
            capture = self.capture(self.move(old, new), "source")
        paths = list(self.inventory(capture))
        self.assertEqual(sum(path.startswith("/cal?") for path in paths), 40)
        self.assertEqual(sum(path.startswith("/down") for path in paths), 2 + 5, "twice, then five that repeat")
        self.assertEqual(sum(path.startswith("/ok/") for path in paths), 30)
        self.assertTrue(capture.complete)
        self.assertEqual(capture.known, capture.asked)
        grounds = [ground["text"] for ground in capture.judgement["grounds"]]
        self.assertTrue(any(text.startswith("40 addresses like /cal?m were asked, ") for text in grounds), grounds)
        self.assertTrue(any("with a path that repeats itself were asked" in text for text in grounds), grounds)
        self.assertTrue(capture.judgement["stands"])
