"""Workers killed at random moments: the capture goes on, nothing twice and nothing missing."""

import io
import os
import random
import signal
import subprocess
import sys
import time

from django.core.files.storage import storages
from django.db import connection, connections
from warcio.archiveiterator import ArchiveIterator

from palinode.records.models import Capture, Segment
from palinode.work import evidence_check
from palinode.work.capturing import capture_job
from palinode.work.capturing.policy import Policy
from tests.site import Answer, page
from tests.work.base import MoveTestCase

KILLS = 20
PAGES = 2_000


def site(path: str):
    """A tree of pages that answer slowly enough to be caught in the middle."""
    if path != "/" and not path.startswith("/p"):
        return None
    number = 0 if path == "/" else int(path.removeprefix("/p"))
    below = [f"/p{child}" for child in range(3 * number + 1, 3 * number + 4) if child < PAGES]
    made = page(f"Page {number}", *below)
    return Answer(made.body, delay=0.1)


class KillTest(MoveTestCase):
    def worker(self) -> subprocess.Popen:
        settings = connection.settings_dict
        url = f"postgresql://{settings['USER']}:{settings['PASSWORD']}@{settings['HOST']}:{settings['PORT']}/{settings['NAME']}"
        environment = os.environ | {"PALINODE_DATABASE": url, "PALINODE_ALLOW_NETWORKS": self.old.allowed}
        command = [
            sys.executable,
            "-m",
            "django",
            "procrastinate",
            "worker",
            "--concurrency=2",
            "--delete-jobs=always",
            "--fetch-job-polling-interval=0.3",
        ]
        process = subprocess.Popen(command, env=environment, stderr=subprocess.DEVNULL, start_new_session=True)
        self.addCleanup(process.kill)
        return process

    def test_twenty_kills_with_two_workers(self):
        self.old, new = self.serve(site, {})
        capture = capture_job.begin(self.move(self.old, new), "source", Policy(workers=2, concurrency=8))
        draw = random.Random(11)
        workers = [self.worker(), self.worker()]
        for kill in range(KILLS):
            time.sleep(draw.uniform(0.5, 3.5))
            victim = workers[kill % 2]
            os.kill(victim.pid, signal.SIGKILL)
            victim.wait()
            workers[kill % 2] = self.worker()
        deadline = time.monotonic() + 240
        while time.monotonic() < deadline:
            connections.close_all()
            capture.refresh_from_db()
            if capture.state == Capture.State.CLOSED:
                break
            time.sleep(0.5)
        for worker in workers:
            worker.terminate()
        self.assertEqual(capture.state, "closed")
        self.assertTrue(capture.complete, (capture.why, capture.limits))
        # The sitemap that is asked for besides has no page behind it.
        self.assertEqual((capture.pages, capture.asked, capture.known), (PAGES, PAGES + 4, PAGES + 4))
        found = self.inventory(capture)
        self.assertEqual(set(found), {"/", "/sitemap.xml", *(f"/p{number}" for number in range(1, PAGES))})
        segments = Segment.objects.filter(capture=capture)
        self.assertGreater(segments.count(), 1)
        for segment in segments:
            self.assertEqual(evidence_check.verify(segment), "")
            with storages["evidence"].open(segment.name) as file:
                for record in ArchiveIterator(io.BytesIO(file.read()), check_digests="raise"):
                    record.content_stream().read()
