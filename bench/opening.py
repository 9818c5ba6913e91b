"""Opening a pair of two pages of 200 KB in the browser, from the key press to its text, against 0.3 seconds."""

import argparse
import os
import random
import statistics
import subprocess
import sys
import tempfile
import time
from typing import Any

from bench.common import CHECKOUT, close, database, say
from palinode.project.postgres import free_port

BOUND = 0.3
"""Seconds."""
BYTES = 200_000


def seed() -> int:
    """Write two sites of three pages of 200 KB that differ here and there; return the number of the move."""
    from django.contrib.auth.models import User

    from bench import truth
    from bench.seeded.collection import Collection
    from palinode.records.models import Comparison, Move
    from palinode.work.comparing import comparison_job

    draw = random.Random(11)
    words = [f"{a}{b}" for a in ("tide", "mill", "stone", "flour", "neap", "wheel") for b in ("", "s", "er", "ing")]

    def page(name: str, changed: bool) -> str:
        draw.seed(name)
        paragraphs = []
        while sum(map(len, paragraphs)) < BYTES:
            text = draw.choices(words, k=draw.randint(40, 120))
            if changed and len(paragraphs) % 9 == 4:
                text[len(text) // 2] = "altogether"
            paragraphs.append(f"<p>{' '.join(text)}.</p>")
        return f"<title>{name}</title><main><h1>{name}</h1>{''.join(paragraphs)}</main>"

    names = ("first", "second", "third")
    left = {"/": "<title>Home</title>"} | {f"/{name}": page(name, False) for name in names}
    right = {"/": "<title>Home</title>"} | {f"/{name}": page(name, True) for name in names}
    comparison = truth.store(Collection(left, dict(right), {}, set(), {}))
    Move.objects.filter(pk=comparison.move_id).update(baseline=comparison.left)
    comparison_job.make(Comparison.objects.get(pk=comparison.pk))
    user = User.objects.latest("pk")
    user.set_password("tide-and-stone")
    user.save()
    say(f"pages of {len(left['/first']):,} bytes")
    return int(comparison.move_id)


_WATCH = """
    window.took = null;
    window.addEventListener("keydown", (event) => {
        if (event.key !== "Enter") return;
        const began = event.timeStamp;
        const watch = new MutationObserver(() => {
            if (!document.querySelector("[aria-label='The pair'] ins")) return;
            watch.disconnect();
            requestAnimationFrame(() => { window.took = performance.now() - began; });
        });
        watch.observe(document.body, {childList: true, subtree: true});
    }, {capture: true, once: true});
"""


def opened(browser: Any, address: str, name: str) -> float:
    """Return the seconds from the key press to the text of a pair."""
    from selenium.webdriver import ActionChains, Keys
    from selenium.webdriver.support.ui import WebDriverWait

    browser.get(f"{address}/pages?find=/{name}")
    WebDriverWait(browser, 20).until(lambda b: f"/{name}" in b.execute_script("return document.body.innerText"))
    time.sleep(0.5)
    browser.execute_script(_WATCH)
    ActionChains(browser).send_keys(Keys.ENTER).perform()
    WebDriverWait(browser, 30, poll_frequency=0.1).until(lambda b: b.execute_script("return window.took"))
    return float(browser.execute_script("return window.took")) / 1000


def main() -> None:
    """Measure each pair in turn, as a person sees it who opens it for the first time."""
    parser = argparse.ArgumentParser(prog="bench/opening", description=__doc__)
    parser.add_argument("--runs", type=int, default=9)
    options = parser.parse_args()
    with database():
        from selenium.webdriver.common.by import By

        from tests.browser.base import chromium

        move, port = seed(), free_port(8090)
        environment = os.environ | {"PALINODE_DEBUG": "0"}
        with tempfile.TemporaryFile() as log:
            server = subprocess.Popen(
                [sys.executable, "-m", "uvicorn", "palinode.project.asgi:application", f"--port={port}"],
                cwd=CHECKOUT,
                env=environment,
                stdout=log,
                stderr=log,
            )
            browser = chromium()
            try:
                address = f"http://127.0.0.1:{port}"
                time.sleep(4)
                browser.get(address)
                time.sleep(2)
                name, password = browser.find_elements(By.TAG_NAME, "input")[:2]
                from django.contrib.auth.models import User

                name.send_keys(User.objects.latest("pk").username)
                password.send_keys("tide-and-stone\n")
                time.sleep(2)
                ours = []
                for run in range(options.runs):
                    ours.append(opened(browser, f"{address}/moves/{move}", ("first", "second", "third")[run % 3]))
                    say(f"run {run + 1}: {ours[-1]:.3f} s")
            finally:
                browser.quit()
                server.terminate()
                server.wait()
    print(f"median {statistics.median(ours):.3f} s")
    close("opening", ours, [BOUND], "max=1")


if __name__ == "__main__":
    main()
