"""The demo's world: its sites are whole, its faults can be set and cleared, and the verdict follows."""

import asyncio
import json
import tempfile
import threading
import urllib.error
import urllib.parse
import urllib.request
from collections import Counter
from pathlib import Path

from demo import hosts, marrow, mill
from demo.faults import FAULTS, Faults
from palinode.project.postgres import free_port
from palinode.records.models import Move
from palinode.work import describing
from tests.work.base import MoveTestCase


class DemoTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.port = free_port(18101)
        loop = asyncio.new_event_loop()
        thread = threading.Thread(target=self.run_hosts, args=(loop,), daemon=True)
        thread.start()
        self.addCleanup(thread.join, 10)
        self.addCleanup(loop.call_soon_threadsafe, loop.stop)
        for _ in range(100):
            try:
                self.get(4, "/")
                break
            except OSError:
                threading.Event().wait(0.05)
        self.allow(f"127.0.0.1/32:{self.port}-{self.port + 3}")

    def run_hosts(self, loop: asyncio.AbstractEventLoop) -> None:
        asyncio.set_event_loop(loop)
        loop.create_task(hosts.serve(self.folder, self.port))
        loop.run_forever()

    def get(self, host: int, path: str) -> tuple[int, str]:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port + host}{path}") as response:
                return response.status, response.read().decode("utf-8", "replace")
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode()

    def set_faults(self, *names: str) -> None:
        data = urllib.parse.urlencode([("fault", name) for name in names]).encode()
        urllib.request.urlopen(f"http://127.0.0.1:{self.port + 4}/", data)

    def test_the_sites_are_whole(self):
        old, new, small = mill.site(new=False), mill.site(new=True), marrow.site()
        self.assertTrue(380 <= len(old) <= 420 and 380 <= len(new) <= 420 and 55 <= len(small) <= 65)
        titles = [page.title for page in old.values()]
        self.assertEqual(len(titles), len(set(titles)))
        for page in old.values():
            self.assertNotIn("{", page.main.replace("{&quot;", ""))

    def test_faults_are_set_and_cleared_on_the_control_page_and_kept(self):
        self.assertEqual(self.get(1, "/events/2015-open-day")[0], 404)
        self.assertIn("My site", self.get(1, "/visit/opening-hours")[1])
        self.assertEqual(self.get(0, "/events/2015-open-day")[0], 200)
        self.set_faults("noindex")
        self.assertEqual(self.get(1, "/events/2015-open-day")[0], 200)
        self.assertIn("noindex", self.get(1, "/journal")[1])
        self.assertEqual(json.loads((self.folder / "faults.json").read_text()), ["noindex"])
        self.assertIn("noindex", Faults(self.folder / "faults.json"))
        self.assertEqual(self.get(4, "/")[1].count(" checked"), 1)
        self.assertEqual(len({fault.name for fault in FAULTS}), len(FAULTS))

    def test_mending_and_capturing_again_shows_the_verdict_improve(self):
        sides = [
            describing.typed_side(f"http://{name}/", f"127.0.0.1:{self.port + n}")
            for n, name in enumerate((mill.OLD, mill.NEW))
        ]
        move = describing.describe("Mill", *sides, ["/shop -> /store"], self.user)
        self.baseline(move)
        first = self.compare(move, self.capture(move, "destination"))
        self.assertEqual(first.standing["sentence"], "Not ready to switch. Two causes hold 68 pages back.")
        self.assertEqual(first.standing["summary"], "267 kept, 1 altered, 49 moved, 68 lost, 1 new.")
        self.set_faults()
        second = self.compare(move, self.capture(move, "destination"))
        self.assertEqual(second.right.round, 2)
        self.assertEqual(second.standing["summary"], "336 kept, 49 moved.")
        self.assertEqual(second.standing["causes"], [])
        self.set_faults("inner")
        third = self.compare(Move.objects.get(pk=move.pk), self.capture(move, "destination"))
        self.assertEqual(third.standing["causes"][0]["kind"], "inner_pages")
        self.set_faults("busy")
        fourth = self.compare(move, self.capture(move, "destination"))
        self.assertIn("23 not judged", fourth.standing["summary"])
        self.assertFalse(fourth.standing["blocks"])
        self.set_faults("maintenance", "database", "soft", "events")
        fifth = self.compare(move, self.capture(move, "destination"))
        kinds = {cause["kind"]: cause["rows"] for cause in fifth.standing["causes"]}
        pages = Counter(path.split("/")[1] for path in mill.site(new=False))
        self.assertEqual(kinds["section_lost"], pages["events"] - 1, "answered 200, and yet not found")
        self.assertEqual(kinds["recognised_maintenance"], pages["recipes"])
        self.assertEqual(kinds["recognised_database"], pages["shop"])
        self.assertEqual(
            set(fifth.right.judgement["recognised"]),
            {"a notice of maintenance", "a database that cannot be reached", "a not-found page that answers 200"},
        )
