"""Judgements through the API: what is decided counts at once, nothing is compared for it, and all can be undone."""

import csv
import io
from datetime import timedelta
from unittest.mock import patch

from django.utils import timezone

from palinode.records import exports
from palinode.records.models import CheckOutcome, Comparison, Decision, Judgement
from palinode.work.deciding import judgement
from tests.api.base import ApiTestCase
from tests.site import Answer, page

NAMES = [f"{section}/n{number}" for section in ("shop", "people") for number in range(4)]


class JudgementsTest(ApiTestCase):
    """Eight pages in two sections: three are gone, three have other titles."""

    def setUp(self):
        super().setUp()
        left = {"/": page("Home", *(f"/{name}" for name in NAMES))}
        left |= {f"/{name}": page(f"Page {name}", text=f"text of {name}") for name in NAMES}
        right = dict(left)
        for name in NAMES[:3]:
            right[f"/{name}"] = Answer(status=404)
        for name in NAMES[3:6]:
            right[f"/{name}"] = page(f"Other {name}", text=f"text of {name}")
        self.comparison = self.compared(left, right)
        self.of_move = self.comparison.move
        self.path = f"/api/comparisons/{self.comparison.pk}/"

    def post(self, path, status=201, **body):
        response = self.api.post(path, body, format="json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json() if response.content else None

    def found(self, **query):
        return self.api.get(f"{self.path}findings/", query).json()

    def accept(self, **body):
        return self.post(f"{self.path}accept/", reason="as agreed", **body)["decision"]

    def shown(self):
        return self.api.get(self.path).json()

    def states(self, **query):
        return self.found(**query)["states"]

    def test_accepting_judges_anew_and_compares_nothing(self):
        before, outcomes = self.shown(), CheckOutcome.objects.count()
        made = self.accept(kind="lost")
        after = self.shown()
        self.assertNotEqual(after["judgement"], before["judgement"])
        self.assertTrue(before["standing"]["blocks"])
        self.assertFalse(after["standing"]["blocks"])
        self.assertEqual((Comparison.objects.count(), CheckOutcome.objects.count()), (1, outcomes))
        numbers = [one["number"] for one in before["standing"]["causes"]]
        self.assertLess({one["number"] for one in after["standing"]["causes"]}, set(numbers), "their numbers stay")
        first, last = Judgement.objects.filter(comparison=self.comparison)
        self.assertEqual((first.states, last.decision_id), (None, made), "only the last one keeps arrays")
        self.assertEqual(first.standing["sentence"], before["standing"]["sentence"])
        self.assertEqual(sum(number for *_, number in first.counts), sum(number for *_, number in last.counts))

    def test_who_accepted_when_and_why_stands_on_the_finding_and_in_the_export(self):
        until = timezone.now() + timedelta(days=3)
        made = self.accept(kind="lost", ends_at=until.isoformat())
        (one, *_) = self.found(state="accepted", decision=made)["rows"]
        self.assertEqual((one["decision"], one["decided_by"], one["reason"]), (made, "miller", "as agreed"))
        self.assertTrue(one["decided_at"])
        self.assertEqual(one["ends_at"][:10], until.isoformat()[:10])
        rows = list(csv.DictReader(io.StringIO("".join(exports.findings(Comparison.objects.get(), "csv")))))
        accepted = [row for row in rows if row["state"] == "accepted"]
        self.assertEqual({(row["accepted_by"], row["reason"]) for row in accepted}, {("miller", "as agreed")})
        self.assertEqual({row["decision"] for row in accepted}, {str(made)})
        self.assertEqual({row["reason"] for row in rows if row["state"] == "open"}, {""})
        (decision,) = self.api.get(f"/api/moves/{self.of_move.pk}/decisions/").json()
        self.assertEqual((decision["findings"], decision["aside"]), (3, 3))

    def test_a_part_of_a_decision_is_revoked(self):
        self.accept(kind="lost")
        rows = self.found(state="accepted")["rows"]
        self.assertEqual(self.post(f"{self.path}revoke/", 200, numbers=[rows[0]["number"]]), {"findings": 1})
        self.assertEqual(self.states(kind="lost"), {"open": 1, "accepted": 2})
        left = Decision.objects.latest("pk")
        self.assertEqual((left.reason, left.supersedes.kind), ("as agreed", "accept"))
        self.assertEqual(self.post(f"{self.path}revoke/", 200, decision=left.pk), {"findings": 2})
        self.assertEqual(self.states(kind="lost"), {"open": 3})
        self.post(f"{self.path}revoke/", 409, decision=left.pk)
        self.post(f"{self.path}revoke/", 400)
        self.post(f"{self.path}revoke/", 409, numbers=[10_000])

    def test_what_an_expectation_sets_aside_is_not_revoked_by_finding(self):
        self.post(f"{self.path}expect/", 200, what="field", kind="title", reason="renamed")
        (row, *_) = self.found(state="accepted")["rows"]
        self.post(f"{self.path}revoke/", 409, numbers=[row["number"]])
        self.assertEqual(self.states(kind="title"), {"accepted": 1})

    def test_the_last_decision_is_undone_with_what_it_superseded(self):
        undo = f"/api/moves/{self.of_move.pk}/undo/"
        before = self.shown()["standing"]
        self.accept(kind="lost")
        self.accept(kind="title")
        self.assertEqual(self.post(undo, 200)["findings"], 1, "one difference, on three pages")
        self.assertEqual(self.states(), {"open": self.states()["open"], "accepted": 3})
        rows = self.found(state="accepted")["rows"]
        self.post(f"{self.path}revoke/", 200, numbers=[rows[0]["number"]])
        self.assertEqual(self.states(kind="lost"), {"open": 1, "accepted": 2})
        self.post(undo, 200)
        self.assertEqual(self.states(kind="lost"), {"accepted": 3}, "what was revoked in part is whole again")
        self.post(undo, 200)
        self.assertEqual(self.shown()["standing"], before)
        self.post(undo, 409)

    def test_who_revokes_a_part_can_undo_that_and_who_accepted_cannot(self):
        self.accept(kind="lost")
        self.of_move.memberships.create(user=self.other, role="member")
        api = self.client_of(self.other)
        number = self.found(kind="lost")["rows"][0]["number"]
        self.assertEqual(api.post(f"{self.path}revoke/", {"numbers": [number]}, format="json").status_code, 200)
        self.assertEqual(self.states(kind="lost"), {"open": 1, "accepted": 2})
        undo = f"/api/moves/{self.of_move.pk}/undo/"
        self.post(undo, 409)
        self.assertEqual(api.post(undo, {}, format="json").status_code, 200)
        self.assertEqual(self.states(kind="lost"), {"accepted": 3})
        self.assertEqual(self.found(kind="lost")["rows"][0]["decided_by"], self.user.username)

    def test_a_move_of_which_both_sides_are_recorded_is_in_rehearsal(self):
        self.assertEqual(self.api.get(f"/api/moves/{self.of_move.pk}/").json()["stage"], "rehearsal")
        self.api.patch(f"/api/moves/{self.of_move.pk}/", {"stage": "switch"}, format="json")
        self.compare(self.of_move, self.comparison.right)
        self.assertEqual(self.api.get(f"/api/moves/{self.of_move.pk}/").json()["stage"], "switch", "a person said so")

    def test_weights_and_stages_count_at_once(self):
        path = f"/api/moves/{self.of_move.pk}/"
        self.post(f"{path}weights/", 204, kind="lost", weight="note", reason="so")
        self.post(f"{path}weights/", 204, kind="lost", weight="mend", reason="rather so")
        self.assertFalse(self.shown()["standing"]["blocks"])
        self.post(f"{path}undo/", 200)
        self.assertEqual(
            {row["weight"] for row in self.found(kind="lost")["rows"]}, {"note"}, "the weight before holds"
        )
        self.api.patch(path, {"stage": "watch"}, format="json")
        self.assertIn("signing off", self.shown()["standing"]["sentence"])
        self.assertEqual(Comparison.objects.count(), 1)

    def test_an_end_that_passes_makes_a_new_judgement_by_itself(self):
        made = self.accept(kind="lost", ends_at=(timezone.now() + timedelta(days=1)).isoformat())
        judgement.renew_due()
        self.assertEqual(Judgement.objects.count(), 2, "nothing is due")
        past = timezone.now() - timedelta(seconds=1)
        Decision.objects.filter(pk=made).update(ends_at=past)
        Judgement.objects.update(due_at=past)
        judgement.renew_due()
        self.assertEqual(self.states(kind="lost"), {"open": 3})
        judgement.renew_due()
        self.assertEqual(Judgement.objects.count(), 3)

    def test_an_end_is_seen_once_in_each_comparison(self):
        made = self.accept(kind="lost", ends_at=(timezone.now() + timedelta(days=1)).isoformat())
        self.compare(self.of_move, self.comparison.right)
        past = timezone.now() - timedelta(seconds=1)
        Decision.objects.filter(pk=made).update(ends_at=past)
        Judgement.objects.update(due_at=past)
        judgement.renew_due()
        number = Judgement.objects.count()
        judgement.renew_due()
        self.assertEqual(Judgement.objects.count(), number, "nothing is due any more")
        self.assertEqual(self.states(kind="lost"), {"open": 3})

    def test_expectations_that_were_held_against_findings_are_not_read_again(self):
        self.post(f"{self.path}expect/", 200, what="words", words="Page", becomes="Other", reason="renamed")
        titles = self.states(kind="title")
        self.assertEqual(titles, {"accepted": 1})
        reading = "palinode.work.deciding.expected_differences.set_aside"
        with patch(reading, side_effect=AssertionError("read again")):
            self.accept(kind="lost")
        self.assertEqual(self.states(kind="title"), titles)
        self.post(f"/api/moves/{self.of_move.pk}/undo/", 200)
        self.post(f"/api/moves/{self.of_move.pk}/undo/", 200)
        self.assertEqual(self.states(kind="title"), {"open": 1})

    def test_a_comparison_that_is_not_the_last_is_judged_as_well(self):
        later = self.compare(self.of_move, self.comparison.right)
        self.accept(kind="lost")
        self.assertEqual(self.states(kind="lost"), {"accepted": 3})
        self.path = f"/api/comparisons/{later.pk}/"
        self.assertEqual(self.states(kind="lost"), {"accepted": 3})
        self.assertEqual(self.shown()["standing"]["since"], {"fresh": 0, "returned": 0, "cleared": 0})
