"""What servers of tests share: a loop of their own in a thread, on a free port of loopback."""

import asyncio
import threading
from typing import Self


class Served:
    """A server for the length of a ``with``; a subclass says how it starts."""

    port: int

    def __init__(self) -> None:
        self._ready = threading.Event()
        self._loop = asyncio.new_event_loop()
        self._thread = threading.Thread(target=self._run, daemon=True)

    async def start(self) -> int:
        """Listen; return the port."""
        raise AssertionError("a subclass says how it starts")

    async def stop(self) -> None:
        """Give back what start took."""

    def __enter__(self) -> Self:
        self._thread.start()
        self._ready.wait(10)
        return self

    def __exit__(self, *_: object) -> None:
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join(10)

    @property
    def allowed(self) -> str:
        """What to allow the guard for this server."""
        return f"127.0.0.1/32:{self.port}"

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        self.port = self._loop.run_until_complete(self.start())
        self._ready.set()
        self._loop.run_forever()
        self._loop.run_until_complete(self.stop())
        left = asyncio.all_tasks(self._loop)
        for task in left:
            task.cancel()
        self._loop.run_until_complete(asyncio.gather(*left, return_exceptions=True))
