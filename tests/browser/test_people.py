"""People: let into a move, decisions made and taken back, accounts and tokens, a move deleted; by mouse."""

import tempfile
from pathlib import Path

from django.contrib.auth.models import User
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from palinode.records.models import Capture, Move
from palinode.work.comparing import comparison_job
from tests.browser.base import BrowserTestCase
from tests.site import Answer, page

LEFT = {"/": page("Mill", "/a", "/b/1"), "/a": page("A"), "/b/1": page("B")}
RIGHT = {"/": page("Mill", "/a", "/b/1"), "/a": page("A")}


class PeopleTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        User.objects.filter(pk=self.user.pk).update(is_superuser=True)
        self.old, self.new = self.serve(LEFT, RIGHT)
        self.of_move = self.move(self.old, self.new)
        self.path = f"/moves/{self.of_move.pk}"

    def compared(self) -> None:
        self.baseline(self.of_move)
        self.capture(self.of_move, "destination")
        comparison_job.make(self.of_move.comparisons.get())

    def press_in(self, row: str, button: str) -> None:
        """Click a button in the list line that holds these words."""
        line = next(one for one in self.browser.find_elements(By.TAG_NAME, "li") if row in one.text)
        line.find_element(By.XPATH, f".//button[normalize-space(.)={button!r}]").click()

    def test_let_in_and_taken_out(self):
        User.objects.create_user("baker", password="bannock-and-rye")
        self.sign_in()
        self.open(self.path + "/describe")
        self.field("Let another account in").send_keys("nobody", Keys.ENTER)
        self.wait_text("There is no account of this name.")
        self.assertEqual(self.field("Let another account in").get_attribute("value"), "nobody")
        self.field("Let another account in").send_keys(Keys.BACKSPACE * 6, "baker", Keys.ENTER)
        self.wait_text("baker\nmember")
        self.press_in("baker", "Take out")
        self.wait_gone("baker")
        self.press_in("miller", "Take out")
        self.wait_text("A move keeps at least one owner.")
        self.check_axe("members")

    def test_a_kept_password_is_said_to_be_typed_anew_where_it_would_go_elsewhere(self):
        side = self.of_move.side("source")
        side.user_name, side.password = "miller", "bannock"
        side.save()
        self.sign_in()
        self.open(self.path + "/describe")
        password = self.wait_for("[aria-label=source] input[type=password]")
        self.assertEqual(password.get_attribute("placeholder"), "kept; type to change it")
        address = self.find("[aria-label=source] input[placeholder='https://']")
        address.send_keys("a/folder")
        self.assertEqual(password.get_attribute("placeholder"), "kept; type to change it")
        address.send_keys(Keys.HOME, Keys.ARROW_RIGHT * 4, "s")
        self.wait(lambda: password.get_attribute("placeholder").startswith("type it anew"))
        self.click("Save")
        self.wait(lambda: Move.objects.get(pk=self.of_move.pk).side("source").base.startswith("https:"))
        self.assertEqual(Move.objects.get(pk=self.of_move.pk).side("source").password, "")

    def test_a_member_is_not_offered_what_only_an_owner_may(self):
        baker = User.objects.create_user("baker", password="bannock-and-rye")
        self.of_move.memberships.create(user=baker, role="member")
        self.sign_in("baker", "bannock-and-rye")
        self.open(self.path + "/describe")
        self.wait_text("Who sees this move")
        for words in ("Let in", "Take out\n", "Delete this move"):
            self.assertNotIn(words, self.text().partition("Who sees this move")[2])
        self.open("/account")
        self.wait_text("Tokens for scripts")
        self.assertNotIn("An account for another person", self.text())

    def test_a_decision_made_and_taken_back(self):
        self.compared()
        self.worker()
        self.sign_in()
        self.open(self.path + "/pages")
        self.wait_text("rows 1 to 3 of 3")
        self.press("t")
        self.wait_text("Retire this page")
        self.field("Why").send_keys("Sold with the <b>old</b> bakery")
        self.wait_for("[role=dialog] input[type=checkbox]").click()
        self.find("[role=dialog] button[type=submit]").click()
        self.wait_text("Retired 1", 40)
        self.click("Decisions")
        self.wait_text("Sold with the <b>old</b> bakery")
        self.wait_text("The whole section")
        self.check_axe("decisions")
        self.click("Revoke")
        self.wait_text("revoked or past")
        self.click("Standing")
        self.wait_text("Not ready to switch.", 40)

    def test_the_installation_s_owner_makes_accounts_and_anybody_tokens(self):
        self.sign_in()
        self.open("/account")
        self.field("Name").send_keys("guide")
        self.field("First password").send_keys("short")
        self.click("Make the account")
        self.wait_text("too short")
        self.field("First password").send_keys("-but-longer-now")
        self.click("Make the account")
        self.wait_text("Let them into a move")
        self.field("What it is for").send_keys("nightly", Keys.ENTER)
        self.wait_text("Copy it now, it is not shown again:")
        self.field("Present password").send_keys("wrong")
        self.field("New password").send_keys("another-long-one", Keys.ENTER)
        self.wait_text("present password")
        self.field("Present password").send_keys(Keys.BACKSPACE * 5, "tide-and-stone", Keys.ENTER)
        self.wait_text("Changed.")
        self.press_in("nightly", "Delete")
        self.wait_text("None yet.")

    def test_signing_out(self):
        self.sign_in()
        self.click("miller")
        self.wait_for("[role=menu]")
        self.browser.find_element(By.XPATH, "//*[@role='menuitem'][contains(., 'Sign out')]").click()
        self.wait_for("input[type=password]")
        self.open(self.path)
        self.wait_for("input[type=password]")

    def test_a_move_is_deleted_after_its_name_is_typed(self):
        self.compared()
        self.sign_in()
        self.open(self.path + "/describe")
        self.click("Delete this move")
        self.wait_text("This cannot be undone.")
        field = self.field("Type its name: Mill")
        field.send_keys("Mil", Keys.ENTER)
        self.assertTrue(Move.objects.exists())
        self.assertFalse(self.find("[role=dialog] button[type=submit]").is_enabled())
        field.send_keys("l")
        self.click("Delete it all")
        self.wait_text("No move yet.")
        self.assertFalse(Move.objects.exists())


