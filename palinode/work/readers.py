"""Reading processes: what others wrote is read there, each time within a limit, and nowhere else.

Neither the web server nor a worker's own process may be stopped by what it reads. A reading that takes too long, or
too much memory, ends its process; another takes that one's place, and what else was handed over is read again.
"""

import logging
import multiprocessing
import os
import pickle
import threading
import time
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any, ParamSpec, TypeVar

from pebble import ProcessExpired, ProcessPool

from palinode.gather.exchange import Exchange
from palinode.records.rows import Batch, Leased
from palinode.work.capturing import extraction
from palinode.work.importing import streams

log = logging.getLogger(__name__)

SECONDS = 10.0
"""That one reading may take."""
_PATIENCE = 30.0
"""Seconds that a person waits for a process to be free, besides …"""
_PATIENCE_OF_CAPTURES = 3_600.0
"""… and that what was fetched does: behind pages that each take their ten seconds it must not be called unreadable."""
_AT_ONCE = 8
"""Hand-overs to the processes of one capture at once."""
_OURS = 2
"""Processes that read for the web server."""

P = ParamSpec("P")
T = TypeVar("T")


class Unreadable(Exception):
    """Something could not be read; the message says why, in a few words."""


class Readers:
    """Some reading processes; to be closed after use."""

    def __init__(self, number: int) -> None:
        context = multiprocessing.get_context("spawn")
        self._pool = ProcessPool(number, initializer=extraction.start, initargs=(os.getpid(),), context=context)
        self._threads = ThreadPoolExecutor(_AT_ONCE)

    def __enter__(self) -> "Readers":
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        """End the processes; what they read is given up."""
        self._threads.shutdown(cancel_futures=True)
        self._pool.stop()  # type: ignore[no-untyped-call]
        self._pool.join()

    def run(self, function: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T:
        """Return what a function makes of something in a reading process. Raises Unreadable."""
        return self.run_for(SECONDS, function, *args, **kwargs)

    def run_for(self, seconds: float, function: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T:
        """Return what a function makes of something within so many seconds.

        Raises Unreadable, and what the function itself raises, unless that is for want of memory.
        """
        return self._result(_PATIENCE, seconds, function, args, kwargs)

    def _result(
        self, patience: float, seconds: float, function: Callable[..., T], args: tuple[Any, ...], kwargs: dict[str, Any]
    ) -> T:
        future: Any = self._pool.schedule(_carried, args=(function, args, kwargs), timeout=seconds)
        try:
            found: T = future.result(timeout=seconds + patience)
        except TimeoutError:
            if not future.done():
                # Its turn did not come: that says nothing of what was to be read.
                future.cancel()
                raise Unreadable("could not be read now: too much else is being read. Try again") from None
            raise Unreadable(f"could not be read in {seconds:g} s") from None
        except MemoryError:
            raise Unreadable("could not be read: it takes too much memory") from None
        except ProcessExpired:
            raise Unreadable("could not be read: reading it ended its process") from None
        return found

    def later(self, site: extraction.Site, some: list[tuple[Leased, Exchange]]) -> "Future[Batch]":
        """Read a few exchanges of a capture; none of them fails the others."""
        return self._threads.submit(self.batch, site, some)

    def batch(self, site: extraction.Site, some: list[tuple[Leased, Exchange]]) -> Batch:
        """Return the batch of a few exchanges; what cannot be read is a row with its reason."""
        try:
            return self._result(_PATIENCE_OF_CAPTURES, SECONDS, extraction.read, (site, some), {})
        except Unreadable as error:
            why = str(error)
        except Exception as error:
            why = f"could not be read ({type(error).__name__})"
            log.exception("%s of capture %s could not be read", some[0][0].text, site.capture)
        if len(some) == 1:
            return self._result(_PATIENCE_OF_CAPTURES, SECONDS, extraction.unread, (site, *some[0], why), {})
        # One of them did it: each is read by itself.
        whole = Batch()
        for one in some:
            whole.add(self.batch(site, [one]))
        return whole


def _carried(function: Callable[..., T], args: tuple[Any, ...], kwargs: dict[str, Any]) -> T:
    """Call a function in a reading process; an error that cannot travel is told by another that can."""
    try:
        return function(*args, **kwargs)
    except Exception as error:
        try:
            pickle.loads(pickle.dumps(error))  # noqa: S301 (our own)
        except Exception:
            raise ValueError(f"{type(error).__name__}: {error}") from None
        raise


def stream(seconds: float | None, function: Callable[..., Iterable[T]], *args: Any) -> Iterator[T]:
    """Yield what a function yields in a reading process of its own.

    Each step has the time of one reading; all of them together have so many ``seconds``, if that is given. Raises
    Unreadable, and what the function itself raises.
    """
    until = time.monotonic() + seconds if seconds is not None else None
    with Readers(1) as one:
        one.run(streams.begin, function, *args)
        while items := one.run(streams.more):
            yield from items
            if until is not None and time.monotonic() > until:
                raise Unreadable(f"could not be read in {seconds:g} s")


_lock = threading.Lock()
_ours: dict[int, Readers] = {}


def warm() -> None:
    """Begin the processes that read for this one, so that whoever needs them first does not wait for that."""
    threading.Thread(target=lambda: ours().run(len, ""), daemon=True).start()


def ours() -> Readers:
    """Return the processes that read for this one, the web server or a worker, besides captures; made when needed."""
    with _lock:
        pid = os.getpid()
        if pid not in _ours:
            _ours[pid] = Readers(_OURS)
        return _ours[pid]
