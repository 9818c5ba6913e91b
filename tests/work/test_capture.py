"""Captures from real sockets into a real database."""

import io
import threading
import time

from django.core.files.storage import storages
from django.db import connection
from warcio.archiveiterator import ArchiveIterator

from palinode.core.discovery import Discovery
from palinode.core.options import OptionError
from palinode.core.rule import RuleError
from palinode.records import captures, frontier
from palinode.records.models import Address, Answer, Body, Capture, Facts, Move, Segment, Target
from palinode.work import read_again
from palinode.work.capturing import capture_end, capture_job, crawl_worker
from palinode.work.capturing.policy import Policy
from palinode.work.comparing import pair_view
from tests.rows import pages
from tests.site import Answer as Served
from tests.site import page
from tests.work.base import MoveTestCase

OLD = {
    "/": page("Home", "/a", "/b", "/c?x=1#top", "http://other.example/z", "mailto:a@b.example", text="Welcome"),
    "/a": page("A", "/deep/er/d", head='<link rel="stylesheet" href="/s.css">', text="<img src='/i.png' alt=I>"),
    "/b": Served(status=301, headers={"Location": "/b/"}),
    "/b/": page("B", "/missing"),
    "/c?x=1": page("C"),
    "/deep/er/d": page("D"),
    "/s.css": Served("body{}", headers={"Content-Type": "text/css"}),
    "/i.png": Served(b"\x89PNG", headers={"Content-Type": "image/png"}),
    "/robots.txt": Served(
        "User-agent: *\nDisallow: /secret\nSitemap: http://old.example/map.xml", headers={"Content-Type": "text/plain"}
    ),
    "/map.xml": Served(
        "<urlset><url><loc>http://old.example/only-in-map</loc></url><url><loc>http://old.example/secret/x</loc></url></urlset>"
    ),
    "/only-in-map": page("Map"),
    "/expected-only": page("E"),
}


