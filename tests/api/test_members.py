"""Members: let in, seen by, taken out; a move keeps an owner."""

from palinode.records.models import Membership
from tests.api.base import ApiTestCase


class MembersTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.of_move = f"/api/moves/{self.make_move()['id']}/"
        self.path = self.of_move + "members/"
        self.others = self.client_of(self.other)

    def let_in(self, role: str = "member", client=None, name: str = "baker"):
        return (client or self.api).post(self.path, {"username": name, "role": role}, format="json")

    def test_let_in_and_taken_out(self):
        self.assertEqual(self.others.get(self.of_move).status_code, 404)
        listed = self.let_in().json()
        self.assertEqual([(one["username"], one["role"]) for one in listed], [("miller", "owner"), ("baker", "member")])
        self.assertEqual(self.others.get(self.of_move).json()["role"], "member")
        self.assertEqual(self.others.get("/api/moves/").json()[0]["name"], "Mill")
        self.assertEqual(self.api.delete(f"{self.path}{listed[1]['id']}/").status_code, 204)
        self.assertEqual(self.others.get(self.of_move).status_code, 404)

    def test_a_member_edits_but_lets_nobody_in_and_deletes_nothing(self):
        self.let_in()
        self.assertEqual(self.others.patch(self.of_move, {"name": "Mill 2"}, format="json").status_code, 200)
        self.assertEqual(self.let_in(client=self.others, role="owner").status_code, 403)
        first = Membership.objects.get(user=self.user).pk
        self.assertEqual(self.others.delete(f"{self.path}{first}/").status_code, 403)
        self.assertEqual(self.others.delete(self.of_move, {"name": "Mill 2"}, format="json").status_code, 403)

    def test_a_role_changes_by_letting_in_again(self):
        self.let_in()
        self.assertEqual([one["role"] for one in self.let_in("owner").json()], ["owner", "owner"])
        self.assertEqual(self.others.delete(self.of_move, {"name": "Mill"}, format="json").status_code, 204)

    def test_one_owner_remains(self):
        self.let_in()
        first = Membership.objects.get(user=self.user).pk
        refused = self.api.delete(f"{self.path}{first}/")
        self.assertEqual((refused.status_code, refused.json()["message"]), (409, "A move keeps at least one owner."))
        lowered = self.api.post(self.path, {"username": "miller", "role": "member"}, format="json")
        self.assertEqual(lowered.status_code, 409)
        self.let_in("owner")
        self.assertEqual(self.api.delete(f"{self.path}{first}/").status_code, 204)
        self.assertEqual(self.api.get(self.of_move).status_code, 404)

    def test_faults(self):
        self.assertEqual(self.let_in(name="nobody").json()["fields"]["username"], "There is no account of this name.")
        self.assertIn("role", self.let_in("king").json()["fields"])
        self.assertEqual(self.api.delete(f"{self.path}999999/").status_code, 204)
