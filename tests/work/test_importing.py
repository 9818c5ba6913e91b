"""Captures made of files that a person imports."""

import gzip
import io
import zipfile
from datetime import timedelta
from unittest import mock

from django.core.files.storage import storages
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateEvent, ProcrastinateJob
from warcio.statusandheaders import StatusAndHeaders
from warcio.warcwriter import WARCWriter

from palinode.gather.warc import record
from palinode.records.models import Answer, Body, Capture, Facts, Frontier, Import, Segment
from palinode.work import evidence, read_again
from palinode.work.importing import import_job, page_import
from palinode.work.importing.import_job import ImportRefused
from tests.gather.test_warc import exchange
from tests.rows import counts
from tests.site import Answer as Served
from tests.site import page
from tests.work.base import MoveTestCase

HTML = "text/html; charset=utf-8"


def warc(*pages: tuple[str, str], packed: bool = True, **more: str) -> bytes:
    """Write a WARC file as others do, with the independent library."""
    file = io.BytesIO()
    writer = WARCWriter(file, gzip=packed)
    for address, body in pages:
        head = StatusAndHeaders("200 OK", [("Content-Type", HTML), *more.items()], protocol="HTTP/1.1")
        writer.write_record(
            writer.create_warc_record(address, "response", payload=io.BytesIO(body.encode()), http_headers=head)
        )
    return file.getvalue()


def html(title: str, *links: str) -> str:
    return str(page(title, *links).body)


PAGES = (
    ("http://old.example/", html("Home", "/a", "/b")),
    ("http://old.example/a", html("A")),
    ("http://old.example/b", html("A")),
    ("http://else.example/", html("Else")),
    ("http://old.example/a", html("A again")),
)


class ImportingTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.old, self.new = self.serve({"/": page("Home", "/a", "/b"), "/a": page("A")}, {})
        self.subject = self.move(self.old, self.new)

    def order(self, data: bytes, name: str = "old.warc.gz", which: str = "source") -> Import:
        imported = import_job.order(self.subject, which, io.BytesIO(data), name, self.user)
        import_job.read(imported)
        imported.refresh_from_db()
        return imported

    def assert_nothing_kept(self, files: int = 0):
        for model in (Capture, Answer, Body, Facts, Frontier, Segment):
            self.assertFalse(model.objects.exists(), model)

    def test_a_warc_file_made_elsewhere_is_a_capture(self):
        for packed in (True, False):
            with self.subTest(packed=packed):
                imported = self.order(warc(*PAGES, packed=packed))
                self.assertEqual((imported.state, imported.stored), ("done", ""), imported.said)
                self.assertEqual(
                    imported.said,
                    "3 answers, 1 more of the same addresses left out; 1 of other hosts left out, most of else.example.",
                )
                capture = imported.capture
                self.assertEqual((capture.kind, capture.pages, capture.state), ("copy", 3, "closed"))
                self.assertTrue(capture.judgement["stands"], capture.judgement)
                self.assertEqual(set(self.inventory(capture)), {"/", "/a", "/b"})
                self.assertEqual(read_again.read_again(capture), 3)
        self.assertEqual(self.old.asked, [], "the site was not asked")

    def test_it_is_compared_like_any_other(self):
        self.subject.baseline = self.order(warc(*PAGES)).capture
        self.subject.save()
        self.new.find = {"/": page("Home", "/a", "/b"), "/a": page("A"), "/b": page("B")}.get
        comparison = self.compare(self.subject, self.capture(self.subject, "destination"))
        self.assertEqual([fate for fate, _, number in counts(comparison) if number], ["altered", "kept", "kept"])

    def test_revisits_have_their_body_from_the_record_they_point_to(self):
        first, stored = record.records(exchange(html("A").encode(), "http://old.example/a"), None)
        again, _ = record.records(exchange(html("A").encode(), "http://old.example/b"), stored)
        imported = self.order(first + again)
        self.assertEqual(imported.capture.pages, 2)
        alone = self.order(again)
        self.assertEqual(
            list(Answer.objects.filter(capture=alone.capture).values_list("reason", flat=True)),
            ["its body is not in the file"],
        )

    def test_chunks_and_codings_are_undone(self):
        body = html("Packed").encode()
        packed = gzip.compress(body)
        chunked = b"%x\r\n%b\r\n0\r\n\r\n" % (len(packed), packed)
        head = (
            "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Encoding: gzip\r\nTransfer-Encoding: chunked\r\n\r\n"
        )
        block = head.encode() + chunked
        data = (
            b"WARC/1.0\r\nWARC-Type: response\r\nWARC-Target-URI: <http://old.example/>\r\n"
            b"Content-Length: %d\r\n\r\n%b\r\n\r\n" % (len(block), block)
        )
        imported = self.order(data)
        answer = Answer.objects.get(capture=imported.capture)
        self.assertEqual(evidence.body(self.subject.pk, bytes(answer.body)), body)

    def test_a_zip_of_pages_is_a_capture(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr("old.example/index.html", html("Home", "a.html"))
            archive.writestr("old.example/a.html", html("A"))
            archive.writestr("old.example/i.png", b"\x89PNG")
        imported = self.order(file.getvalue(), "copy.zip")
        capture = imported.capture
        self.assertEqual((imported.kind, capture.pages, capture.files), ("pages", 2, 1), imported.said)
        self.assertEqual(set(self.inventory(capture)), {"/", "/a.html", "/i.png"})

    def samples(self) -> bytes:
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr("old.example/index.html", html("Home", "notes.txt"))
            for name in ("build.py", "notes.txt", "gone.txt"):
                archive.writestr(f"old.example/{name}", "a few words of text")
        return file.getvalue()

    def test_what_only_its_name_makes_a_page_is_what_its_host_calls_it(self):
        self.old.find = {
            "/build.py": Served("x", headers={"Content-Type": "application/octet-stream"}),
            "/notes.txt": Served("x", headers={"Content-Type": "text/plain; charset=utf-8"}),
        }.get
        capture = self.order(self.samples(), "copy.zip").capture
        self.assertEqual((capture.pages, capture.files), (3, 1), "home, notes.txt, and gone.txt by its name")
        self.assertEqual(sorted(self.old.asked), ["/build.py", "/gone.txt", "/notes.txt", "/robots.txt"])
        self.assertFalse(self.inventory(capture)["/build.py"][2])
        read_again.read_again(capture)
        self.assertFalse(self.inventory(capture)["/build.py"][2], "it stays so")

    def test_what_a_capture_has_of_it_is_not_asked_again(self):
        types = {"/build.py": "application/x-sh", "/notes.txt": "text/plain", "/gone.txt": "application/zip"}
        pages = {"/": page("Home", *types)}
        self.old.find = (pages | {path: Served("x", headers={"Content-Type": one}) for path, one in types.items()}).get
        self.capture(self.subject, "source")
        asked = len(self.old.asked)
        capture = self.order(self.samples(), "copy.zip").capture
        self.assertEqual((capture.pages, len(self.old.asked) - asked), (2, 0))

    def test_a_host_that_is_gone_leaves_the_name_to_speak(self):
        self.allow()
        self.assertEqual(self.order(self.samples(), "copy.zip").capture.pages, 4)

    def test_what_cannot_be_read_leaves_nothing(self):
        good = warc(*PAGES)
        zipped = io.BytesIO()
        with zipfile.ZipFile(zipped, "w") as archive:
            archive.writestr("index.html", "H")
            archive.writestr("../x", "")
        wrong = warc(*PAGES, packed=False).replace(b"A again", b"A ogain")
        for data, said in [
            (good[:-40], "byte [0-9,]+: the file breaks off"),
            (good[:900] + b"\0" * 20 + good[920:], "byte [0-9,]+: its compression is broken|digest does not fit"),
            (wrong, "byte [0-9,]+: its (block|payload) digest does not fit"),
            (warc(("http://else.example/", "x")), "no answer of old.example; 1 of other hosts"),
            (zipped.getvalue(), "“../x” would lie outside"),
        ]:
            with self.subTest(said):
                imported = self.order(data, "given.gz")
                self.assertEqual(imported.state, "failed")
                self.assertRegex(imported.said, f"^given.gz: .*{said}")
                self.assert_nothing_kept()
                folder = f"move-{self.subject.pk}"
                left = storages["evidence"].listdir(f"{folder}/imports")[1]
                self.assertEqual(left, [])

    def test_a_failure_of_our_own_is_said_and_not_tried_for_ever(self):
        imported = import_job.order(self.subject, "source", io.BytesIO(warc(*PAGES)), "old.warc.gz", self.user)
        odd = mock.patch.object(page_import.capture_end, "close", side_effect=ZeroDivisionError("odd"))
        with odd, self.assertRaises(ZeroDivisionError):
            import_job.read(imported)
        imported.refresh_from_db()
        self.assertEqual(imported.state, "failed")
        self.assertIn("it could not be read (ZeroDivisionError: odd). Nothing of it was kept.", imported.said)
        self.assert_nothing_kept()
        import_job.take_up()
        self.assertFalse(ProcrastinateJob.objects.filter(task_name=import_job.IMPORT, id__gt=self.jobs()).exists())

    def test_a_reader_that_died_is_followed_by_another(self):
        imported = import_job.order(self.subject, "source", io.BytesIO(warc(*PAGES)), "old.warc.gz", self.user)
        before = self.jobs()
        import_job.take_up()
        self.assertEqual(self.jobs(), before, "nobody began it yet: its job waits")
        ago = timezone.now() - timedelta(hours=1)
        Import.objects.update(seen_at=ago)
        import_job.take_up()
        self.assertEqual(self.jobs(), before, "its job waits, for however long")
        ProcrastinateJob.objects.filter(pk=before).update(status="doing")
        import_job.take_up()
        self.assertEqual(self.jobs(), before, "it was begun right now")
        ProcrastinateEvent.objects.filter(job_id=before).update(at=ago)
        import_job.take_up()
        self.assertGreater(self.jobs(), before, "it was begun, and nobody goes on with it")
        import_job.read(imported)
        imported.refresh_from_db()
        self.assertEqual(imported.state, "done")

    def jobs(self) -> int:
        """Return the number of the last job that reads an import."""
        jobs = ProcrastinateJob.objects.filter(task_name=import_job.IMPORT)
        return max(jobs.values_list("id", flat=True), default=0)

    def test_what_is_no_such_file_is_refused_at_once(self):
        for data, said in [
            (b"", "is empty"),
            (b"<html>", "neither a WARC"),
            (gzip.compress(b"hello"), "neither a WARC"),
        ]:
            with self.subTest(said), self.assertRaisesRegex(ImportRefused, said):
                import_job.order(self.subject, "source", io.BytesIO(data), "x", self.user)
        self.assertFalse(Import.objects.exists())
