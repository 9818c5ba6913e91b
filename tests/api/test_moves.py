"""Moves described, edited, deleted; accounts and tokens; the rule tried out."""

import os

from django.contrib.auth.models import User
from django.core.files.storage import storages
from django.db import connection
from django.test import override_settings
from rest_framework.test import APIClient

from palinode.records.models import Address, Answer, Facts, Move, Segment, Side
from palinode.work import move_deletion
from tests.api.base import SIDES, ApiTestCase
from tests.site import page


class MovesTest(ApiTestCase):
    def test_further_hosts(self):
        hosts = [{"place": 2, "base": "http://shop.old.example"}, {"place": 1, "base": "http://media.old.example"}]
        new = [{"place": 2, "base": "http://shop.new.example"}]
        made = self.make_move(
            source={"base": "http://old.example", "further": hosts},
            destination={"base": "http://new.example", "further": new},
        )
        lines = ["http://old.example/ -> http://new.example/", "http://shop.old.example/ -> http://shop.new.example/"]
        self.assertEqual(made["rule"].splitlines(), lines, "a host that none faces needs no line")
        self.assertEqual(
            [(one["place"], one["base"]) for one in made["source"]["further"]],
            [(1, "http://media.old.example/"), (2, "http://shop.old.example/")],
        )
        path = f"/api/moves/{made['id']}/"
        for further, field, said in (
            ([{"place": 1, "base": "http://www.old.example/shop"}], "source.further.0.base", "named already"),
            ([hosts[0], {"place": 3, "base": "http://shop.old.example"}], "source.further.1.base", "named already"),
            ([hosts[0], hosts[1] | {"place": 2}], "source.further.1.place", "has this place"),
            ([{"place": 1, "base": "shop"}], "source.further.0.base", "scheme is missing"),
            ([{"place": 0, "base": "http://shop.old.example"}], "source.further.0.place", "greater than or equal"),
        ):
            with self.subTest(field):
                body = {"source": {"base": "http://old.example", "further": further}}
                response = self.api.patch(path, body, format="json")
                self.assertEqual(response.status_code, 400)
                self.assertIn(said, response.json()["fields"][field])
        body = {"source": {"base": "http://old.example", "further": hosts[1:]}}
        self.assertEqual(len(self.api.patch(path, body, format="json").json()["source"]["further"]), 1)

    def test_a_line_is_offered_for_a_further_host_until_the_rule_has_one(self):
        asked = {"source": "http://old.example", "destination": "http://new.example"}
        asked["further"] = [{"source": "http://shop.old.example", "destination": "http://shop.new.example"}]
        found = self.api.post("/api/rule/", asked, format="json").json()
        line = "http://shop.old.example/ -> http://shop.new.example/"
        self.assertEqual((found["derived"], found["added"]), ("http://old.example/ -> http://new.example/", [line]))
        own = f"{found['derived']}\nhttp://shop.old.example/ -> http://new.example/store/"
        found = self.api.post(
            "/api/rule/", asked | {"rule": own, "addresses": ["http://shop.old.example/a"]}, format="json"
        )
        self.assertEqual(found.json()["added"], [])
        self.assertEqual(found.json()["worked"][0]["expected"], "http://new.example/store/a")

    def test_a_name_and_two_addresses_are_enough(self):
        made = self.make_move()
        self.assertEqual((made["kind"], made["stage"], made["role"]), ("name", "baseline", "owner"))
        self.assertEqual(made["rule"], "http://old.example/ -> http://new.example/")
        self.assertEqual(made["source"]["base"], "http://old.example/")
        listed = self.api.get("/api/moves/").json()
        self.assertEqual(listed[0]["sentence"], "No baseline yet. Capture the source first.")

    def test_faults_stand_beside_their_fields(self):
        for given, field, said in [
            ({"name": ""}, "name", "blank"),
            ({"source": {"base": "old.example"}}, "source.base", "The scheme is missing. Is it https://old.example ?"),
            ({"source": {"base": "http://a b.example"}}, "source.base", "no blanks"),
            ({"source": {"base": "ftp://a.example"}}, "source.base", "not an address of a website"),
            ({"source": {"base": "http://u:p@a.example"}}, "source.base", "user name and password"),
            (
                {"destination": {"base": "http://b.example", "connect_to": "1:2:3"}},
                "destination.connect_to",
                "brackets",
            ),
            ({"rule": "http://a.example/ -> http://b.example/\nx"}, "rule", "Line 2"),
        ]:
            with self.subTest(field, said=said):
                response = self.api.post("/api/moves/", {"name": "Mill", **SIDES} | given, format="json")
                self.assertEqual(response.status_code, 400)
                self.assertIn(said, response.json()["fields"][field])
        self.assertFalse(Move.objects.exists())

    def test_other_scripts_become_host_names(self):
        made = self.make_move(source={"base": "http://Mühle.example/Käse"})
        self.assertEqual(made["source"]["base"], "http://xn--mhle-0ra.example/K%C3%A4se")

    def test_passwords_are_encrypted_never_shown_and_bound_to_their_host(self):
        made = self.make_move(source={"base": "http://old.example", "user_name": "u", "password": "bannock"})
        self.assertTrue(made["source"]["has_password"])
        self.assertNotIn("bannock", str(made))
        with connection.cursor() as cursor:
            cursor.execute("SELECT password FROM records_side WHERE which = 'source'")
            self.assertNotIn("bannock", cursor.fetchone()[0])
        self.assertEqual(Side.objects.get(which="source").password, "bannock")
        path = f"/api/moves/{made['id']}/"
        self.api.patch(path, {"source": {"base": "http://old.example/x", "user_name": "u"}}, format="json")
        self.assertEqual(Side.objects.get(which="source").password, "bannock")
        self.api.patch(path, {"source": {"base": "http://evil.example/", "user_name": "u"}}, format="json")
        self.assertEqual(Side.objects.get(which="source").password, "")

    def test_each_secret_is_bound_to_the_host_that_is_reached(self):
        side = {"base": "http://new.example", "cookie": "pass=barley", "header_name": "X-Key", "header_value": "leat"}
        rule = "http://old.example/ -> http://new.example/"
        made = self.make_move(destination=side, rule=f"{rule}\nhttp://new.example/ at http://stage.example/~mill/")
        self.assertEqual((made["destination"]["has_cookie"], made["destination"]["has_header_value"]), (True, True))
        self.assertNotRegex(str(made), "barley|leat")
        path = f"/api/moves/{made['id']}/"

        def kept() -> tuple[str, str]:
            side = Side.objects.get(which="destination")
            return side.cookie, side.header_value

        self.api.patch(path, {"rule": f"{rule}\nhttp://new.example/ at http://stage.example/other/"}, format="json")
        self.assertEqual(kept(), ("pass=barley", "leat"), "the same host")
        self.api.patch(path, {"rule": f"{rule}\nhttp://new.example/ at http://evil.example/"}, format="json")
        self.assertEqual(kept(), ("", ""))

    def test_what_cannot_stand_in_a_header(self):
        for field, value, said in [
            ("cookie", "a=b\r\nX: y", "one line"),
            ("header_name", "X Key", "letters, digits"),
            ("header_name", "Host", "sends this field itself"),
        ]:
            with self.subTest(field):
                side = {"base": "http://old.example", field: value}
                refused = self.api.post("/api/moves/", {"name": "M", **SIDES, "source": side}, format="json")
                self.assertEqual(refused.status_code, 400)
                self.assertIn(said, str(refused.json()["fields"][f"source.{field}"]))

    def test_who_answers_for_any_address_on_both_sides(self):
        old, new = self.serve({"/shop/rye": page("Old rye")}, {"/store/rye": page("New rye")})
        move = self.move(old, new, ["/shop/ -> /store/"])
        path = f"/api/moves/{move.pk}/who/"
        answers = self.api.post(path, {"address": "/shop/rye"}, format="json").json()
        self.assertEqual(
            [(answers[side]["address"], answers[side]["title"]) for side in ("source", "destination")],
            [("http://old.example/shop/rye", "Old rye"), ("http://new.example/store/rye", "New rye")],
        )
        refused = self.api.post(path, {"address": "http://else.example/"}, format="json")
        self.assertIn("an address of http://old.example/", str(refused.json()["fields"]["address"]))

    def test_overrides_are_recorded_with_who_said_so(self):
        made = self.make_move(source={"base": "http://old.example", "any_certificate": True, "ignore_robots": True})
        move = Move.objects.get(pk=made["id"])
        self.assertEqual(
            {(d.scope["what"], d.author.username) for d in move.decisions.all()},
            {("certificate", "miller"), ("robots", "miller")},
        )
        shown = self.api.patch(
            f"/api/moves/{move.pk}/", {"source": {"base": "http://old.example"}}, format="json"
        ).json()
        self.assertFalse(shown["source"]["any_certificate"])
        self.assertEqual(move.decisions.count(), 4, "taken back, and still on record")

    def test_edited_stage_kind_and_rule(self):
        made = self.make_move()
        path = f"/api/moves/{made['id']}/"
        self.assertEqual(self.api.patch(path, {"stage": "switch"}, format="json").json()["stage"], "switch")
        self.assertEqual(self.api.patch(path, {"kind": "restore"}, format="json").json()["kind"], "restore")
        rule = "http://old.example/ -> http://new.example/\n/a -> /b"
        self.assertEqual(self.api.patch(path, {"rule": rule}, format="json").json()["rule"], rule)
        self.assertEqual(self.api.patch(path, {"stage": "party"}, format="json").status_code, 400)

    def test_deleted_with_all_its_evidence_after_its_name_is_typed(self):
        move = self.compared({"/": page("Home")}, {"/": page("Home")}).move
        names = [segment.name for segment in Segment.objects.all()]
        path = f"/api/moves/{move.pk}/"
        response = self.api.delete(path, {"name": "Mil"}, format="json")
        self.assertEqual((response.status_code, Move.objects.count()), (400, 1))
        self.assertEqual(self.api.delete(path, {"name": "Mill"}, format="json").status_code, 204)
        # It is gone at once for everybody, and its rows and files as the job that was ordered is done.
        self.assertEqual(self.api.get(path).status_code, 404)
        self.assertEqual(self.api.get("/api/moves/").json(), [])
        self.assertEqual(Move.objects.count(), 0)
        move_deletion.forget(move.pk)
        for model in (Move, Answer, Facts, Address, Segment):
            self.assertEqual(model.objects.count(), 0, model)
        for name in names:
            self.assertFalse(os.path.exists(storages["evidence"].path(name)))

    def test_only_a_closed_capture_of_the_source_becomes_the_baseline(self):
        comparison = self.compared({"/": page("Home")}, {"/": page("Home")})
        path = f"/api/moves/{comparison.move_id}/"
        response = self.api.patch(path, {"baseline": comparison.right_id}, format="json")
        self.assertIn("closed capture of the source", response.json()["fields"]["baseline"])


