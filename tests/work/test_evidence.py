"""Evidence: verified, let go of when its time is over, exported and imported again."""

from datetime import timedelta

from django.core.files.base import ContentFile
from django.core.files.storage import storages
from django.utils import timezone

from palinode.records import page_rows
from palinode.records.models import Answer, Capture, Facts, Segment
from palinode.work import evidence, evidence_check, retention
from palinode.work.capturing import capture_job, crawl_worker, recapture
from palinode.work.capturing.policy import Policy
from palinode.work.comparing import pair_view
from tests import rows
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
        self.assertEqual(evidence_check.verify_all(self.subject), 0)
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
                self.assertEqual(evidence_check.verify_all(self.subject), 1)
                self.segment.refresh_from_db()
                self.assertRegex(self.segment.fault, said)
        self.put(data)
        Answer.objects.filter(segment_id=self.segment.pk, is_page=True).update(offset=0)
        self.assertRegex(evidence_check.verify(self.segment), "answers point to records that are not theirs")
        storages["evidence"].delete(self.segment.name)
        self.assertEqual(evidence_check.verify(self.segment), "the file is missing")

    def test_under_way_it_is_not_ordered_twice(self):
        self.assertTrue(evidence_check.order(self.subject))
        self.assertFalse(evidence_check.order(self.subject))


class RetentionTest(MoveTestCase):
    def test_what_nothing_rests_on_is_let_go_of_and_facts_stay(self):
        self.subject = self.move(*self.serve(OLD, NEW))
        base = self.baseline(self.subject)
        rounds = [self.capture(self.subject, "destination") for _ in range(3)]
        asked = recapture.read(self.subject, "destination", rounds[1].pk, "failed", "", "")
        resting = capture_job.begin(self.subject, "destination", Policy(sample=0), asked)
        crawl_worker.work_on(resting.pk)
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
        self.assertEqual(evidence_check.verify_all(self.subject), 0)
        # A pair of an old round still opens, from its facts.
        Segment.objects.filter(capture=rounds[0]).update(let_go_at=timezone.now())
        for segment in Segment.objects.filter(capture=rounds[0]):
            storages["evidence"].delete(segment.name)
        comparison = self.compare(self.subject, rounds[0])
        row = page_rows.row(comparison, rows.page(comparison, "/a").rank)
        opened = pair_view.pair(comparison, row)
        self.assertIn("Oat", str(opened["paragraphs"]))
        self.assertEqual(opened["right"]["headers"], {})
