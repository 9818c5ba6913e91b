"""A comparison holds a set of captures a side: the baseline's and a round's can be added to."""

from dataclasses import replace
from unittest import mock

from django.utils import timezone

from palinode.core.checks.check import Reads
from palinode.records import capture_sets, outcomes
from palinode.records.models import Capture, Comparison
from palinode.work import retention
from palinode.work.comparing import check_run, comparison_job
from tests.api.base import ApiTestCase
from tests.site import page

SITE = {"/": page("Home", "/a"), "/a": page("A")}


class CaptureSetsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.comparison = self.compared(SITE, SITE)
        self.subject = self.comparison.move
        self.head = self.comparison.left
        self.path = f"/api/captures/{self.head.pk}/set/"

    def beside(self, name: str = "", which: str = "source", **more) -> Capture:
        """Return a closed capture of no pages, as evidence of another kind would be."""
        return Capture.objects.create(
            move=self.subject, which=which, kind="asked", name=name, state=Capture.State.CLOSED, **more
        )

    def add(self, capture: Capture, status: int = 201) -> list[dict]:
        response = self.api.post(self.path, {"capture": capture.pk}, format="json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def made(self) -> Comparison:
        comparison = self.subject.comparisons.first()
        comparison_job.make(comparison)
        return Comparison.objects.get(pk=comparison.pk)

    def test_the_baseline_is_added_to_and_compared_anew_with_all_outcomes_shared_that_do_not_read_it(self):
        first, second = self.beside("shop"), self.beside("shop")
        readers = {
            one: replace(check_run.LOADERS[one], kinds=kinds)
            for one, kinds in [(Reads.FILES, ("crawl", "asked")), (Reads.ROBOTS, ("crawl",))]
        }
        with mock.patch.dict(check_run.LOADERS, readers):
            shown = self.add(first)
            self.assertEqual([(one["id"], one["kind"], one["name"]) for one in shown], [(first.pk, "asked", "shop")])
            before = self.made()
            self.add(second)
            after = self.made()
        self.assertEqual(len({self.comparison.pk, before.pk, after.pk}), 3)
        self.assertEqual(outcomes.of(before, "pages"), outcomes.of(after, "pages"))
        self.assertEqual(outcomes.of(before, "robots"), outcomes.of(after, "robots"))
        self.assertNotEqual(outcomes.of(before, "files"), outcomes.of(after, "files"))
        # Each keeps the set that it was made of.
        self.assertEqual(capture_sets.compared(before)["left"], [self.head, first])
        self.assertEqual(capture_sets.compared(after)["left"], [self.head, second])
        self.assertEqual(capture_sets.compared(after)["right"], [self.comparison.right])
        listed = {one["id"]: one for one in self.api.get(f"/api/moves/{self.subject.pk}/captures/").json()}
        self.assertEqual([one["id"] for one in listed[self.head.pk]["members"]], [second.pk])

    def test_a_comparison_that_waits_takes_what_joins_its_sets_and_one_that_began_does_not(self):
        self.add(self.beside("shop"))
        waiting = self.subject.comparisons.first()
        again = comparison_job.order(self.subject, self.head, self.comparison.right)
        self.assertEqual(again.pk, waiting.pk)
        self.add(self.beside("people"))
        self.assertEqual((self.subject.comparisons.first().pk, waiting.members.count()), (waiting.pk, 2))
        self.subject.comparisons.filter(pk=waiting.pk).update(begun_at=timezone.now())
        self.add(self.beside("tides"))
        self.assertNotEqual(self.subject.comparisons.first().pk, waiting.pk)
        self.assertEqual(waiting.members.count(), 2)

    def test_what_cannot_belong_to_it_is_refused_with_why(self):
        for capture, said in [
            (self.comparison.right, "holds pages"),
            (self.beside(which="destination"), "same side"),
            (Capture.objects.create(move=self.subject, which="source", kind="asked"), "not closed"),
        ]:
            with self.subTest(said):
                self.assertIn(said, str(self.add(capture, 409)))
        self.assertIn("no capture", str(self.api.post(self.path, {"capture": 99}, format="json").json()))
        self.assertEqual(self.subject.comparisons.count(), 1)

    def test_it_is_taken_out_again_and_an_old_set_orders_no_comparison(self):
        shop = self.beside("shop")
        self.add(shop)
        self.assertEqual(self.api.delete(f"{self.path}{shop.pk}/").json(), [])
        self.assertEqual(self.api.delete(f"{self.path}{shop.pk}/").status_code, 404)
        self.assertEqual(capture_sets.compared(self.made())["left"], [self.head])
        number = self.subject.comparisons.count()
        old = self.capture(self.subject, "source")
        response = self.api.post(f"/api/captures/{old.pk}/set/", {"capture": shop.pk}, format="json")
        self.assertEqual((response.status_code, self.subject.comparisons.count()), (201, number))

    def test_two_captures_of_one_side_are_compared_without_their_sets(self):
        self.add(self.beside("shop"))
        later = self.capture(self.subject, "source")
        comparison = comparison_job.order(self.subject, self.head, later)
        self.assertEqual(capture_sets.kept(comparison), set())

    def test_files_of_what_belongs_to_the_baseline_are_kept(self):
        shop = self.beside("shop")
        self.add(shop)
        with mock.patch.object(
            retention, "_RESTING", "SELECT unnest(%(old)s) + 0 * %(move)s + 0 * cardinality(%(kept)s)"
        ):
            self.subject.keep_days = 1
            Capture.objects.update(ended_at="2020-01-01T00:00:00Z")
            self.assertEqual(retention.let_go(self.subject), 0)
