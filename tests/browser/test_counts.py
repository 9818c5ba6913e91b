"""Counts: rows of content, tables and files under their headings, opened to the items; numbers, the API, what fits."""

import io
import json

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from demo.wordpress_dump import Post, WordPressDump
from palinode.work.comparing import comparison_job
from palinode.work.importing import import_job
from tests.browser.base import BrowserTestCase
from tests.site import Answer, page

SITE = WordPressDump(
    posts=[Post(number, f"Tide {number}") for number in range(1, 9)],
    more={"wp_orders": ("id int, total varchar(20)", [(number, "4.50") for number in range(40)])},
)
COPY = SITE.but(
    posts=[one for one in SITE.posts if one.number != 4],
    more={"wp_orders": ("id int, total varchar(20)", [(number, "4.50") for number in range(31)])},
)
LISTS = b"12 1700000000 ./uploads/2022/wheel.jpg\n4 1700000000 ./index.php\n", b"4 1700000000 ./index.php\n"
API = {"name": "Mill", "url": "http://old.example", "home": "http://old.example", "routes": {}}


class CountsTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        posts = {f"/2020/03/tide-{number}/": page(f"Tide {number}") for number in range(1, 9)}
        home = page("Home", *posts)
        routes = {
            "/wp-json/": API,
            "/wp-json/wp/v2/types": {},
            "/wp-json/wp/v2/taxonomies": {},
            "/wp-json/walks": {"walks": [{"id": 7, "title": "Wall"}, {"id": 8, "title": "Creek"}]},
        }
        answers = {
            path: Answer(json.dumps(said), headers={"Content-Type": "application/json"})
            for path, said in routes.items()
        }
        old, new = self.serve(
            {"/": home, **posts, **answers},
            {"/": home, **{path: one for path, one in posts.items() if "-4/" not in path}},
        )
        self.subject = self.move(old, new)
        self.baseline(self.subject)
        self.capture(self.subject, "destination")
        for which, dump, listed in (("source", SITE, LISTS[0]), ("destination", COPY, LISTS[1])):
            for data, name in ((dump.sql(), f"{which}.sql"), (listed, f"{which}.txt")):
                import_job.read(import_job.order(self.subject, which, io.BytesIO(data), name, self.user))
        comparison_job.make(self.subject.comparisons.filter(state="waiting").latest("pk"))
        self.worker(old.allowed, new.allowed)
        self.sign_in()
        self.open(f"/moves/{self.subject.pk}/counts")
        self.wait_text("Posts, published")

    def test_rows_open_to_the_items_and_lead_to_their_pages(self):
        headings = self.browser.execute_script(
            "return [...document.querySelectorAll('[data-ledger] h2')].map((one) => one.innerText)"
        )
        self.assertEqual(
            [one.rpartition(" ")[0].rpartition(" ")[0] for one in headings],
            ["Content", "Database tables", "Files on disk"],
        )
        text = self.text()
        for said in ("1 missing: “Tide 4”", "9 rows fewer", "uploads/2022/", "1 missing"):
            self.assertIn(said, text)
        self.check_axe("counts")
        self.press(Keys.ENTER)
        self.wait_text("Content: Posts, published")
        self.wait_text("“Tide 4” (4)")
        self.check_axe("a row of counts")
        self.browser.find_element(By.LINK_TEXT, "/2020/03/tide-4/").click()
        self.wait_until(
            lambda: len(self.browser.find_elements(By.CSS_SELECTOR, "a[data-index]")) == 1,
            "there is not one page alone",
        )

    def test_standing_names_what_is_missing_from_the_database(self):
        self.open(f"/moves/{self.subject.pk}")
        self.wait_text("Items are missing from the database")
        self.assertNotIn("content counts", self.text())

    def test_what_is_typed_asked_and_held_against_limits(self):
        self.open(f"/moves/{self.subject.pk}/captures")
        self.wait_text("Numbers …")
        self.click("Numbers …")
        self.wait_for("textarea").send_keys("Orders")
        self.click("Keep them")
        self.wait_text("Line 1 does not end with a number: “Orders”.")
        self.check_axe("numbers typed")
        self.find("textarea").send_keys(" 40")
        self.click("Keep them")
        self.wait_text("Numbers typed by hand. One number.", 60)
        self.click("From its database …")
        for label, text in (
            ("Host", "127.0.0.1"),
            ("Port", "1"),
            ("Database", "mill"),
            ("User name", "reader"),
            ("Password", "x"),
        ):
            self.browser.find_element(By.XPATH, f"//label[. = '{label}']/following-sibling::input").send_keys(text)
        self.click("Read it")
        self.wait_text("leads to a private or special network", 60)
        self.check_axe("a live database, refused")
        self.assertEqual(
            self.browser.find_element(By.XPATH, "//label[. = 'Password']/following-sibling::input").get_attribute(
                "value"
            ),
            "",
        )
        self.click("Close")
        self.click("From its API …")
        self.click("Ask it")
        self.wait_text("what a public API said.", 60)
        self.check_axe("the API asked")
        self.click("Add a listing …")
        self.wait_for("#option-noun").send_keys("walk")
        self.find("#option-address").send_keys("wp-json/walks")
        self.click("Try it on the source")
        self.wait_text("There is no list at “the top”. The answer has: walks.")
        self.find("#option-items").send_keys("walks")
        self.click("Try it on the source")
        self.wait_text("2 entries on the first page.")
        self.wait_text("identity: 7")
        self.check_axe("a listing, tried")
        self.click("Save the listing")
        self.wait_text("walk at wp-json/walks")
        self.click("Close")
        self.browser.find_elements(By.XPATH, "//li[contains(., 'Dump.')]//button[contains(., 'What it holds')]")[
            0
        ].click()
        self.click("Will it fit the new host?")
        self.wait_for("#option-upload").send_keys(Keys.BACKSPACE, "1")
        self.wait_text("it can be uploaded.")
        self.check_axe("what fits")
