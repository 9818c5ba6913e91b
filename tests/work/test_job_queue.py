"""Jobs: written with their rows, and written again where nobody works on them."""

from datetime import timedelta

from django.db import transaction
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from palinode.records.models import Comparison
from palinode.work import job_queue
from palinode.work.comparing import comparison_job
from tests.site import page
from tests.work.base import MoveTestCase


class OfferingTest(MoveTestCase):
    def jobs(self) -> list[dict]:
        return list(ProcrastinateJob.objects.values_list("args", flat=True))

    def test_a_job_is_gone_with_its_transaction_in_a_worker_too(self):
        # As a worker has it: its connector writes through connections of its own.
        with app.replace_connector(app.connector.get_worker_connector()):
            try:
                with transaction.atomic():
                    job_queue.offer("compare", comparison_id=7)
                    raise RuntimeError
            except RuntimeError:
                pass
            self.assertEqual(self.jobs(), [])
            job_queue.offer("compare", comparison_id=8)
        self.assertEqual(self.jobs(), [{"comparison_id": 8}])
        self.assertTrue(job_queue.is_offered("compare", comparison_id=8))
        self.assertFalse(job_queue.is_offered("compare", comparison_id=7))

    def test_a_comparison_that_waits_without_a_job_is_offered_again(self):
        old, new = self.serve({"/": page("Home")}, {"/": page("Home")})
        move = self.move(old, new)
        self.baseline(move)
        right = self.capture(move, "destination")
        ProcrastinateJob.objects.all().delete()
        comparison = Comparison.objects.get()
        comparison_job.take_up()
        self.assertEqual(self.jobs(), [], "it may be on its way")
        Comparison.objects.update(created_at=timezone.now() - timedelta(minutes=5))
        comparison_job.take_up()
        comparison_job.take_up()
        self.assertEqual(self.jobs(), [{"comparison_id": comparison.pk}])
        self.assertEqual(comparison.right_id, right.pk)
