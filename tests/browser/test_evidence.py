"""Captures again, opened, compared with each other; evidence verified, exported and imported; by mouse."""

import io
import tempfile
import zipfile
from pathlib import Path

from django.core.files.storage import storages
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from palinode.records.models import Segment
from palinode.work.importing import archives
from tests.browser.base import BrowserTestCase
from tests.site import page
from tests.work.test_site_file_import import DUMP

OLD = {"/": page("Mill", "/a", "/shop/x"), "/a": page("A", text="Rye"), "/shop/x": page("X")}
NEW = {"/": page("Mill", "/a", "/store/x"), "/a": page("A", text="Rye"), "/store/x": page("X")}


class EvidenceTest(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.pages = dict(NEW)
        old, new = self.serve(OLD, self.pages)
        self.subject = self.move(old, new, ["/shop -> /store"])
        self.baseline(self.subject)
        self.capture(self.subject, "destination", sample=5)
        self.worker(old.allowed, new.allowed)
        self.sign_in()

    def view(self, name: str, words: str) -> None:
        self.open(f"/moves/{self.subject.pk}/{name}")
        self.wait_text(words)

    def choose(self, label: str) -> None:
        self.browser.find_element(By.XPATH, f"//label[normalize-space(.)={label!r}]").click()

    def file(self, data: bytes, name: str) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / name
        path.write_bytes(data)
        return str(path)

    def test_a_round_again_opened_and_compared_with_the_one_before(self):
        self.pages["/a"] = page("A", text="Oats")
        self.view("captures", "Round 1. Complete.")
        self.click("Capture destination …")
        self.wait_text("What to ask for")
        self.choose("Only a section")
        self.find("input[placeholder='/shop/']").send_keys("http://else.example/")
        self.click("Begin")
        self.wait_text("Give a path below http://new.example/")
        self.choose("All of it, only what changed is sent again")
        self.click("Begin")
        self.wait_text("Round 2. Complete.", 60)
        self.click("How it went")
        self.wait_text("From known to page")
        self.wait_text("known to the capture before")
        self.wait_text("3 pages asked again at the end: none had changed")
        self.check_axe("captures, opened")
        self.click("What changed since")
        self.wait_text("Between the two captures: 1 altered.", 60)
        self.wait_for("a[data-index='0']").click()
        self.wait_text("paragraph came")
        self.view("pages", "worst first")
        self.wait_for("a[data-index='0']").click()
        self.click("Check now")
        self.wait_text("Two hosts")
        self.check_axe("ask both sides")

    def test_evidence_is_verified_and_what_is_wrong_is_said(self):
        self.view("evidence", "not verified yet")
        self.click("Verify all")
        self.wait_text("are as they were kept.", 60)
        segment = Segment.objects.filter(capture=self.subject.captures.first()).first()
        storages["evidence"].delete(segment.name)
        self.click("Verify all")
        self.wait_text("not as kept", 60)
        self.wait_text("the file is missing")
        self.check_axe("evidence")

    def test_how_long_files_are_kept(self):
        self.view("evidence", "All files are kept for as long as the move.")
        self.find("input[inputmode=numeric]").send_keys("30", Keys.ENTER)
        self.wait_text("Files of captures older than 30 days are deleted each night.")

    def test_a_capture_from_a_file(self):
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            for path, name in [("/", "index.html"), ("/a", "a.html")]:
                archive.writestr(name, str(OLD[path].body))
        self.view("captures", "Round 1. Complete.")
        self.click("From a file …")
        self.wait_for("input[type=file]").send_keys(self.file(b"<html>", "page.html"))
        self.click("Make a capture of it")
        self.wait_text("page.html is neither a WARC file nor a ZIP archive")
        self.find("input[type=file]").send_keys(self.file(packed.getvalue(), "copy.zip"))
        self.click("Make a capture of it")
        self.wait_text("2 answers.", 60)
        self.click("Close")
        self.wait_text("From a file. Complete. 2 pages")
        self.view("evidence", "What people imported")
        self.wait_text("copy.zip")

    def test_a_dump_is_dropped_and_opened(self):
        self.view("captures", "Round 1. Complete.")
        self.click("From a file …")
        self.wait_for("input[type=file]").send_keys(self.file(DUMP, "shop.sql"))
        self.click("Make a capture of it")
        self.wait_text("shop.sql is a dump of MariaDB. Its server was 10.11.19. One table, 2 rows.", 60)
        self.click("Close")
        self.wait_text("Dump. One table, 2 rows.")
        # The baseline has it with it now.
        self.wait_text("With a dump")
        self.click("What it holds")
        self.wait_text("Dump of the source of")
        self.wait_text("wp_posts")
        self.assertTrue(self.find("a[href$='/file/']").text.startswith("shop.sql"))
        self.click("Count a table in Counts")
        self.wait_for("details[open] select")
        _, column = self.browser.find_elements(By.CSS_SELECTOR, "details[open] select")
        Select(column).select_by_visible_text("post_title")
        self.click("Count it")
        self.wait_text("wp_posts: post_title")
        self.check_axe("a dump, opened")
        self.assertEqual(self.subject.options.get().values["tables"], ["wp_posts: post_title"])
        self.click("Leave out")
        self.wait_gone("wp_posts: post_title")
        self.view("evidence", "shop.sql")
        self.assertTrue(self.find("a[href$='/file/']").text.startswith("shop.sql"))
        self.assertNotIn("nothing answered anew", self.text())

    def test_a_move_is_exported_and_imported(self):
        self.view("evidence", "WARC files")
        link = self.find(f"a[href='/api/moves/{self.subject.pk}/archive/']")
        self.assertEqual(link.text, "Export the move")
        packed = b"".join(archives.export_move(self.subject))
        self.open("/")
        self.click("Import a move …")
        self.wait_for("input[type=file]").send_keys(self.file(packed[:-200], "broken.zip"))
        self.click("Import it")
        self.wait_text("broken.zip: it is no archive, or broken")
        self.find("input[type=file]").send_keys(self.file(packed, "mill.zip"))
        self.click("Import it")
        self.wait_text("not verified yet", 60)
        self.assertNotIn(f"/moves/{self.subject.pk}/", self.browser.current_url)
