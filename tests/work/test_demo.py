"""The demo's world: its sites are whole, its faults can be set and cleared, and the verdict follows."""

import json
from collections import Counter

from demo import marrow, mill
from demo.faults import FAULTS, Faults
from palinode.records.models import Move
from palinode.work import move_setup
from tests.demo_hosts import DemoHosts
from tests.work.base import MoveTestCase


class DemoTest(DemoHosts, MoveTestCase):
    def setUp(self):
        super().setUp()
        self.start_hosts()
        self.allow(f"127.0.0.1/32:{self.port}-{self.port + 3}")

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
            move_setup.typed_side(f"http://{name}/", f"127.0.0.1:{self.port + n}")
            for n, name in enumerate((mill.OLD, mill.NEW))
        ]
        move = move_setup.describe("Mill", *sides, ["/shop -> /store"], self.user)
        self.baseline(move)
        first = self.compare(move, self.capture(move, "destination"))
        self.assertEqual(
            first.standing["sentence"],
            "Not ready to switch. Most of /events is not at the destination; "
            "/tide-tables before 2017 is not at the destination.",
        )
        self.assertIn("sitemap_old", [one["kind"] for one in first.standing["causes"]])
        self.assertEqual(first.standing["summary"], "267 kept, 1 altered, 49 moved, 68 lost, 1 new.")
        self.set_faults()
        second = self.compare(move, self.capture(move, "destination"))
        self.assertEqual(second.right.round, 2)
        self.assertEqual(second.standing["summary"], "336 kept, 49 moved.")
        # The shop is called a store on purpose; a person would accept that.
        self.assertEqual([one["kind"] for one in second.standing["causes"]], ["template_differs"])
        self.assertEqual(second.standing["causes"][0]["weight"], "note")
        self.set_faults("inner")
        third = self.compare(Move.objects.get(pk=move.pk), self.capture(move, "destination"))
        self.assertEqual(third.standing["causes"][0]["kind"], "inner_pages")
        self.set_faults("characters", "back", "style")
        damaged = self.compare(Move.objects.get(pk=move.pk), self.capture(move, "destination"))
        causes = {one["kind"]: one for one in damaged.standing["causes"]}
        self.assertEqual(set(causes), {"characters_damaged", "leads_back", "styles_missing", "template_differs"})
        self.assertEqual((causes["characters_damaged"]["rows"], causes["leads_back"]["rows"]), (78, 23))
        self.assertTrue(causes["styles_missing"]["weight"] == "blocks" and causes["leads_back"]["everywhere"])
        self.set_faults("staging")
        shut = self.compare(Move.objects.get(pk=move.pk), self.capture(move, "destination"))
        self.assertEqual(shut.standing["causes"][0]["kind"], "shut_out")
        self.assertEqual(shut.standing["causes"][0]["rows"], len(mill.site(new=False)))
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
