"""The answers of a capture through the API: chosen, counted, searched, exported; while it runs as well."""

import csv
import io
import json

from django.db import connection

from palinode.core import address as addresses
from palinode.records import answer_rows, captures, exports
from palinode.records.models import Answer as AnswerRecord
from palinode.records.models import HeaderSet
from palinode.work import read_again
from palinode.work.capturing import seeds
from palinode.work.capturing.policy import Policy
from tests.api.base import ApiTestCase
from tests.site import Answer, page

SITE = {
    "/": page("Home", "/a", "/gone", "/wheel.png", "/old"),
    "/a": page("About the mill"),
    "/gone": Answer(status=404),
    "/wheel.png": Answer(b"\x89PNG", headers={"Content-Type": "image/png"}),
    "/old": Answer(status=301, headers={"Location": "/a"}),
    "/listed": page("Listed alone"),
    "/robots.txt": Answer(
        b"User-agent: *\nDisallow: /x\nSitemap: http://old.example/sitemap.xml", headers={"Content-Type": "text/plain"}
    ),
    "/sitemap.xml": Answer(
        b"<urlset><url><loc>http://old.example/a</loc></url></urlset>", headers={"Content-Type": "application/xml"}
    ),
}


class AnswersTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.old, self.new = self.serve(SITE, {})
        self.of_move = self.move(self.old, self.new)

    def rows(self, capture, **query):
        response = self.api.get(f"/api/captures/{capture.pk}/answers/", query)
        self.assertEqual(response.status_code, 200, response.content)
        return response.json()

    def test_an_error_page_is_shown_with_its_title_and_is_no_page_for_that(self):
        site = {"/": page("Home", "/gone"), "/gone": Answer(page("Nothing here", "/only-there").body, status=404)}
        old, new = self.serve(site, {})
        capture = self.capture(self.move(old, new), "source")
        rows = {row["left"].removeprefix("http://old.example"): row for row in self.rows(capture)["rows"]}
        self.assertEqual((rows["/gone"]["verdict"], rows["/gone"]["left_note"]), ("failed", "Nothing here"))
        self.assertNotIn("/only-there", rows, "what it links to is not asked for")
        self.assertEqual(capture.pages, 1)

    def test_header_fields_are_counted_and_lead_to_the_answers_that_carry_them(self):
        site = dict(SITE)
        site["/a"] = Answer(page("About the mill").body, headers={"X-Frame-Options": "DENY", "ETag": '"1"'})
        site["/b"] = Answer(page("Bread").body, headers={"X-Frame-Options": "DENY", "ETag": '"2"'})
        site["/"] = page("Home", "/a", "/b", "/gone")
        old, new = self.serve(site, {})
        capture = self.capture(self.move(old, new), "source")
        course = self.api.get(f"/api/captures/{capture.pk}/course/").json()
        told = {one["name"]: one for one in course["header_fields"]}
        self.assertEqual(
            told["x-frame-options"],
            {"name": "x-frame-options", "answers": 2, "values": 1, "commonest": "DENY"},
        )
        self.assertNotIn("etag", told)
        self.assertGreater(told["content-type"]["values"], 1)
        found = self.rows(capture, filter="header:x-frame-options")
        self.assertEqual([row["left"] for row in found["rows"]], [f"http://old.example/{name}" for name in "ab"])
        self.assertEqual(found["total"], 2)
        sets = HeaderSet.objects.filter(move=capture.move)
        self.assertLess(sets.count(), AnswerRecord.objects.filter(capture=capture).count(), "sets are shared")
        self.assertFalse(AnswerRecord.objects.filter(capture=capture, status__isnull=False, header_set=None).exists())

        # A capture of before header sets were kept has them after Read again.
        AnswerRecord.objects.filter(capture=capture).update(header_set=None)
        self.assertEqual(self.rows(capture, filter="header:x-frame-options")["total"], 0)
        read_again.read_again(capture)
        self.assertEqual(self.rows(capture, filter="header:x-frame-options")["total"], 2)

    def test_a_section_in_the_database_is_what_it_is_everywhere_else(self):
        texts = [
            f"http://old.example{path}" for path in ("/", "/?p=1", "/a", "/a?x", "/a/b/c", "/%C3%A4/", "/a//b", "//a")
        ]
        texts += ["https://www.old.example/a/b", "http://shop.old.example/", "http://www.shop.old.example/rye/1?x"]
        with connection.cursor() as cursor:
            cursor.execute(
                f"SELECT {answer_rows.SECTION} FROM unnest(%(texts)s::text[]) WITH ORDINALITY d (text, n) ORDER BY n",
                {"texts": texts, "host": "old.example"},
            )
            found = [row[0] for row in cursor.fetchall()]
        self.assertEqual(found, [addresses.section(text, "http://old.example/") for text in texts])

    def paths(self, capture, **query):
        return [row["left"].removeprefix("http://old.example") for row in self.rows(capture, **query)["rows"]]

    def test_everything_that_was_asked_by_what_it_gave(self):
        capture = self.capture(self.of_move, "source")
        found = self.rows(capture)
        self.assertEqual(found["total"], capture.known)
        counts = {word: number for word, number in found["counts"].items() if number}
        self.assertEqual(counts, {"failed": 1, "redirect": 1, "page": 2, "file": 1, "other": 4})
        self.assertEqual({one["word"]: one["rows"] for one in found["verdicts"] if one["rows"]}, counts)
        self.assertEqual(self.paths(capture, verdict="page"), ["/", "/a"])
        self.assertEqual(self.paths(capture, filter="status:404", verdict="failed"), ["/gone"])
        self.assertEqual(self.paths(capture, find="about THE"), ["/a"])
        self.assertEqual(self.paths(capture, first=1, rows=1, verdict="page"), ["/a"])
        (row,) = self.rows(capture, verdict="file")["rows"]
        self.assertEqual((row["right"], row["numbers"]["bytes"], row["numbers"]["status"]), ("200 image/png", 4, 200))
        self.assertIn("linked", row["right_note"])

    def test_what_is_linked_from_nowhere_is_a_list(self):
        data = io.BytesIO(b"http://old.example/listed\nhttp://old.example/a\n")
        data.name = "list.txt"
        self.api.post(f"/api/moves/{self.of_move.pk}/address-lists/", {"side": "source", "file": data})
        capture = self.capture(self.of_move, "source")
        self.assertEqual(self.paths(capture, filter="unlinked"), ["/listed"])
        course = self.api.get(f"/api/captures/{capture.pk}/course/").json()
        self.assertEqual(course["unlinked"]["known"], 1)
        for one in course["known"]:
            self.assertEqual(self.rows(capture, filter=f"by:{one['bit']}")["total"], one["known"], one)
        self.assertEqual(self.rows(capture, filter="pages")["total"], capture.pages)
        self.assertEqual(self.rows(capture, filter="answered")["total"], capture.asked - capture.not_fetched)

    def test_sections_with_their_pages(self):
        capture = self.capture(self.of_move, "source")
        found = self.api.get(f"/api/captures/{capture.pk}/sections/").json()
        self.assertEqual([(one["section"], one["pages"]) for one in found], [("/", 1), ("/a", 1)])
        self.assertEqual(self.paths(capture, filter="section:/a"), ["/a"])

    def test_while_it_runs_what_waits_is_there(self):
        capture = captures.begin(self.of_move, "source", Policy().plain(), {"base": "http://old.example/"})
        from django.db import transaction

        with transaction.atomic():
            seeds.plant(capture)
        found = self.rows(capture)
        self.assertEqual({word: number for word, number in found["counts"].items() if number}, {"waiting": 4})
        self.assertEqual(found["rows"][0]["numbers"], {"status": -1, "bytes": -1, "milliseconds": -1})

    def test_bad_filters_are_said_and_are_no_way_in(self):
        capture = self.capture(self.of_move, "source")
        for chosen in ("nonsense", "status:x", "status:1 OR 1=1", "by:"):
            response = self.api.get(f"/api/captures/{capture.pk}/answers/", {"filter": chosen})
            self.assertEqual(response.status_code, 400, chosen)
            self.assertIn("There is no filter", str(response.json()))
        self.assertEqual(self.rows(capture, filter="reason:' OR true --")["total"], 0)
        self.assertEqual(self.rows(capture, verdict="nonsense")["total"], capture.known)

    def test_exports_hold_every_row(self):
        capture = self.capture(self.of_move, "source")
        rows = list(csv.DictReader(io.StringIO("".join(exports.answers(capture, "csv")))))
        self.assertEqual(len(rows), capture.known)
        self.assertEqual(rows[0]["url"], "http://old.example/")
        self.assertEqual(rows[0]["status"], "200")
        self.assertEqual(len(json.loads("".join(exports.answers(capture, "json")))), capture.known)
        self.assertEqual(sum(answer_rows.counts(capture).values()), capture.known)
