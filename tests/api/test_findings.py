"""Findings through the API: choices, accepting, weighing, taking away."""

import csv
import io
import json
from datetime import timedelta
from xml.etree import ElementTree

from django.utils import timezone

from palinode.records import exports
from palinode.records.models import Capture, Comparison
from palinode.work.comparing import comparison_job
from tests.api.base import ApiTestCase
from tests.site import Answer, page

NAMES = [f"n{number}" for number in range(8)]


class FindingsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        left = {"/": page("Home", *(f"/{name}" for name in NAMES))}
        left |= {f"/{name}": page(f"Page {name}", text=f"text of {name}") for name in NAMES}
        right = dict(left)
        for name in NAMES[:3]:
            right[f"/{name}"] = Answer(status=404)
        for name in NAMES[3:5]:
            right[f"/{name}"] = page(f'=Hint "{name}" <b>', text=f"text of {name}")
        self.comparison = self.compared(left, right)
        self.path = f"/api/comparisons/{self.comparison.pk}/"

    def found(self, **query):
        response = self.api.get(f"{self.path}findings/", query)
        self.assertEqual(response.status_code, 200, response.content)
        return response.json()

    def accept(self, **body):
        return self.api.post(f"{self.path}accept/", {"reason": "as agreed", **body}, format="json")

    def latest(self) -> Comparison:
        latest = Comparison.objects.latest("pk")
        comparison_job.make(latest)
        self.path = f"/api/comparisons/{latest.pk}/"
        return latest

    def test_choices_and_what_others_would_have(self):
        everything = self.found()
        self.assertEqual(everything["total"], 7)
        self.assertEqual(everything["states"], {"open": 7})
        self.assertEqual(everything["kinds"], {"lost": 3, "title": 2, "headings": 2})
        lost = self.found(kind="lost")
        self.assertEqual((lost["total"], {row["kind"] for row in lost["rows"]}), (3, {"lost"}))
        self.assertEqual(lost["kinds"], everything["kinds"], "what other kinds would have is still told")
        self.assertEqual(self.found(weight="blocks")["total"], 3)
        self.assertEqual(self.found(find="/n4")["total"], self.found(find="N4")["total"])
        self.assertEqual(len(self.found(first=5, rows=500)["rows"]), 2)
        self.assertEqual(self.found(state="accepted")["rows"], [])
        self.assertEqual(self.api.get(f"{self.path}findings/", {"first": "x"}).status_code, 400)

    def test_each_cause_leads_to_its_findings(self):
        causes = self.api.get(self.path).json()["standing"]["causes"]
        for cause in causes:
            self.assertEqual(self.found(cause=cause["number"], state="open")["total"], cause["findings"])
        self.assertEqual(sum(cause["findings"] for cause in causes), 7)

    def test_accept_some_and_then_the_rest_of_a_kind(self):
        numbers = [row["number"] for row in self.found(kind="lost")["rows"][:1]]
        answer = self.accept(numbers=numbers)
        self.assertEqual((answer.status_code, answer.json()["findings"]), (201, 1))
        self.assertEqual(self.found()["states"], {"open": 6, "accepted": 1})
        self.assertEqual(self.accept(kind="lost").json()["findings"], 2)
        self.assertEqual(self.found(kind="lost")["states"], {"accepted": 3})
        (first, second) = self.api.get(f"/api/moves/{self.comparison.move_id}/decisions/").json()
        self.assertEqual((first["findings"], second["findings"], second["reason"]), (1, 2, "as agreed"))
        self.assertEqual(self.api.delete(f"/api/decisions/{second['id']}/").status_code, 204)
        self.assertEqual(self.found(kind="lost")["states"], {"open": 2, "accepted": 1})
        self.assertEqual(Comparison.objects.count(), 1, "nothing is compared for any of it")

    def test_what_cannot_be_accepted(self):
        self.assertEqual(self.accept().status_code, 400)
        self.assertEqual(self.accept(numbers=[99]).status_code, 409)
        self.assertEqual(self.accept(numbers=[-1]).status_code, 400)
        self.assertEqual(self.accept(kind="nonsense").status_code, 400)
        self.assertEqual(self.accept(numbers=[0], reason="").status_code, 400)
        past = (timezone.now() - timedelta(days=1)).isoformat()
        self.assertEqual(self.accept(numbers=[0], ends_at=past).status_code, 400)
        self.assertEqual(Comparison.objects.count(), 1, "nothing was compared for it")

    def test_another_weight(self):
        path = f"/api/moves/{self.comparison.move_id}/weights/"
        given = {"kind": "title", "weight": "blocks", "reason": "titles matter here"}
        self.assertEqual(self.api.post(path, given, format="json").status_code, 204)
        self.assertEqual(self.api.post(path, given | {"weight": "heavy"}, format="json").status_code, 400)
        self.assertEqual({row["weight"] for row in self.found(kind="title")["rows"]}, {"blocks"})
        (decision,) = self.api.get(f"/api/moves/{self.comparison.move_id}/decisions/").json()
        self.assertEqual(decision["says"], "title: blocks")

    def export(self, kind: str) -> str:
        comparison = Comparison.objects.latest("pk")
        return "".join(exports.findings(comparison, kind))

    def test_taken_away_as_csv_json_and_xml(self):
        self.accept(numbers=[0])
        rows = list(csv.DictReader(io.StringIO(self.export("csv"))))
        self.assertEqual(len(rows), 7)
        self.assertFalse([row for row in rows for value in row.values() if value.startswith(("=", "+", "@"))])
        self.assertEqual([row["finding"] for row in json.loads(self.export("json"))], [row["finding"] for row in rows])
        suite = ElementTree.fromstring(self.export("junit"))
        self.assertEqual(len(suite.findall("testcase")), 7)
        self.assertEqual(len(suite.findall("testcase/skipped")), 1)
        self.assertEqual(len(suite.findall("testcase/failure")), 6)
        self.assertIn("<b>", "".join(one.get("message", "") for one in suite.iter("failure")))

    def test_the_file_has_a_name_and_a_type(self):
        for kind, media, ending in (("csv", "text/csv", "csv"), ("junit", "application/xml", "xml")):
            response = self.api.get(f"{self.path}findings/export/", {"as": kind})
            self.assertTrue(response.headers["Content-Type"].startswith(media))
            self.assertIn(f".{ending}", response.headers["Content-Disposition"])

    def test_a_line_of_the_rule_is_tried(self):
        def tried(line: str):
            return self.api.post(f"{self.path}rule-trial/", {"line": line}, format="json")

        found = tried("only /n7 -> /n6").json()
        self.assertEqual(found, {"planned": 0, "wrong": 1, "open": 0, "examples": ["http://old.example/n7"]})
        self.assertEqual(tried("only /n0 -> /elsewhere").json()["open"], 1)
        self.assertIn("OLD -> NEW", tried("/n7").json()["fields"]["line"])
        Comparison.objects.update(state="waiting")
        self.assertEqual(tried("/n7 -> /x").status_code, 409)

    def test_a_cause_said_to_be_mended(self):
        answer = self.api.post(f"{self.path}mended/", {"cause": 0}, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        capture = Capture.objects.get(pk=answer.json()["capture"])
        self.assertEqual((capture.which, capture.again["what"]), ("destination", "list"))
        self.assertEqual(self.api.post(f"{self.path}mended/", {"cause": 0}, format="json").status_code, 409)
        self.assertEqual(self.api.post(f"{self.path}mended/", {"cause": 40}, format="json").status_code, 400)

    def test_pair_and_part_by_hand(self):
        path = f"/api/moves/{self.comparison.move_id}/decisions/"
        given = {"kind": "pair", "left": "http://old.example/n0", "right": "http://new.example/n5", "reason": "merged"}
        self.assertEqual(self.api.post(path, given, format="json").status_code, 201)
        self.assertEqual(self.api.post(path, given | {"right": "::"}, format="json").status_code, 400)
        self.assertEqual(self.api.post(path, given | {"kind": "accept"}, format="json").status_code, 400)
        self.api.post(f"/api/moves/{self.comparison.move_id}/comparisons/", {}, format="json")
        latest = self.latest()
        rows = self.api.get(f"{self.path}checks/pages/rows/").json()["rows"]
        (row,) = [row for row in rows if (row["left"] or "").endswith("/n0")]
        self.assertEqual((row["verdict"], row["right"]), ("moved", "http://new.example/n5"))
        pair = self.api.get(f"/api/comparisons/{latest.pk}/pages/{row['rank']}/").json()
        self.assertEqual((pair["found_by"], pair["certainty"]), ("hand", 1.0))

    def test_an_expectation_is_tried_then_decided(self):
        path = f"{self.path}expect/"
        given = {"what": "field", "kind": "title"}
        tried = self.api.post(path, given, format="json").json()
        self.assertEqual((tried["findings"], tried["pages"], tried["decision"]), (2, 2, None))
        self.assertEqual(len(tried["samples"]), 2)
        self.assertEqual(Comparison.objects.count(), 1)
        made = self.api.post(path, given | {"reason": "titles were rewritten"}, format="json").json()
        self.latest()
        self.assertEqual(self.found(kind="title")["states"], {"accepted": 2})
        (decision,) = self.api.get(f"/api/moves/{self.comparison.move_id}/decisions/").json()
        self.assertEqual((decision["id"], decision["findings"]), (made["decision"], 2))
        self.assertEqual(decision["says"], "any difference in title")
        for wrong, field in (({"what": "words"}, "words"), ({"what": "region", "selector": "p["}, "selector")):
            answer = self.api.post(path, wrong, format="json")
            self.assertEqual((answer.status_code, list(answer.json()["fields"])), (400, [field]))

    def test_nobody_else_sees_or_accepts(self):
        stranger = self.client_of(self.other)
        for path in ("findings/", "findings/export/"):
            self.assertEqual(stranger.get(self.path + path).status_code, 404)
        for path in ("accept/", "expect/", "mended/"):
            self.assertEqual(stranger.post(self.path + path, {"reason": "x"}, format="json").status_code, 404)
