"""Headless Chromium against the real server, with a real worker."""

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.db import connection
from django.test import LiveServerTestCase
from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException, TimeoutException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tests.work.base import MoveTestCase

AXE = Path(__file__).resolve().parent.parent.parent / "web" / "node_modules" / "axe-core" / "axe.min.js"
FLAGS = (
    "--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
    "--disable-component-update --disable-sync --window-size=1280,939 --force-prefers-reduced-motion"
)


def chromium() -> webdriver.Chrome:
    """Start a browser with a new, empty profile."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS.split():
        options.add_argument(flag)
    options.add_argument(f"--user-data-dir={tempfile.mkdtemp(prefix='palinode-browser-')}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    return webdriver.Chrome(options, Service("/usr/bin/chromedriver"))


class BrowserTestCase(MoveTestCase, LiveServerTestCase):
    """One browser for the class; a worker for the test that asks for one."""

    static_handler = staticmethod(lambda application: application)

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.browser = chromium()

    @classmethod
    def tearDownClass(cls):
        cls.browser.quit()
        super().tearDownClass()

    def setUp(self):
        super().setUp()
        # A page that goes on asking while the tables are emptied can lock itself and that out.
        self.addCleanup(self.browser.get, "about:blank")
        self.browser.delete_all_cookies()
        self.browser.get("about:blank")
        self.browser.get_log("browser")

    def worker(self, *allowed: str) -> None:
        settings = connection.settings_dict
        url = f"postgresql://{settings['USER']}:{settings['PASSWORD']}@{settings['HOST']}:{settings['PORT']}/{settings['NAME']}"
        environment = os.environ | {"PALINODE_DATABASE": url, "PALINODE_ALLOW_NETWORKS": " ".join(allowed)}
        command = [sys.executable, "-m", "django", "procrastinate", "worker", "--concurrency=3", "--delete-jobs=always"]
        process = subprocess.Popen(
            [*command, "--fetch-job-polling-interval=0.2"],
            env=environment,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        self.addCleanup(process.wait)
        self.addCleanup(process.terminate)

    def open(self, path: str = "/") -> None:
        self.browser.get(self.live_server_url + path)

    def sign_in(self, name: str = "miller", password: str = "tide-and-stone") -> None:
        self.open()
        self.wait_for("input[autocomplete=username]").send_keys(name)
        self.find("input[type=password]").send_keys(password, Keys.ENTER)
        self.wait_text(name)

    def find(self, css: str) -> WebElement:
        return self.browser.find_element(By.CSS_SELECTOR, css)

    def wait_until(self, holds: Callable[[], Any], missing: str, seconds: float = 20) -> Any:
        """Wait until something holds, and return what it returned; say what the page shows if it never does.

        A page that is left too soon takes its requests along: what a click does elsewhere is waited for with this.
        """
        try:
            # What is drawn anew while it is looked at is looked for again.
            waiting = WebDriverWait(self.browser, seconds, ignored_exceptions=[StaleElementReferenceException])
            return waiting.until(lambda _: holds())
        except TimeoutException:
            self.fail(f"{missing}; the page says: {self.text()[:900]}")

    def wait_for(self, css: str, seconds: float = 20) -> WebElement:
        def there() -> WebElement | None:
            found = self.browser.find_elements(By.CSS_SELECTOR, css)
            return found[0] if found and found[0].is_displayed() else None

        return self.wait_until(there, f"{css} did not come", seconds)

    def text(self) -> str:
        return self.browser.execute_script("return document.body ? document.body.innerText : ''")

    def wait_text(self, words: str, seconds: float = 20) -> None:
        self.wait_until(lambda: words in self.text(), f"{words!r} did not come", seconds)

    def wait_gone(self, words: str, seconds: float = 20) -> None:
        self.wait_until(lambda: words not in self.text(), f"{words!r} is still there", seconds)

    def click(self, words: str, tag: str = "*") -> None:
        """Click what a person would: the button, link or tab with these words."""
        path = f"//{tag}[self::a or self::button or self::summary][normalize-space(.)={words!r} or starts-with(normalize-space(.), {words!r})]"

        def clicked() -> bool:
            found = self.browser.find_elements(By.XPATH, path)
            if not found or not self.is_still(found[0]):
                return False
            found[0].click()
            return True

        self.wait_until(clicked, f"no {words!r}")

    def is_still(self, element: WebElement) -> bool:
        """Whether an element stays where it is: what moves as answers come in is clicked beside."""
        before = element.rect
        time.sleep(0.05)
        return element.rect == before

    def field(self, label: str, nth: int = 0) -> WebElement:
        path = f"//label[starts-with(normalize-space(.), {label!r})]"
        found = self.wait_until(lambda: self.browser.find_elements(By.XPATH, path), f"no field {label!r}")
        return self.browser.find_element(By.ID, found[nth].get_attribute("for"))

    def press(self, *keys: str) -> None:
        """Press keys, wherever the focus is."""
        ActionChains(self.browser).send_keys(*keys).perform()

    def focused(self) -> str:
        """Return what the focused element is called: its label, aria-label, placeholder or text."""
        return self.browser.execute_script(
            "const e = document.activeElement; const l = e.labels && e.labels[0];"
            "return (e.ariaLabel || (l && l.innerText) || e.innerText || e.placeholder || '').trim();"
        )

    def tab_to(self, words: str, most: int = 60) -> None:
        """Press Tab until what is focused begins with these words; its focus must be visible."""
        for _ in range(most):
            if self.focused().startswith(words):
                visible = self.browser.execute_script(
                    "const s = getComputedStyle(document.activeElement);"
                    "return s.outlineStyle !== 'none' && parseFloat(s.outlineWidth) > 0;"
                )
                self.assertTrue(visible, f"the focus on {words!r} is not visible")
                return
            self.press(Keys.TAB)
        self.fail(f"{words!r} is not reached by Tab; last was {self.focused()!r}")

    @contextmanager
    def width(self, pixels: int) -> Iterator[None]:
        """Show pages in a window of another width."""
        metrics = {"width": pixels, "height": 900, "deviceScaleFactor": 1, "mobile": False}
        self.browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
        try:
            yield
        finally:
            self.browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})

    def check_width(self, where: str) -> None:
        """Nothing is wider than the window, and nothing has a scroll bar of its own from side to side."""
        found = self.browser.execute_script(
            "const wide = document.documentElement.scrollWidth > innerWidth ? ['the page'] : [];"
            "return wide.concat([...document.querySelectorAll('body *')].filter(e => e.scrollWidth > e.clientWidth + 1 "
            "&& /auto|scroll/.test(getComputedStyle(e).overflowX)).map(e => e.tagName + ' ' + e.className));"
        )
        self.assertEqual(found, [], where)

    def check_axe(self, where: str) -> None:
        """axe-core reports nothing in the present view."""
        self.browser.execute_script(AXE.read_text())
        found = self.browser.execute_async_script(
            "const done = arguments[arguments.length - 1];"
            "axe.run(document, {resultTypes: ['violations']}).then(r => done(r.violations.map("
            "v => v.id + ': ' + v.nodes.map(n => n.target.join(' ') + ' ' + (n.any[0] ? n.any[0].message : '')).slice(0, 3).join(' | '))));"
        )
        self.assertEqual(found, [], where)

    def check_console(self) -> None:
        """Nothing was written to the browser's console as an error."""
        wrong = [one["message"] for one in self.browser.get_log("browser") if one["level"] == "SEVERE"]
        self.assertEqual([one for one in wrong if "favicon" not in one], [])
