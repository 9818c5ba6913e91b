"""Findings in the browser: read, marked, accepted, mended, cleared; by keyboard and by mouse."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from palinode.records.models import Comparison
from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.site import Answer, page

LEFT = {
    "/": page("Mill", "/a", "/b", "/c"),
    "/a": page("A", text="the wheel"),
    "/b": page("B", text="the pond"),
    "/c": page("C", text="the sluice"),
}
HOSTILE = "<img src=x onerror=alert(1)> \N{RIGHT-TO-LEFT OVERRIDE}dlrow"


class FindingsTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.right = dict(LEFT) | {
            "/a": page(HOSTILE.replace("<", "&lt;"), text="the wheel"),
            "/b": Answer(status=404),
            "/c": page("C", text="the sluice gate"),
        }
        old, new = self.serve(LEFT, self.right)
        self.of_move = self.move(old, new)
        self.baseline(self.of_move)
        self.capture(self.of_move, "destination")
        comparison_job.make(self.of_move.comparisons.get())
        self.worker(old.allowed, new.allowed)
        self.sign_in()

    def see(self, path: str = "") -> None:
        self.open(f"/moves/{self.of_move.pk}{path}")

    def chip(self, name: str) -> int:
        for one in self.browser.find_elements(By.CSS_SELECTOR, "[role=search] button[aria-pressed]"):
            if one.text.startswith(name):
                return int(one.text.split()[-1])
        return self.fail(f"no {name} in {self.text()[:300]}")

    def test_by_keyboard_read_mark_accept_and_take_back(self):
        self.see()
        self.tab_to("Findings")
        self.press(Keys.ENTER)
        self.wait_text("Show findings one by one")
        self.press("l")
        # The kinds are named before the rows are there.
        self.wait_text("page lostnot found")
        open_before = self.chip("Open")
        self.press("j", "x")
        self.wait_text("Accept the marked one")
        self.press("x", "a")
        self.wait_text("Accept 2 findings")
        self.field("Why").send_keys("agreed with the miller", Keys.ENTER)
        self.wait_gone("Accept 2 findings")
        self.wait_text(f"Open {open_before - 2}")
        self.assertEqual((self.chip("Open"), self.chip("Accepted")), (open_before - 2, 2))
        self.click("Accepted")
        self.wait_text("1 to 2 of 2")
        self.see("/decisions")
        self.wait_text("agreed with the miller")
        self.wait_text("2 findings")
        self.click("Revoke")
        self.wait_text("revoked or past")
        self.see("/findings?list=all")
        self.wait_text(f"Open {open_before}")

    def test_accepted_by_cause_undone_by_one_key_revoked_in_part_and_exported(self):
        self.see()
        self.wait_text("Not ready to switch.")
        causes = self.browser.find_elements(By.XPATH, "//article//a[contains(., 'finding')]")
        self.assertGreater(len(causes), 1)
        before = self.of_move.comparisons.count()
        self.browser.execute_script("arguments[0].click()", causes[0])
        self.wait_text("Accept this one")
        self.click("Accept this one")
        self.field("Why").send_keys("the page was not wanted", Keys.ENTER)
        self.wait_text("Accepted 1")
        self.see()
        self.wait_text("Nothing seen blocks the switch.")
        self.press("u")
        self.wait_text("Undone: 1 finding accepted, “the page was not wanted”.")
        self.wait_text("Not ready to switch.")

        self.see("/findings?list=all")
        self.wait_text("page lostnot found")
        number = self.chip("Open")
        self.click(f"Accept all {number}")
        self.field("Why").send_keys("all of it is meant", Keys.ENTER)
        self.wait_text(f"Accepted {number}")
        self.click("Accepted")
        self.wait_text("miller, today")
        self.wait_text("revoke what accepts it")
        self.press("j", "x")
        self.click("Revoke for the marked one")
        self.wait_text(f"Accepted {number - 1}")
        self.see("/decisions")
        self.click(f"{number - 1} findings of the last comparison")
        self.wait_text(f"1 to {number - 1} of {number - 1}")
        path = self.browser.find_element(By.LINK_TEXT, "CSV").get_attribute("href")
        exported = self.browser.execute_async_script(
            "fetch(arguments[0]).then(one => one.text()).then(arguments[1])", path
        )
        self.assertEqual(exported.count("all of it is meant"), number - 1)
        self.assertEqual(self.of_move.comparisons.count(), before, "nothing was compared again")

    def test_a_pair_opens_at_its_first_difference_and_a_key_goes_on(self):
        long = "".join(f"<p>paragraph {n} of the log {'word ' * 30}</p>" for n in range(120))
        self.right["/c"] = page("C", text="the sluice")
        for site, words in ((LEFT, ("once", "twice")), (self.right, ("at times", "often"))):
            text = long.replace("paragraph 60 ", f"paragraph 60 {words[0]} ").replace(
                "paragraph 90 ", f"paragraph 90 {words[1]} "
            )
            site["/c"] = page("C", text="the sluice").altered(("</main>", f"{text}</main>"))
        self.addCleanup(LEFT.__setitem__, "/c", page("C", text="the sluice"))
        self.baseline(self.of_move)
        self.capture(self.of_move, "destination")
        latest = self.of_move.comparisons.order_by("pk").last()
        self.wait_until(lambda: Comparison.objects.get(pk=latest.pk).state == "made", "nothing was compared")
        self.see("/findings?kind=text&find=/c")
        self.wait_text("/c")
        self.press(Keys.ENTER)
        self.wait_text("Back to the findings")
        self.wait_for("[data-differs]")
        seen = "const one = document.querySelectorAll('[data-differs]')[arguments[0]].getBoundingClientRect();"
        seen += "const pane = document.querySelector('[aria-label=\"The pair\"]').getBoundingClientRect();"
        seen += "return one.top >= pane.top && one.bottom <= pane.bottom"
        self.wait_until(lambda: self.browser.execute_script(seen, 0), "the first difference is not seen")
        self.assertGreater(len(self.browser.find_elements(By.CSS_SELECTOR, "[aria-hidden] span.bg-ochre")), 1)
        self.press("d")
        self.wait_until(lambda: self.browser.execute_script(seen, 1), "the second difference is not seen")

    def test_a_pair_is_read_from_its_finding_and_the_next_one_follows(self):
        self.see("/findings?list=all")
        self.wait_text("page lostnot found")
        self.press(Keys.ENTER)
        self.wait_text("Back to the findings")
        self.assertIn("/b", self.find("h1").text)
        self.press("n")
        self.wait_for("h1[title$='/a'], h1[title$='/c']")
        self.press(Keys.ESCAPE)
        self.wait_text("accept with a reason")

    def test_hostile_text_is_text(self):
        self.see("/findings?kind=title")
        self.wait_text("onerror=alert(1)")
        self.assertEqual(self.browser.find_elements(By.CSS_SELECTOR, "main img"), [])

    def test_this_is_meant_is_tried_saved_and_holds(self):
        self.see("/findings?kind=text")
        self.wait_text("/c")
        self.press("e")
        self.wait_text("It would set one open finding aside".replace("one", "1").replace(" aside", " on 1 page aside"))
        self.browser.find_element(By.XPATH, "//label[contains(., 'The whole move')]").click()
        self.browser.find_element(By.XPATH, "//label[contains(., 'Words in the place')]").click()
        self.field("At the source").send_keys("sluice")
        self.field("At the destination").send_keys("sluice gate")
        self.wait_text("on 1 page aside")
        self.field("Why").send_keys("it has a gate now", Keys.ENTER)
        self.wait_gone("Mark as expected")
        self.see("/findings?kind=text&state=accepted")
        self.wait_text("1 to 1 of 1")
        self.see("/decisions")
        self.wait_text("became")
        self.wait_text("1 finding of the last comparison")

    def test_a_cause_mended_is_captured_again_and_cleared(self):
        self.see()
        self.wait_text("Not ready to switch.")
        self.right["/b"] = LEFT["/b"]
        self.click("What to do")
        self.click("Mended: capture this page again")
        self.wait_text("Nothing seen blocks the switch.", 40)
        self.see("/findings?state=cleared")
        self.wait_text("page lost")

    def test_parted_and_paired_by_hand(self):
        self.see("/pages?find=/b")
        self.wait_text("not found")
        self.press(Keys.ENTER)
        self.click("Pair by hand")
        self.field("Page of the destination").send_keys("/c")
        self.field("Why").send_keys("merged into it", Keys.ENTER)
        self.wait_gone("Kept with your name")
        self.see("/decisions")
        self.wait_text("paired")
        self.see("/pages?verdict=moved")
        self.wait_text("paired by hand")

    def test_a_pair_is_confirmed_by_hand(self):
        self.see("/pages?verdict=altered")
        self.wait_text("worst first")
        self.press(Keys.ENTER)
        self.click("Change the pair")
        self.field("Why").send_keys("the wording was agreed")
        self.click("Confirm them")
        self.wait_gone("Kept with your name")
        self.see("/decisions?kind=pair")
        self.wait_text("the wording was agreed")

    def test_pages_in_groups_and_several_accepted_in_one_go(self):
        self.see("/pages")
        Select(self.wait_for("select[aria-label=Order]")).select_by_visible_text("By cause")
        self.wait_text("/b is not at the destination")
        self.click("/b is not at the destination")
        self.wait_text("rows 1 to 1 of 1")
        self.assertIn("cause=", self.browser.current_url)
        self.see("/pages?by=group")
        self.wait_text("1 altered")
        self.press("j", Keys.ENTER)
        self.wait_text("rows 1 to 1 of 1")
        self.assertIn("group=", self.browser.current_url)
        self.see("/pages")
        self.wait_text("worst first")
        self.press("x", "x")
        self.wait_text("Accept the 2 marked ones")
        self.press("a")
        self.wait_text("Accept what is open on 2 pages")
        self.field("Why").send_keys("meant so", Keys.ENTER)
        self.wait_text("Findings", 40)

    def test_a_kind_is_weighed_otherwise_and_the_decision_listed_among_its_kind(self):
        self.see("/findings?kind=title")
        self.wait_text("Change its weight")
        self.click("Change its weight")
        Select(self.wait_for("select[aria-label='Weight in this move']")).select_by_visible_text("Blocks the switch")
        self.field("Why").send_keys("search results show titles", Keys.ENTER)
        self.wait_gone("In this move alone")
        self.see("/findings?kind=title&weight=blocks")
        self.wait_text("1 to 1 of 1")
        self.see("/decisions")
        self.click("Overridden 1")
        self.wait_text("search results show titles")
        self.assertIn("kind=override", self.browser.current_url)

    def test_a_pair_in_its_tabs_by_keyboard(self):
        self.see("/pages?verdict=altered")
        self.wait_text("worst first")
        self.press(Keys.ENTER)
        self.wait_text("Back to the ledger")
        for key, words in (
            ("2", "same"),
            ("3", "Neither page has links and images."),
            ("4", "Neither page has forms."),
            ("5", "content-type"),
            ("6", "The stored markup"),
            ("1", "words"),
        ):
            self.press(key)
            self.wait_text(words)
            self.check_axe(f"tab {key}")
        self.press("6")
        self.wait_text("<title>")
        self.click("As a page")
        frame = self.wait_for("iframe[title^='The source page']")
        self.assertEqual(frame.get_attribute("sandbox"), "")
        self.browser.switch_to.frame(frame)
        self.wait_for("main")
        self.browser.switch_to.default_content()
        self.check_console()


class SectionMovedTest(BrowserTestCase):
    def test_the_line_that_is_offered_goes_into_the_rule(self):
        goods = {name: page(name, text=f"{name} is milled on monday") for name in ("rye", "oats", "wheat", "malt")}

        def home(section: str) -> Answer:
            links = " ".join(f'<a href="/{section}/{name}">{name}</a>' for name in goods)
            return Answer(f"<title>Mill</title><main><h1>Mill</h1><p>{links}</p></main>")

        left = {"/": home("shop")}
        right = {"/": home("store")}
        right |= {f"/shop/{name}": Answer("", 301, {"Location": f"/store/{name}"}) for name in goods}
        old, new = self.serve(
            left | {f"/shop/{name}": one for name, one in goods.items()},
            right | {f"/store/{name}": one for name, one in goods.items()},
        )
        move = self.move(old, new)
        self.baseline(move)
        self.capture(move, "destination")
        comparison_job.make(move.comparisons.get())
        self.worker(old.allowed, new.allowed)
        self.sign_in()
        self.open(f"/moves/{move.pk}")
        self.wait_text("/shop became /store")
        self.click("What to do")
        self.wait_text("With it 4 pages are as planned, none wrongly.")
        self.click("Add this line to the rule")
        self.wait_gone("/shop became /store")
        move.refresh_from_db()
        self.assertTrue(move.rule.endswith("\n/shop -> /store"))
