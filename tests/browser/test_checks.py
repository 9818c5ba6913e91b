"""Two checks of one view: each a part under its heading, moved through as one ledger; options tried and saved."""

from selenium.webdriver.common.keys import Keys

from palinode.records.models import CheckOptions
from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.new_check import registered
from tests.site import Answer, page


class ChecksTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.enterContext(registered())
        rules = Answer("User-agent: millbot\nDisallow: /b", headers={"Content-Type": "text/plain"})
        left = {"/": page("Home", "/a", "/b"), "/a": page("LOUD"), "/b": page("Bread")}
        old, new = self.serve(left, left | {"/robots.txt": rules})
        self.subject = self.move(old, new)
        self.baseline(self.subject)
        self.capture(self.subject, "destination")
        comparison_job.make(self.subject.comparisons.get())
        self.sign_in()
        self.open(f"/moves/{self.subject.pk}/site")
        self.wait_text("Capitals")

    def test_they_stand_under_their_headings_and_are_moved_through_as_one(self):
        headings = self.browser.execute_script(
            "return [...document.querySelectorAll('[data-ledger] h2')].map((one) => one.innerText)"
        )
        self.assertEqual(headings, ["Robots 1 row", "Capitals 3 rows"])
        self.assertIn("Want a person", self.text())
        self.assertIn("Not looked at: the title of the moon.", self.text())
        self.check_axe("two checks in one view")
        self.click("Rows as files …")
        self.wait_text("Robots: CSV, JSON, JUnit XML")
        self.assertIn("Capitals: CSV", self.text())
        self.press(Keys.ESCAPE)
        self.wait_gone("Capitals: CSV")
        self.press("j")
        self.press(Keys.ENTER)
        self.wait_text("Capitals")
        self.wait_text("http://old.example/a")
        self.press(Keys.ESCAPE)
        self.wait_text("Robots")
        self.click("Want a person")
        self.wait_gone("User-agent")

    def test_options_show_what_would_come_and_are_saved_for_the_next_comparison(self):
        self.click("Options …")
        self.wait_text("These are the defaults.")
        self.check_axe("options")
        area = self.find("textarea")
        area.clear()
        area.send_keys("millbot")
        self.wait_text("With these: 1 shut out")
        self.assertEqual(CheckOptions.objects.count(), 0)
        self.click("Save and compare")
        self.wait_until(lambda: CheckOptions.objects.count() == 1, "the options were not saved")
        comparison_job.make(self.subject.comparisons.first())
        self.wait_text("robots.txt for millbot")
        self.wait_text("crawlers are shut out")
        self.click("Options …")
        self.wait_text("Set by miller")
