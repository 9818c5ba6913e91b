"""The pace of a capture: down when a host fails or slows down, up again as it recovers."""

import unittest

from palinode.core.reason import Reason
from palinode.gather.exchange import Exchange
from palinode.work.capturing.pace import Pace


def answer(took_ms: int = 100, status: int | None = 200, why: Reason = Reason.NONE) -> Exchange:
    return Exchange("http://mill.example/", 0, took_ms, status, why.words(), why=why)


class PaceTest(unittest.TestCase):
    def run_of(self, pace: Pace, number: int, start: float, **more) -> int:
        for n in range(number):
            pace.note(answer(**more), start + n / 10)
        return pace.at_once

    def test_a_host_that_answers_keeps_the_full_pace(self):
        self.assertEqual(self.run_of(Pace(8), 200, 0), 8)

    def test_failing_halves_it_once_a_second_down_to_one(self):
        pace = Pace(8)
        for second, wanted in enumerate((4, 2, 1, 1)):
            self.assertEqual(self.run_of(pace, 5, second + 0.5, status=503), wanted)
        self.assertEqual(Pace(1).at_once, 1)

    def test_timed_out_and_too_many_requests_count_as_failing(self):
        for more in ({"status": None, "why": Reason.TIMED_OUT}, {"status": 429}, {"status": 504}):
            with self.subTest(**more):
                self.assertEqual(self.run_of(Pace(8), 1, 0, **more), 4)

    def test_what_was_never_asked_or_is_plainly_missing_does_not(self):
        for more in ({"status": None, "why": Reason.SHUT_OUT}, {"status": 404}, {"status": 500},
                     {"status": None, "why": Reason.FORBIDDEN}):  # fmt: skip
            with self.subTest(**more):
                self.assertEqual(self.run_of(Pace(8), 50, 0, **more), 8)

    def test_slowing_down_lowers_it_and_recovering_raises_it(self):
        pace = Pace(10)
        self.run_of(pace, 100, 0, took_ms=100)
        slow = self.run_of(pace, 40, 20, took_ms=3_000)
        self.assertLess(slow, 6)
        self.assertGreaterEqual(slow, 1)
        self.assertEqual(self.run_of(pace, 100, 40, took_ms=100), 10)

    def test_a_host_that_is_always_slow_is_not_slowing_down(self):
        self.assertEqual(self.run_of(Pace(8), 100, 0, took_ms=4_000), 8)

    def test_quick_answers_are_never_slow(self):
        pace = Pace(8)
        self.run_of(pace, 100, 0, took_ms=2)
        self.assertEqual(self.run_of(pace, 100, 20, took_ms=200), 8)
