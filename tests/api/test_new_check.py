"""A check needs no more than its declaration: one made here alone has rows, findings, a cause, exports and decisions."""

import json
from unittest import mock

from palinode.core.checks import registry
from palinode.core.checks.check import Reads
from palinode.core.checks.pages.kinds import NEW
from palinode.core.checks.thread import Thread
from palinode.core.weight import Weight
from palinode.records import exports, outcomes
from palinode.records.models import Comparison
from tests.api.base import ApiTestCase
from tests.new_check import CHECK, SHOUTING, registered
from tests.site import page


class NewCheckTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.enterContext(registered())
        site = {
            "/": page("Home", "/a/1", "/a/2", "/b/1"),
            "/a/1": page("LOUD"),
            "/a/2": page("Soft"),
            "/b/1": page("Bread"),
        }
        self.comparison = self.compared(site, site)
        self.path = f"/api/comparisons/{self.comparison.pk}/"

    def test_it_is_shown_counted_grouped_and_opened(self):
        (found,) = [one for one in self.api.get(self.path).json()["checks"] if one["name"] == "capitals"]
        self.assertEqual((found["view"], found["rows"], found["unseen"]), ("site", 3, ["the title of the moon"]))
        self.assertEqual([(one["word"], one["rows"], one["thread"]) for one in found["verdicts"]],
                         [("loud", 1, "cut"), ("quiet", 2, "straight")])  # fmt: skip
        rows = self.api.get(f"{self.path}checks/capitals/rows/", {"verdict": "wanting"}).json()["rows"]
        self.assertEqual([(row["left"], row["numbers"]) for row in rows], [("/a", {"titles": 2})])
        items = self.api.get(f"{self.path}checks/capitals/rows/0/items/").json()
        self.assertEqual((items["total"], items["rows"]), (1, [{"address": "http://old.example/a/1"}]))
        groups = self.api.get(f"{self.path}checks/capitals/groups/", {"by": "cause"}).json()
        self.assertEqual([(one["name"], one["verdicts"]) for one in groups], [("Titles of /a shout", {"loud": 1})])
        self.assertEqual(self.api.get(f"{self.path}checks/nonsense/rows/").status_code, 404)

    def test_its_findings_weigh_have_a_cause_and_are_accepted(self):
        standing = self.api.get(self.path).json()["standing"]
        self.assertTrue(standing["blocks"])
        self.assertIn("the title of the moon", standing["not_looked_at"])
        (cause,) = [one for one in standing["causes"] if one["kind"] == "shouting"]
        self.assertEqual((cause["remedy"], cause["show"]), ("Write it in small letters.", {"check": "capitals"}))
        (finding,) = self.api.get(f"{self.path}findings/", {"check": "capitals"}).json()["rows"]
        self.assertEqual((finding["row"], finding["state"]), (0, "open"))
        self.assertEqual((finding["label"], finding["thread"]), ("title in capitals", "cut"))
        self.assertEqual((SHOUTING.thread_of(Weight.NOTE), NEW.thread_of(Weight.BLOCKS)), (Thread.WAVY, Thread.RING))
        counted = [one for one in self.api.get(self.path).json()["findings"] if one["kind"] == "shouting"]
        self.assertEqual([(one["label"], one["number"]) for one in counted], [("title in capitals", 1)])
        accepted = self.api.post(
            f"{self.path}accept/", {"check": "capitals", "rows": [0], "reason": "the miller likes it"}, format="json"
        )
        self.assertEqual(accepted.status_code, 201, accepted.content)
        again = Comparison.objects.get(pk=self.comparison.pk)
        self.assertFalse(again.standing["blocks"])
        self.assertEqual(outcomes.of(again, "capitals"), outcomes.of(self.comparison, "capitals"), "kept once")
        self.assertEqual(outcomes.of(again, "pages"), outcomes.of(self.comparison, "pages"))

    def test_it_is_exported_in_every_form(self):
        made = outcomes.of(self.comparison, "capitals")
        self.assertEqual("".join(exports.rows(made, "csv")).split(), ["section,titles", "/a,2", "/,1", "/b,1"])
        self.assertEqual(json.loads("".join(exports.rows(made, "json")))[0], {"section": "/a", "titles": 2})
        self.assertIn('<failure type="loud"', "".join(exports.rows(made, "junit")))
        response = self.api.get(f"{self.path}checks/capitals/export/", {"as": "junit"})
        self.assertEqual(response["Content-Type"], "application/xml")

    def test_a_check_that_needs_what_is_not_there_is_said_to_be_not_looked_at(self):
        from dataclasses import replace

        from palinode.work.comparing import check_run, comparison_job

        needy = replace(CHECK, reads=(Reads.PAIRS, Reads.ROBOTS), needs=(Reads.ROBOTS,), version=2)
        with (
            mock.patch.object(registry, "CHECKS", (*registry.CHECKS[:-1], needy)),
            mock.patch.dict(
                check_run.LOADERS, {Reads.ROBOTS: replace(check_run.LOADERS[Reads.ROBOTS], load=lambda held: None)}
            ),
        ):
            comparison = comparison_job.order(self.comparison.move, self.comparison.left, self.comparison.right)
            comparison_job.make(comparison)
        comparison.refresh_from_db()
        self.assertIn("capitals", comparison.standing["not_looked_at"])
        self.assertIsNone(outcomes.of(comparison, "capitals"))
