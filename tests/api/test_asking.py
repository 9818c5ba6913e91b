"""Check now: what checks want is asked into captures of their own, and compared when all of them have closed."""

from dataclasses import replace
from unittest import mock

from django.db import connections

from palinode.core.checks import registry
from palinode.core.checks.ask import Ask
from palinode.core.checks.robots import CHECK as ROBOTS
from palinode.records import capture_sets, decisions, outcome_rows, outcomes
from palinode.records.models import Answer, Capture, Comparison, Frontier, Move
from palinode.work import move_setup
from palinode.work.capturing import crawl_worker
from palinode.work.comparing import comparison_job
from tests.api.base import ApiTestCase
from tests.site import Answer as Served
from tests.site import page

OPEN, SHUT = (Served(f"User-agent: *\n{rule}\n", headers={"Content-Type": "text/plain"}) for rule in ("Allow: /", "Disallow: /a"))  # fmt: skip


class AskingTest(ApiTestCase):
    """Checks are asked; robots alone, but where a test says otherwise."""

    def setUp(self):
        super().setUp()
        without = tuple(one for one in registry.CHECKS if one.name != "policies")
        self.stack.enter_context(mock.patch.object(registry, "CHECKS", without))
        self.old = {"/": page("Home", "/a"), "/a": page("A"), "/robots.txt": OPEN}
        self.new = {**self.old, "/robots.txt": SHUT}
        old, new = self.serve(self.old, self.new)
        self.subject = self.move(old, new)
        self.baseline(self.subject)
        decisions.decide(self.subject, "override", {"side": "destination", "what": "robots"}, "staging", self.user)
        self.capture(self.subject, "destination")
        self.hosts = {"source": old, "destination": new}
        self.comparison = self.made()
        for host in (old, new):
            host.asked.clear()

    def made(self) -> Comparison:
        comparison = self.subject.comparisons.first()
        comparison_job.make(comparison)
        return Comparison.objects.get(pk=comparison.pk)

    def ask(self) -> list[Capture]:
        response = self.api.post(f"/api/moves/{self.subject.pk}/ask/")
        self.assertEqual(response.status_code, 201, response.content)
        return [Capture.objects.get(pk=one["id"]) for one in response.json()]

    def work_on(self, capture: Capture) -> Capture:
        crawl_worker.work_on(capture.pk)
        connections.close_all()
        capture.refresh_from_db()
        return capture

    def verdicts(self, comparison: Comparison) -> list[str]:
        return [row.verdict for row in outcome_rows.page(outcomes.of(comparison, "robots"), "rank", [(0, 9)])]

    def test_robots_mended_at_the_destination_clears_without_a_round(self):
        self.assertIn("shut_out", self.verdicts(self.comparison))
        self.new["/robots.txt"] = OPEN
        (asked,) = self.ask()
        self.assertEqual((asked.which, asked.kind, asked.round), ("destination", "asked", None))
        self.assertEqual(self.api.post(f"/api/moves/{self.subject.pk}/ask/").status_code, 409)
        asked = self.work_on(asked)
        self.assertEqual((asked.state, asked.complete, asked.judgement), ("closed", True, None))
        self.assertEqual([one for one in self.hosts["destination"].asked if one != "/robots.txt"], [])
        self.assertEqual(self.hosts["source"].asked, [], "the source has its own already")
        now = self.made()
        self.assertNotIn("shut_out", self.verdicts(now))
        self.assertEqual(capture_sets.compared(now)["right"], [now.right, asked])
        self.assertEqual(now.right_id, self.comparison.right_id)
        self.assertEqual(outcomes.of(now, "pages"), outcomes.of(self.comparison, "pages"))
        shown = self.api.get(f"/api/comparisons/{now.pk}/").json()
        self.assertTrue(shown["asked_at"])
        self.assertEqual([one["name"] for one in shown["checks"] if one["asks"]], ["robots"])

    def test_policies_are_asked_of_both_sides_and_of_the_source_once(self):
        self.old |= {"/a/": Served("", 301, {"Location": "/a"}), "/index.html": Served("", 301, {"Location": "/"})}
        self.new |= {"/a/": page("A"), "/index.html": Served("", 301, {"Location": "/"})}
        with mock.patch.object(registry, "CHECKS", (*registry.CHECKS, registry.BY_NAME["policies"])):
            captures = [self.work_on(one) for one in self.ask()]
            self.assertEqual({one.which for one in captures}, {"source", "destination"})
            for host in self.hosts.values():
                self.assertLess(len(host.asked), 16, host.asked)
            made = self.made()
            told = {row.left_note: row for row in outcome_rows.page(outcomes.of(made, "policies"), "rank", [(0, 20)])}
            slash = told["Slash at the end"]
            self.assertEqual((slash.verdict, slash.left, slash.right), ("lost", "/a/ → /a, 301", "/a/ 200"))
            self.assertEqual(told["Index file index.html"].verdict, "same")
            self.assertIn("policy_lost", [one["kind"] for one in made.standing["causes"]])
            self.assertEqual([one.which for one in self.ask()], ["destination"])

    def test_its_cause_is_mended_by_asking_and_not_by_a_capture_of_pages(self):
        standing = self.api.get(f"/api/comparisons/{self.comparison.pk}/").json()["standing"]
        (place,) = [at for at, one in enumerate(standing["causes"]) if one["kind"] == "shut_out"]
        path = f"/api/comparisons/{self.comparison.pk}/mended/"
        answer = self.api.post(path, {"cause": place}, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual(Capture.objects.get(pk=answer.json()["capture"]).kind, "asked")
        self.assertIn("asking already", self.api.post(path, {"cause": place}, format="json").json()["message"])

    def test_a_new_round_begins_unasked_and_is_asked_as_its_predecessor_was(self):
        self.work_on(self.ask()[0])
        head = self.capture(self.subject, "destination")
        self.assertEqual(head.round, 2)
        self.assertEqual(capture_sets.of(head), [head])
        asked = self.subject.captures.exclude(state="closed").get()
        self.assertEqual(asked.asking["head"], head.pk)
        self.work_on(asked)
        self.assertEqual(capture_sets.of(head), [head, asked])

    def test_both_sides_are_compared_when_the_last_has_closed(self):
        number = self.subject.comparisons.count()
        with mock.patch.object(registry, "CHECKS", (replace(ROBOTS, asks=lambda side, which: [Ask(side.bases[0])]),)):
            first, second = self.ask()
            self.work_on(first)
            self.assertEqual(self.subject.comparisons.count(), number)
            self.work_on(second)
        self.assertEqual(self.subject.comparisons.count(), number + 1)

    def test_variants_are_answers_of_their_own_and_redirects_are_followed_by_them(self):
        self.new |= {
            "/robots.txt": OPEN,
            "/go": Served("", 302, {"Location": "/on"}),
            "/on": Served("", 302, {"Location": "/a"}),
        }
        base = "http://new.example"
        asks = [Ask(f"{base}/go", "HEAD"), Ask(f"{base}/", repeats=2), Ask(f"{base}/", fields=(("X-Mill", "1"),))]
        with mock.patch.object(registry, "CHECKS", (replace(ROBOTS, asks=lambda side, which: asks),)):
            captures = self.ask()
        (asked,) = [self.work_on(one) for one in captures if one.which == "destination"]
        rows = self.api.get(f"/api/captures/{asked.pk}/answers/").json()["rows"]
        self.assertEqual(
            [(row["left"].removeprefix(base), row["verdict"], row["right_note"]) for row in rows],
            [
                ("/", "page", "for a check"),
                ("/", "page", "time 2; for a check"),
                ("/", "page", "X-Mill: 1; for a check"),
                ("/a", "other", "HEAD; a redirect's target, for a check"),
                ("/go", "redirect", "HEAD; for a check"),
                ("/on", "redirect", "HEAD; a redirect's target, for a check"),
            ],
        )
        self.assertEqual([one.get("X-Mill") for one in self.hosts["destination"].headers].count("1"), 1)
        self.assertEqual(Answer.objects.filter(capture=asked).count(), 6)
        self.assertNotIn("/b", self.hosts["destination"].asked)

    def test_redirects_without_end_end(self):
        self.hosts["destination"].find = lambda path: Served("", 302, {"Location": f"{path}x"})
        with mock.patch.object(registry, "CHECKS", (replace(ROBOTS, asks=lambda side, which: [Ask(side.bases[0])]),)):
            captures = self.ask()
        (asked,) = [self.work_on(one) for one in captures if one.which == "destination"]
        self.assertEqual((asked.asked, asked.state), (11, "closed"))
        self.assertEqual(Frontier.objects.filter(capture=asked, state=Frontier.WAITING).count(), 0)

    def test_a_side_that_moved_since_is_not_asked_for_a_round_of_its_old_address(self):
        move_setup.edit(
            Move.objects.get(pk=self.subject.pk),
            {"destination": move_setup.typed_side("http://newer.example/", "")},
            self.user,
        )
        refused = self.api.post(f"/api/moves/{self.subject.pk}/ask/")
        self.assertEqual(refused.status_code, 409)
        self.assertIn("No check wants", refused.json()["message"])
        self.assertEqual(self.subject.captures.filter(kind="asked").count(), 0)

    def test_nothing_is_asked_before_there_is_something_to_check(self):
        fresh = self.api.post(f"/api/moves/{self.make_move()['id']}/ask/")
        self.assertEqual((fresh.status_code, fresh.json()["message"]), (409, "There is nothing to check yet. Capture a side first."))  # fmt: skip
