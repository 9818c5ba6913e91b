"""The whole path, from describing a move to its verdict: by mouse, and by keyboard alone."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.base import BrowserTestCase
from tests.site import Answer, page

OLD = {
    "/": page("Mill", "/hours", "/shop/rye", "/lost"),
    "/hours": page("Hours", text="from nine to five"),
    "/shop/rye": page("Rye"),
    "/lost": page("Lost page"),
}
NEW = {
    "/": page("Mill", "/hours", "/store/rye", "/lost"),
    "/hours": page("Hours", text="from ten to five"),
    "/store/rye": page("Rye"),
    "/shop/rye": Answer("", 301, {"Location": "/store/rye"}),
}
VERDICT = "Not ready to switch. /lost is not at the destination."


class PathTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.old, self.new = self.serve(OLD, NEW)
        self.worker(self.old.allowed, self.new.allowed)
        self.sign_in()

    def test_by_mouse(self):
        self.wait_text("No move yet.")
        self.click("Describe a move")
        self.field("Name of the site").send_keys("Quillhaven")
        self.field("Connect to", 0).send_keys(f"127.0.0.1:{self.old.port}")
        self.field("Address", 0).send_keys("old.example")
        self.field("Address", 1).click()
        self.wait_text("http answers with 200, and was taken.")
        self.assertEqual(self.field("Address", 0).get_attribute("value"), "http://old.example/")
        self.field("Address", 1).send_keys("http://new.example")
        self.field("Connect to", 1).send_keys(f"127.0.0.1:{self.new.port}")
        self.wait_text("Quillhaven moves to a new host, under a new name.")
        self.wait_text(f"127.0.0.1:{self.new.port} in")
        self.wait_text("/shop/rye")
        self.click("Add a line")
        left, right = self.wait_for("[aria-label='Line 2, old']"), self.find("[aria-label='Line 2, new']")
        left.send_keys("shop")
        right.send_keys("store")
        self.wait_text("new.example/store/rye")
        self.find("[aria-label='Try an address']").send_keys("http://www.old.example/shop/x?y=1")
        self.wait_text("query kept, www folded")
        self.click("Make this move")
        self.wait_text("Nothing can be said yet.")
        self.click("Capture source")
        self.wait_text("Is this the baseline?", 60)
        self.click("Name it as the baseline")
        self.wait_text("The baseline is recorded.")
        self.click("Capture destination")
        self.wait_text(VERDICT, 60)
        self.wait_text("Not looked at yet: content counts")
        self.click("/lost is not at the destination")
        self.wait_text("rows 1 to 1 of 1")
        self.assertIn("verdict=lost", self.browser.current_url)
        self.click("Altered")
        self.wait_text("No row fits.")
        self.click("Show all rows")
        self.click("Altered")
        self.wait_text("rows 1 to 2 of 2, worst first")
        self.wait_for("a[data-index='1']").click()
        self.wait_text("one place changed")
        self.click("Back to the ledger")
        self.click("Captures")
        self.wait_text("Round 1. Complete. 3 pages")
        self.click("How it went")
        self.wait_text("From known to page")
        self.wait_text("page of the site")
        self.click("Evidence")
        self.wait_text("not verified yet")
        self.click("Verify all")
        self.wait_text("are as they were kept")
        self.check_console()

    def test_a_further_host(self):
        of_user = self.move(self.old, self.new)
        (shop,) = self.serve({"/": page("Shop", "/rye"), "/rye": page("Rye")})
        self.open(f"/moves/{of_user.pk}/describe")
        self.click("Add a host")
        for which in ("source", "destination"):
            host = self.wait_for(f"[aria-label='Further host, {which}']")
            address, connects = host.find_elements(By.TAG_NAME, "input")[:2]
            address.send_keys("http://shop." + {"source": "old", "destination": "new"}[which] + ".example")
            connects.send_keys(f"127.0.0.1:{shop.port}")
        self.wait_text("from the further hosts")
        self.click("Save")
        self.wait_text("Capture source")
        of_user.refresh_from_db()
        self.assertIn("http://shop.old.example/ -> http://shop.new.example/", of_user.rule)
        self.open(f"/moves/{of_user.pk}/describe")
        kept = self.wait_for("[aria-label='Further host, source'] input").get_attribute("value")
        self.assertEqual(kept, "http://shop.old.example/")
        self.check_console()

    def test_by_keyboard_alone(self):
        self.tab_to("Describe a move")
        self.press(Keys.ENTER)
        self.wait_text("Name of the site")
        self.tab_to("Name of the site")
        self.press("Quillhaven", Keys.TAB)
        self.tab_to("Address")
        self.press("http://old.example", Keys.TAB)
        self.press(f"127.0.0.1:{self.old.port}", Keys.TAB)
        self.tab_to("Address")
        self.press("http://new.example", Keys.TAB)
        self.press(f"127.0.0.1:{self.new.port}")
        self.wait_text(f"127.0.0.1:{self.new.port} in")
        self.tab_to("Make this move")
        self.press(Keys.ENTER)
        self.wait_text("Nothing can be said yet.")
        self.tab_to("Capture source")
        self.press(Keys.ENTER)
        self.wait_text("Is this the baseline?", 60)
        self.tab_to("Name it as the baseline")
        self.press(Keys.ENTER)
        self.wait_text("The baseline is recorded.")
        self.tab_to("Capture destination")
        self.press(Keys.ENTER)
        self.wait_text(VERDICT, 60)
        self.tab_to("Pages")
        self.press(Keys.ENTER)
        self.wait_text("worst first")
        self.press("j")
        self.wait_for("a[data-index='1'][aria-current=true]")
        self.press("j", "k")
        self.wait_for("a[data-index='1'][aria-current=true]")
        self.press(Keys.ENTER)
        self.wait_text("Back to the ledger")
        self.press("n")
        self.wait_text("row 3")
        self.press("p")
        self.wait_text("row 2")
        self.press(Keys.ESCAPE)
        self.wait_text("worst first")
        self.press("?")
        self.wait_text("Keys of this view")
        self.press(Keys.ESCAPE)
        self.press("/")
        self.press("lost")
        self.wait_text("rows 1 to 1 of 1")
        self.press(Keys.ENTER)
        self.press("t")
        self.wait_text("Retire this page")
        self.wait_for("[role=dialog] input:focus")
        self.press("long over", Keys.ENTER)
        self.wait_text("Retired 1", 30)
        self.tab_to_standing()
        self.wait_text("Nothing seen blocks the switch.", 30)

    def tab_to_standing(self):
        self.wait_for("nav[aria-label='Views of this move']")
        self.tab_to("Standing")
        self.press(Keys.ENTER)
