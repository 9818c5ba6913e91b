"""Every view: reachable by link, closed to others, without serious faults of accessibility, light and dark."""

from django.contrib.auth.models import User
from django.test import override_settings
from selenium.webdriver.support.ui import Select

from palinode.records.models import Move
from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.site import Answer, page

LONG = "/journal/" + "a-very-long-address-" * 15
LEFT = {
    "/": page("Mill", "/a/1", "/a/2", LONG, "/shop/x", "/b/1"),
    "/a/1": page("One"),
    "/a/2": page("Two"),
    LONG: page("Long " * 40),
    "/shop/x": page("X"),
    "/b/1": page("B"),
}
RIGHT = {
    "/": page("Mill", "/a/1", LONG, "/store/x", "/new"),
    "/a/1": page("Other"),
    LONG: page("Long " * 40),
    "/shop/x": Answer("", 302, {"Location": "/store/x"}),
    "/store/x": page("X"),
    "/new": page("New"),
    "/b/1": Answer("", 503),
}


class ViewsTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        old, new = self.serve(LEFT, RIGHT)
        self.of_move = self.move(old, new, ["/shop -> /store"])
        self.baseline(self.of_move)
        self.capture(self.of_move, "destination")
        comparison_job.make(self.of_move.comparisons.get())

    def views(self) -> dict[str, str]:
        """Return path to words of each view."""
        move = f"/moves/{self.of_move.pk}"
        return {
            "/": "Moves",
            "/describe": "A site moves.",
            "/account": "Tokens for scripts",
            move: "Not ready to switch.",
            f"{move}/pages": "worst first",
            f"{move}/pages?verdict=retired": "No row fits.",
            f"{move}/pages/2?row=2": "Back to the ledger",
            f"{move}/findings": "Show findings one by one",
            f"{move}/findings?list=all": "By cause",
            f"{move}/findings?state=cleared": "No finding fits.",
            f"{move}/captures": "Round 1. Complete.",
            f"{move}/captures?capture={self.of_move.captures.first().pk}": "How addresses became known",
            f"{move}/evidence": "not verified yet",
            f"{move}/decisions": "Nothing is decided yet.",
            f"{move}/describe": "Who sees this move",
            "/nowhere": "There is no such view.",
        }

    def test_axe_finds_nothing_light_and_dark_wide_and_narrow(self):
        self.open()
        self.wait_text("Sign in")
        self.check_axe("sign in")
        self.sign_in()
        for theme in ("light", "dark"):
            self.browser.execute_script("localStorage.setItem('palinode-theme', arguments[0])", theme)
            for width in (1280, 700):
                with self.width(width):
                    for path, words in self.views().items():
                        with self.subTest(path, theme=theme, width=width):
                            self.open(path)
                            self.wait_text(words)
                            self.check_axe(f"{path} {theme} {width}")
        self.check_console()

    def test_a_shared_link_opens_the_same_view(self):
        self.sign_in()
        self.open(f"/moves/{self.of_move.pk}/pages?verdict=kept&section=/journal&order=address")
        self.wait_text("rows 1 to 1 of 1, by address")
        self.assertEqual(self.find("button[aria-pressed=true]").text, "Kept 1")

    def test_nothing_is_wider_than_the_window_down_to_380_pixels(self):
        self.sign_in()
        for width in (1280, 700, 380):
            with self.width(width):
                for path, words in self.views().items():
                    with self.subTest(path, width=width):
                        self.open(path)
                        self.wait_text(words)
                        self.check_width(f"{path} {width}")

    def test_in_a_narrow_window_the_contents_stand_behind_one_button(self):
        self.sign_in()
        with self.width(380):
            self.open(f"/moves/{self.of_move.pk}/pages")
            self.wait_text("worst first")
            self.wait_for("button[aria-label='Contents: Pages']").click()
            self.wait_text("Decisions")
            self.find("[role=menu] a[href$='/decisions']").click()
            self.wait_text("Nothing is decided yet.")
            self.wait_for("button[aria-label='Contents: Decisions']")
            Select(self.find("nav select[aria-label='Stage of the move']")).select_by_visible_text("Watch")
            self.wait_until(lambda: Move.objects.get(pk=self.of_move.pk).stage == "watch", "the stage is not set")

    def test_in_a_narrow_window_threads_are_whole_and_the_sides_stand_above_each_other(self):
        self.sign_in()
        with self.width(380):
            self.open(f"/moves/{self.of_move.pk}/pages")
            self.wait_text("worst first")
            left, right, mid, thread = self.browser.execute_script(
                "const row = document.querySelector('[data-ledger] .facing');"
                "return ['.left', '.right', '.mid', '.mid svg'].map(css => {"
                "const r = row.querySelector(css).getBoundingClientRect(); return [r.left, r.top, r.right, r.bottom]})"
            )
            self.assertEqual(left[0], right[0])
            self.assertGreaterEqual(right[1], left[3] - 1)
            self.assertGreaterEqual(thread[0], mid[0])
            self.assertLessEqual(thread[2], mid[2])

    def test_a_second_person_sees_nothing(self):
        User.objects.create_user("baker", password="bannock-and-rye")
        self.sign_in("baker", "bannock-and-rye")
        self.wait_text("No move yet.")
        for path in ("", "/pages", "/pages/0", "/captures", "/evidence", "/decisions", "/describe"):
            self.open(f"/moves/{self.of_move.pk}{path}")
            self.wait_text("This is not here.")
            self.assertNotIn("old.example", self.text())

    def test_what_a_thread_says_is_said_in_words_too(self):
        self.sign_in()
        self.open(f"/moves/{self.of_move.pk}/pages")
        self.wait_text("worst first")
        labels = self.browser.execute_script(
            "return [...document.querySelectorAll('[data-ledger] svg')].map(e => e.ariaLabel)"
        )
        self.assertEqual(labels, ["Lost", "Not judged", "Altered", "Altered", "Moved", "New", "Kept"])

    @override_settings(ALLOWED_HOSTS=["127.0.0.1", "localhost"])
    def test_the_first_visit_makes_the_owner(self):
        User.objects.all().update(username="gone")
        self.of_move.memberships.all().delete()
        User.objects.all().delete()
        self.open()
        self.wait_text("Make the owner’s account")
        self.wait_for("input[autocomplete=username]").send_keys("owner")
        self.find("input[type=password]").send_keys("short")
        self.click("Make the account")
        self.wait_text("too short")
        self.find("input[type=password]").send_keys("-but-longer-now")
        self.click("Make the account")
        self.wait_text("No move yet.")

    @override_settings(
        ALLOWED_HOSTS=["127.0.0.1", "localhost", "palinode.example"], PALINODE_SETUP_TOKEN="leat-and-sluice"
    )
    def test_behind_a_public_name_the_first_visit_needs_the_token(self):
        self.of_move.memberships.all().delete()
        self.of_move.decisions.all().delete()
        User.objects.all().delete()
        self.open("/?setup=leat")
        self.wait_for("input[autocomplete=username]").send_keys("owner")
        self.find("input[type=password]").send_keys("tide-and-stone")
        self.click("Make the account")
        self.wait_text("This is not the setup token.")
        self.field("Setup token").send_keys("-and-sluice")
        self.click("Make the account")
        self.wait_text("No move yet.")
