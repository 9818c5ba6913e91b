"""Captures made of site files: dumps, exports, lists of files."""

import gzip
import io
import tarfile
import zipfile
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.core.files.storage import storages

from palinode.core.exports import rest, typed_numbers
from palinode.core.site_contents import SiteContents
from palinode.records import contents_files
from palinode.records.folder import Folder
from palinode.records.models import Capture, CaptureFile, Import, Move
from palinode.work import evidence_check, move_deletion
from palinode.work.importing import archives, import_job, site_file_import
from palinode.work.importing.import_job import ImportRefused
from tests.gather.test_packed import tarred, zipped
from tests.site import page
from tests.work.base import MoveTestCase

DUMP = (
    b"-- MariaDB dump 10.19\n-- Server version\t10.11.19\nCREATE TABLE `wp_posts` (`ID` int, `post_title` text) ENGINE=InnoDB;\n"
    b"INSERT INTO `wp_posts` VALUES (1,'Tides'),(2,'Mill');\n-- Dump completed on 2026-11-28\n"
)
LISTING = b"12 1700000000.5 ./a/b.txt\n0 1700000000 ./c\n"


class SiteFileImportTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.old, self.new = self.serve({"/": page("Home")}, {"/": page("Home")})
        self.subject = self.move(self.old, self.new)

    def imported(self, data: bytes, name: str, which: str = "source") -> Import:
        """Import a file, as a person and a worker do."""
        made = import_job.order(self.subject, which, io.BytesIO(data), name, self.user)
        import_job.read(made)
        made.refresh_from_db()
        return made

    def stored(self) -> list[str]:
        """Return the names of all files of the move's folder that were imported."""
        return [name for name in Folder(self.subject.pk).names() if "/imports/" in name]

    def test_each_kind_is_found_in_an_archive(self):
        answers = rest.first_line({}) + rest.line("users", 1, [{"id": 1, "name": "Anna"}])
        numbers = f"{typed_numbers.HEAD}\nOrders 1,284\n".encode()
        for name, data, kind in (
            ("old.sql", DUMP, "dump"),
            ("api.jsonl", answers, "api"),
            ("numbers.txt", numbers, "numbers"),
            ("files.txt", LISTING, "listing"),
        ):
            for packed, ending in ((zipped({"read.me": b"x", name: data}), "zip"), (tarred({name: data}), "tar")):
                with self.subTest(name=name, ending=ending):
                    made = self.imported(packed, f"all.{ending}")
                    self.assertEqual((made.state, made.kind), ("done", kind), made.said)

    def test_a_dump_becomes_a_capture_that_keeps_it(self):
        baseline = self.baseline(self.subject)
        packed = gzip.compress(DUMP)
        made = self.imported(packed, "shop.sql.gz")
        self.assertEqual((made.state, made.kind), ("done", "dump"), made.said)
        self.assertEqual(
            made.said, "shop.sql.gz is a dump of MariaDB, packed by gzip. Its server was 10.11.19. One table, 2 rows."
        )
        capture = made.capture
        self.assertEqual((capture.kind, capture.state, capture.complete, capture.round), ("dump", "closed", True, None))
        self.assertEqual((capture.file.name, capture.file.bytes), ("shop.sql.gz", len(packed)))
        table = capture.file.contents["tables"][0]
        self.assertEqual((table["name"], table["rows"], table["definition"]["engine"]), ("wp_posts", 2, "InnoDB"))
        with Folder(self.subject.pk).open(capture.file.stored) as file:
            self.assertEqual(file.read(), packed)
        # It belongs to the baseline; a later one takes its place there.
        self.assertEqual([one.capture for one in baseline.set_members.all()], [capture])
        later = self.imported(DUMP, "shop.sql").capture
        self.assertEqual([one.capture for one in baseline.set_members.all()], [later])
        # What is stored for a capture is no stray file.
        with mock.patch.object(move_deletion, "STRAY", timedelta(0)):
            move_deletion.sweep()
        self.assertEqual(len(self.stored()), 2)

    def test_rounds_and_pages_are_as_they_were(self):
        self.baseline(self.subject)
        first = self.capture(self.subject, "destination")
        made = self.imported(DUMP, "new.sql", "destination")
        self.assertEqual([one.capture for one in first.set_members.all()], [made.capture])
        self.assertEqual(self.capture(self.subject, "destination").round, 2)

    def test_a_list_of_files_and_an_export(self):
        made = self.imported(LISTING, "files.txt", "destination")
        self.assertEqual((made.kind, made.capture.kind, made.capture.file.contents["files"]), ("listing", "listing", 2))
        export = b'<rss version="2.0" xmlns:wp="http://wordpress.org/export/1.2/"><channel></channel></rss>'
        self.assertEqual(self.imported(export, "mill.xml").capture.kind, "export")

    def test_a_dump_that_ends_too_early_is_cut_short(self):
        made = self.imported(DUMP[:-60], "shop.sql")
        self.assertFalse(made.capture.complete)
        self.assertIn("It ends within", made.capture.limits[0])
        self.assertIn("It ends within", made.said)

    def test_what_cannot_be_read_leaves_nothing_behind(self):
        made = self.imported(DUMP.replace(b"(2,'Mill')", b"(2)"), "shop.sql")
        self.assertEqual(made.state, "failed")
        self.assertIn("shop.sql: Line 4: of table wp_posts a row has 1 values; 2 were expected.", made.said)
        with self.assertRaisesRegex(
            ImportRefused, "notes.txt is neither a WARC file nor a ZIP archive of pages, and no dump"
        ):
            self.imported(b"hello\n", "notes.txt")
        with self.assertRaisesRegex(ImportRefused, "empty.sql is empty"):
            self.imported(b"", "empty.sql")
        self.assertEqual((self.stored(), Capture.objects.count()), ([], 0))

    def test_what_a_person_stops_leaves_nothing_behind(self):
        def begun() -> Import:
            return import_job.order(self.subject, "source", io.BytesIO(DUMP), "shop.sql", self.user)

        waiting = begun()
        self.assertTrue(import_job.stop(waiting, self.user))
        waiting.refresh_from_db()
        import_job.read(waiting)
        under_way = begun()
        held = SiteContents("Two files.", "", {})

        def stream(*_: object) -> Iterator[object]:
            # Between two beats: it is found at the end.
            yield int(import_job.stop(under_way, self.user))
            yield held

        with mock.patch.object(site_file_import.readers, "stream", stream):
            import_job.read(under_way)
        for one in (waiting, under_way):
            one.refresh_from_db()
            self.assertRegex(one.said, "shop.sql: stopped by .*Nothing of it was kept.")
            self.assertFalse(import_job.stop(one, self.user))
        self.assertEqual((self.stored(), Capture.objects.count()), ([], 0))

    def test_it_is_verified_like_other_evidence(self):
        kept = self.imported(DUMP, "shop.sql").capture.file
        self.assertEqual(evidence_check.verify_all(self.subject), 0)
        path = Path(storages["evidence"].path(kept.stored))
        for change, said in ((lambda: path.write_bytes(DUMP[1:]), "SHA-256 differs"), (path.unlink, "is missing")):
            change()
            self.assertEqual(evidence_check.verify_all(self.subject), 1)
            kept.refresh_from_db()
            self.assertIn(said, kept.fault)
            self.assertIsNotNone(kept.verified_at)

    def test_archives_of_pages_are_told_from_packed_dumps(self):
        def packed(files: dict[str, bytes]) -> bytes:
            made = io.BytesIO()
            with zipfile.ZipFile(made, "w") as archive:
                for name, data in files.items():
                    archive.writestr(name, data)
            return made.getvalue()

        self.assertEqual(self.imported(packed({"db/shop.sql": DUMP}), "backup.zip").kind, "dump")
        site = packed({"index.html": b"<title>Home</title>", "shop.sql": DUMP})
        self.assertEqual(self.imported(site, "site.zip").kind, "pages")
        self.assertEqual(self.imported(packed({"tides.pdf": b"%PDF-1.4"}), "papers.zip").kind, "pages")

    def test_an_export_in_several_parts(self):
        head = '<rss version="2.0" xmlns:wp="http://wordpress.org/export/1.2/"><channel>'
        item = "<item><wp:post_id>{0}</wp:post_id><wp:post_type>post</wp:post_type><title>Tide {0}</title></item>"
        zipped = io.BytesIO()
        with zipfile.ZipFile(zipped, "w", zipfile.ZIP_DEFLATED) as archive:
            for part in (1, 2):
                archive.writestr(f"mill.00{part}.xml", f"{head}{item.format(part)}{item.format(3)}</channel></rss>")
            archive.writestr("notes.xml", "<notes/>")
        made = self.imported(zipped.getvalue(), "mill.zip")
        self.assertEqual(
            (made.kind, made.said), ("export", "mill.zip is an export of WordPress (WXR) in 2 parts. 3 items.")
        )

    def test_an_archive_of_a_folder_is_a_list_of_its_files(self):
        files = {
            "./index.php": b"<?php",
            "./wp-content/uploads/2022/wheel.jpg": b"wheel",
            "./about.html": b"<title>A</title>",
        }
        tarred, zipped = io.BytesIO(), io.BytesIO()
        with tarfile.open(fileobj=tarred, mode="w:gz") as archive:
            for name, data in files.items():
                entry = tarfile.TarInfo(name)
                entry.size = len(data)
                archive.addfile(entry, io.BytesIO(data))
        with zipfile.ZipFile(zipped, "w") as archive:
            for name, data in {**files, "./shop.sql": DUMP}.items():
                archive.writestr(name, data)
        made = self.imported(tarred.getvalue(), "site.tar.gz")
        self.assertEqual(
            (made.kind, made.said), ("listing", "site.tar.gz is an archive, whose files are listed. 3 files.")
        )
        self.assertEqual(
            contents_files.read(made.capture.file)["paths"].tobytes().split(b"\0"),
            [b"about.html", b"index.php", b"wp-content/uploads/2022/wheel.jpg"],
        )
        # A ZIP is many things; a person says that the list is wanted.
        chosen = import_job.order(
            self.subject, "source", io.BytesIO(zipped.getvalue()), "site.zip", self.user, listed=True
        )
        import_job.read(chosen)
        chosen.refresh_from_db()
        self.assertEqual((chosen.kind, chosen.capture.file.contents["files"]), ("listing", 4))
        with self.assertRaisesRegex(ImportRefused, "site.tar.gz is broken or cut off"):
            self.imported(tarred.getvalue()[:-40], "site.tar.gz")

    def test_it_travels_in_the_archive_of_the_move(self):
        self.baseline(self.subject)
        self.imported(DUMP, "shop.sql")
        data = b"".join(archives.export_move(Move.objects.get(pk=self.subject.pk)))
        came = archives.import_move(io.BytesIO(data), "mill.zip", self.user)
        (kept,) = CaptureFile.objects.filter(capture__move=came)
        self.assertEqual((kept.name, kept.contents["tables"][0]["rows"]), ("shop.sql", 2))
        self.assertTrue(kept.stored.startswith(f"move-{came.pk}/"))
        with Folder(came.pk).open(kept.stored) as file:
            self.assertEqual(file.read(), DUMP)
        self.assertEqual([one.capture for one in came.baseline.set_members.all()], [kept.capture])

    def test_an_archive_that_lacks_a_file_is_refused(self):
        self.imported(DUMP, "shop.sql")
        data = b"".join(archives.export_move(self.subject))
        broken = data.replace(b"'Tides'", b"'tides'")
        with self.assertRaises(archives.ArchiveRefused):
            archives.import_move(io.BytesIO(broken), "mill.zip", self.user)
        before = set(storages["evidence"].listdir("")[0])
        self.assertEqual(before, {f"move-{self.subject.pk}"})
