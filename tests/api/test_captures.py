"""Captures through the API, from their beginning to their files, with a share at work in a thread."""

import gzip
import hashlib
import threading
import time

from django.db import connections
from procrastinate.contrib.django.models import ProcrastinateJob

from palinode.records.models import Capture, Facts
from palinode.work import read_again
from palinode.work.capturing import crawl_worker
from tests.api.base import ApiTestCase
from tests.site import Answer, page

PAGES = 60


def branching(path: str) -> Answer | None:
    """The home page, and pages that link to two more each."""
    if path == "/":
        return page("Home", "/p1", "/broken", "ftp://old.example/")
    if path.startswith("/p") and int(path[2:]) < PAGES:
        return page(path, f"/p{2 * int(path[2:])}", f"/p{2 * int(path[2:]) + 1}")
    return None


class CapturesTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.old, self.new = self.serve(branching, branching)
        self.of_move = self.move(self.old, self.new)
        self.path = f"/api/moves/{self.of_move.pk}/captures/"

    def begin(self, side: str = "source", **options):
        return self.api.post(self.path, {"side": side, "options": {"sample": 0, **options}}, format="json")

    def do(self, capture: int, what: str):
        return self.api.post(f"/api/captures/{capture}/{what}/")

    def shown(self, capture: int) -> dict:
        return self.api.get(f"/api/captures/{capture}/").json()

    def work(self, capture: int) -> threading.Thread:
        def run():
            crawl_worker.work_on(capture)
            connections.close_all()

        thread = threading.Thread(target=run)
        thread.start()
        self.addCleanup(thread.join, 30)
        return thread

    def until(self, capture: int, fits) -> dict:
        deadline = time.monotonic() + 30
        while time.monotonic() < deadline:
            found = self.shown(capture)
            if fits(found):
                return found
            time.sleep(0.1)
        self.fail(f"it did not come to it: {found}")

    def test_begun_paused_resumed_and_closed(self):
        made = self.begin(rate=25).json()
        self.assertEqual((made["state"], made["sentence"], made["asked"]), ("running", "Running.", 0))
        self.assertEqual(made["options"]["rate"], 25)
        jobs = ProcrastinateJob.objects.filter(task_name="capture_share")
        self.assertEqual(jobs.count(), 1, "a share is offered to the workers")
        first = self.work(made["id"])
        running = self.until(made["id"], lambda one: one["asked"] > 10 and "old.example" in one["now"])
        self.assertEqual(running["workers"], 1)
        self.assertGreater(running["disk_free"], 0)
        self.assertIn("known addresses asked so far", running["detail"])

        paused = self.do(made["id"], "pause").json()
        self.assertEqual((paused["sentence"], paused["detail"]), ("Paused.", "Paused by miller."))
        first.join(30)
        asked = self.shown(made["id"])["asked"]
        self.assertIn(asked - len(set(self.old.asked) - {"/robots.txt"}), (0, 1), "what was under way is kept")

        self.assertEqual(self.do(made["id"], "resume").json()["state"], "running")
        self.assertEqual(jobs.count(), 2)
        self.work(made["id"]).join(60)
        closed = self.shown(made["id"])
        self.assertEqual((closed["state"], closed["complete"], closed["pages"]), ("closed", True, PAGES))
        self.assertEqual(closed["sentence"], f"Complete. {PAGES} pages")
        asked = [path for path in self.old.asked if path != "/robots.txt"]
        self.assertEqual(len(asked), len(set(asked)), "nothing was asked twice but robots rules")

    def test_stopped_with_what_is_there(self):
        made = self.begin(rate=20).json()["id"]
        self.work(made)
        self.until(made, lambda one: one["asked"] > 5)
        self.assertEqual(self.do(made, "stop").json()["sentence"], "Ending.")
        stopped = self.until(made, lambda one: one["state"] == "closed")
        self.assertFalse(stopped["complete"])
        self.assertIn("stopped by miller", stopped["detail"])
        kept = len([path for path in self.old.asked if path != "/robots.txt"])
        self.assertIn(stopped["asked"] - kept, (0, 1), "what was under way is kept, with robots rules perhaps")
        self.assertIn("stopped by miller", stopped["judgement"]["sentence"])

    def test_what_a_state_does_not_allow_is_refused_with_a_reason(self):
        made = self.begin().json()["id"]
        for what, words in [("resume", "Only a paused capture"), ("read-again", "Only a closed capture")]:
            refused = self.do(made, what)
            self.assertEqual(refused.status_code, 409)
            self.assertIn(words, refused.json()["message"])
        again = self.begin()
        self.assertEqual(again.status_code, 409)
        self.assertIn("captured already", again.json()["message"])
        self.do(made, "stop")
        for what, words in [("pause", "Only a running"), ("resume", "Only a paused"), ("stop", "closed already")]:
            refused = self.do(made, what)
            self.assertEqual((refused.status_code, words in refused.json()["message"]), (409, True))
        self.assertEqual(self.begin().status_code, 201, "the next may begin")

    def test_options_out_of_bounds_stand_beside_their_fields(self):
        for options, words in [
            ({"concurrency": 900}, "from 1 to 64"),
            ({"concurrency": 0}, "from 1 to 64"),
            ({"rate": -1}, "from 0 to 10,000"),
            ({"max_addresses": 0}, "from 1 to"),
            ({"workers": 21}, "from 0 to 20"),
            ({"max_depth": "deep"}, "Give a number from 1 to"),
        ]:
            with self.subTest(**options):
                refused = self.begin(**options)
                (field,) = options
                self.assertEqual(refused.status_code, 400)
                self.assertIn(words, str(refused.json()["fields"][f"options.{field}"]))
        self.assertIn("side", self.api.post(self.path, {"side": "middle"}, format="json").json()["fields"])
        self.assertFalse(Capture.objects.exists())

    def test_a_capture_goes_on_from_an_earlier_one_and_they_are_compared(self):
        first = self.capture(self.of_move, "source")
        given = {"side": "source", "again": {"parent": first.pk, "what": "failed"}}
        begun = self.api.post(self.path, given, format="json")
        self.assertEqual(begun.status_code, 201, begun.content)
        crawl_worker.work_on(begun.json()["id"])
        shown = self.shown(begun.json()["id"])
        self.assertEqual((shown["parent"], shown["again"], shown["pages"]), (first.pk, "failed", first.pages))
        self.assertIn("only what had failed", shown["detail"])
        compared = self.api.post(
            f"/api/moves/{self.of_move.pk}/comparisons/", {"left": first.pk, "right": shown["id"]}, format="json"
        ).json()
        self.assertEqual((compared["left"]["side"], compared["right"]["side"]), ("source", "source"))
        listed = self.api.get(f"/api/moves/{self.of_move.pk}/comparisons/").json()
        self.assertEqual(listed, [], "it says nothing of the move")

    def test_what_it_cannot_go_on_from_stands_beside_its_field(self):
        first = self.capture(self.of_move, "source")
        for again, field, said in [
            ({"parent": first.pk + 9, "what": "all"}, "again.parent", "no closed capture"),
            ({"parent": first.pk, "what": "section", "section": ""}, "again.section", "Give a path"),
            ({"parent": first.pk, "what": "list", "addresses": "/p1\nwhat?"}, "again.addresses", "line 2: what?"),
        ]:
            with self.subTest(field):
                refused = self.api.post(self.path, {"side": "source", "again": again}, format="json")
                self.assertEqual(refused.status_code, 400)
                self.assertIn(said, str(refused.json()["fields"][field]))

    def test_why_what_was_not_fetched(self):
        self.serve({"/": page("Home")})  # The old site's port is not allowed any more.
        made = self.begin().json()["id"]
        self.work(made).join(30)
        shown = self.shown(made)
        self.assertEqual((shown["not_fetched"], shown["pages"]), (shown["asked"], 0))
        course = self.api.get(f"/api/captures/{shown['id']}/course/").json()
        ((reason, count),) = [(one["what"], one["number"]) for one in course["not_fetched"]]
        self.assertIn("private or special network", reason)
        self.assertEqual(count, shown["asked"])

    def test_files_are_what_they_say(self):
        made = self.begin().json()["id"]
        self.work(made).join(30)
        shown = self.shown(made)
        self.assertEqual(shown["bytes"], sum(one["bytes"] for one in shown["segments"]))
        for segment in shown["segments"]:
            response = self.api.get(f"/api/captures/{made}/segments/{segment['number']}/")
            self.assertEqual(response["Content-Type"], "application/warc")
            self.assertRegex(response["Content-Disposition"], r'filename="[\w-]+\.warc\.gz"')
            self.assertEqual(hashlib.sha256(response.content).hexdigest(), segment["sha256"])
            self.assertTrue(gzip.decompress(response.content).startswith(b"WARC/1.1\r\n"))
        self.assertEqual(self.api.get(f"/api/captures/{made}/segments/9/").status_code, 404)

    def test_read_again_is_work_for_the_background(self):
        made = self.begin().json()["id"]
        self.work(made).join(30)
        before = Facts.objects.count()
        self.assertGreater(before, PAGES, "of what is missing as well")
        Facts.objects.all().delete()
        self.assertEqual(self.do(made, "read-again").status_code, 200)
        self.assertEqual(ProcrastinateJob.objects.filter(task_name="read_again").count(), 1)
        read_again.read_again(Capture.objects.get(pk=made))
        self.assertEqual(Facts.objects.count(), before)

    def test_the_first_capture_of_the_source_becomes_the_baseline_by_a_person_and_rounds_are_counted(self):
        source = self.begin().json()
        self.work(source["id"]).join(30)
        self.assertIsNone(source["round"])
        self.api.patch(f"/api/moves/{self.of_move.pk}/", {"baseline": source["id"]}, format="json")
        rounds = []
        for _ in range(2):
            made = self.begin("destination").json()
            rounds.append(made["round"])
            self.do(made["id"], "stop")
        self.assertEqual(rounds, [1, 2])
        listed = self.api.get(self.path).json()
        self.assertEqual([(one["side"], one["baseline"]) for one in listed],
                         [("destination", False), ("destination", False), ("source", True)])  # fmt: skip
        self.assertEqual(self.of_move.comparisons.count(), 0, "a round without a page is not compared")