class AccountTest(ApiTestCase):
    @override_settings(ALLOWED_HOSTS=["localhost"])
    def test_first_visit_makes_the_owner_and_nobody_after(self):
        User.objects.all().delete()
        client = APIClient(HTTP_HOST="localhost")
        found = {"user": None, "first_visit": True, "needs_token": False}
        self.assertEqual(client.get("/api/session/").json(), found)
        weak = client.post("/api/owner/", {"username": "owner", "password": "short"}, format="json")
        self.assertIn("password", weak.json()["fields"])
        made = client.post("/api/owner/", {"username": "owner", "password": "tide-and-stone"}, format="json")
        self.assertEqual(made.json()["user"]["username"], "owner")
        again = APIClient(HTTP_HOST="localhost").post(
            "/api/owner/", {"username": "second", "password": "tide-and-stone"}, format="json"
        )
        self.assertEqual(again.status_code, 409)

    def test_signing_in_and_out(self):
        client = APIClient()
        refused = client.post("/api/session/", {"username": "miller", "password": "wrong"}, format="json")
        self.assertEqual(refused.json()["message"], "This name and password do not belong together.")
        client.post("/api/session/", {"username": "miller", "password": "tide-and-stone"}, format="json")
        self.assertEqual(client.get("/api/session/").json()["user"]["username"], "miller")
        client.delete("/api/session/")
        self.assertIsNone(client.get("/api/session/").json()["user"])

    def test_password_and_tokens(self):
        change = {"old": "wrong", "new": "another-long-one"}
        self.assertIn("old", self.api.patch("/api/account/", change, format="json").json()["fields"])
        change["old"] = "tide-and-stone"
        self.assertEqual(self.api.patch("/api/account/", change, format="json").status_code, 204)
        made = self.api.post("/api/tokens/", {"name": "nightly"}, format="json").json()
        client = APIClient()
        client.credentials(HTTP_AUTHORIZATION=f"Bearer {made['text']}")
        self.assertEqual(client.get("/api/moves/").status_code, 200)
        self.assertNotIn("text", self.api.get("/api/tokens/").json()[0])
        self.api.delete(f"/api/tokens/{made['id']}/")
        self.assertEqual(client.get("/api/moves/").status_code, 401)

    def test_only_the_owner_of_the_installation_makes_accounts(self):
        given = {"username": "guide", "password": "swift-counter"}
        self.assertEqual(self.api.post("/api/users/", given, format="json").status_code, 403)
        User.objects.filter(pk=self.user.pk).update(is_superuser=True)
        self.assertEqual(self.api.post("/api/users/", given, format="json").status_code, 204)
        self.assertIn("already", self.api.post("/api/users/", given, format="json").json()["fields"]["username"])


