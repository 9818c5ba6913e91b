"""A session's number in every link, a window of hours, a judgement that fails."""

import itertools
import threading
from datetime import UTC, datetime, timedelta
from unittest import mock

from palinode.core import hours
from palinode.core.options import OptionError
from palinode.records import captures
from palinode.records.models import Capture
from palinode.work.capturing import capture_end, capture_job, capture_quality, crawl_worker
from palinode.work.capturing.policy import Policy
from tests.site import Answer, page
from tests.work.base import MoveTestCase


class IdlingTest(MoveTestCase):
    def test_a_session_in_every_link_does_not_starve_the_site(self):
        numbers = itertools.count(1000)

        def sessions(path: str) -> Answer | None:
            """Thirty pages, whose links carry another number at each asking."""
            bare = path.partition("?")[0]
            if bare != "/" and not bare.startswith("/p"):
                return None
            at = 0 if bare == "/" else int(bare[2:])
            if at > 30:
                return None
            token = next(numbers)
            links = [f"/p{(at * 3 + step) % 30 + 1}?zanzibar={token}" for step in range(4)]
            made = page(f"Page {at}", text="Words of the page")
            anchors = "".join(f'<a href="{link}">on</a>' for link in links)
            return Answer(made.body.replace("</main>", f"<p>{anchors}</p></main>"), delay=0.005)

        old, new = self.serve(sessions, {})
        with mock.patch.object(crawl_worker, "_LOOK", 0.5), mock.patch.object(crawl_worker, "_FIRST_SEAL", 0.3):
            capture = self.capture(self.move(old, new), "source", max_addresses=3_000)
        self.assertTrue(capture.complete, capture.limits)
        self.assertLess(capture.asked, 2_500)
        self.assertEqual([one["name"] for one in capture.ignored], ["zanzibar"])
        grounds = " ".join(one["text"] for one in capture.judgement["grounds"])
        self.assertRegex(grounds, r"addresses with zanzibar= are \d+ pages: it does nothing to the content")
        self.assertLessEqual(
            {f"/p{n}" for n in range(1, 31)}, {path.partition("?")[0] for path in self.inventory(capture)}
        )

    def test_nothing_is_asked_outside_the_hours(self):
        old, new = self.serve({"/": page("Home")}, {})
        now = datetime.now(UTC)
        later = f"{now + timedelta(hours=2):%H:%M}-{now + timedelta(hours=3):%H:%M}"
        capture = capture_job.begin(self.move(old, new), "source", Policy.read({"hours": later}))
        worker = threading.Thread(target=crawl_worker.work_on, args=(capture.pk,))
        worker.start()
        said = f"nothing until {later[:5]} UTC"
        self.wait(lambda: [one.progress.get("now") for one in capture.shares.all()] == [said])
        self.assertNotIn("/", old.asked)
        captures.pause(capture, "enough")
        worker.join(30)
        capture.refresh_from_db()
        self.assertEqual((capture.state, capture.asked), (Capture.State.PAUSED, 0))

    def test_within_the_hours_it_is_asked(self):
        old, new = self.serve({"/": page("Home")}, {})
        now = datetime.now(UTC)
        open_now = f"{now - timedelta(hours=1):%H:%M}-{now + timedelta(hours=2):%H:%M}"
        self.assertEqual(self.capture(self.move(old, new), "source", hours=open_now).pages, 1)

    def test_hours_that_are_none_are_refused(self):
        with self.assertRaisesRegex(OptionError, "two times of day"):
            Policy.read({"hours": "at night"})
        self.assertEqual(Policy.read({"hours": "9:00-17:00"}).hours, hours.read("09:00-17:00").text)

    def test_a_judgement_that_fails_does_not_keep_a_capture_from_closing(self):
        old, new = self.serve({"/": page("Home")}, {})
        with (
            mock.patch.object(capture_quality, "judge", side_effect=ZeroDivisionError("odd")),
            self.assertLogs(capture_end.log),
        ):
            capture = self.capture(self.move(old, new), "source")
        self.assertEqual(capture.state, Capture.State.CLOSED)
        self.assertFalse(capture.judgement["stands"])
        self.assertIn("ZeroDivisionError: odd", capture.judgement["grounds"][0]["text"])
