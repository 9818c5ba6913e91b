"""Every endpoint is walked: nobody without an account, and nobody else's moves."""

import io
import re

from django.urls import get_resolver
from rest_framework.test import APIClient

from palinode.records import decisions
from palinode.work.importing import import_job
from tests.api.base import ApiTestCase
from tests.site import page
from tests.work.test_site_file_import import DUMP, LISTING

OPEN = {"schema/", "session/", "owner/"}
"""Routes that need no account; session says only who is signed in."""
NOT_OF_A_MOVE = {
    "capture-options/",
    "account/",
    "users/",
    "tokens/",
    "tokens/<int:pk>/",
    "rule/",
    "scheme/",
    "who/",
    "moves/",
    "archives/",
}


def routes() -> list[str]:
    """Return the patterns of all routes of the API."""
    api = next(one for one in get_resolver().url_patterns if str(one.pattern) == "api/")
    return [str(one.pattern) for one in api.url_patterns]


class PermissionsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.comparison = self.compared({"/": page("Home", "/a"), "/a": page("A")}, {"/": page("Home")})
        self.of_move = self.comparison.move
        self.membership = self.of_move.memberships.get()
        self.imported = import_job.order(self.of_move, "source", io.BytesIO(LISTING), "files.txt", self.user)
        import_job.read(self.imported)
        self.imported.refresh_from_db()
        self.listing = self.imported.capture
        dumped = import_job.order(self.of_move, "source", io.BytesIO(DUMP), "site.sql", self.user)
        import_job.read(dumped)
        dumped.refresh_from_db()
        self.dump = dumped.capture
        self.decision = decisions.decide(self.of_move, "retire", {"address": "http://old.example/a"}, "over", self.user)

    def paths(self) -> list[tuple[str, str]]:
        """Return each route with a path that leads to something that is there."""
        found = []
        for route in routes():
            pk = self.of_move.pk
            if route in ("captures/<int:pk>/contents/", "captures/<int:pk>/file/"):
                pk = self.listing.pk
            elif route.endswith(("/dry-run/", "/replaced/", "/replacement-statements/")):
                pk = self.dump.pk
            elif route.startswith("captures/"):
                pk = self.comparison.left_id
            elif route.startswith("comparisons/"):
                pk = self.comparison.pk
            elif route.startswith("decisions/"):
                pk = self.decision.pk
            path = route.replace("<int:pk>", str(pk)).replace("<int:rank>", "0").replace("<str:check>", "pages")
            number = 0 if "findings" in route else self.comparison.left.segments.first().number
            path = path.replace("<int:number>", str(number)).replace("<int:member>", str(self.membership.pk))
            path = path.replace("<str:side>", "source").replace("<int:imported>", str(self.imported.pk))
            self.assertIsNone(re.search("[<>]", path), f"give a value for {route}")
            found.append((route, f"/api/{path}"))
        return found

    def test_without_an_account_nothing_is_seen_or_done(self):
        for route, path in self.paths():
            for method in ("get", "post", "patch", "delete", "put"):
                with self.subTest(route, method=method):
                    response = getattr(APIClient(), method)(path, {}, format="json")
                    if route in OPEN:
                        self.assertNotEqual(response.status_code, 500)
                    else:
                        self.assertIn(response.status_code, (401, 403))

    def test_another_person_sees_nothing(self):
        for client in (self.client_of(self.other), self.with_token(self.other)):
            for route, path in self.paths():
                if route in OPEN | NOT_OF_A_MOVE:
                    continue
                for method in ("get", "post", "patch", "delete"):
                    with self.subTest(route, method=method):
                        response = getattr(client, method)(path, {}, format="json")
                        self.assertIn(response.status_code, (404, 405), response.content)
        self.assertEqual(self.client_of(self.other).get("/api/moves/").json(), [])
        self.of_move.refresh_from_db()
        self.assertEqual(self.of_move.decisions.count(), 1)

    def test_members_see_what_is_there(self):
        for client in (self.api, self.with_token(self.user)):
            for route, path in self.paths():
                response = client.get(path)
                with self.subTest(route):
                    self.assertIn(response.status_code, (200, 405, 409))
                    if response.streaming:
                        list(response)

    def test_a_member_who_is_no_owner_cannot_delete_or_let_in(self):
        self.api.post(f"/api/moves/{self.of_move.pk}/members/", {"username": "baker"}, format="json")
        client = self.client_of(self.other)
        path = f"/api/moves/{self.of_move.pk}/"
        self.assertEqual(client.get(path).json()["role"], "member")
        self.assertEqual(client.delete(path, {"name": "Mill"}, format="json").status_code, 403)
        self.assertEqual(client.post(path + "members/", {"username": "baker"}, format="json").status_code, 403)
        self.assertEqual(self.api.delete(f"{path}members/{self.membership.pk}/").status_code, 409)

    def test_a_wrong_token_is_refused(self):
        client = APIClient()
        client.credentials(HTTP_AUTHORIZATION="Bearer palinode_wrong")
        self.assertEqual(client.get("/api/moves/").status_code, 401)

    def test_sessions_need_the_csrf_token(self):
        client = APIClient(enforce_csrf_checks=True)
        client.force_login(self.user)
        self.assertEqual(client.post("/api/moves/", {}, format="json").status_code, 403)
