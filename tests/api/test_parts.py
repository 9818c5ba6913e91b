"""Findings that several pages show: accepted for a section, split, revoked; and what only follows from others."""

import csv
import io

from palinode.records import exports
from palinode.records.models import Comparison
from tests.api.base import ApiTestCase
from tests.site import Answer, page

NAMES = [f"{section}/n{number}" for section in ("shop", "people", "tides") for number in range(4)]
IMAGE = "<img src=/img/wheel.png>"


def shown(name: str, image: bool = True) -> Answer:
    return page(f"Page {name}", text=f"text of {name}").altered(("</main>", f"{IMAGE if image else ''}</main>"))


class PartsTest(ApiTestCase):
    """Twelve pages in three sections: an image is gone from all but the first, and a page that the home page names."""

    def setUp(self):
        super().setUp()
        self.left = {"/": page("Home", *(f"/{name}" for name in NAMES))} | {f"/{name}": shown(name) for name in NAMES}
        right = {"/": page("Home", *(f"/{name}" for name in NAMES[:-1]))}
        right |= {f"/{name}": shown(name, name == NAMES[0]) for name in NAMES[:-1]}
        self.right = right | {f"/{NAMES[-1]}": Answer(status=404)}
        self.comparison = self.compared(self.left, self.right)
        self.of_move = self.comparison.move
        self.path = f"/api/comparisons/{self.comparison.pk}/"
        (self.image,) = self.found(kind="images")["rows"]

    def post(self, path, status=201, **body):
        response = self.api.post(path, body, format="json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json() if response.content else None

    def found(self, **query):
        return self.api.get(f"{self.path}findings/", query).json()

    def again(self):
        return self.found(kind="images")["rows"][0]

    def accept(self, **body):
        return self.post(f"{self.path}accept/", reason="as agreed", **body)

    def rank(self, name):
        rows = self.api.get(f"{self.path}checks/pages/rows/").json()["rows"]
        return next(row["rank"] for row in rows if row["left"].endswith(f"/{name}"))

    def on_page(self, name):
        rows = self.found(check="pages", row=self.rank(name))["rows"]
        return next(row for row in rows if row["kind"] == "images")

    def test_one_image_gone_from_many_pages_is_one_finding_with_its_sections(self):
        self.assertEqual((self.image["detail"], self.image["pages"]), ("/img/wheel.png is missing", 10))
        told = self.api.get(f"{self.path}findings/{self.image['number']}/").json()["sections"]
        self.assertEqual(
            told,
            [{"section": "/people", "pages": 4}, {"section": "/shop", "pages": 3}, {"section": "/tides", "pages": 3}],
        )

    def test_accepting_for_a_section_splits_it(self):
        made = self.accept(numbers=[self.image["number"]], section="/shop")
        self.assertEqual(made["findings"], 1)
        one = self.again()
        self.assertEqual((one["state"], one["aside"], one["pages"]), ("open", 3, 10))
        self.assertEqual(self.on_page("shop/n1")["state"], "accepted")
        self.assertEqual(self.on_page("shop/n1")["decided_by"], self.user.username)
        self.assertEqual(self.on_page("people/n1")["state"], "open")
        rows = list(csv.DictReader(io.StringIO("".join(exports.findings(Comparison.objects.latest("pk"), "csv")))))
        self.assertIn(("10", "3"), [(row["pages"], row["accepted_pages"]) for row in rows])
        (decision,) = self.api.get(f"/api/moves/{self.of_move.pk}/decisions/").json()
        self.assertEqual((decision["aside"], decision["says"]), (1, "on the pages of /shop alone"))
        self.assertEqual([row["number"] for row in self.found(decision=made["decision"])["rows"]], [one["number"]])

    def test_all_sections_together_accept_it_whole(self):
        for section in ("/shop", "/people"):
            self.accept(numbers=[self.image["number"]], section=section)
        self.assertEqual((self.again()["state"], self.again()["aside"]), ("open", 7))
        last = self.accept(numbers=[self.image["number"]], section="/tides")["decision"]
        self.assertEqual((self.again()["state"], self.again()["decision"]), ("accepted", last))
        self.post(f"/api/moves/{self.of_move.pk}/undo/", 200)
        self.assertEqual((self.again()["state"], self.again()["aside"]), ("open", 7))

    def test_a_section_in_which_nothing_is_open(self):
        self.post(f"{self.path}accept/", 409, reason="so", numbers=[self.image["number"]], section="/nowhere")
        self.post(f"{self.path}accept/", 409, reason="so", kind="lost", section="/shop")

    def test_a_part_of_what_is_accepted_for_a_section_is_revoked(self):
        made = self.accept(weight="mend", section="/shop")["decision"]
        self.assertEqual(self.again()["aside"], 3)
        self.assertEqual(self.post(f"{self.path}revoke/", 200, numbers=[self.image["number"]])["findings"], 1)
        self.assertEqual(self.again()["aside"], 0)
        self.post(f"{self.path}revoke/", 409, decision=made)

    def test_a_page_accepted_takes_its_share_of_what_others_show_and_no_more(self):
        # Only on pages of which it alters the fate: here half of each section shares it, so that the page has nothing.
        self.post(f"{self.path}accept/", 409, reason="so", rows=[self.rank("shop/n1")])
        self.assertEqual(self.again()["aside"], 0)

    def test_expected_for_a_section_alone(self):
        body = {"what": "field", "kind": "images", "section": "/people"}
        self.assertEqual(self.post(f"{self.path}expect/", 200, **body)["findings"], 1)
        made = self.post(f"{self.path}expect/", 200, reason="so", **body)["decision"]
        self.assertEqual((self.again()["state"], self.again()["aside"]), ("open", 4))
        self.assertEqual(self.on_page("people/n1")["state"], "accepted")
        self.assertEqual(self.on_page("shop/n1")["state"], "open")
        (decision,) = self.api.get(f"/api/moves/{self.of_move.pk}/decisions/").json()
        self.assertEqual((decision["findings"], decision["aside"]), (1, 1))
        self.assertEqual([row["number"] for row in self.found(decision=made)["rows"]], [self.image["number"]])
        self.post(f"{self.path}revoke/", 409, decision=made)
        self.assertEqual(self.api.delete(f"/api/decisions/{made}/").status_code, 204)
        self.assertEqual(self.again()["aside"], 0)

    def test_what_only_follows_is_folded_below_and_counts_for_nothing(self):
        (lost,) = self.found(kind="lost")["rows"]
        self.assertGreaterEqual(lost["followers"], 1)
        self.assertEqual(self.found(kind="links")["total"], 0)
        unfolded = self.found(kind="lost", unfold=lost["number"])
        self.assertEqual(unfolded["total"], 1 + lost["followers"])
        below = unfolded["rows"][1:]
        self.assertEqual({row["follows"] for row in below}, {lost["number"]})
        self.assertIn(f"link to /{NAMES[-1]} is missing", [row["detail"] for row in below])
        self.assertEqual(sum(self.found()["states"].values()), self.found()["total"])
        self.accept(numbers=[lost["number"]])
        states = {row["state"] for row in self.found(follows=lost["number"])["rows"]}
        self.assertEqual(states, {"accepted"}, "it is set aside with what it follows from")

    def test_what_follows_clears_with_it(self):
        self.right |= self.left
        again = self.compare(self.of_move, self.capture(self.of_move, "destination"))
        self.path = f"/api/comparisons/{again.pk}/"
        cleared = self.found(state="cleared")["rows"]
        self.assertEqual({row["kind"] for row in cleared}, {"lost", "images"})
        self.assertEqual(again.standing["since"]["cleared"], 2)

    def test_what_a_decision_takes_out_is_no_longer_judged(self):
        self.post(
            f"/api/moves/{self.of_move.pk}/decisions/",
            kind="retire",
            address=self.image["left_address"].replace("people/n0", NAMES[-1]),
            reason="over",
        )
        again = self.compare(self.of_move, self.comparison.right)
        self.path = f"/api/comparisons/{again.pk}/"
        (lost,) = self.found(kind="lost", state="cleared")["rows"]
        self.assertEqual((lost["dropped"], again.standing["since"]["cleared"]), (True, 0))
        links = self.found(kind="links")["rows"]
        self.assertEqual(
            [row["detail"] for row in links], [f"link to /{NAMES[-1]} is missing"], "it counts by itself now"
        )
