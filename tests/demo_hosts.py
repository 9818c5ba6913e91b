"""The demo's hosts, served beside a test."""

import asyncio
import tempfile
import threading
import urllib.error
import urllib.parse
import urllib.request
from contextlib import suppress
from pathlib import Path

from demo import hosts
from palinode.project.postgres import free_port


class DemoHosts:
    """For a test case: its hosts stand at ``port`` and after it, the control page is the fifth."""

    def start_hosts(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.port = free_port(18101)
        loop = asyncio.new_event_loop()
        serving = loop.create_task(hosts.serve(self.folder, self.port))
        thread = threading.Thread(target=self._run, args=(loop, serving), daemon=True)
        thread.start()
        self.addCleanup(thread.join, 10)
        self.addCleanup(loop.call_soon_threadsafe, serving.cancel)
        for _ in range(100):
            try:
                self.get(4, "/")
                break
            except OSError:
                threading.Event().wait(0.05)

    def _run(self, loop: asyncio.AbstractEventLoop, serving: asyncio.Task[None]) -> None:
        asyncio.set_event_loop(loop)
        with suppress(asyncio.CancelledError):
            loop.run_until_complete(serving)
        loop.close()

    def get(self, host: int, path: str) -> tuple[int, str]:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port + host}{path}") as response:
                return response.status, response.read().decode("utf-8", "replace")
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode()

    def set_faults(self, *names: str) -> None:
        data = urllib.parse.urlencode([("fault", name) for name in names]).encode()
        urllib.request.urlopen(f"http://127.0.0.1:{self.port + 4}/", data)
