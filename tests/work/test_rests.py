"""Hosts that ask to wait: all of a capture leaves them alone until then, and says so."""

import threading
import time
import unittest
from itertools import pairwise
from unittest import mock

from palinode.gather.exchange import Exchange
from palinode.records import captures
from palinode.work.capturing import capture_job, crawl_worker, rests
from palinode.work.capturing.policy import Policy
from palinode.work.capturing.rests import LONGEST, Rests
from tests.site import Answer, page
from tests.work.base import MoveTestCase

HOST = "http://mill.example"
NOW = 1_800_000_000.0


def answer(status: int, after: str = "", path: str = "/a", host: str = HOST) -> Exchange:
    return Exchange(host + path, NOW, 5, status, headers={"retry-after": after} if after else {})


class RestsTest(unittest.TestCase):
    def test_429_rests_the_host_and_not_another(self):
        known = Rests()
        self.assertEqual(known.note(answer(429, "120"), NOW), ("mill.example", NOW + 120))
        self.assertEqual(known.until("http://www.mill.example/b", NOW + 60), NOW + 120)
        self.assertEqual(known.until(HOST, NOW + 121), 0)
        self.assertEqual(known.until("http://other.example/", NOW), 0)
        self.assertEqual(Rests().note(answer(429), NOW), ("mill.example", NOW + 30), "it does not say how long")

    def test_a_date(self):
        said = Rests().note(answer(429, "Fri, 15 Jan 2027 08:05:00 GMT"), NOW)
        self.assertAlmostEqual(said[1], NOW + 300, 1)

    def test_503_speaks_for_the_host_only_in_a_row(self):
        known = Rests()
        self.assertIsNone(known.note(answer(503, "60"), NOW))
        self.assertIsNone(known.note(answer(503, "60"), NOW))
        self.assertIsNone(known.note(answer(200), NOW))
        self.assertIsNone(known.note(answer(503, "60"), NOW))
        self.assertIsNone(known.note(answer(503, "60"), NOW))
        self.assertEqual(known.note(answer(503, "60"), NOW), ("mill.example", NOW + 60))
        self.assertIsNone(Rests().note(answer(503), NOW), "it asks for nothing")

    def test_an_hour_in_all_and_then_no_more(self):
        known = Rests()
        for minute in range(0, 60, 10):
            known.note(answer(429, "600"), NOW + minute * 60)
            self.assertEqual(known.refusal(HOST, NOW + minute * 60), "", minute)
        known.note(answer(429, "600"), NOW + LONGEST)
        self.assertIn("asks to wait until 15 January", known.refusal(HOST + "/b", NOW + LONGEST))
        known.note(answer(200), NOW + 2 * LONGEST)
        known.note(answer(429, "600"), NOW + 2 * LONGEST)
        self.assertEqual(known.refusal(HOST, NOW + 2 * LONGEST), "", "it had answered in between")

    def test_one_address_that_asks_for_a_day_does_not_speak_for_the_host(self):
        known = Rests()
        for _ in range(5):
            self.assertIsNone(known.note(answer(429, "86400"), NOW))
            self.assertIsNone(known.note(answer(200, path="/b"), NOW))
        self.assertEqual((known.until(HOST, NOW), known.refusal(HOST, NOW)), (0, ""))
        for _ in range(3):
            known.note(answer(429, "86400"), NOW)
        self.assertIn("asks to wait until", known.refusal(HOST, NOW))

    def test_what_other_shares_were_told(self):
        known = Rests()
        known.take_over({"mill.example": NOW + 50})
        self.assertEqual(known.until(HOST, NOW), NOW + 50)


class RestingCaptureTest(MoveTestCase):
    def test_the_addresses_go_back_and_are_asked_when_the_host_has_rested(self):
        times: list[float] = []

        def find(path: str) -> Answer | None:
            if path == "/":
                return page("Home", *(f"/room/{n}" for n in range(1, 30)))
            times.append(time.monotonic())
            # Ten at most, then it asks for two seconds; longer than one answer is waited for.
            if len(times) == 11:
                return Answer("wait", 429, {"Retry-After": "2"})
            return page(path)

        old, new = self.serve(find, {})
        with mock.patch("palinode.gather.fetch.LONGEST_PAUSE", 1):
            capture = self.capture(self.move(old, new), "source", concurrency=1)
        self.assertEqual((capture.pages, capture.complete), (30, True))
        self.assertGreater(max(later - one for one, later in pairwise(times)), 1.8)
        self.assertEqual(list(capture.rests), ["old.example"])

    def test_it_is_said_until_when_and_who_asks_for_too_long_is_not_fetched(self):
        def find(path: str) -> Answer | None:
            wait = Answer("wait", 429, {"Retry-After": "3000"})
            return page("Home", "/a", "/b") if path == "/" else wait if path in ("/a", "/b") else None

        old, new = self.serve(find, {})
        capture = capture_job.begin(self.move(old, new), "source", Policy(sample=0))
        worker = threading.Thread(target=crawl_worker.work_on, args=(capture.pk,))
        worker.start()
        self.wait(lambda: any("it asks to wait" in one.progress.get("now", "") for one in capture.shares.all()))
        captures.pause(capture, "enough")
        worker.join(30)
        with mock.patch.object(rests, "LONGEST", 1_000):
            capture.refresh_from_db()
            self.assertTrue(capture_job.resume(capture))
            crawl_worker.work_on(capture.pk)
        capture.refresh_from_db()
        self.assertEqual(capture.state, "closed")
        found = self.inventory(capture)
        self.assertIsNone(found["/a"][0])
        self.assertIn("the host asks to wait until", found["/a"][1])

    def test_rules_are_asked_for_again_when_the_host_has_rested(self):
        asked: list[str] = []

        def find(path: str) -> Answer | None:
            asked.append(path)
            if path == "/robots.txt":
                busy = Answer("wait", 429, {"Retry-After": "2"})
                return (
                    busy
                    if asked.count(path) == 1
                    else Answer("User-agent: *\nDisallow: /b", headers={"Content-Type": "text/plain"})
                )
            return page(path, "/a", "/b")

        old, new = self.serve(find, {})
        with mock.patch("palinode.gather.fetch.LONGEST_PAUSE", 1), mock.patch.object(rests, "LONGEST_PAUSE", 1):
            capture = self.capture(self.move(old, new), "source")
        found = self.inventory(capture)
        self.assertEqual((found["/a"][0], found["/b"][:2]), (200, (None, "shut out by robots rules")))
