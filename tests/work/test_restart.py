"""The whole installation running; its database and its server restarted in the middle of a capture."""

import json
import os
import signal
import subprocess
import time
import urllib.error
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path

from palinode.project.postgres import Cluster, folder_for
from tests.site import Answer, Site, page
from tests.work.test_runner import ROOT, RunnerTestCase

PAGES = 150


def site(path: str) -> Answer | None:
    """A chain of pages with two links each."""
    if not path.startswith("/p") and path != "/":
        return None
    number = 0 if path == "/" else int(path[2:])
    return page(f"Page {number}", *[f"/p{next}" for next in (2 * number + 1, 2 * number + 2) if next < PAGES])


class Person:
    """Somebody with a browser's manners: a session cookie and its token against forgery."""

    def __init__(self, address: str) -> None:
        self.address = address.rstrip("/")
        self.cookies = CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies))

    def ask(self, path: str, body: object = None) -> object:
        """Return the JSON of an answer; a body is posted."""
        headers = {"Content-Type": "application/json", "Referer": self.address}
        headers["X-CSRFToken"] = next((one.value or "" for one in self.cookies if "csrf" in one.name), "")
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.address + path, data, headers)
        with self.opener.open(request, timeout=30) as response:
            return json.loads(response.read() or "null")

    def ask_until(self, path: str, fits, seconds: float = 90) -> object:
        """Ask again and again, also while nobody answers, until an answer fits."""
        deadline, last = time.monotonic() + seconds, None
        while time.monotonic() < deadline:
            try:
                last = self.ask(path)
                if fits(last):
                    return last
            except (OSError, urllib.error.HTTPError) as error:
                last = error
            time.sleep(0.2)
        raise AssertionError(f"{path} did not come to it; last: {last}")


class RestartTest(RunnerTestCase):
    def test_nothing_is_lost_when_database_and_server_are_restarted(self):
        with Site(site) as old:
            self.environment |= {
                "PALINODE_ALLOW_NETWORKS": old.allowed,
                "PALINODE_SEAL_SECONDS": "0.5",
                "PALINODE_LEASE_SECONDS": "3",
                "PALINODE_READERS": "1",
            }
            process = self.start("--port=18500")
            address = self.said(process, "Palinode is at").split("at ", 1)[1].split(" ", 1)[0]
            person = Person(address)
            person.ask_until("/api/session/", lambda found: found["first_visit"])
            person.ask("/api/owner/", {"username": "miller", "password": "tide-and-stone"})
            sides = {
                which: {"base": "http://old.example", "connect_to": f"127.0.0.1:{old.port}"}
                for which in ("source", "destination")
            }
            move = person.ask("/api/moves/", {"name": "Mill", **sides})["id"]
            capture = person.ask(f"/api/moves/{move}/captures/", {"side": "source", "options": {"rate": 25}})["id"]
            path = f"/api/captures/{capture}/"

            person.ask_until(path, lambda one: one["asked"] > 30)
            self.restart_database()
            after = person.ask_until(path, lambda one: one["asked"] > 60)
            self.assertEqual(after["state"], "running")

            self.kill("uvicorn", process.pid)
            closed = person.ask_until(path, lambda one: one["state"] == "closed")
            self.assertTrue(closed["complete"], closed)
            self.assertEqual((closed["pages"], closed["asked"], closed["known"]), (PAGES, PAGES + 4, PAGES + 4))
            self.assertGreater(len(closed["segments"]), 1)
            self.assertEqual(person.ask("/api/session/")["user"]["username"], "miller", "still signed in")
            self.assertLess(len(old.asked), 2 * PAGES, "what was kept was not asked again")

    def restart_database(self) -> None:
        cluster = Cluster(folder_for(ROOT, self.data))
        mark = cluster.folder / "data" / "postmaster.pid"
        before = mark.read_text().splitlines()
        cluster.restart()
        after = mark.read_text().splitlines()
        self.assertEqual(after[3], before[3], "on the same port")
        self.assertNotEqual(after[0], before[0], "another process")

    def kill(self, word: str, runner: int) -> None:
        children = subprocess.run(["pgrep", "-P", str(runner)], capture_output=True, text=True).stdout.split()
        found = [pid for pid in children if word in Path(f"/proc/{pid}/cmdline").read_text()]
        self.assertTrue(found)
        os.kill(int(found[0]), signal.SIGKILL)
