"""What a view says while it is empty, loading, failed, or shows what is from before."""

import threading
from collections.abc import Callable
from contextlib import contextmanager
from unittest import mock

from palinode.api.views import captures, comparisons, decisions, moves, pairs
from palinode.records.models import Comparison
from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.site import page

SITE = {"/": page("Mill", "/a"), "/a": page("A")}
VIEWS = {
    "/": (moves.MovesView, "your moves", "Moves"),
    "/moves/{}": (comparisons.ComparisonsView, "the move", "Nothing seen blocks the switch."),
    "/moves/{}/pages": (comparisons.ComparisonsView, "the move", "worst first"),
    "/moves/{}/pages/0": (pairs.PairView, "the pair", "Back to the ledger"),
    "/moves/{}/captures": (captures.CapturesView, "the move", "Round 1. Complete."),
    "/moves/{}/decisions": (decisions.DecisionsView, "the decisions", "Nothing is decided yet."),
    "/moves/{}/describe": (moves.MoveView, "the move", "Address rule"),
}
"""Path to the API view it reads, what it is called while it is read, and words of the view when it is there."""


class StatesTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        old, new = self.serve(SITE, SITE)
        self.of_move = self.move(old, new)
        self.baseline(self.of_move)
        self.capture(self.of_move, "destination")
        comparison_job.make(self.of_move.comparisons.get())
        self.sign_in()

    @contextmanager
    def answering(self, view: type, how: Callable):
        """Let an API view answer otherwise."""
        with mock.patch.object(view, "get", how):
            yield

    def test_loading_then_there(self):
        for path, (view, what, words) in VIEWS.items():
            with self.subTest(path):
                go_on, usual = threading.Event(), view.get

                def waiting(*given, usual=usual, go_on=go_on, **more):
                    go_on.wait(20)
                    return usual(*given, **more)

                with self.answering(view, waiting):
                    self.open(path.format(self.of_move.pk))
                    try:
                        self.wait_text(f"Reading {what} …")
                        self.assertEqual(self.find("[role=status]").text, f"Reading {what} …")
                        self.check_axe(f"{path} loading")
                    finally:
                        go_on.set()
                    self.wait_text(words)

    def test_failed_then_tried_again(self):
        for path, (view, _, words) in VIEWS.items():
            with self.subTest(path):
                with self.answering(view, mock.Mock(side_effect=RuntimeError("the cat sat on it"))):
                    self.open(path.format(self.of_move.pk))
                    self.wait_text("This could not be read.")
                    self.wait_text("The server did not answer as expected. Try again.")
                    self.assertNotIn("the cat", self.text())
                    self.check_axe(f"{path} failed")
                self.click("Try again")
                self.wait_text(words)

    def test_what_was_shown_stays_when_it_cannot_be_asked_again(self):
        self.open(f"/moves/{self.of_move.pk}/captures")
        self.wait_text("Round 1. Complete.")
        self.click("Capture destination …")
        self.click("How fast, how far")
        self.field("Requests at once").send_keys("3")
        with self.answering(captures.CapturesView, mock.Mock(side_effect=RuntimeError)):
            self.wait_text("What is shown is from before", 40)
            self.assertEqual(self.field("Requests at once").get_attribute("value"), "3", "nothing typed is lost")
        self.wait_gone("What is shown is from before", 40)
        self.assertEqual(self.field("Requests at once").get_attribute("value"), "3")

    def test_a_comparison_that_failed_says_why(self):
        Comparison.objects.update(state="failed", why="The rule of the move sends everything nowhere.")
        self.open(f"/moves/{self.of_move.pk}")
        self.wait_text("The rule of the move sends everything nowhere.")
        self.check_axe("failed comparison")
        self.open(f"/moves/{self.of_move.pk}/pages")
        self.wait_text("No rows yet.")
        self.assertIn("The rule of the move sends everything nowhere.", self.text())

    def test_a_move_that_was_deleted_meanwhile(self):
        self.open(f"/moves/{self.of_move.pk}/captures")
        self.wait_text("Round 1. Complete.")
        self.of_move.memberships.all().delete()
        self.wait_text("This is not here.", 40)
        self.assertNotIn("Round 1", self.text())

    def test_a_session_that_ended_asks_to_sign_in(self):
        self.open(f"/moves/{self.of_move.pk}")
        self.wait_text("Nothing seen blocks the switch.")
        self.browser.delete_all_cookies()
        self.wait_for("input[autocomplete=username]", 40)
