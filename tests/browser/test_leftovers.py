"""Leftovers: rows by what must be mended, opened to the pages; further names are looked for in what is stored."""

import io

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from demo.wordpress_dump import Post, WordPressDump
from palinode.work.comparing import comparison_job
from palinode.work.importing import import_job
from tests.browser.base import BrowserTestCase
from tests.site import page

OLD = "http://old.example"
SITE = WordPressDump(posts=[Post(1, "Tide", text="x")])
LEFT = SITE.but(posts=[Post(1, "Tide", text=f"<a href='{OLD}/journal/9'>x</a>")], options={"home": OLD})


class LeftoversTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        pages = {f"/p{number}": page(f"Page {number}") for number in range(3)}
        home = page("Home", *pages)
        left = page("Page 0", text=f'<img src="//old.example/a.jpg"><!-- {OLD}/cache --> cdn.elsewhere.example')
        old, new = self.serve({"/": home, **pages}, {"/": home, **pages, "/p0": left})
        self.subject = self.move(old, new)
        self.baseline(self.subject)
        self.capture(self.subject, "destination")
        for which, dump in (("source", SITE), ("destination", LEFT)):
            import_job.read(import_job.order(self.subject, which, io.BytesIO(dump.sql()), f"{which}.sql", self.user))
        comparison_job.make(self.subject.comparisons.filter(state="waiting").latest("pk"))
        self.worker(old.allowed, new.allowed)
        self.sign_in()
        self.open(f"/moves/{self.subject.pk}/leftovers")
        self.wait_text("//old.example/a.jpg")

    def test_rows_open_and_names_are_added(self):
        text = self.text()
        for words in ("//new.example/a.jpg", "Loads from the old host", "wp_posts, post_content", "option home",
                      f"{OLD}/journal/9", "told by the check of the platform"):  # fmt: skip
            self.assertIn(words, text)
        self.check_axe("leftovers")
        self.click("Loads from the old host")
        self.wait_gone("post_content")
        self.wait_for("[data-index='0']")
        self.browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ENTER)
        self.wait_text("Leftovers: image")
        self.wait_text("/p0")
        self.open(f"/moves/{self.subject.pk}/leftovers")
        self.wait_text("//old.example/a.jpg")
        self.click("Options …")
        self.wait_for("#option-names").send_keys("cdn.elsewhere.example")
        self.click("Save and compare")
        self.wait_text("cdn.elsewhere.example", 60)
        self.wait_until(lambda: "visible text" in self.text(), "the new name was not found", 60)
