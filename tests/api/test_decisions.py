"""Decisions: made, read by the next comparison, taken back, and still on record."""

from palinode.records.models import Move
from tests.api.base import SIDES, ApiTestCase
from tests.site import page


class RetireTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        left = {"/": page("Home", "/a", "/b/1", "/b/2"), "/a": page("A"), "/b/1": page("1"), "/b/2": page("2")}
        self.of_move = self.compared(left, {"/": page("Home", "/a", "/b/1", "/b/2")}).move
        self.path = f"/api/moves/{self.of_move.pk}/decisions/"

    def decide(self, **given):
        return self.api.post(self.path, {"kind": "retire", "reason": "over", **given}, format="json")

    def summary(self) -> str:
        return self.compare(self.of_move, self.of_move.captures.get(which="destination")).standing["summary"]

    def test_a_page_and_a_section(self):
        made = self.decide(address="http://old.example/a").json()
        self.assertEqual((made["author"], made["holds"], made["section"]), ("miller", True, ""))
        self.assertEqual(self.summary(), "1 kept, 2 lost, 1 retired.")
        self.assertEqual(self.decide(section="/b").json()["section"], "/b")
        self.assertEqual(self.summary(), "1 kept, 3 retired.")

    def test_taken_back_once_and_still_on_record(self):
        made = self.decide(address="http://old.example/a").json()
        for _ in range(2):
            self.assertEqual(self.api.delete(f"/api/decisions/{made['id']}/").status_code, 204)
        self.assertEqual(self.summary(), "1 kept, 3 lost.")
        self.assertEqual([one["holds"] for one in self.api.get(self.path).json()], [False])
        self.assertEqual(self.of_move.decisions.count(), 2, "who took it back is on record")

    def test_decided_anew_the_former_holds_no_more(self):
        self.decide(address="http://old.example/a")
        self.decide(address="HTTP://old.example:80/a", reason="over, and for another reason")
        listed = self.api.get(self.path).json()
        self.assertEqual([(one["reason"], one["holds"]) for one in listed],
                         [("over", False), ("over, and for another reason", True)])  # fmt: skip

    def test_faults(self):
        for given, where in [
            ({}, ""),
            ({"address": "http://old.example/a", "section": "/y"}, ""),
            ({"address": "nonsense"}, "address"),
            ({"address": "http://old.example/a", "reason": ""}, "reason"),
            ({"address": "http://old.example/a", "kind": "accept"}, "kind"),
            ({"address": "http://old.example/a", "kind": "override"}, "kind"),
        ]:
            with self.subTest(**given):
                response = self.decide(**given)
                self.assertEqual(response.status_code, 400)
                self.assertTrue(response.json()["fields"].get(where) or response.json()["message"])
        self.assertEqual(self.api.get(self.path).json(), [])


class OverrideTest(ApiTestCase):
    def test_listed_with_its_side_and_taken_back_from_the_list(self):
        made = self.make_move(source=SIDES["source"] | {"ignore_robots": True})
        path = f"/api/moves/{made['id']}/"
        (one,) = self.api.get(path + "decisions/").json()
        self.assertEqual((one["kind"], one["side"], one["what"], one["holds"]), ("override", "source", "robots", True))
        self.assertIn("I own it", one["reason"])
        self.api.delete(f"/api/decisions/{one['id']}/")
        self.assertFalse(self.api.get(path).json()["source"]["ignore_robots"])
        self.assertEqual(Move.objects.get().decisions.count(), 2)