class HandsOnCapturesTest(BrowserTestCase):
    def test_addresses_imported_from_a_file(self):
        old, new = self.serve({}, {})
        move = self.move(old, new)
        self.sign_in()
        self.open(f"/moves/{move.pk}/captures")
        self.click("Import addresses …")
        self.wait_text("Addresses of the source known from elsewhere")
        with tempfile.TemporaryDirectory() as folder:
            for name, text, said in [
                ("empty.txt", "", "empty.txt is empty."),
                ("pages.csv", "Page,Clicks\nhttp://old.example/a,4\nhttp://other.example/,1", "1 address is new"),
            ]:
                path = Path(folder) / name
                path.write_text(text)
                self.find("input[type=file]").send_keys(str(path))
                self.find("[role=dialog] button[type=submit]").click()
                self.wait_text(said)
        self.wait_text("Left out: 1 address of another site.")
        self.check_axe("import")
        self.click("Let go of the 1 address")
        self.wait_gone("Let go of")
        self.click("Close")
        self.wait_text("Import addresses …")

    def test_a_capture_that_does_not_stand_is_named_with_a_reason(self):
        notice = "<title>Mill</title><h1>Briefly unavailable</h1><p>We are performing scheduled maintenance.</p>"
        old, new = self.serve({"/": Answer(notice)}, {})
        move = self.move(old, new)
        self.capture(move, "source")
        self.sign_in()
        self.open(f"/moves/{move.pk}/captures")
        self.wait_text("It does not stand: the home page is a notice of maintenance.")
        self.click("Make it the baseline")
        self.wait_text("Name it all the same?")
        self.check_axe("named all the same")
        self.field("Why").send_keys("It is all that is left.", Keys.ENTER)
        self.wait_text("Baseline. Complete.")
        self.click("Decisions")
        self.wait_text("It is all that is left.")
        self.wait_text("the baseline")

    def test_options_pause_resume_stop(self):
        pages = {f"/{n}": page(f"Page {n}") for n in range(200)}
        old, new = self.serve({"/": page("Mill", *pages), **pages}, {})
        move = self.move(old, new)
        self.worker(old.allowed)
        self.sign_in()
        self.open(f"/moves/{move.pk}/captures")
        self.wait_text("Nothing is recorded yet.")
        self.click("Capture source …")
        self.click("How fast, how far")
        self.field("Requests at once").send_keys("900")
        self.field("Requests a second at most").send_keys("15")
        self.click("Begin")
        self.wait_text("Give a number from 1 to 64.")
        self.assertEqual(self.field("Requests a second at most").get_attribute("value"), "15")
        self.field("Requests at once").send_keys(Keys.BACKSPACE * 2)
        self.click("Begin")
        self.wait_text("Capturing the source")
        self.wait_text("a second,", 30)
        self.assertRegex(self.browser.title, r"^\d+ % · Mill · Palinode$")
        self.assertFalse(self.browser.find_element(By.XPATH, "//button[.='Capture source …']").is_enabled())
        self.click("Pause")
        self.wait_text("Paused by miller.", 30)
        self.check_axe("paused")
        self.browser.refresh()
        self.wait_text("Paused by miller.")
        self.click("Resume")
        self.wait_text("Capturing the source")
        self.click("Stop and keep what is there")
        self.wait_text("Cut short.", 30)
        self.wait_text("stopped by miller")
        self.assertEqual(Capture.objects.get().settings["concurrency"], 9)
        self.assertNotIn("Is it the baseline", self.text(), "a capture that was cut short is not proposed")
