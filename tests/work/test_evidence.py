"""Evidence: verified, let go of when its time is over, taken away and brought in again."""

import hashlib
import io
import zipfile
from datetime import timedelta
from pathlib import Path

from django.contrib.auth.models import User
from django.core.files.base import ContentFile
from django.core.files.storage import storages
from django.utils import timezone

from palinode.records import decisions
from palinode.records.models import Answer, Capture, Comparison, Facts, LedgerRow, Move, Segment
from palinode.work import (
    again,
    archiving,
    capturing,
    evidence,
    facing,
    forgetting,
    rereading,
    retention,
    share,
    verifying,
)
from palinode.work.archiving import ArchiveRefused
from palinode.work.policy import Policy
from tests.site import page
from tests.work.base import MoveTestCase

OLD = {"/": page("Home", "/a", "/b"), "/a": page("A", text="Rye flour"), "/b": page("B")}
NEW = {"/": page("Home", "/a", "/b"), "/a": page("A", text="Oat flour"), "/b": page("B")}


class VerifyingTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.subject = self.move(*self.serve(OLD, NEW))
        self.first = self.capture(self.subject, "source")
        self.segment = Segment.objects.filter(capture=self.first).order_by("-bytes")[0]

    def put(self, data: bytes) -> None:
        storages["evidence"].delete(self.segment.name)
        self.segment.name = storages["evidence"].save(self.segment.name, ContentFile(data))
        self.segment.save()

    def data(self) -> bytes:
        with storages["evidence"].open(self.segment.name) as file:
            return file.read()

    def test_what_is_as_it_was_sealed(self):
        self.assertEqual(verifying.verify_all(self.subject), 0)
        self.segment.refresh_from_db()
        self.assertIsNotNone(self.segment.verified_at)
        self.assertEqual(self.segment.fault, "")

    def test_each_fault_is_said(self):
        data = self.data()
        for other, said in [
            (data[:-9], "the file breaks off"),
            (data[:300] + bytes([data[300] ^ 1]) + data[301:], "compression is broken|digest does not fit|SHA-256"),
            (data + data, "SHA-256 differs"),
        ]:
            with self.subTest(said):
                self.put(other)
                self.assertEqual(verifying.verify_all(self.subject), 1)
                self.segment.refresh_from_db()
                self.assertRegex(self.segment.fault, said)
        self.put(data)
        Answer.objects.filter(segment_id=self.segment.pk, is_page=True).update(offset=0)
        self.assertRegex(verifying.verify(self.segment), "answers point to records that are not theirs")
        storages["evidence"].delete(self.segment.name)
        self.assertEqual(verifying.verify(self.segment), "the file is missing")

    def test_under_way_it_is_not_ordered_twice(self):
        self.assertTrue(verifying.order(self.subject))
        self.assertFalse(verifying.order(self.subject))


class RetentionTest(MoveTestCase):
    def test_what_nothing_rests_on_is_let_go_of_and_facts_stay(self):
        self.subject = self.move(*self.serve(OLD, NEW))
        base = self.baseline(self.subject)
        rounds = [self.capture(self.subject, "destination") for _ in range(3)]
        asked = again.read(self.subject, "destination", rounds[1].pk, "failed", "", "")
        resting = capturing.begin(self.subject, "destination", Policy(sample=0), asked)
        share.work_on(resting.pk)
        Capture.objects.update(ended_at=timezone.now() - timedelta(days=40))
        Capture.objects.filter(pk=rounds[2].pk).update(ended_at=timezone.now())
        self.assertEqual(retention.let_go(self.subject), 0, "no bound was set")
        self.subject.refresh_from_db()
        self.subject.keep_days = 30
        facts = Facts.objects.count()
        # The first round holds the bodies that are there once per move; the later ones rest on it.
        gone = retention.let_go(self.subject)
        kept = set(Segment.objects.filter(let_go_at=None).values_list("capture_id", flat=True))
        self.assertTrue({base.pk, rounds[1].pk, rounds[2].pk} <= kept, "the baseline, the parent, the young one")
        self.assertEqual(gone, Segment.objects.exclude(let_go_at=None).count())
        self.assertEqual(Facts.objects.count(), facts)
        for answer in Answer.objects.filter(capture__in=[base.pk, resting.pk], is_page=True):
            self.assertTrue(evidence.body(self.subject.pk, bytes(answer.body)))
        for segment in Segment.objects.exclude(let_go_at=None):
            self.assertFalse(storages["evidence"].exists(segment.name))
        self.assertEqual(verifying.verify_all(self.subject), 0)
        # A pair of an old round still opens, from its facts.
        Segment.objects.filter(capture=rounds[0]).update(let_go_at=timezone.now())
        for segment in Segment.objects.filter(capture=rounds[0]):
            storages["evidence"].delete(segment.name)
        comparison = self.compare(self.subject, rounds[0])
        row = LedgerRow.objects.filter(comparison_id=comparison.pk, left_address="http://old.example/a").get()
        opened = facing.pair(comparison, row)
        self.assertIn("Oat", str(opened["paragraphs"]))
        self.assertEqual(opened["right"]["headers"], {})


class ArchivingTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.subject = self.move(*self.serve(OLD, NEW), ["/shop/ -> /store/"])
        self.baseline(self.subject)
        decisions.decide(self.subject, "retire", {"address": "http://old.example/b"}, "sold out", self.user)
        self.compare(self.subject, self.capture(self.subject, "destination"))
        self.subject = Move.objects.get(pk=self.subject.pk)
        side = self.subject.side("source")
        side.password, side.cookie = "bannock", "pass=barley"
        side.save()
        self.packed = b"".join(archiving.take(self.subject))
        self.other = User.objects.create_user("baker", password="bannock-and-rye")

    def files(self) -> list[str]:
        root = Path(storages["evidence"].location)
        return sorted(str(one) for one in root.rglob("*") if one.is_file())

    def bring(self, data: bytes) -> Move:
        return archiving.bring(io.BytesIO(data), "mill.zip", self.other)

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

    def test_it_is_brought_in_whole_beside_the_first_and_after_it(self):
        before = (self.subject.captures.count(), self.subject.comparisons.first().standing)
        latest = self.subject.comparisons.first().pk
        rows = list(
            LedgerRow.objects.filter(comparison_id=latest)
            .order_by("rank")
            .values_list("left_address", "detail", "right_status")
        )
        for there in (True, False):
            with self.subTest(beside=there):
                if not there:
                    forgetting.forget(Move.objects.get(pk=self.subject.pk))
                move = self.bring(self.packed)
                self.assertEqual((move.captures.count(), move.comparisons.first().standing), before)
                self.assertEqual(move.memberships.get().user, self.other)
                self.assertEqual((move.baseline.move, move.baseline.which), (move, "source"))
                self.assertEqual(move.decisions.get().reason, "sold out (decided by miller)")
                self.assertEqual(move.side("source").password or "", "")
                comparison = move.comparisons.first()
                found = LedgerRow.objects.filter(comparison_id=comparison.pk).order_by("rank")
                self.assertEqual(list(found.values_list("left_address", "detail", "right_status")), rows)
                self.assertEqual(verifying.verify_all(move), 0)
                self.assertEqual(rereading.read_again(move.baseline), 3)
                opened = facing.pair(comparison, found.get(left_address="http://old.example/a"))
                self.assertIn("Oat", str(opened["paragraphs"]))
                self.assertEqual(self.compare(move, comparison.right).counts, comparison.counts)
                self.assertTrue(b"".join(archiving.take(move)))

    def test_what_is_not_as_it_was_is_refused_and_leaves_nothing(self):
        evidence_name = next(one for one in zipfile.ZipFile(io.BytesIO(self.packed)).namelist() if "warc" in one)
        files = self.files()
        moves, segments = Move.objects.count(), Segment.objects.count()
        for data, said in [
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
                self.bring(data)
            self.assertEqual((Move.objects.count(), Segment.objects.count()), (moves, segments))
        self.assertEqual(self.files(), files)

    def test_what_lies_outside_is_refused(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as write:
            write.writestr("../x", "")
        with self.assertRaisesRegex(ArchiveRefused, "“../x” is nothing that"):
            self.bring(file.getvalue())

    def test_tables_of_another_version_are_refused(self):
        head = b"ident\ttext\n"

        def older(data: bytes) -> bytes:
            return head

        def summed(data: bytes) -> bytes:
            lines = data.decode().splitlines()
            return "\n".join(
                f"{hashlib.sha256(head).hexdigest()}  tables/address.tsv" if "address" in line else line
                for line in lines
            ).encode()

        self.packed = self.changed("tables/address.tsv", older)
        with self.assertRaisesRegex(ArchiveRefused, "the table address was written by another version"):
            self.bring(self.changed("SHA256SUMS", summed))
        self.assertEqual(Comparison.objects.filter(move=self.subject).count(), Comparison.objects.count())
