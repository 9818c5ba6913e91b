"""Secrets of a side go where they were typed for, whoever changes the move."""

from palinode.gather import client
from palinode.gather.access import Access, Credentials
from palinode.records.models import Membership, Move, Side
from palinode.work import side_access
from tests.api.base import ApiTestCase
from tests.site import page

SECRETS = {"user_name": "miller", "password": "bannock", "cookie": "pass=barley"}
SECRETS |= {"header_name": "X-Key", "header_value": "leat"}


class SecretsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.ours, self.evil = self.serve({"/": page("Mill")}, {"/": page("Evil")})
        self.side = {"base": "http://old.example", "connect_to": f"127.0.0.1:{self.ours.port}"}
        self.destination = {"base": "http://new.example", "connect_to": f"127.0.0.1:{self.evil.port}"}
        made = self.make_move(source=self.side | SECRETS, destination=self.destination)
        self.path, self.number = f"/api/moves/{made['id']}/", made["id"]
        Membership.objects.create(move_id=self.number, user=self.other)
        self.member = self.client_of(self.other)
        self.described = {name: SECRETS[name] for name in ("user_name", "header_name")}

    def kept(self) -> list[str]:
        side = Side.objects.get(move=self.number, which="source")
        return [name for name in Side.SECRETS if getattr(side, name)]

    def ask(self, **changed) -> None:
        source = self.side | self.described | changed
        body = {"source": source, "destination": self.destination, "move": self.number}
        self.assertEqual(self.member.post("/api/who/", body, format="json").status_code, 200)

    def told(self, site) -> set[str]:
        """Return the fields with a secret in them that a site was sent."""
        values = {"Basic bWlsbGVyOmJhbm5vY2s=", SECRETS["cookie"], SECRETS["header_value"]}
        return {name for head in site.headers for name, value in head.items() if value in values}

    def test_who_answers_is_asked_with_what_is_kept(self):
        self.ask()
        self.assertEqual(self.told(self.ours), {"Authorization", "Cookie", "X-Key"})

    def test_who_answers_sends_a_members_own_host_nothing(self):
        to_evil = f"127.0.0.1:{self.evil.port}"
        for changed in (
            {"connect_to": to_evil},
            {"base": "http://evil.example", "connect_to": to_evil},
            {"base": "http://www.old.example", "connect_to": to_evil},
            {"base": f"http://old.example:{self.evil.port}", "connect_to": to_evil},
            {"connect_to": to_evil, "any_certificate": True},
        ):
            with self.subTest(changed):
                self.ask(**changed)
        self.assertTrue(self.evil.headers)
        self.assertEqual(self.told(self.evil), set())

    def test_a_header_of_another_name_does_not_carry_the_value(self):
        self.ask(header_name="X-Other")
        self.assertFalse(any("X-Other" in head for head in self.ours.headers))
        self.assertEqual(self.told(self.ours), {"Authorization", "Cookie"})

    def test_each_change_of_where_it_goes_lets_go_of_it(self):
        all_three = list(Side.SECRETS)
        for changed, left in (
            ({"base": "http://old.example/path"}, all_three),
            ({"user_name": "baker"}, all_three),
            ({"ignore_robots": True}, all_three),
            ({"connect_to": f"127.0.0.1:{self.evil.port}"}, []),
            ({"connect_to": ""}, []),
            ({"base": "https://old.example", "connect_to": "127.0.0.1"}, []),
            ({"base": "http://old.example:8080"}, []),
            ({"base": "http://www.old.example"}, []),
            ({"connect_www": True}, []),
            ({"any_certificate": True}, []),
            ({"sign_in": "digest"}, []),
            ({"secrets_to_www": True}, []),
            ({"header_name": "X-Other"}, ["password", "cookie"]),
        ):
            with self.subTest(changed):
                self.api.patch(self.path, {"source": self.side | SECRETS}, format="json")
                self.assertEqual(self.kept(), all_three)
                answer = self.member.patch(self.path, {"source": self.side | self.described | changed}, format="json")
                self.assertEqual(answer.status_code, 200, answer.content)
                self.assertEqual(self.kept(), left)

    def test_taking_back_the_choice_of_the_certificate_is_a_change_too(self):
        self.api.patch(self.path, {"source": self.side | SECRETS | {"any_certificate": True}}, format="json")
        self.assertEqual(self.kept(), list(Side.SECRETS))
        self.member.patch(self.path, {"source": self.side | self.described}, format="json")
        self.assertEqual(self.kept(), [])

    def test_the_other_side_keeps_its_own(self):
        self.member.patch(self.path, {"destination": {"base": "http://evil.example"}}, format="json")
        self.assertEqual(self.kept(), list(Side.SECRETS))

    def kept_further(self) -> list[str]:
        return [one.cookie for one in Side.objects.get(move=self.number, which="source").further.all()]

    def test_each_further_host_has_its_own(self):
        shop = {"place": 1, "base": "http://shop.old.example", "connect_to": f"127.0.0.1:{self.ours.port}"}
        described = self.side | self.described
        self.api.patch(self.path, {"source": described | {"further": [shop | {"cookie": "shop=oats"}]}}, format="json")
        self.assertEqual((self.kept(), self.kept_further()), (list(Side.SECRETS), ["shop=oats"]))
        shown = self.member.get(self.path).json()["source"]["further"]
        self.assertEqual([(one["place"], one["has_cookie"], "cookie" in one) for one in shown], [(1, True, False)])
        self.member.patch(self.path, {"source": described}, format="json")
        self.assertEqual(self.kept_further(), ["shop=oats"], "what is not given stays")
        self.ask(further=[shop])
        self.assertIn("shop=oats", [head.get("Cookie") for head in self.ours.headers])
        elsewhere = shop | {"connect_to": f"127.0.0.1:{self.evil.port}"}
        self.ask(further=[elsewhere])
        self.assertNotIn("shop=oats", [head.get("Cookie") for head in self.evil.headers])
        self.member.patch(self.path, {"source": described | {"further": [elsewhere]}}, format="json")
        self.assertEqual((self.kept(), self.kept_further()), (list(Side.SECRETS), [""]), "the main host keeps its own")

    def test_a_further_host_of_the_main_ones_name_cannot_lead_it_away(self):
        plain = {"base": "http://old.example"} | self.described
        self.api.patch(self.path, {"source": plain | SECRETS}, format="json")
        self.assertEqual(self.kept(), list(Side.SECRETS))
        other = {"place": 1, "base": "http://old.example:8080", "connect_to": "127.0.0.1"}
        self.member.patch(self.path, {"source": plain | {"further": [other]}}, format="json")
        self.assertEqual(self.kept(), [])

    def test_what_is_kept_is_sent_to_that_scheme_host_and_port_alone(self):
        access = side_access.access(Move.objects.get(pk=self.number).side("source"))
        https = "https://old.example/"
        secure = Access((https,), credentials=(Credentials(https, **SECRETS),))
        twins = Access((https,), credentials=(Credentials(https, to_www=True, **SECRETS),))
        for reached, address, sent in (
            (access, "http://old.example/a", True),
            (access, "https://old.example/", False),
            (access, "http://www.old.example/", False),
            (access, "http://old.example:8080/", False),
            (access, "http://old.example.evil.example/", False),
            (secure, "https://old.example/", True),
            (secure, "http://old.example/", False),
            (secure, "https://www.old.example/", False),
            (twins, "https://www.old.example/", True),
            (twins, "http://www.old.example/", False),
        ):
            with self.subTest(address):
                self.assertEqual(bool(client.secret_fields(reached, address)), sent)
