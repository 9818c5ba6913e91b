"""Getting in: tries are counted, and the first account is made by whoever may."""

from django.contrib.auth.models import User
from django.core.cache import cache
from django.test import TestCase, override_settings
from rest_framework.settings import api_settings
from rest_framework.test import APIClient
from rest_framework.throttling import SimpleRateThrottle

from tests.api.base import ApiTestCase


class Rates:
    """Lets tests say how often something may be tried."""

    def rates(self, **rates: str) -> None:
        cache.clear()
        before = SimpleRateThrottle.THROTTLE_RATES
        SimpleRateThrottle.THROTTLE_RATES = before | rates
        self.addCleanup(setattr, SimpleRateThrottle, "THROTTLE_RATES", before)
        self.addCleanup(cache.clear)


class ThrottlingTest(Rates, TestCase):
    def setUp(self):
        User.objects.create_user("miller", password="tide-and-stone")

    def tries(self, number: int, name=lambda one: "miller", **header) -> list[int]:
        client = APIClient()
        return [
            client.post(
                "/api/session/",
                {"username": name(one), "password": "wrong"},
                format="json",
                **{key: value(one) for key, value in header.items()},
            ).status_code
            for one in range(number)
        ]

    def test_a_header_that_anybody_can_write_counts_for_nothing(self):
        self.rates(sign_in="5/min", sign_in_account="1000/min")
        found = self.tries(40, HTTP_X_FORWARDED_FOR=lambda one: f"203.0.113.{one}")
        self.assertEqual(found, [400] * 5 + [429] * 35)

    def test_behind_proxies_the_header_counts_as_far_as_they_write_it(self):
        self.rates(sign_in="5/min", sign_in_account="1000/min")
        with override_settings(REST_FRAMEWORK={"NUM_PROXIES": 1}):
            api_settings.reload()
            self.addCleanup(api_settings.reload)
            forged = self.tries(8, HTTP_X_FORWARDED_FOR=lambda one: f"198.51.100.{one}, 203.0.113.9")
            others = self.tries(8, HTTP_X_FORWARDED_FOR=lambda one: f"203.0.113.{one}")
        self.assertEqual(forged, [400] * 5 + [429] * 3)
        self.assertEqual(others, [400] * 8)

    def test_an_account_is_guarded_wherever_tries_come_from(self):
        self.rates(sign_in="1000/min", sign_in_account="5/min")
        spelled = ["miller", "MILLER", " miller "]
        found = self.tries(9, name=lambda one: spelled[one % 3], REMOTE_ADDR=lambda one: f"203.0.113.{one}")
        self.assertEqual(found, [400] * 5 + [429] * 4)
        self.assertEqual(self.tries(1, name=lambda one: "baker"), [400], "another account is not shut")

    def test_it_is_said_when_to_try_again(self):
        self.rates(sign_in="1/min", sign_in_account="1000/min")
        client = APIClient()
        for _ in range(2):
            answer = client.post("/api/session/", {"username": "miller", "password": "x"}, format="json")
        self.assertRegex(answer.json()["message"], r"^Too many attempts. Try again in \d+ seconds?\.$")


class OutwardTest(Rates, ApiTestCase):
    def test_what_connects_outward_on_a_click_is_counted_for_each_account(self):
        self.rates(outward="3/min")
        move = self.make_move()
        body = {"source": {"base": "http://old.invalid"}, "destination": {"base": "http://new.invalid"}}
        path = f"/api/moves/{move['id']}/who/"
        found = [self.api.post("/api/who/", body, format="json").status_code for _ in range(2)]
        found += [self.api.post(path, {"address": "/"}, format="json").status_code for _ in range(2)]
        self.assertEqual(found, [200, 200, 200, 429])
        self.assertEqual(self.client_of(self.other).post("/api/who/", body, format="json").status_code, 200)

    def test_checks_that_ask_hosts_are_counted_with_it(self):
        self.rates(outward="1/min")
        path = f"/api/moves/{self.make_move()['id']}/ask/"
        self.assertEqual([self.api.post(path).status_code for _ in range(2)], [409, 429])

    def test_it_does_not_say_to_which_private_address_a_name_leads(self):
        body = {"source": {"base": "http://localhost:5432"}, "destination": {"base": "http://10.1.2.3"}}
        answers = self.api.post("/api/who/", body, format="json").json()
        self.assertIn("private or special network", answers["source"]["fault"])
        self.assertNotIn("127.0.0.1", str(answers))
        self.assertEqual(answers["source"]["reached"], "")


class FirstAccountTest(Rates, TestCase):
    GIVEN = {"username": "miller", "password": "tide-and-stone"}

    def make(self, token: str = "", **extra) -> int:
        given = self.GIVEN | {"setup_token": token}
        return APIClient().post("/api/owner/", given, format="json", **extra).status_code

    def needs(self, **extra) -> bool:
        return APIClient().get("/api/session/", **extra).json()["needs_token"]

    def test_at_the_machine_itself_no_token_is_needed(self):
        with override_settings(ALLOWED_HOSTS=["127.0.0.1", "localhost"]):
            self.assertFalse(self.needs(HTTP_HOST="127.0.0.1:8000"))
            self.assertEqual(self.make(HTTP_HOST="127.0.0.1:8000"), 200)
        self.assertTrue(User.objects.get().is_superuser)

    @override_settings(ALLOWED_HOSTS=["127.0.0.1", "localhost"], PALINODE_SETUP_TOKEN="leat-and-sluice")
    def test_from_elsewhere_it_is(self):
        here = {"HTTP_HOST": "localhost"}
        for extra in (
            {"REMOTE_ADDR": "203.0.113.9"},
            {"HTTP_X_FORWARDED_FOR": "127.0.0.1"},
            {"HTTP_X_REAL_IP": "203.0.113.9"},
            {"HTTP_FORWARDED": "for=203.0.113.9"},
            {"HTTP_ORIGIN": "https://palinode.example"},
            {"SERVER_PROTOCOL": "HTTP/1.0"},
        ):
            with self.subTest(extra):
                self.assertTrue(self.needs(**here, **extra))
                self.assertEqual(self.make(**here, **extra), 400)
                self.assertEqual(self.make("leat", **here, **extra), 400)
        self.assertFalse(User.objects.exists())
        cache.clear()
        self.assertEqual(self.make("leat-and-sluice", REMOTE_ADDR="203.0.113.9", **here), 200)

    def test_where_a_public_name_is_set_up_it_always_is(self):
        for changed in (
            {"ALLOWED_HOSTS": ["localhost", "palinode.example"]},
            {"ALLOWED_HOSTS": ["localhost"], "CSRF_TRUSTED_ORIGINS": ["https://palinode.example"]},
            {"ALLOWED_HOSTS": ["localhost"], "SECURE_COOKIES": True},
        ):
            with self.subTest(changed), override_settings(**changed):
                self.assertTrue(self.needs(HTTP_HOST="localhost"))
                self.assertEqual(self.make(HTTP_HOST="localhost"), 400)
        with override_settings(ALLOWED_HOSTS=["localhost", "palinode.example"], PALINODE_SETUP_TOKEN=""):
            cache.clear()
            self.assertEqual(self.make("", HTTP_HOST="localhost"), 400, "no token is no token that fits")

    def test_tries_are_counted(self):
        self.rates(sign_in="3/min")
        with override_settings(ALLOWED_HOSTS=["localhost", "palinode.example"]):
            found = [self.make("guess", HTTP_HOST="localhost") for _ in range(5)]
        self.assertEqual(found, [400, 400, 400, 429, 429])
