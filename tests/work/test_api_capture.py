"""The public API of a platform asked, kept as a capture, and counted."""

import base64
import json
from urllib.parse import parse_qs, urlsplit

from palinode.core.exports.json_listing import MappingError
from palinode.records.folder import Folder
from palinode.records.models import ApiSignIn, Capture, Import, Move
from palinode.work.importing import import_job, json_mappings
from palinode.work.importing.import_job import ImportRefused
from tests.rows import rows
from tests.site import Answer, page
from tests.work.base import MoveTestCase

JSON = {"Content-Type": "application/json"}


def platform(posts: int, wp_json: bool = True, gone: tuple[int, ...] = ()):
    """Return a host with a public API of so many posts, in pages as they are asked for."""
    items = [
        {"id": n, "date": "2020-03-04T05:06:07", "slug": f"tide-{n}", "status": "publish", "type": "post",
         "title": {"rendered": f"Tide &amp; time {n}"}, "author": 1, "parent": 0, "link": f"http://old.example/2020/tide-{n}/"}
        for n in range(1, posts + 1) if n not in gone
    ]  # fmt: skip
    routes = {
        "/": {"name": "Mill", "url": "http://old.example", "home": "http://old.example", "routes": {}},
        "/wp/v2/types": {"post": {"rest_base": "posts"}, "wp_block": {"rest_base": "blocks"}},
        "/wp/v2/taxonomies": {"category": {"rest_base": "categories"}},
        "/wp/v2/posts": items,
        "/wp/v2/categories": [
            {"id": 1, "taxonomy": "category", "name": "News", "slug": "news", "parent": 0, "link": ""}
        ],
        "/wp/v2/comments": [
            {"id": 4, "status": "approved", "author_name": "A", "date": "2020-01-01T00:00:00", "post": 1}
        ],
    }

    def find(path: str) -> Answer | None:
        parts = urlsplit(path)
        query = {name: values[0] for name, values in parse_qs(parts.query).items()}
        route = parts.path.removeprefix("/wp-json") if wp_json else query.get("rest_route", "")
        if path == "/" or not (parts.path.startswith("/wp-json") if wp_json else route):
            return page("Home") if path == "/" else None
        if route == "/wp/v2/users":
            return Answer('{"code": "rest_user_cannot_view", "message": "No."}', 401, JSON)
        found = routes.get(route)
        if found is None:
            return None
        total, first = len(found), (int(query.get("page", 1)) - 1) * 100
        pages = {"X-WP-Total": str(total), "X-WP-TotalPages": str(-(-total // 100))} if isinstance(found, list) else {}
        data = found[first : first + 100] if isinstance(found, list) else found
        return Answer(json.dumps(data), 200, JSON | pages)

    return find


class ApiCaptureTest(MoveTestCase):
    def asked(self, which: str) -> Import:
        made = import_job.order_api(self.subject, which, self.user)
        import_job.read(made)
        made.refresh_from_db()
        return made

    def test_both_sides_are_asked_and_counted(self):
        self.old, self.new = self.serve(platform(230), platform(230, wp_json=False, gone=(7, 8)))
        self.subject = self.move(self.old, self.new)
        self.baseline(self.subject)
        right = self.capture(self.subject, "destination")
        made = self.asked("source")
        self.assertEqual((made.state, made.kind), ("done", "api"), made.said)
        self.assertIn("232 items; not shown: /wp/v2/users.", made.said)
        self.assertEqual(sum("wp/v2/posts" in one for one in self.old.asked), 3)
        with Folder(self.subject.pk).open(made.capture.file.stored) as file:
            self.assertEqual(json.loads(file.readline())["form"], "answers of an API")
        self.asked("destination")
        found = {row["left_note"]: row for row in rows(self.compare(self.subject, right), "content")}
        self.assertEqual(found["Posts, published"]["right_note"], "2 missing: “Tide & time 7”, “Tide & time 8”")
        self.assertEqual((found["Categories"]["verdict"], found["Comments, approved"]["verdict"]), ("same", "same"))

    def test_any_listing_by_a_mapping(self):
        def shop(products: int):
            rows = [{"sku": f"P{n}", "name": {"en": f"Rye {n}"}, "state": "live"} for n in range(1, products + 1)]

            def find(path: str) -> Answer | None:
                parts = urlsplit(path)
                if parts.path == "/":
                    return page("Home")
                if parts.path == "/api/products":
                    at = (int(parse_qs(parts.query).get("page", ["1"])[0]) - 1) * 2
                    return Answer(json.dumps({"data": {"items": rows[at : at + 2]}}), 200, JSON)
                return None

            return find

        self.old, self.new = self.serve(shop(5), shop(4))
        self.subject = self.move(self.old, self.new)
        self.baseline(self.subject)
        right = self.capture(self.subject, "destination")
        given = {"noun": "product", "address": "api/products", "items": "data.items", "identity": "sku", "title": "name.en",
                 "status": "state", "page": "page"}  # fmt: skip
        tried = json_mappings.attempt(self.subject, "source", json_mappings.read(given))
        self.assertEqual((len(tried.entries), tried.more), (2, True))
        self.assertEqual(tried.entries[0], {"identity": "P1", "title": "Rye 1", "status": "live", "type": "product"})
        for change, field in (
            ({"items": "data"}, "items"), ({"identity": "id"}, "identity"), ({"noun": ""}, "noun"),
            ({"address": "http://elsewhere.example/x"}, "address"),
        ):  # fmt: skip
            with self.assertRaises(MappingError) as raised:
                json_mappings.attempt(self.subject, "source", json_mappings.read(given | change))
            self.assertEqual(raised.exception.field, field)
        json_mappings.keep(self.subject, [json_mappings.read(given)])
        for which in ("source", "destination"):
            self.assertEqual(self.asked(which).state, "done")
        found = {row["left_note"]: row for row in rows(self.compare(self.subject, right), "content")}
        self.assertEqual((found["Products, live"]["left"], found["Products, live"]["right"]), ("5", "4"))
        self.assertEqual(found["Products, live"]["right_note"], "1 missing: “Rye 5”")

    def test_an_application_password(self):
        """What is hidden is asked for with it; it is sent to this side alone, and forgotten."""
        shown = platform(3)
        told = "Basic " + base64.b64encode(b"anna:abcd EFGH").decode()
        asked: list[tuple[str, str]] = []

        def find(path: str) -> Answer | None:
            sent = self.old.headers[-1].get("Authorization", "")
            asked.append((path, sent))
            if "context=edit" in path and sent != told:
                return Answer('{"message": "You are not logged in."}', 401, JSON)
            if "/users/me" in path:
                return Answer('{"id": 1}', 200, JSON)
            return shown(path)

        self.old, self.new = self.serve(find, {"/": page("Home")})
        self.subject = self.move(self.old, self.new)
        made = import_job.order_api(self.subject, "source", self.user, "anna", "abcd EFGH")
        self.assertEqual(ApiSignIn.objects.get().password, "abcd EFGH")
        import_job.read(made)
        made.refresh_from_db()
        self.assertEqual(made.state, "done", made.said)
        self.assertEqual({sent for _, sent in asked}, {told})
        self.assertTrue(any("wp/v2/posts" in path and "status=any" in path for path, _ in asked))
        self.assertFalse(ApiSignIn.objects.exists())
        wrong = import_job.order_api(self.subject, "source", self.user, "anna", "wrong")
        import_job.read(wrong)
        wrong.refresh_from_db()
        self.assertIn("answers 401, “You are not logged in.”", wrong.said)
        # A side that was described anew meanwhile may be another's host.
        late = import_job.order_api(self.subject, "source", self.user, "anna", "abcd EFGH")
        side = self.subject.side("source")
        side.base = "http://elsewhere.example/"
        side.save()
        before = len(asked)
        import_job.read(Import.objects.get(pk=late.pk))
        late.refresh_from_db()
        self.assertIn("described anew since the password was typed", late.said)
        self.assertEqual((len(asked), ApiSignIn.objects.exists()), (before, False))
        side.user_name = "keeper"
        side.save()
        with self.assertRaisesRegex(ImportRefused, "a request carries one of them only"):
            import_job.order_api(Move.objects.get(pk=self.subject.pk), "source", self.user, "anna", "abcd EFGH")
        self.assertFalse(Import.objects.filter(state="waiting").exists())

    def test_a_site_without_one_says_so(self):
        self.old, self.new = self.serve({"/": page("Home")}, {"/": page("Home")})
        self.subject = self.move(self.old, self.new)
        made = self.asked("source")
        self.assertEqual(made.state, "failed")
        self.assertIn("There is no public API of WordPress", made.said)
        self.assertEqual((Folder(self.subject.pk).names(), Capture.objects.count()), ([], 0))
        import_job.order_api(self.subject, "source", self.user)
        with self.assertRaisesRegex(ImportRefused, "is being asked already"):
            import_job.order_api(self.subject, "source", self.user)
