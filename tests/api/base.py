"""What tests of the API share."""

from django.contrib.auth.models import User
from django.core.cache import cache
from rest_framework.test import APIClient

from palinode.records.models import Capture, Comparison, Token
from palinode.work.comparing import comparison_job
from tests.work.base import MoveTestCase

SIDES = {
    "source": {"base": "http://old.example"},
    "destination": {"base": "http://new.example"},
}


class ApiTestCase(MoveTestCase):
    """Two people, one of whom has moves."""

    def setUp(self):
        super().setUp()
        cache.clear()
        self.other = User.objects.create_user("baker", password="bannock-and-rye")
        self.api = self.client_of(self.user)

    def client_of(self, user: User) -> APIClient:
        client = APIClient(enforce_csrf_checks=False)
        client.force_login(user)
        return client

    def with_token(self, user: User) -> APIClient:
        _, text = Token.issue(user, "test")
        client = APIClient()
        client.credentials(HTTP_AUTHORIZATION=f"Bearer {text}")
        return client

    def make_move(self, **more) -> dict:
        response = self.api.post("/api/moves/", {"name": "Mill", **SIDES, **more}, format="json")
        self.assertEqual(response.status_code, 201, response.content)
        return response.json()

    def compared(self, left: dict, right: dict, lines: list[str] | None = None) -> Comparison:
        """Capture both sides and compare them."""
        old, new = self.serve(left, right)
        move = self.move(old, new, lines)
        self.baseline(move)
        self.capture(move, "destination")
        comparison = move.comparisons.get()
        comparison_job.make(comparison)
        comparison.refresh_from_db()
        assert comparison.state == Comparison.State.MADE and comparison.right.state == Capture.State.CLOSED
        return comparison