class CaptureTest(MoveTestCase):
    def test_everything_that_is_linked_or_listed_is_found(self):
        old, new = self.serve(OLD, {})
        capture = self.capture(self.move(old, new), "source")
        found = self.inventory(capture)
        self.assertEqual(
            {path: status for path, (status, _, _) in found.items()},
            {"/": 200, "/a": 200, "/b": 301, "/b/": 200, "/c?x=1": 200, "/deep/er/d": 200, "/s.css": 200, "/i.png": 200,
             "/map.xml": 200, "/only-in-map": 200, "/missing": 404, "/secret/x": None},
        )  # fmt: skip
        self.assertEqual(found["/secret/x"][1], "shut out by robots rules")
        self.assertNotIn("/secret/x", old.asked)
        self.assertTrue(capture.complete, (capture.why, capture.limits))
        self.assertEqual((capture.pages, capture.files, capture.redirects, capture.not_fetched), (6, 2, 1, 1))
        self.assertEqual(
            (capture.known, capture.asked), (15, 15), "with robots.txt and two addresses that cannot exist"
        )
        target = Target.objects.filter(capture=capture).order_by("-pages").first()
        self.assertEqual(target.pages, 1)

    def test_an_answer_tells_how_its_address_was_written(self):
        site = {
            "/": page("Home", "HTTP://OLD.example/shout", "x/../dots", "/plain#part", "/to"),
            "/to": page("To", "//old.example:80/port"),
        }
        old, new = self.serve(site, {})
        capture = self.capture(self.move(old, new), "source")
        asked = Answer.objects.filter(capture=capture, known__lt=Discovery.PROBE).values_list("ident", "as_asked")
        texts = dict(Address.objects.filter(move_id=capture.move_id).values_list("ident", "text"))
        self.assertEqual(
            {texts[ident].removeprefix("http://old.example"): written for ident, written in asked},
            {"/sitemap.xml": None, "/": None, "/shout": "HTTP://OLD.example/shout", "/dots": "x/../dots", "/plain": None, "/to": None,
             "/port": "//old.example:80/port"},
        )  # fmt: skip

    def test_evidence_is_stored_and_read_back(self):
        old, new = self.serve(OLD | {"/c?x=1": OLD["/deep/er/d"]}, {})
        capture = self.capture(self.move(old, new), "source")
        types: dict[str, int] = {}
        for segment in Segment.objects.filter(capture=capture):
            with storages["evidence"].open(segment.name) as file:
                for record in ArchiveIterator(io.BytesIO(file.read()), check_digests="raise"):
                    types[record.rec_type] = types.get(record.rec_type, 0) + 1
        self.assertEqual((types["response"], types["revisit"], types["request"]), (11, 3, 14))
        self.assertEqual(Body.objects.filter(move_id=capture.move_id).count(), 11)
        answers = Answer.objects.filter(capture=capture).exclude(segment_id=None)
        self.assertEqual(answers.count(), 14)

    def test_read_again_makes_the_same_facts(self):
        old, new = self.serve(OLD | {"/c?x=1": OLD["/deep/er/d"]}, {})
        capture = self.capture(self.move(old, new), "source")
        columns = [field.name for field in Facts._meta.concrete_fields if field.name not in ("rest",)]
        before = sorted(map(str, Facts.objects.values_list(*columns)))
        self.assertEqual(len(before), 9, "six pages, a missing one, two addresses that cannot be")
        Facts.objects.filter(move_id=capture.move_id).delete()
        self.assertEqual(read_again.read_again(capture), 9)
        self.assertEqual(sorted(map(str, Facts.objects.values_list(*columns))), before)

    def test_the_destination_is_asked_for_what_the_baseline_expects(self):
        old, new = self.serve(
            OLD,
            {"/": page("Home"), "/store/x": page("X"), "/shop/x": Served(status=301, headers={"Location": "/store/x"})},
        )
        move = self.move(old, new, ["/a -> /alpha"])
        self.baseline(move)
        capture = self.capture(move, "destination")
        self.assertEqual(capture.round, 1)
        for path in ("/alpha", "/a", "/deep/er/d", "/c?x=1", "/only-in-map"):
            self.assertIn(path, new.asked)
        self.assertEqual(self.inventory(capture)["/alpha"][0], 404)

    def test_limits_are_said_when_they_bite(self):
        endless = lambda path: page(path, f"{path.rstrip('/')}/x")  # noqa: E731
        old, new = self.serve(endless, {})
        move = self.move(old, new)
        deep = self.capture(move, "source", max_depth=3)
        self.assertEqual(deep.limits, ["links deeper than 3 were not followed"])
        self.assertFalse(deep.complete)
        few = self.capture(move, "source", max_addresses=5, max_depth=500)
        self.assertEqual(few.state, Capture.State.CLOSED)
        self.assertIn("stopped at 5 addresses, the limit set", few.limits)

    def test_concurrency_and_rate_are_bounded(self):
        pages = {"/": page("Home", *(f"/p{n}" for n in range(30)))} | {
            f"/p{n}": Served("x", delay=0.02) for n in range(30)
        }
        old, new = self.serve(pages, {})
        move = self.move(old, new)
        self.capture(move, "source", concurrency=3)
        self.assertLessEqual(old.most_at_once, 3)
        started = time.monotonic()
        self.capture(move, "source", rate=20)
        self.assertGreater(time.monotonic() - started, 1.2)

    def test_robots_rules_ask_for_a_delay(self):
        rules = Served("User-agent: *\nCrawl-delay: 0.2", headers={"Content-Type": "text/plain"})
        paths = [f"/{n}" for n in range(6)]
        old, new = self.serve({"/robots.txt": rules, "/": page("Home", *paths), **{p: page(p) for p in paths}}, {})
        started = time.monotonic()
        self.capture(self.move(old, new), "source")
        self.assertGreater(time.monotonic() - started, 1.6, "ten requests, a fifth of a second apart")

    def test_pause_resume_stop(self):
        pages = {"/": page("Home", *(f"/p{n}" for n in range(200)))} | {
            f"/p{n}": Served("x", delay=0.1) for n in range(200)
        }
        old, new = self.serve(pages, {})
        capture = capture_job.begin(self.move(old, new), "source", Policy(concurrency=2))
        worker = threading.Thread(target=crawl_worker.work_on, args=(capture.pk,))
        worker.start()
        self.wait(lambda: len(old.asked) > 5)
        self.assertTrue(captures.pause(capture, "Paused by miller."))
        worker.join(30)
        capture.refresh_from_db()
        self.assertEqual(capture.state, Capture.State.PAUSED)
        self.assertLess(capture.asked, 200)
        self.assertFalse(frontier.living_shares(capture))
        self.assertTrue(capture_job.resume(capture))
        worker = threading.Thread(target=crawl_worker.work_on, args=(capture.pk,))
        worker.start()
        before = len(old.asked)
        self.wait(lambda: len(old.asked) > before + 5)
        self.assertTrue(capture_end.end(capture, "stopped by miller"))
        worker.join(30)
        capture.refresh_from_db()
        self.assertEqual((capture.state, capture.complete, capture.why), ("closed", False, "stopped by miller"))
        self.assertEqual(len(set(old.asked)), len(old.asked) - old.asked.count("/robots.txt") + 1)

    def test_stops_before_the_disk_is_full(self):
        old, new = self.serve(OLD, {})
        with self.settings(PALINODE_DISK_RESERVE=10**18):
            capture = self.capture(self.move(old, new), "source")
        self.assertEqual(capture.state, Capture.State.PAUSED)
        self.assertIn("disk is nearly full", capture.why)
        capture_job.resume(capture)
        crawl_worker.work_on(capture.pk)
        capture.refresh_from_db()
        self.assertTrue(capture.complete)

    def test_a_private_network_is_a_row_with_its_reason(self):
        old, new = self.serve({"/": page("Home", "/x"), "/x": page("X")}, {})
        self.allow()
        capture = self.capture(self.move(old, new), "source")
        self.assertEqual(old.asked, [])
        self.assertIn("private or special network", self.inventory(capture)["/"][1])

    def test_one_capture_of_a_side_at_a_time_and_options_have_bounds(self):
        old, new = self.serve(OLD, {})
        move = self.move(old, new)
        capture_job.begin(move, "source", Policy())
        with self.assertRaises(capture_job.Busy):
            capture_job.begin(move, "source", Policy())
        for given, said in [
            ({"concurrency": 0}, "from 1 to 64"),
            ({"speed": 1}, "no such option"),
            ({"sample": True}, "from 0 to 200"),
        ]:
            with self.subTest(given), self.assertRaisesRegex(OptionError, said):
                Policy.read(given)