class DescribingTest(ApiTestCase):
    def test_the_rule_tried_out(self):
        asked = {
            "source": "http://old.example", "destination": "https://new.example",
            "rule": "http://old.example/ -> https://new.example/\n/shop -> /store",
            "addresses": ["/shop/rye", "http://www.old.example/a", "ftp://x", ""],
        }  # fmt: skip
        tried = self.api.post("/api/rule/", asked, format="json").json()
        self.assertEqual((tried["kind"], tried["faults"]), ("name", {}))
        one, two, wrong, empty = tried["worked"]
        self.assertEqual((one["expected"], one["line"], one["moves"]), ("https://new.example/store/rye", 2, True))
        self.assertEqual(
            (two["expected"], two["notes"], two["moves"]), ("https://new.example/a", ["www folded"], False)
        )
        self.assertIn("not an address of a website", wrong["fault"])
        self.assertIsNone(empty["expected"])

    def test_faults_while_typing(self):
        tried = self.api.post("/api/rule/", {"source": "old", "destination": "", "rule": "x"}, format="json").json()
        self.assertEqual(set(tried["faults"]), {"source", "rule"})

    def test_an_address_without_a_scheme_is_asked_at_https_then_http(self):
        old, _ = self.serve({"/": page("Mill")}, {})
        body = {"address": "old.example", "connect_to": f"127.0.0.1:{old.port}"}
        found = self.api.post("/api/scheme/", body, format="json").json()
        self.assertEqual(found["address"], "http://old.example/")
        self.assertIn("https does not answer", found["said"])
        self.assertIn("http answers with 200, and was taken.", found["said"])
        self.allow()
        found = self.api.post("/api/scheme/", body, format="json").json()
        self.assertEqual(found["address"], "")
        self.assertIn("private or special network", found["said"])
        for wrong in ({"address": "a b"}, {"address": "mill.example", "connect_to": "nowhere:x"}):
            self.assertEqual(self.api.post("/api/scheme/", wrong, format="json").status_code, 400, wrong)

    def test_who_answers_on_both_sides(self):
        old, new = self.serve({"/": page("Mill", "/a")}, {"/": page("Mill")})
        sides = {
            which: {"base": f"http://{which}.example", "connect_to": f"127.0.0.1:{site.port}"}
            for which, site in (("source", old), ("destination", new))
        }
        found = self.api.post("/api/who/", sides, format="json").json()
        self.assertEqual((found["source"]["status"], found["source"]["title"]), (200, "Mill"))
        self.assertEqual((found["remark"], found["same_site"]), ("Two hosts, same title.", False))
        sides["destination"]["connect_to"] = sides["source"]["connect_to"]
        found = self.api.post("/api/who/", sides, format="json").json()
        self.assertTrue(found["same_site"])
        self.allow()
        found = self.api.post("/api/who/", sides, format="json").json()
        self.assertIn("private or special network", found["source"]["fault"])
