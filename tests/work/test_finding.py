"""What a capture finds, and what it leaves alone: files that name others, traps without end."""

import re
from collections import Counter

from django.db import connection
from django.db.models import F

from palinode.core import address as addresses
from palinode.core.discovery import Discovery
from palinode.core.facts import VERSION
from palinode.core.fields import Field
from palinode.core.scope import AskedFor
from palinode.records import answer_rows
from palinode.records.models import Answer, Capture, Facts, Frontier
from palinode.work import read_again
from tests.site import Answer as Served
from tests.site import page
from tests.traps import Traps, numbered, text
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
        self.assertEqual(
            feed.count(), 2, "two pages; the feed's second page is asked like a link, since there may be no end"
        )

    def test_a_document_is_one_by_what_it_is_however_it_was_found(self):
        listed = "<urlset><url><loc>http://old.example/only-there</loc></url></urlset>"
        index = "<sitemapindex><sitemap><loc>/more</loc></sitemap></sitemapindex>"
        site = {
            "/": page("Home", "/site.xml", "/index", "/news", "/app.json", "/robots.txt"),
            "/site.xml": served(listed, "text/html"),
            "/index": served(index, "application/octet-stream"),
            "/more": served(listed.replace("only-there", "only-below"), "text/plain"),
            "/news": served("<rss><channel><item><link>/in-the-feed</link></item></channel></rss>", "text/html"),
            "/app.json": served('{"name": "Mill", "start_url": "/start"}', "text/plain"),
            "/robots.txt": served("User-agent: *\nDisallow:", "text/plain"),
            **{path: page(path) for path in ("/only-there", "/only-below", "/in-the-feed", "/start")},
        }
        old, new = self.serve(site, {})
        capture = self.capture(self.move(old, new), "source")
        found = self.inventory(capture)
        self.assertLessEqual({"/only-there", "/only-below", "/in-the-feed", "/start"}, set(found))
        self.assertEqual({path for path, (*_, is_page) in found.items() if is_page},
                         {"/", "/only-there", "/only-below", "/in-the-feed", "/start"})  # fmt: skip
        used = dict(Frontier.objects.filter(capture=capture).values_list("ident", "asked_for"))
        for path, asked_for in [("/site.xml", AskedFor.SITEMAP), ("/more", AskedFor.SITEMAP), ("/robots.txt", AskedFor.ROBOTS),
                                ("/news", AskedFor.PAGE)]:  # fmt: skip
            self.assertEqual(used[addresses.ident(f"http://old.example{path}")], asked_for, path)


class ReadAgainTest(MoveTestCase):
    def test_what_an_earlier_version_did_not_ask_for_is_said_when_it_is_read_again(self):
        home = page("Home", "/a", "/b")
        home.body = home.body.replace("</p>", "<img src=data:image/gif;base64,R0 data-src=/late.png alt=Late></p>")
        picture = served("x", "image/png")
        old, new = self.serve({"/": home, "/a": page("A"), "/b": page("B"), "/late.png": picture}, {})
        capture = self.capture(self.move(old, new), "source")
        self.assertTrue(capture.complete)
        read_again.read_again(capture)
        capture.refresh_from_db()
        self.assertTrue(capture.complete, "this version finds no more than it asked for")
        # As a version left it that did not know of images which scripts load later.
        late = addresses.ident("http://old.example/late.png")
        for model in (Frontier, Answer):
            model.objects.filter(capture=capture, ident=late).delete()
        for _ in range(2):
            read_again.read_again(capture)
        capture.refresh_from_db()
        self.assertEqual((capture.complete, capture.judgement["stands"]), (False, False))
        self.assertEqual(
            capture.judgement["sentence"],
            "It does not stand: one address found when it was read again was never asked.",
        )
        rows = answer_rows.page(capture, "left_out", "", "", 0, 10)
        self.assertEqual([row.left for row in rows], ["http://old.example/late.png"])

    def test_a_capture_that_an_earlier_version_read_is_read_again_before_it_is_compared(self):
        site = {"/": page("Home", "/a"), "/a": page("A")}
        move = self.move(*self.serve(site, site))
        baseline = self.baseline(move)
        self.assertEqual(baseline.facts_version, VERSION)
        Capture.objects.filter(pk=baseline.pk).update(facts_version=VERSION - 1)
        # As that version read it.
        Facts.objects.filter(move=move).update(
            key=F("key") + 1, whole=1, prints=bytes(8 * len(Field)), version=VERSION - 1
        )
        Answer.objects.filter(capture=baseline).update(facts=F("facts") + 1)
        baseline.refresh_from_db()
        made = self.compare(move, self.capture(move, "destination"))
        baseline.refresh_from_db()
        self.assertEqual((baseline.facts_version, baseline.readings), (VERSION, 1))
        self.assertEqual(made.standing["summary"], "2 kept.")


