"""Links and permalinks: what is newly broken, opened to the pages that link; a line taken into the rule; policies asked."""

import random

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from palinode.records.models import Move
from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.site import Answer, page
from tests.words import WORDS

JOURNAL = [f"/journal/{2015 + n % 3}/{n % 12 + 1:02}/tide-{n}" for n in range(6)]


def post(number: int, *links: str):
    """Return a post that nothing else is like."""
    return page(f"Tide {number}", *links, text=" ".join(random.Random(number).choices(WORDS, k=80)))


class LinksTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        posts = {path: post(n, "/visit#winter", "/gone") for n, path in enumerate(JOURNAL)}
        short = {f"/journal/tide-{n}": post(n, "/visit#winter", "/gone", "/new-and-gone") for n in range(6)}
        visit = page("Visit", text='<h2 id="winter">Winter</h2>')
        slash = Answer("", 301, {"Location": "/visit"})
        old, new = self.serve(
            {"/": page("Home", "/visit", *posts), "/visit": visit, "/visit/": slash, **posts},
            {"/": page("Home", "/visit", *short), "/visit": page("Visit"), "/visit/": page("Visit"), **short},
        )
        self.subject = self.move(old, new)
        self.baseline(self.subject)
        self.capture(self.subject, "destination")
        comparison_job.make(self.subject.comparisons.filter(state="waiting").latest("pk"))
        self.worker(old.allowed, new.allowed)
        self.sign_in()

    def test_links_by_target_and_the_pages_that_link(self):
        self.open(f"/moves/{self.subject.pk}/links")
        self.wait_text("/new-and-gone")
        text = self.text()
        for words in (
            "/visit#winter",
            "the page answers, the anchor is gone",
            "404; broken before, too",
            "Broken before",
        ):
            self.assertIn(words, text)
        self.check_axe("links")
        self.click("Newly broken")
        self.wait_gone("broken before, too")
        self.wait_for("[data-index='0']")
        self.browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ENTER)
        self.wait_text("Newly broken")
        self.wait_text("6 pages")
        self.check_axe("a broken link, opened")

    def test_a_line_is_taken_and_policies_are_asked(self):
        self.open(f"/moves/{self.subject.pk}/permalinks")
        self.wait_text("/journal/{year}/{month}/{name}")
        self.wait_text("would carry 6 over, and none wrongly")
        self.wait_text("policies of addresses (Check now asks the source and destination)")
        self.check_axe("permalinks")
        self.click("Check now")
        self.wait_text("one page under two addresses", 60)
        self.assertIn("/visit/ → /visit, 301", self.text())
        self.browser.find_element(By.PARTIAL_LINK_TEXT, "{year}").click()
        self.wait_text("6 pages are as planned")
        self.check_axe("a pattern, opened")
        self.click("Add this line to the rule")
        self.wait_until(
            lambda: "/journal/<number>/<number>/ -> /journal/" in Move.objects.get(pk=self.subject.pk).rule,
            "the rule",
            30,
        )
        self.open(f"/moves/{self.subject.pk}/permalinks")
        self.wait_text("as the address rule says", 60)