class CompareTest(MoveTestCase):
    def test_from_two_sites_to_a_verdict(self):
        moved = {
            path.replace("/a", "/alpha"): served
            for path, served in OLD.items()
            if path not in ("/only-in-map", "/robots.txt")
        }
        moved["/a"] = Served(status=301, headers={"Location": "/alpha"})
        moved["/"] = page(
            "Home", "/alpha", "/b", "/c?x=1", "http://other.example/z", "mailto:a@b.example", text="Welcome"
        )
        moved["/deep/er/d"] = page("D altered")
        old, new = self.serve(OLD, moved)
        move = self.move(old, new, ["/a -> /alpha"])
        self.baseline(move)
        capture = self.capture(move, "destination")
        made = move.comparisons.count()
        self.assertEqual(made, 1, "a round that closes is compared without being asked")
        comparison = self.compare(move, capture)
        rows = {row.left_address.split(".example")[1]: row for row in pages(comparison) if row.left_address}
        self.assertEqual(
            {path: row.fate for path, row in rows.items()},
            {
                "/": "altered",
                "/a": "moved",
                "/b/": "kept",
                "/c?x=1": "kept",
                "/deep/er/d": "altered",
                "/only-in-map": "lost",
            },
        )
        self.assertEqual(rows["/a"].detail, "as planned; 301, one hop")
        self.assertEqual(
            comparison.standing["sentence"], "Not ready to switch. /only-in-map is not at the destination."
        )
        opened = pair_view.pair(comparison, rows["/deep/er/d"])
        self.assertEqual([field["verdict"] for field in opened["fields"][:1]], ["differs"])
        self.assertEqual(opened["paragraphs"][0]["said"], "one place changed")
        self.assertEqual(opened["left"]["known"], ["linked"])
        self.assertEqual(opened["right"]["headers"]["content-type"], "text/html; charset=utf-8")

    def test_a_comparison_that_cannot_be_made_says_why(self):
        old, new = self.serve(OLD, OLD)
        move = self.move(old, new)
        self.baseline(move)
        capture = self.capture(move, "destination")
        Move.objects.filter(pk=move.pk).update(rule="nonsense")
        with self.assertRaises(RuleError):
            self.compare(move, capture)
        self.assertIn("OLD -> NEW", move.comparisons.first().why)


class FrontierTest(MoveTestCase):
    def test_leases_are_not_shared_and_come_back_when_a_share_dies(self):
        old, new = self.serve(OLD, {})
        capture = capture_job.begin(self.move(old, new), "source", Policy())
        one, other = captures.join(capture), captures.join(capture)
        self.assertEqual(
            len(frontier.lease(one, 10)), 4, "the home page, robots.txt, and two addresses that cannot exist"
        )
        self.assertEqual(frontier.lease(other, 10), [])
        with connection.cursor() as cursor:
            cursor.execute("UPDATE records_share SET seen_at = now() - interval '1 hour' WHERE id = %s", [one.pk])
        taken = frontier.lease(other, 10)
        self.assertEqual(len(taken), 4)
        self.assertEqual(frontier.mark_asked(one, [(taken[0].ident, 0)]), set(), "the dead share is fenced off")
        self.assertEqual(len(frontier.mark_asked(other, [(taken[0].ident, 0)])), 1)

    def test_giving_back(self):
        old, new = self.serve(OLD, {})
        capture = capture_job.begin(self.move(old, new), "source", Policy())
        one, other = captures.join(capture), captures.join(capture)
        frontier.lease(one, 10)
        frontier.give_back(one)
        self.assertEqual(len(frontier.lease(other, 10)), 4)
        self.assertFalse(frontier.beat(one, {}))
