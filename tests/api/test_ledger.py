"""The ledger through the API: choices, order, find, pair, export."""

import csv
import io
import json

from palinode.records import exports, outcomes
from tests.api.base import ApiTestCase
from tests.site import page

PATHS = [f"/{section}/{number:02}" for section in ("a", "b", "c") for number in range(12)]


class LedgerTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        left = {"/": page("Home", *PATHS)} | {path: page(f"Page {path}") for path in PATHS}
        right = dict(left) | {"/extra": page("=Extra"), "/": page("Home", *PATHS, "/extra")}
        for path in PATHS[:4] + PATHS[24:26]:
            del right[path]
        right["/b/03"] = page("Changed")
        self.comparison = self.compared(left, right)
        self.path = f"/api/comparisons/{self.comparison.pk}/"

    def outcome(self):
        return outcomes.of(self.comparison, "pages")

    def rows(self, **query):
        response = self.api.get(self.path + "checks/pages/rows/", query)
        self.assertEqual(response.status_code, 200, response.content)
        return response.json()

    def shown(self, **query):
        return [(row["left"] or row["right"]).split(".example")[1] for row in self.rows(**query)["rows"]]

    def test_all_worst_first_and_counts_of_every_fate(self):
        found = self.rows()
        self.assertEqual(found["total"], 38)
        self.assertEqual(
            found["counts"], {"lost": 6, "unknown": 0, "altered": 2, "moved": 0, "new": 1, "retired": 0, "kept": 29}
        )
        self.assertEqual(self.shown()[:9], [*PATHS[:4], *PATHS[24:26], "/", "/b/03", "/extra"])

    def test_every_choice_and_page_agrees_with_filtering_all(self):
        everything = self.rows(rows=500)["rows"]
        for fate in ("", "lost", "kept", "altered", "moved"):
            for section in ("", "/a", "/c", "/nowhere"):
                for order in ("worst", "address"):
                    wanted = [
                        row for row in everything if fate in ("", row["verdict"]) and section in ("", row["group"])
                    ]
                    if order == "address" and not fate:
                        wanted.sort(key=lambda row: (row["left"] or row["right"]).split(".example")[1])
                    query = {"verdict": fate, "group": section, "order": order}
                    with self.subTest(**query):
                        self.assertEqual(self.rows(**query)["total"], len(wanted))
                        got = [
                            row
                            for first in range(0, len(wanted), 5)
                            for row in self.rows(**query, first=first, rows=5)["rows"]
                        ]
                        self.assertEqual([row["rank"] for row in got], [row["rank"] for row in wanted])

    def test_find(self):
        self.assertEqual(self.shown(find="/B/0"), ["/b/03", *[f"/b/{n:02}" for n in range(10) if n != 3]])
        self.assertEqual(self.shown(find="page /c", verdict="lost"), PATHS[24:26])
        self.assertEqual(self.shown(find="/a/0", order="address", group="/a", rows=3), PATHS[:3])
        self.assertEqual(self.shown(find="100%"), [])
        self.assertEqual(self.shown(find="_"), [])

    def test_bad_questions(self):
        self.assertEqual(self.api.get(self.path + "checks/pages/rows/", {"first": "x"}).status_code, 400)
        self.assertEqual(self.rows(first=10_000)["rows"], [])
        self.assertEqual(self.api.get(self.path + "pages/99999/").status_code, 404)

    def test_a_pair_opened(self):
        rank = next(row["rank"] for row in self.rows(verdict="altered")["rows"] if "/b/03" in row["left"])
        found = self.api.get(f"{self.path}pages/{rank}/").json()
        self.assertEqual(found["row"]["right_note"].split(",")[0], "“Page /b/03” became “Changed”")
        title = next(field for field in found["fields"] if field["name"] == "title")
        self.assertEqual(
            title, {"name": "title", "kind": "title", "left": "Page /b/03", "right": "Changed", "verdict": "differs"}
        )
        self.assertEqual((found["left"]["status"], found["right"]["status"]), (200, 200))
        lost = self.api.get(f"{self.path}pages/0/").json()
        self.assertEqual((lost["right"]["status"], lost["fields"]), (404, []))

    def test_exports_hold_every_row_and_no_formula(self):
        response = self.api.get(self.path + "checks/pages/export/", {"as": "csv"})
        self.assertIn("text/csv", response["Content-Type"])
        text = "".join(exports.rows(self.outcome(), "csv"))
        rows = list(csv.DictReader(io.StringIO(text)))
        self.assertEqual(len(rows), 38)
        self.assertLessEqual(
            {"source_url", "destination_url", "fate", "detail", "source_status", "destination_status"}, set(rows[0])
        )
        self.assertIn("'=Extra", [row["source_title"] for row in rows])
        self.assertEqual(len(json.loads("".join(exports.rows(self.outcome(), "json")))), 38)

    def test_standing_and_sections(self):
        found = self.api.get(self.path).json()
        self.assertEqual(
            found["standing"]["sentence"],
            "Not ready to switch. 4 pages of /a are not at the destination; 2 pages of /c are not at the destination.",
        )
        (pages,) = [one for one in found["checks"] if one["name"] == "pages"]
        self.assertEqual(sum(one["rows"] for one in pages["groups"]), 38)
        self.assertEqual(sum(one["rows"] for one in found["crossing"]), 38)
        self.assertEqual(sum(one["rows"] for one in pages["verdicts"]), 38)