class TrapTest(MoveTestCase):
    def test_ten_traps_end_by_themselves_and_the_rest_is_captured(self):
        site = Traps(300)
        old, new = self.serve(site.find, {})
        capture = self.capture(self.move(old, new), "source")
        paths = self.inventory(capture)
        bare = {path.partition("?")[0].partition(";")[0] for path, (status, *_) in paths.items() if status == 200}
        self.assertEqual({f"/p/{n}" for n in range(1, 301)} - bare, set())
        by_trap = Counter(re.split(r"[/?;=]", path[1:])[0] for path in paths)
        self.assertLessEqual(capture.asked, 300 * 1.05 + 1_000, by_trap)
        self.assertTrue(capture.complete, capture.judgement)
        self.assertEqual(capture.known, capture.asked)
        self.assertEqual({one["name"] for one in capture.ignored}, {"sid", "zanzibar", "return"})
        grounds = " ".join(ground["text"] for ground in capture.judgement["grounds"])
        self.assertRegex(
            grounds, r"with a path that repeats itself were left out: the last of 50 asked brought nothing new"
        )
        self.assertTrue(capture.judgement["stands"])

    def test_pages_that_have_but_a_number_are_captured_whole(self):
        old, new = self.serve(numbered(1_500), {})
        capture = self.capture(self.move(old, new), "source")
        self.assertEqual((capture.pages, capture.complete), (1_501, True))
        self.assertFalse(capture.patterns.filter(left_out__gt=0).exists())

    def test_what_is_listed_is_asked_whatever_its_pattern_brings(self):
        listed = "".join(f"<url><loc>http://old.example/same?n={n}</loc></url>" for n in range(200))
        site = {
            "/": page("Home", *(f"/same?n={n}" for n in range(500))),
            "/sitemap.xml": served(f"<urlset>{listed}</urlset>", "application/xml"),
            **{f"/same?n={n}": page("The same", text="A room like any other") for n in range(500)},
        }
        old, new = self.serve(site, {})
        capture = self.capture(self.move(old, new), "source")
        asked = {path for path in self.inventory(capture) if path.startswith("/same")}
        self.assertLessEqual({f"/same?n={n}" for n in range(200)}, asked)
        self.assertLess(len(asked), 300)

    def test_what_may_be_missing_is_said_and_the_capture_is_not_complete(self):
        def find(path: str) -> Served | None:
            if path == "/":
                return page("Home", *(f"/x?n={n}" for n in range(400)))
            if not path.startswith("/x?n="):
                return None
            number = int(path.partition("=")[2])
            return page("Room", text=text(number) if number % 9 == 0 else "This room is empty")

        old, new = self.serve(find, {})
        capture = self.capture(self.move(old, new), "source")
        self.assertFalse(capture.complete)
        self.assertFalse(capture.judgement["stands"])
        self.assertRegex(
            capture.judgement["sentence"], "addresses like /x[?].* were left out, though some .* content may be missing"
        )
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM records_frontier WHERE capture_id = %s AND state = 2", [capture.pk])
            (left,) = cursor.fetchone()
        self.assertEqual(left, 400 - capture.patterns.get(text="/x?n").asked)
