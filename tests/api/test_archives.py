"""Archives over the API: read by a process of its own."""

import io
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile

from palinode.records.models import Move
from palinode.work.importing import archives
from tests.api.base import ApiTestCase
from tests.site import page


class ArchivesTest(ApiTestCase):
    def send(self, data: bytes):
        file = SimpleUploadedFile("mill.zip", data)
        return self.client_of(self.other).post("/api/archives/", {"file": file}, format="multipart")

    def test_imported_by_another_person(self):
        comparison = self.compared({"/": page("Home")}, {"/": page("Home")})
        packed = b"".join(archives.export_move(Move.objects.get(pk=comparison.move_id)))
        answer = self.send(packed)
        self.assertEqual((answer.status_code, answer.json()["role"]), (201, "owner"), answer.content)
        self.assertEqual(self.api.get(f"/api/moves/{answer.json()['id']}/").status_code, 404)

    def test_what_is_none_is_refused_and_said(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as write:
            write.writestr("../x", "")
        for data, said in ((b"no zip", "no archive, or broken"), (file.getvalue(), "“../x” is nothing that")):
            answer = self.send(data)
            self.assertEqual(answer.status_code, 400)
            self.assertIn(said, answer.json()["fields"]["file"])
        self.assertFalse(Move.objects.exists())
