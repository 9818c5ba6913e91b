"""Options of checks: tried without a trace, saved as revisions, read by the comparisons that follow."""

from palinode.core.checks.crawlers import TOKENS
from palinode.records import check_options, outcomes
from palinode.records.models import CheckOptions, CheckOutcome, Comparison
from palinode.work.comparing import comparison_job
from tests.api.base import ApiTestCase
from tests.site import Answer, page


def robots(*groups: str) -> Answer:
    return Answer("\n".join(groups), headers={"Content-Type": "text/plain"})


class OptionsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        site = {"/": page("Home", "/a"), "/a": page("A")}
        shut = robots("User-agent: millbot", "Disallow: /a")
        self.comparison = self.compared(
            {**site, "/robots.txt": robots("User-agent: *", "Allow: /")}, {**site, "/robots.txt": shut}
        )
        self.subject = self.comparison.move
        self.path = f"/api/moves/{self.subject.pk}/options/"
        self.draft_path = f"/api/comparisons/{self.comparison.pk}/checks/robots/draft/"

    def put(self, values: dict, status: int = 200) -> dict:
        response = self.api.put(f"{self.path}robots/", {"values": values}, format="json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def draft(self, values: dict, status: int = 200) -> dict:
        response = self.api.post(self.draft_path, {"values": values}, format="json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def test_they_are_listed_with_their_defaults(self):
        every = {one["check"]: one for one in self.api.get(self.path).json()}
        self.assertEqual(set(every), {"content", "tables", "disk", "leftovers", "robots"})
        shown = every["robots"]
        self.assertEqual((shown["check"], shown["title"], shown["author"]), ("robots", "Robots", ""))
        (one,) = shown["options"]
        self.assertEqual((one["name"], one["kind"], one["value"], one["default"]), ("crawlers", "lines", [*TOKENS], [*TOKENS]))  # fmt: skip

    def test_a_draft_shows_what_would_come_and_keeps_nothing(self):
        before = (CheckOutcome.objects.count(), Comparison.objects.count())
        now = {one["word"]: one["rows"] for one in self.draft({})["verdicts"]}
        self.assertEqual(now["shut_out"], 0)
        tried = self.draft({"crawlers": ["millbot"]})
        self.assertEqual({one["word"]: one["rows"] for one in tried["verdicts"]}["shut_out"], 1)
        self.assertEqual((tried["findings"], tried["rows"][0]["verdict"]), (1, "shut_out"))
        self.assertIn("millbot", tried["rows"][0]["left_note"])
        self.assertEqual((CheckOutcome.objects.count(), Comparison.objects.count()), before)
        self.assertEqual(CheckOptions.objects.count(), 0)

    def test_a_revision_orders_a_comparison_that_reads_it_and_shares_the_rest(self):
        shown = self.put({"crawlers": ["millbot", " millbot", ""]})
        self.assertEqual((shown["options"][0]["value"], shown["author"]), (["millbot"], "miller"))
        waiting = self.subject.comparisons.first()
        self.assertEqual(waiting.state, Comparison.State.WAITING)
        comparison_job.make(waiting)
        self.assertNotEqual(outcomes.of(waiting, "robots"), outcomes.of(self.comparison, "robots"))
        self.assertEqual(outcomes.of(waiting, "pages"), outcomes.of(self.comparison, "pages"))
        self.put({})
        self.assertEqual(CheckOptions.objects.count(), 2)
        again = self.subject.comparisons.first()
        comparison_job.make(again)
        self.assertEqual(outcomes.of(again, "robots"), outcomes.of(self.comparison, "robots"), "as it was")

    def test_a_comparison_under_way_with_other_options_is_not_taken_for_this_one(self):
        self.put({"crawlers": ["millbot"]})
        waiting = self.subject.comparisons.first()
        Comparison.objects.filter(pk=waiting.pk).update(
            begun_at=waiting.created_at, revised=check_options.last(self.subject)
        )
        self.put({"crawlers": ["bakerbot"]})
        self.assertNotEqual(self.subject.comparisons.first().pk, waiting.pk)

    def test_what_is_none_is_refused_and_nothing_is_kept(self):
        self.assertIn("values.crawlers", self.put({"crawlers": "millbot"}, 400)["fields"])
        self.assertIn("values.flour", self.draft({"flour": 1}, 400)["fields"])
        self.assertEqual(self.api.put(f"{self.path}pages/", {"values": {}}, format="json").status_code, 404)
        self.assertEqual((CheckOptions.objects.count(), self.subject.comparisons.count()), (0, 1))

    def test_what_a_later_version_does_not_know_is_left_out(self):
        from palinode.core.checks.robots import CHECK, RobotsOptions

        self.assertEqual(check_options.read(CHECK, {"flour": 1}), RobotsOptions())
