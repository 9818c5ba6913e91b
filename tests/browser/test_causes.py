"""Findings by cause, accepted for a section, undone, revoked in part, exported; what only follows is folded below."""

import csv
import io

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.site import Answer, page

NAMES = [f"{section}/n{number}" for section in ("shop", "people") for number in range(5)]
IMAGE = "<img src=/img/wheel.png>"


class CausesTest(BrowserTestCase):
    """An image is gone from all pages, and a page is gone that the home page named."""

    def setUp(self):
        super().setUp()
        left = {"/": page("Home", *(f"/{name}" for name in NAMES))}
        left |= {
            f"/{name}": page(f"Page {name}", text=f"text of {name}").altered(("</main>", f"{IMAGE}</main>"))
            for name in NAMES
        }
        right = {path: answer.altered((IMAGE, "")) for path, answer in left.items()}
        right |= {"/": page("Home", *(f"/{name}" for name in NAMES[:-1])), f"/{NAMES[-1]}": Answer(status=404)}
        old, new = self.serve(left, right)
        self.of_move = self.move(old, new)
        self.baseline(self.of_move)
        self.capture(self.of_move, "destination")
        comparison_job.make(self.of_move.comparisons.get())
        self.sign_in()

    def see(self, path: str = "") -> None:
        self.open(f"/moves/{self.of_move.pk}{path}")

    def exported(self, name: str) -> str:
        path = self.browser.find_element(By.LINK_TEXT, name).get_attribute("href")
        return self.browser.execute_async_script("fetch(arguments[0]).then(one => one.text()).then(arguments[1])", path)

    def test_findings_open_by_cause_and_a_cause_is_accepted_by_one_key(self):
        self.see("/findings")
        self.wait_text("2 causes of 2 open findings")
        self.wait_text("no reason known · Editor")
        self.wait_for("[data-ledger] [data-index='0']")
        self.press("a")
        self.wait_text("is not at the destination.")
        self.field("Why").send_keys("written off", Keys.ENTER)
        self.wait_text("1 cause of 1 open finding")
        self.press("u")
        self.wait_text("2 causes of 2 open findings")
        self.press(Keys.ENTER)
        self.wait_text("By cause")
        self.assertIn("cause=", self.browser.current_url)
        self.press("c")
        self.wait_text("Show findings one by one")
        self.check_axe("findings by cause")
        self.check_console()

    def test_accepted_for_a_section_split_revoked_and_exported(self):
        self.see("/findings?kind=images")
        self.wait_text("/img/wheel.png is missing")
        self.press("a")
        where = self.wait_for("select[aria-label=Where]")
        Select(where).select_by_visible_text("In /shop alone (5 pages)")
        self.field("Why").send_keys("another picture there", Keys.ENTER)
        self.wait_text("accepted on 5, open on 4")
        rows = list(csv.DictReader(io.StringIO(self.exported("CSV"))))
        self.assertEqual(
            [(row["pages"], row["accepted_pages"]) for row in rows if row["finding"] == "images"], [("9", "5")]
        )
        self.see("/decisions")
        self.wait_text("1 finding on the pages of /shop alone")
        self.click("1 finding of the last comparison")
        self.see("/findings?kind=images")
        self.wait_text("accepted on 5, open on 4")
        self.press(Keys.ENTER)
        self.wait_text("Back to the findings")
        self.wait_text("9 pages")
        self.wait_for("[data-ledger] [data-index='0']")
        self.press(Keys.ENTER)
        self.wait_text("Back to the finding")
        first = self.wait_for("h1[title*='/']").get_attribute("title")
        self.press("n")
        self.wait_until(
            lambda: self.find("h1[title*='/']").get_attribute("title") != first, "the next page is not shown"
        )
        self.assertIn("from=finding&", self.browser.current_url)
        self.press(Keys.ESCAPE)
        self.wait_text("9 pages")
        self.see("/decisions")
        self.click("Revoke")
        self.wait_text("revoked or past")
        self.see("/findings?kind=images")
        self.wait_text("/img/wheel.png is missing")
        self.assertNotIn("accepted on", self.text())

    def test_what_only_follows_is_folded_below_what_it_follows_from(self):
        self.see("/findings?kind=lost")
        self.wait_text("follow from it")
        self.assertNotIn("link to /people/n4", self.text())
        self.wait_for("[data-ledger] [data-index='0']")
        self.press("f")
        self.wait_text("link to /people/n4 is missing")
        self.wait_text("follows from the one above")
        self.press("f")
        self.wait_gone("link to /people/n4 is missing")

    def test_standing_gives_a_list_for_each_person(self):
        self.see()
        Select(self.wait_for("select[aria-label='Who can mend it']")).select_by_visible_text("For: Editor (2)")
        self.wait_gone("Nothing seen")
        told = self.exported("Markdown")
        self.assertTrue(told.startswith("# Mill: 2 things to do for the editor"), told)
        self.assertIn("/people/n4", told)
        self.assertIn("wheel.png", told)


class FoldedTest(BrowserTestCase):
    """A site of many sections, of which most fare alike."""

    def test_sections_that_fare_alike_are_folded_into_one_and_labels_do_not_overlap(self):
        names = [f"/{year}/log" for year in range(2010, 2016)] + [f"/part-{n}/x" for n in range(10)]
        left = {"/": page("Home", *names)} | {name: page(name, text=f"text of {name}") for name in names}
        right = dict(left) | {"/part-3/x": Answer(status=404)}
        old, new = self.serve(left, right)
        of_move = self.move(old, new)
        self.baseline(of_move)
        self.capture(of_move, "destination")
        comparison_job.make(of_move.comparisons.get())
        self.sign_in()
        self.open(f"/moves/{of_move.pk}")
        self.wait_text("Not ready to switch.")
        read = "return [...document.querySelectorAll('svg[aria-label=\"The sections crossing\"] text')].map(e => "
        read += (
            "[e.firstChild.textContent, ...['left', 'top', 'right', 'bottom'].map(s => e.getBoundingClientRect()[s])])"
        )
        labels = self.browser.execute_script(read)
        words = [label[0] for label in labels]
        self.assertIn("six years", words)
        self.assertIn("nine sections", words)
        self.assertIn("/part-3", words)
        self.assertNotIn("/2012", words)
        for at, (one, *a) in enumerate(labels):
            for other, *b in labels[at + 1 :]:
                apart = a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] + 2 or b[3] <= a[1] + 2
                self.assertTrue(apart, f"{one} lies on {other}")
