"""Reading processes: what takes too long, too much memory, or ends its process, harms nothing else."""

import os
import time
from unittest import mock

from palinode.core.scope import Scope
from palinode.gather.exchange import Exchange
from palinode.records.models import Answer
from palinode.records.rows import Leased
from palinode.work import readers
from palinode.work.capturing import extraction
from palinode.work.readers import Readers, Unreadable
from tests.site import Answer as Served
from tests.site import page
from tests.work.base import MoveTestCase


class ReadersTest(MoveTestCase):
    def test_what_cannot_be_read_says_why_and_its_process_is_replaced(self):
        with Readers(1) as one:
            with self.assertRaisesRegex(Unreadable, r"^could not be read in 0\.5 s$"):
                one.run_for(0.5, time.sleep, 60)
            with self.assertRaisesRegex(Unreadable, "too much memory"):
                one.run(bytes, 8_000_000_000)
            with self.assertRaisesRegex(Unreadable, "ended its process"):
                one.run(os._exit, 3)
            with self.assertRaises(ZeroDivisionError):
                one.run(divmod, 1, 0)
            self.assertEqual(one.run(len, "rye"), 3)

    def test_one_that_is_stuck_does_not_keep_another_from_reading(self):
        with Readers(2) as two:
            stuck = two._threads.submit(two.run_for, 20, time.sleep, 60)
            self.assertEqual([two.run(len, "rye") for _ in range(5)], [3] * 5)
            self.assertFalse(stuck.done())
            two._pool.stop()

    def test_what_only_waited_for_its_turn_is_not_called_unreadable(self):
        site = extraction.Site(1, 1, Scope(("http://old.example/",)), 1)
        some = [(Leased(7, "http://old.example/", 0, 1, 0), Exchange("http://old.example/", 0.0, 1, status=200))]
        with Readers(1) as one, mock.patch.object(readers, "_PATIENCE", 0.0):
            busy = one._threads.submit(one.run_for, 20, time.sleep, 3)
            with self.assertRaisesRegex(Unreadable, "too much else is being read"):
                one.run_for(0.3, len, "rye")
            with mock.patch.object(readers, "SECONDS", 1.0):
                batch = one.batch(site, some)
            busy.result()
        self.assertEqual([row.kind for row in batch.answers], ["files"])

    def test_a_page_that_cannot_be_read_is_a_row_and_the_others_are_pages(self):
        # Five megabytes of paragraphs take seconds; the small pages of its batch a hundredth of that.
        pages = {f"/p{n}": page(f"P{n}") for n in range(10)}
        pages["/heavy"] = Served("<title>Heavy</title>" + "<p>a<i>b" * 600_000)
        old, new = self.serve({"/": page("Home", "/heavy", *pages), **pages}, {})
        with mock.patch.object(readers, "SECONDS", 1.0):
            capture = self.capture(self.move(old, new), "source")
        found = self.inventory(capture)
        self.assertEqual(found["/heavy"], (None, "could not be read in 1 s", False))
        self.assertEqual({path for path, (status, _, is_page) in found.items() if is_page}, {"/", *pages} - {"/heavy"})
        self.assertEqual((capture.not_fetched, capture.state), (1, "closed"))
        self.assertIn("could not be read in 1 s", str(capture.judgement["grounds"]))
        kept = Answer.objects.get(capture=capture, reason__startswith="could not be read")
        self.assertIsNotNone(kept.offset, "it is in the evidence all the same")

    def test_what_one_step_of_a_stream_may_take(self):
        with self.assertRaisesRegex(Unreadable, "could not be read in 0 s"):
            list(readers.stream(0.0, range, 100))
        self.assertEqual(list(readers.stream(None, range, 100)), list(range(100)))
