"""The runner of processes and the private PostgreSQL, in a folder of their own."""

import os
import signal
import socket
import subprocess
import sys
import tempfile
import unittest
import urllib.request
from pathlib import Path

from palinode.project.postgres import folder_for, free_port

ROOT = Path(__file__).resolve().parent.parent.parent


class RunnerTestCase(unittest.TestCase):
    """Runs the real runner with a data folder of its own."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp(prefix="palinode-runner-"))
        self.data = self.folder / "data"
        self.environment = {
            name: value for name, value in os.environ.items() if not name.startswith(("PALINODE_", "DJANGO_"))
        }
        self.environment |= {"PALINODE_DATA": str(self.data), "PYTHONPATH": str(ROOT)}

    def start(self, *arguments: str, module: str = "palinode.project.run") -> subprocess.Popen:
        command = [sys.executable, "-u", "-m", module, *arguments]
        process = subprocess.Popen(
            command, env=self.environment, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
        )
        self.addCleanup(process.stdout.close)
        self.addCleanup(process.wait, 60)
        self.addCleanup(process.terminate)
        return process

    def said(self, process: subprocess.Popen, words: str) -> str:
        lines = []
        for line in process.stdout:
            lines.append(line)
            if words in line:
                return line
        self.fail(f"{words!r} was not said: {lines}")


class RunnerTest(RunnerTestCase):
    def test_starts_serves_restarts_what_dies_and_stops_all_of_it(self):
        port = free_port(18400)
        with socket.create_server(("127.0.0.1", port)):
            process = self.start(f"--port={port}")
            self.said(process, f"Port {port} is taken")
            address = self.said(process, "Palinode is at").split("at ", 1)[1].split(" ", 1)[0]
        # What is said to be there answers.
        self.assertIn(b"Palinode", urllib.request.urlopen(address).read())
        self.assertRegex(self.said(process, "owner's account"), rf"{address}\?setup=\S{{16}}\n")
        self.assertEqual(self.data.stat().st_mode & 0o777, 0o700)
        forged = urllib.request.Request(f"{address}api/session/", headers={"X-Forwarded-For": "203.0.113.9"})
        self.assertIn(b'"needs_token":true', urllib.request.urlopen(forged).read())
        self.assertEqual((self.data / "secret-key").stat().st_mode & 0o777, 0o600)
        self.assertEqual((self.data / "database").stat().st_mode & 0o777, 0o600)
        second = subprocess.run(
            [sys.executable, "-m", "palinode.project.run"],
            env=self.environment,
            cwd=ROOT,
            capture_output=True,
            text=True,
        )
        self.assertNotEqual(second.returncode, 0)
        self.assertIn("runs already", second.stderr)
        children = subprocess.run(["pgrep", "-P", str(process.pid)], capture_output=True, text=True).stdout.split()
        worker = next(pid for pid in children if "procrastinate" in Path(f"/proc/{pid}/cmdline").read_text())
        os.kill(int(worker), signal.SIGKILL)
        self.said(process, "worker-1 ended (-9); starting it again.")
        process.send_signal(signal.SIGINT)
        self.assertIn("Stopping", self.said(process, "Stopping"))
        process.wait(60)
        for pid in children:
            self.assertFalse(Path(f"/proc/{pid}").exists(), pid)
        log = (folder_for(ROOT, self.data) / "log").read_text()
        self.assertIn("database system is shut down", log)

    def test_for_real_use_nothing_is_forgotten(self):
        process = self.start("--fresh")
        self.said(process, "unrecognized arguments: --fresh")
        self.assertFalse(self.data.exists())

    def test_fresh_leaves_a_folder_alone_that_is_not_ours(self):
        self.data.mkdir()
        (self.data / "letters").write_text("mine")
        process = self.start("--fresh", module="demo.start")
        self.said(process, "holds something that is not Palinode's")
        self.assertEqual((self.data / "letters").read_text(), "mine")
