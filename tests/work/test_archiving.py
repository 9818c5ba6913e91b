"""A move exported as one archive and imported again, by friends and by others."""

import hashlib
import io
import tracemalloc
import zipfile
from datetime import timedelta
from pathlib import Path

from django.contrib.auth.models import User
from django.core.files.storage import storages
from django.utils import timezone
from hypothesis import event, given, settings
from hypothesis.strategies import data, integers, sampled_from
from procrastinate.contrib.django.models import ProcrastinateJob
from rest_framework.test import APIClient

from palinode.gather import zip_directory
from palinode.records import archive, capture_sets, decisions, page_rows
from palinode.records.folder import Folder
from palinode.records.folder import moves as moves_with_files
from palinode.records.models import Answer, Capture, Comparison, FurtherHost, Move, Segment
from palinode.work import evidence, evidence_check, read_again, retention, tasks
from palinode.work.comparing import pair_view
from palinode.work.importing import archives
from palinode.work.importing.archives import ArchiveRefused
from tests.rows import counts, pages, told
from tests.rows import page as rows_of_pages
from tests.site import page
from tests.work.base import MoveTestCase

OLD = {"/": page("Home", "/a", "/b"), "/a": page("A", text="Rye flour"), "/b": page("B")}
NEW = {"/": page("Home", "/a", "/b"), "/a": page("A", text="Oat flour"), "/b": page("B")}


class ArchivingTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.subject = self.move(*self.serve(OLD, NEW), ["/shop/ -> /store/"])
        self.baseline(self.subject)
        decisions.decide(self.subject, "retire", {"address": "http://old.example/b"}, "sold out", self.user)
        right = self.capture(self.subject, "destination")
        self.subject = Move.objects.get(pk=self.subject.pk)
        baseline = self.subject.baseline
        beside = {"kind": "asked", "state": "closed", "name": "shop", "access": baseline.access}
        capture_sets.add(baseline, Capture.objects.create(move=self.subject, which="source", **beside))
        self.compare(self.subject, right)
        self.subject = Move.objects.get(pk=self.subject.pk)
        side = self.subject.side("source")
        side.password, side.cookie = "bannock", "pass=barley"
        side.save()
        FurtherHost.objects.create(side=side, place=2, base="http://shop.old.example/", cookie="pass=barley")
        self.packed = b"".join(archives.export_move(self.subject))
        self.other = User.objects.create_user("baker", password="bannock-and-rye")

    def files(self) -> list[str]:
        root = Path(storages["evidence"].location)
        return sorted(str(one) for one in root.rglob("*") if one.is_file())

    def imported(self, data: bytes) -> Move:
        return archives.import_move(io.BytesIO(data), "mill.zip", self.other)

    def changed(self, name: str, change) -> bytes:
        file = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(self.packed)) as read, zipfile.ZipFile(file, "w") as write:
            entries = {one: read.read(one) for one in read.namelist()}
            entries[name] = change(entries[name])
            for one, data in entries.items():
                if data is not None:
                    write.writestr(one, data)
        return file.getvalue()

    def test_it_holds_what_it_says_and_no_secrets(self):
        with zipfile.ZipFile(io.BytesIO(self.packed)) as read:
            self.assertIsNone(read.testzip())
            everything = b"".join(read.read(one) for one in read.namelist())
            for line in read.read("SHA256SUMS").decode().splitlines():
                digest, name = line.split("  ")
                self.assertEqual(hashlib.sha256(read.read(name)).hexdigest(), digest)
        self.assertNotRegex(everything, rb"bannock|barley|pbkdf2")

    def test_it_is_imported_whole_beside_the_first_and_after_it(self):
        before = (self.subject.captures.count(), self.subject.comparisons.first().standing)
        latest = self.subject.comparisons.first()
        rows = [vars(one) for one in pages(latest)]
        findings = [vars(one) | {"decision": None} for one in told(latest)]
        self.assertTrue(findings)
        for there in (True, False):
            with self.subTest(beside=there):
                if not there:
                    self.forget(self.subject)
                move = self.imported(self.packed)
                self.assertEqual((move.captures.count(), move.comparisons.first().standing), before)
                self.assertEqual(move.memberships.get().user, self.other)
                self.assertEqual((move.baseline.move, move.baseline.which), (move, "source"))
                held = capture_sets.compared(move.comparisons.first())["left"]
                self.assertEqual(held, capture_sets.of(move.baseline))
                self.assertEqual([one.slot for one in held], ["crawl", "asked:shop"])
                made = [vars(one) | {"decision": None} for one in told(move.comparisons.first())]
                self.assertEqual(made, findings)
                self.assertEqual(move.decisions.get().reason, "sold out (decided by miller)")
                self.assertEqual(move.side("source").password or "", "")
                (shop,) = move.side("source").further.all()
                self.assertEqual((shop.place, shop.base, shop.cookie), (2, "http://shop.old.example/", ""))
                comparison = move.comparisons.first()
                self.assertEqual([vars(one) for one in pages(comparison)], rows)
                self.assertEqual(evidence_check.verify_all(move), 0)
                read = Answer.objects.filter(capture=move.baseline).exclude(facts=None).count()
                self.assertEqual((read_again.read_again(move.baseline), read), (read, 5))
                opened = pair_view.pair(comparison, page_rows.row(comparison, rows_of_pages(comparison, "/a").rank))
                self.assertIn("Oat", str(opened["paragraphs"]))
                self.assertEqual(counts(self.compare(move, comparison.right)), counts(comparison))
                self.assertTrue(b"".join(archives.export_move(move)))

    def test_what_is_not_as_it_was_is_refused_and_leaves_nothing(self):
        evidence_name = next(one for one in zipfile.ZipFile(io.BytesIO(self.packed)).namelist() if "warc" in one)
        files = self.files()
        moves, segments = Move.objects.count(), Segment.objects.count()
        for packed, said in [
            (b"no zip", "no archive, or broken"),
            (self.packed[:-100], "no archive, or broken"),
            (self.changed("move.json", lambda data: data.replace(b"Mill", b"Till")), "move.json was changed"),
            (
                self.changed("tables/answer.tsv", lambda data: data + b"x\n"),
                "tables/answer.tsv was changed|does not fit",
            ),
            (self.changed(evidence_name, lambda data: data[:-1]), "is not the file that was sealed"),
            (
                self.changed("move.json", lambda _: None),
                "does not hold",
            ),
        ]:
            with self.subTest(said), self.assertRaisesRegex(ArchiveRefused, f"^mill.zip: .*({said})"):
                self.imported(packed)
            self.assertEqual((Move.objects.count(), Segment.objects.count()), (moves, segments))
        self.assertEqual(self.files(), files)

    def test_what_lies_outside_is_refused(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as write:
            write.writestr("../x", "")
        with self.assertRaisesRegex(ArchiveRefused, "“../x” is nothing that"):
            self.imported(file.getvalue())

    def test_tables_of_another_version_are_refused(self):
        head = b"ident\ttext\n"

        def older(data: bytes) -> bytes:
            return head

        def summed(data: bytes) -> bytes:
            lines = data.decode().splitlines()
            return "\n".join(
                f"{hashlib.sha256(head).hexdigest()}  tables/address.tsv" if "tables/address.tsv" in line else line
                for line in lines
            ).encode()

        self.packed = self.changed("tables/address.tsv", older)
        with self.assertRaisesRegex(ArchiveRefused, "the table address was written by another version"):
            self.imported(self.changed("SHA256SUMS", summed))
        self.assertEqual(Comparison.objects.filter(move=self.subject).count(), Comparison.objects.count())


class StrangerTest(MoveTestCase):
    """Whoever wrote an archive is a stranger: it touches nothing but what becomes his own move."""

    def setUp(self):
        super().setUp()
        self.theirs = self.move(*self.serve(OLD, NEW))
        self.baseline(self.theirs)
        self.compare(self.theirs, self.capture(self.theirs, "destination"))
        decisions.decide(self.theirs, "retire", {"address": "http://old.example/b"}, "sold out", self.user)
        self.secret = Segment.objects.filter(capture__move=self.theirs).order_by("-bytes")[0]
        self.packed = b"".join(archives.export_move(Move.objects.get(pk=self.theirs.pk)))
        self.other = User.objects.create_user("baker", password="bannock-and-rye")
        self.before = self.state()

    def state(self) -> dict[str, object]:
        """Return all that is not the stranger's: rows, files, jobs, accounts."""
        found: dict[str, object] = {
            table.name: hashlib.sha256(b"".join(sorted(b"".join(archive.rows(table, self.theirs.pk)).split(b"\n"))))
            .hexdigest()
            for table in archive.TABLES
        }  # fmt: skip
        folder = Folder(self.theirs.pk)
        for name in folder.names():
            with folder.open(name) as file:
                found[name] = hashlib.sha256(file.read()).hexdigest()
        found["jobs"] = ProcrastinateJob.objects.count()
        found["accounts"] = list(User.objects.values_list("username", "is_superuser"))
        found["members"] = list(self.theirs.memberships.values_list("user__username", "role"))
        return found

    def rewritten(self, change) -> bytes:
        """Return the archive with its tables (name to lines of cells) changed, under digests that fit."""
        with zipfile.ZipFile(io.BytesIO(self.packed)) as read:
            entries = {one: read.read(one) for one in read.namelist() if one != "SHA256SUMS"}
        tables = {
            name: [line.split("\t") for line in data.decode().removesuffix("\n").split("\n")]
            for name, data in entries.items()
            if name.endswith(".tsv")
        }
        change(tables, entries)
        entries |= {
            name: ("\n".join("\t".join(cells) for cells in lines) + "\n").encode() for name, lines in tables.items()
        }
        sums = "".join(f"{hashlib.sha256(data).hexdigest()}  {name}\n" for name, data in entries.items())
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as write:
            for name, data in [*entries.items(), ("SHA256SUMS", sums.encode())]:
                write.writestr(name, data)
        return file.getvalue()

    def put(self, table: str, column: str, value: str):
        def change(tables, entries):
            head, *lines = tables[f"tables/{table}.tsv"]
            for line in lines:
                line[head.index(column)] = value

        return self.rewritten(change)

    def imported(self, data: bytes) -> Move:
        return archives.import_move(io.BytesIO(data), "mill.zip", self.other)

    def use(self, move: Move) -> None:
        """Do with a move what may be done with one, down to its end."""
        client = APIClient()
        client.force_login(self.other)
        self.assertEqual([client.get("/api/moves/").status_code], [200])
        self.assertFalse(move.captures.exclude(state="closed").exists())
        self.assertFalse(move.imports.filter(state="waiting").exists())
        tasks.take_up(0)
        for answer in Answer.objects.filter(capture__move=move)[:20]:
            evidence.headers(answer)
            try:
                evidence.body(move.pk, bytes(answer.body or b""))
            except (ValueError, FileNotFoundError):
                continue
        evidence_check.verify_all(move)
        Capture.objects.filter(move=move).update(ended_at=timezone.now() - timedelta(days=400))
        Move.objects.filter(pk=move.pk).update(keep_days=1)
        retention.let_go_everywhere()
        self.forget(move)

    def test_another_moves_file_does_not_become_an_import(self):
        name = self.secret.name

        def change(tables, entries):
            head = tables["tables/import.tsv"][0]
            values = {"id": "1", "move_id": "1", "which": "source", "kind": "warc", "name": "x", "stored": name}
            values |= {"bytes": "1", "sha256": "0" * 64, "state": "waiting", "said": "", "read": "0"}
            values |= {
                "created_at": "2026-01-01",
                "seen_at": "2026-01-01",
                "capture_id": "\\N",
                "shown_elsewhere": "[]",
            }
            tables["tables/import.tsv"].append([values[one] for one in head])

        move = self.imported(self.rewritten(change))
        made = move.imports.get()
        self.assertEqual((made.state, made.stored), ("failed", ""))
        self.use(move)
        self.assertEqual(self.state(), self.before)

    def test_a_segment_let_go_of_leads_to_no_file(self):
        def change(tables, entries):
            head, *lines = tables["tables/segment.tsv"]
            for line in lines:
                entries.pop(f"evidence/{line[head.index('id')]}.warc.gz", None)
                line[head.index("name")] = self.secret.name
                line[head.index("let_go_at")] = "2026-01-01"

        move = self.imported(self.rewritten(change))
        answer = Answer.objects.filter(capture__move=move, is_page=True).first()
        self.assertEqual((evidence.record_of(answer), evidence.headers(answer)), (None, {}))
        with self.assertRaises(ValueError):
            evidence.body(move.pk, bytes(answer.body))
        self.use(move)
        self.assertEqual(self.state(), self.before)

    def test_a_row_that_points_to_another_moves_segment_reads_nothing(self):
        move = self.imported(self.packed)
        Answer.objects.filter(capture__move=move).update(segment_id=self.secret.pk)
        Segment.objects.filter(capture__move=move).update(name=self.secret.name)
        answer = Answer.objects.filter(capture__move=move, is_page=True).first()
        self.assertEqual((evidence.record_of(answer), evidence.headers(answer)), (None, {}))
        self.assertEqual(
            evidence_check.verify(Segment.objects.filter(capture__move=move).first()), "the file is missing"
        )
        self.use(move)
        self.assertEqual(self.state(), self.before)

    def test_what_a_row_cannot_hold_is_refused_and_said(self):
        for table, column, value, said in [
            ("capture", "which", "both", "which is none of"),
            ("capture", "judgement", '{"stands": true}', "judgement has another shape"),
            ("capture", "known", "-1", "known is less than nothing"),
            ("judgement", "standing", "[]", "standing has another shape"),
            ("judgement", "states", "\\\\x00", "none of its findings"),
            ("comparisonfindings", "causes", "{}", "causes has another shape"),
            ("checkoutcome", "counts", "[]", "not those that it counts"),
            ("comparison", "rule", "nonsense", "address rule cannot be read"),
            ("checkcolumn", "data", "\\\\x00", "not those that it counts"),
            ("address", "text", "http://elsewhere.example/", "identity"),
            ("segment", "sha256", "x", "digest is none"),
            ("facts", "prints", "\\\\x00", "prints are none"),
            ("checkfinding", "kind", "9999", "kind is not known here"),
            ("comparisonfindings", "findings", "\\\\x00", "findings are none"),
            ("checkfinding", "left_address", "javascript:alert(1)", "left_address is no address"),
            ("checkrowblock", "right", "javascript:alert(1)", "about no address"),
            ("decision", "scope", '{"kind": 1}', "scope has another shape"),
            ("decision", "scope", '{"marks": "AAAA"}', "accepts what cannot be read"),
            ("comparisonfindings", "basis", "{}", "none of its findings"),
            ("judgement", "standing", '{"sentence": "x", "summary": "y", "blocks": false}', "none of its findings"),
        ]:
            with self.subTest(column=column), self.assertRaisesRegex(ArchiveRefused, said):
                self.imported(self.put(table, column, value))
            self.assertEqual(self.state(), self.before)
        self.assertEqual(Move.objects.count(), 1)

    def test_what_is_larger_unpacked_is_refused_before_it_is_read(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as write:
            write.writestr("move.json", b" " * 300_000_000)
        tracemalloc.start()
        try:
            with self.assertRaisesRegex(ArchiveRefused, "compressed"):
                self.imported(file.getvalue())
            self.assertLess(tracemalloc.get_traced_memory()[1], 20_000_000)
        finally:
            tracemalloc.stop()

    def test_more_entries_than_are_read_are_not_even_listed(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as write:
            for number in range(50):
                write.writestr(f"{number}.html", "")
        with self.assertRaisesRegex(zip_directory.TooMany, "more than 49 files"):
            zip_directory.opened(file, 49)
        self.assertEqual(len(zip_directory.opened(file, 50).namelist()), 50)

    def test_whichever_row_is_changed_nothing_else_is_touched(self):
        theirs = [self.secret.name, str(self.theirs.pk), str(self.secret.pk), str(self.secret.capture_id)]
        nasty = [*theirs, "\\N", "-1", "0", "1", "32767", "9" * 18, "", "x", "../../etc/passwd", "/etc/passwd"]
        nasty += ["waiting", "running", "paused", "{}", "[]", "null", '{"base": "file:///etc/passwd"}', "\\\\x", "t"]
        nasty += ["2026-01-01", "infinity", "-infinity", "1e9", "NaN", f"../{theirs[0]}", f"move-1/../{theirs[0]}"]

        @settings(max_examples=60, deadline=None, derandomize=True, database=None)
        @given(data())
        def change_any(draw):
            refused = True

            def change(tables, entries):
                name = draw.draw(sampled_from(sorted(one for one in tables if len(tables[one]) > 1)))
                line = draw.draw(sampled_from(tables[name][1:]))
                line[draw.draw(integers(0, len(line) - 1))] = draw.draw(sampled_from(nasty))

            try:
                move = self.imported(self.rewritten(change))
            except ArchiveRefused:
                self.assertEqual(Move.objects.count(), 1)
            else:
                refused = False
                self.use(move)
            event("refused" if refused else "imported")
            self.assertEqual(self.state(), self.before)
            self.assertEqual(moves_with_files(), [self.theirs.pk])

        change_any()
