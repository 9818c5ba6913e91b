"""Lists imported through the API and the interface's own way of sending a file."""

from django.core.files.uploadedfile import SimpleUploadedFile

from palinode.records.models import Address, FurtherHost, Move
from tests.api.base import ApiTestCase


class AddressListsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.path = f"/api/moves/{self.make_move()['id']}/address-lists/"

    def send(self, data: bytes, side: str = "source", **more):
        body = {"side": side, "file": SimpleUploadedFile("pages.csv", data), **more}
        return self.api.post(self.path, body, format="multipart")

    def test_a_log_of_a_further_host(self):
        move = Move.objects.get()
        FurtherHost.objects.create(side=move.side("source"), place=1, base="http://shop.old.example/")
        line = b'203.0.113.9 - - [01/May/2026:12:00:00 +0000] "GET /rye HTTP/1.1" 200 5\n'
        made = self.send(2 * line, host="shop.old.example").json()
        self.assertEqual((made["new"], made["logged"], made["visits"]), (1, 2, 2))
        self.assertTrue(Address.objects.filter(move=move, text="http://shop.old.example/rye").exists())
        refused = self.send(line, host="els.example").json()["fields"]["host"]
        self.assertEqual(refused, "The side has no host els.example. It has old.example, shop.old.example.")

    def test_imported_counted_and_let_go(self):
        made = self.send(b"Page,Clicks\nhttp://old.example/a,4\nhttp://other.example/b,1\nx,1\n/c,9")
        self.assertEqual(made.status_code, 201, made.content)
        self.assertEqual(
            made.json(),
            {"new": 2, "lines": 5, "listed": 2, "logged": 0, "visits": 0, "elsewhere": 1, "failed": 0, "unread": 1,
             "examples": ["line 4: x,1"]},
        )  # fmt: skip
        self.assertEqual(self.api.get(self.path).json(), {"source": 2, "destination": 0})
        self.assertEqual(self.api.delete(f"{self.path}source/").status_code, 204)
        self.assertEqual(self.api.get(self.path).json(), {"source": 0, "destination": 0})

    def test_faults_stand_beside_their_fields(self):
        for data, side, field, said in [
            (b"", "source", "file", "pages.csv is empty."),
            (b"nothing here", "source", "file", "names an address of this side"),
            (b"/a", "middle", "side", "not a valid choice"),
        ]:
            with self.subTest(said):
                refused = self.send(data, side)
                self.assertEqual(refused.status_code, 400)
                self.assertIn(said, str(refused.json()["fields"][field]))
        self.assertIn("file", self.api.post(self.path, {"side": "source"}, format="multipart").json()["fields"])
