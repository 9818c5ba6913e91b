"""Findings over rounds: found, accepted, cleared, back again; pairs by hand; a cause mended."""

from unittest.mock import patch

from django.utils import timezone

from palinode.core.expected import Expectation
from palinode.core.findings import State
from palinode.core.weight import Weight
from palinode.records import decisions, findings
from palinode.records.findings import Choice
from palinode.records.models import Capture, Comparison, Decision
from palinode.work.capturing import crawl_worker
from palinode.work.comparing import comparison_job
from palinode.work.deciding import cause_recheck, expected_differences
from tests import rows
from tests.site import Answer, page
from tests.work.base import MoveTestCase

GONE = Answer(status=404)
LEFT = {
    "/": page("Home", "/a", "/b", "/shop/rye"),
    "/a": page("A", text="the wheel turns with the tide"),
    "/b": page("B", text="the pond is full at noon"),
    "/shop/rye": page("Rye", text="a sack of rye flour, stone ground, milled on monday with the morning tide"),
}


class FindingsTest(MoveTestCase):
    def begin(self, right):
        self.right = dict(LEFT) | right
        self.old, self.new = self.serve(LEFT, self.right)
        self.of_move = self.move(self.old, self.new)
        self.baseline(self.of_move)

    def round(self, changes=None) -> Comparison:
        self.right.update(changes or {})
        return self.compare(self.of_move, self.capture(self.of_move, "destination"))

    def told(self, comparison: Comparison) -> dict[tuple[str, str], dict]:
        _, rows = findings.page(comparison, Choice(), 0, 500)
        return {(row["kind"], (row["left_address"] or row["right_address"]).split(".example")[1]): row for row in rows}

    def accept(self, comparison: Comparison, choice: Choice, ends_at=None) -> Decision:
        scope = decisions.of_marks(findings.acceptance(comparison, choice, "", 100).marks)
        return decisions.decide(self.of_move, "accept", scope, "as agreed", self.user, ends_at)

    def test_where_no_verdict_is_reached_nothing_is_kept(self):
        self.begin({})
        made = self.round()
        capture = made.right
        again = Comparison.objects.create(move=self.of_move, left=made.left, right=capture, rule=made.rule)
        failing = patch("palinode.work.comparing.comparison_findings.find", side_effect=ValueError("a page too many"))
        with failing, self.assertRaises(ValueError):
            comparison_job.make(again)
        again.refresh_from_db()
        self.assertEqual((again.state, again.why), (Comparison.State.FAILED, "ValueError: a page too many"))
        self.assertFalse(again.checks.exists(), "its outcomes were held before")
        self.assertEqual(len(rows.pages(made)), len(LEFT))

    def test_found_accepted_changed_cleared_and_back(self):
        self.begin({"/a": page("Other", text="the wheel turns with the tide")})
        first = self.round()
        found = self.told(first)
        self.assertEqual(found["title", "/a"]["state"], "open")
        self.assertEqual((found["title", "/a"]["since"], found["title", "/a"]["fresh"]), (1, False))
        self.accept(first, Choice(weight=Weight.MEND))
        second = self.compare(self.of_move, first.right)
        self.assertEqual({row["state"] for row in self.told(second).values()}, {"accepted"})
        self.assertEqual(second.standing["causes"], [])
        self.assertIn("Every page is where it is expected", second.standing["sentence"])

        third = self.round({"/a": page("Yet another", text="the wheel turns with the tide")})
        self.assertEqual(self.told(third)["title", "/a"]["state"], "open", "it does not look as it was accepted")
        fourth = self.round({"/a": LEFT["/a"]})
        self.assertEqual(self.told(fourth)["title", "/a"]["state"], "cleared")
        self.assertIsNone(self.told(fourth)["title", "/a"]["row"])
        self.assertEqual(fourth.standing["since"], {"fresh": 0, "returned": 0, "cleared": 2})
        fifth = self.round({"/a": page("Third", text="the wheel turns with the tide")})
        self.assertEqual(fifth.standing["since"], {"fresh": 0, "returned": 2, "cleared": 0})
        self.assertEqual(first.standing["since"], {})
        back = self.told(fifth)["title", "/a"]
        self.assertEqual((back["state"], back["returned"], back["since"]), ("open", True, 1))

    def test_undoing_leaves_everything_as_before(self):
        self.begin({"/a": page("Other"), "/b": GONE})
        first = self.round()
        before = {key: (row["state"], row["detail"]) for key, row in self.told(first).items()}
        made = self.accept(first, Choice(find="/a"))
        accepted = self.told(self.compare(self.of_move, first.right))
        self.assertEqual({row["state"] for (_, path), row in accepted.items() if path == "/a"}, {"accepted"})
        self.assertEqual(accepted["lost", "/b"]["state"], "open")
        decisions.withdraw(made, self.user)
        undone = self.compare(self.of_move, first.right)
        self.assertEqual({key: (row["state"], row["detail"]) for key, row in self.told(undone).items()}, before)
        self.assertEqual(undone.standing["causes"], first.standing["causes"])

    def test_accepted_until_a_day_that_is_past(self):
        self.begin({"/a": page("Other")})
        first = self.round()
        self.accept(first, Choice(), timezone.now())
        again = self.compare(self.of_move, first.right)
        self.assertEqual({row["state"] for row in self.told(again).values()}, {"open"})

    def test_a_page_that_could_not_be_judged_clears_nothing(self):
        self.begin({"/a": page("Other")})
        self.round()
        later = self.told(self.round({"/a": Answer(status=403)}))
        self.assertEqual(later["title", "/a"]["state"], "open")
        self.assertIn("could not be judged", later["title", "/a"]["detail"])
        self.assertEqual(later["not_judged", "/a"]["state"], "open")

    def test_counts_and_order_agree_with_the_rows(self):
        self.begin({"/a": page("Other", text="x"), "/b": GONE, "/extra": page("Extra"), "/": page("Home", "/extra")})
        comparison = self.round()
        total, rows = findings.page(comparison, Choice(), 0, 500)
        self.assertEqual(sum(row[3] for row in comparison.counts), total)
        self.assertEqual(len({row["number"] for row in rows}), total)
        weights = [Weight[row["weight"].upper()] for row in rows]
        self.assertEqual(weights, sorted(weights))
        for choice in (Choice(weight=Weight.MEND), Choice(state=State.OPEN), Choice(cause=0), Choice(find="/b")):
            number, some = findings.page(comparison, choice, 0, 500)
            self.assertEqual(number, len(some))
            self.assertTrue(some)

    def test_a_page_under_another_name_is_found_and_parted_by_hand(self):
        self.begin(
            {
                "/shop/rye": GONE,
                "/goods/rye-flour": LEFT["/shop/rye"],
                "/": page("Home", "/a", "/b", "/goods/rye-flour"),
            }
        )
        first = self.round()
        fates = {fate: rows for fate, _, rows in rows.counts(first)}
        self.assertEqual(fates.get("moved"), 1)
        self.assertIn(("redirect_missing", "/shop/rye"), self.told(first))
        scope = {"left": "http://old.example/shop/rye", "right": "http://new.example/goods/rye-flour"}
        decisions.decide(self.of_move, "part", scope, "another flour", self.user)
        parted = self.told(self.compare(self.of_move, first.right))
        self.assertIn(("lost", "/shop/rye"), parted)
        decisions.decide(self.of_move, "pair", scope, "the same after all", self.user)
        self.assertEqual(decisions.holding(self.of_move, "part").count(), 0, "a person says one thing or the other")
        paired = self.compare(self.of_move, first.right)
        self.assertIn(("redirect_missing", "/shop/rye"), self.told(paired))

    def test_links_to_a_page_that_was_found_elsewhere_are_no_difference(self):
        self.begin(
            {
                "/shop/rye": GONE,
                "/goods/rye-flour": LEFT["/shop/rye"],
                "/": page("Home", "/a", "/b", "/goods/rye-flour"),
            }
        )
        # The words of the link are its address, and differ; where it leads to is the same page.
        self.assertEqual({kind for kind, path in self.told(self.round()) if path == "/"}, {"text"})

    def test_a_cause_that_is_mended_is_captured_again_alone(self):
        self.begin({"/b": GONE})
        first = self.round()
        (cause,) = [one["number"] for one in first.standing["causes"] if one["kind"] == "pages_lost"]
        self.right["/b"] = LEFT["/b"]
        asked = len(self.new.asked)
        capture = cause_recheck.begin(Comparison.objects.get(pk=first.pk), cause)
        crawl_worker.work_on(capture.pk)
        capture.refresh_from_db()
        self.assertEqual(capture.state, Capture.State.CLOSED)
        self.assertEqual({path for path in self.new.asked[asked:] if path != "/robots.txt"}, {"/b"})
        again = self.compare(self.of_move, capture)
        self.assertEqual(self.told(again)["lost", "/b"]["state"], "cleared")
        self.assertEqual(again.standing["causes"], [])

    def test_weights_that_a_person_gave(self):
        self.begin({"/a": page("Other", text="the wheel turns with the tide")})
        first = self.round()
        self.assertEqual(self.told(first)["title", "/a"]["weight"], "mend")
        for weight in ("blocks", "note"):
            decisions.weigh(self.of_move, {"what": "weight", "kind": "title", "weight": weight}, "so", self.user)
            again = self.compare(self.of_move, first.right)
            self.assertEqual(self.told(again)["title", "/a"]["weight"], weight)
        self.assertEqual(decisions.holding(self.of_move, "override").count(), 1)

    def expect(self, **scope) -> Decision:
        return decisions.decide(self.of_move, "expect", Expectation.read(scope).plain(), "so meant", self.user)

    def test_expected_differences_are_set_aside_and_come_back(self):
        weather = '<div class="weather">wind from the {}</div>'
        self.left = {
            path: answer.altered(("</main>", weather.format("north") + "</main>")) for path, answer in LEFT.items()
        }
        right = {
            path: answer.altered(("</main>", weather.format("west, and rain") + "</main>"), ("tide", "flood"))
            for path, answer in LEFT.items()
        }
        self.right = dict(right)
        self.old, self.new = self.serve(self.left, self.right)
        self.of_move = self.move(self.old, self.new)
        self.baseline(self.of_move)
        first = self.round()
        self.assertEqual(
            {key: row["state"] for key, row in self.told(first).items() if key[0] == "text"},
            dict.fromkeys([("text", path) for path in LEFT if path != "/b"], "open"),
            "the weather is one finding, whatever pages show it",
        )

        region = Expectation.read({"what": "region", "selector": ".weather"})
        self.assertEqual(
            {row["left_address"].split(".example")[1] for row in expected_differences.tried(first, region)}, {"/"}
        )
        made = self.expect(what="region", selector=".weather")
        words = self.expect(what="words", words="tide", becomes="flood")
        second = self.told(self.compare(self.of_move, first.right))
        self.assertEqual((second["text", "/"]["state"], second["text", "/"]["decision"]), ("accepted", made.pk))
        told = second["text", "/a"]["state"], second["text", "/a"]["decision"]
        self.assertEqual(told, ("accepted", words.pk), "two things differ there, and each is meant")
        self.assertEqual(findings.set_aside_by(findings.latest(self.of_move)), {made.pk: 1, words.pk: 2})

        decisions.withdraw(made, self.user)
        decisions.withdraw(words, self.user)
        self.expect(what="field", kind="text")
        third = self.told(self.compare(self.of_move, first.right))
        self.assertEqual({row["state"] for (kind, _), row in third.items() if kind == "text"}, {"accepted"})
