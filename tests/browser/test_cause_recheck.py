"""The whole of it on the demo's hosts: a fault is mended on the control page, captured again, and cleared."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from demo import mill
from palinode.records.models import Move
from palinode.work import move_setup
from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.demo_hosts import DemoHosts


class MendingTest(DemoHosts, BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.start_hosts()
        networks = f"127.0.0.1/32:{self.port}-{self.port + 3}"
        self.allow(networks)
        sides = [
            move_setup.typed_side(f"http://{name}/", f"127.0.0.1:{self.port + n}")
            for n, name in enumerate((mill.OLD, mill.NEW))
        ]
        self.of_move = move_setup.describe("Quillhaven", *sides, ["/shop -> /store"], self.user)
        self.set_faults("hours", "sample", "redirects", "style")
        self.baseline(self.of_move)
        self.capture(Move.objects.get(pk=self.of_move.pk), "destination")
        comparison_job.make(self.of_move.comparisons.get())
        self.worker(networks)
        self.sign_in()
        self.open(f"/moves/{self.of_move.pk}")
        self.wait_text("Not ready to switch.")

    def control(self, *cleared: str) -> None:
        """Clear faults on the control page, as a person does."""
        here = self.browser.current_url
        self.browser.get(f"http://127.0.0.1:{self.port + 4}/")
        for name in cleared:
            self.find(f"input[value={name}]").click()
        self.find("button").click()
        self.wait_text("Saved.")
        self.browser.get(here)

    def test_mended_by_mouse_and_the_next_cause_by_keyboard(self):
        self.wait_text("One style sheet or script is missing on nearly all pages")
        self.control("style")
        self.click("What to do")
        self.click("Mended: capture")
        self.wait_text("Nothing seen blocks the switch.", 60)
        self.wait_text("1 cleared")
        self.assertNotIn("style sheet", self.text())

        self.control("hours")
        self.wait_text("Markers of an extension stand as text on one page")
        for _ in range(60):
            self.press(Keys.TAB)
            if self.browser.execute_script(
                "const a = document.activeElement; return a.innerText === 'What to do' && "
                "a.closest('article').innerText.startsWith('Markers');"
            ):
                break
        self.press(Keys.ENTER)
        self.tab_to("Mended: capture this page again")
        self.press(Keys.ENTER)
        self.wait_gone("Markers of an extension", 60)
        self.tab_to("Findings")
        self.press(Keys.ENTER)
        self.wait_text("Cleared")
        self.click("Cleared")
        self.wait_text("/visit/opening-hours")

    def test_robots_txt_is_mended_and_checked_now_without_a_round(self):
        self.set_faults("sitemap")
        self.capture(Move.objects.get(pk=self.of_move.pk), "destination")
        self.wait_until(lambda: self.of_move.comparisons.first().state == "made", "the round is not compared", 60)
        self.open(f"/moves/{self.of_move.pk}/site")
        self.wait_text("still at the old host")
        self.control("sitemap")
        self.click("Check now")
        self.wait_text("Checked today", 60)
        self.assertNotIn("still at the old host", self.text())
        self.check_axe("site checks, checked now")
        self.click("Captures")
        self.click("Checked again with")
        self.wait_text("/robots.txt")
        self.assertIn("Asked for the checks", self.text())
        self.assertEqual(self.of_move.captures.filter(round__isnull=False).count(), 2)

    def test_a_difference_that_is_meant_is_tried_first_and_holds_in_the_next_comparison(self):
        self.open(f"/moves/{self.of_move.pk}/pages?verdict=altered")
        self.wait_text("worst first")
        self.press(Keys.ENTER)
        self.wait_text("Opening hours")
        self.press("e")
        self.wait_text("It would set 1 open finding")
        self.field("Why").send_keys("the new name of the site", Keys.ENTER)
        self.wait_gone("Kept with your name")
        self.open(f"/moves/{self.of_move.pk}/decisions?kind=expect")
        self.wait_text("1 finding of the last comparison", 40)
        self.control("style")
        self.click("Capture destination")
        self.wait_until(lambda: self.of_move.captures.filter(which="destination").count() == 2, "no capture began")
        self.open(f"/moves/{self.of_move.pk}")
        self.wait_text("Round 2", 90)
        self.wait_text("Nothing seen blocks the switch.", 60)
        self.open(f"/moves/{self.of_move.pk}/findings?state=accepted")
        self.wait_text("/visit/opening-hours")
        self.assertEqual(len(self.browser.find_elements(By.CSS_SELECTOR, "[data-index]")), 1)
