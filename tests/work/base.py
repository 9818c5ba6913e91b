"""What tests of captures share."""

import time
from collections.abc import Callable
from contextlib import ExitStack

from django.contrib.auth.models import User
from django.db import connection, connections
from django.test import TransactionTestCase, override_settings
from procrastinate.contrib.django.models import ProcrastinateJob

from palinode.core.discovery import Discovery
from palinode.records import folder
from palinode.records.folder import Folder
from palinode.records.models import Capture, Comparison, Move
from palinode.work import move_deletion, move_setup, side_access
from palinode.work.capturing import capture_job, crawl_worker
from palinode.work.capturing.policy import Policy
from palinode.work.comparing import comparison_job
from tests.site import Site


class MoveTestCase(TransactionTestCase):
    """A move between two small sites, worked on in this process."""

    def setUp(self):
        with connection.cursor() as cursor:
            cursor.execute("TRUNCATE procrastinate_jobs, procrastinate_workers CASCADE")
        for number in folder.moves():
            Folder(number).clear()
        self.stack = ExitStack()
        self.addCleanup(self.stack.close)
        self.user = User.objects.create_user("miller", password="tide-and-stone")

    def serve(self, *pages) -> list[Site]:
        sites = [self.stack.enter_context(Site(one)) for one in pages]
        self.allow(*(site.allowed for site in sites))
        return sites

    def allow(self, *networks: str) -> None:
        override = override_settings(PALINODE_ALLOW_NETWORKS=list(networks))
        override.enable()
        side_access.guard.cache_clear()
        self.addCleanup(side_access.guard.cache_clear)
        self.addCleanup(override.disable)

    def move(self, old: Site, new: Site, lines: list[str] | None = None) -> Move:
        return move_setup.describe(
            "Mill",
            move_setup.typed_side("http://old.example/", f"127.0.0.1:{old.port}"),
            move_setup.typed_side("http://new.example/", f"127.0.0.1:{new.port}"),
            lines or [],
            self.user,
        )

    def capture(self, move: Move, which: str, **options) -> Capture:
        # Without asking a sample again, so that tests can count what is asked.
        capture = capture_job.begin(Move.objects.get(pk=move.pk), which, Policy(**{"sample": 0, **options}))
        crawl_worker.work_on(capture.pk)
        connections.close_all()
        capture.refresh_from_db()
        return capture

    def baseline(self, move: Move, **options) -> Capture:
        capture = self.capture(move, "source", **options)
        Move.objects.filter(pk=move.pk).update(baseline=capture)
        return capture

    def forget(self, move: Move) -> None:
        """Delete a move, its job included."""
        move_deletion.order(move)
        ProcrastinateJob.objects.filter(task_name=move_deletion.FORGET).delete()
        move_deletion.forget(move.pk)

    def wait(self, comes_true: Callable[[], bool], seconds: float = 30) -> None:
        """Wait until something is so that another thread or process brings about; fail if it never is."""
        deadline = time.monotonic() + seconds
        while not comes_true():
            if time.monotonic() > deadline:
                self.fail("what was waited for did not come")
            time.sleep(0.02)

    def compare(self, move: Move, right: Capture) -> Comparison:
        move = Move.objects.get(pk=move.pk)
        comparison = comparison_job.order(move, move.baseline, right)
        comparison_job.make(comparison)
        comparison.refresh_from_db()
        return comparison

    def inventory(self, capture: Capture) -> dict[str, tuple]:
        """Return path to status, reason and whether it is a page; without addresses made up by the capture."""
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT d.text, a.status, a.reason, a.is_page FROM records_answer a JOIN records_address d "
                "ON d.ident = a.ident AND d.move_id = %s WHERE capture_id = %s AND a.known <> %s AND a.known & %s = 0",
                [capture.move_id, capture.pk, int(Discovery.PROBE), int(Discovery.CUSTOMARY)],
            )
            return {text.split(".example", 1)[1]: tuple(rest) for text, *rest in cursor.fetchall()}
