"""A file of a stranger read bit by bit in a process of its own, which keeps its place between two calls."""

import time
from collections.abc import Callable, Iterable, Iterator
from typing import Any

_MOST = 16
"""Items of one call."""
_SECONDS = 0.5
"""After which a call returns what it has."""

_open: Iterator[Any] | None = None


def begin(function: Callable[..., Iterable[Any]], *args: Any) -> None:
    """Begin to read, in this process, what a function of some arguments yields."""
    global _open
    _open = iter(function(*args))


def more() -> list[Any]:
    """Return the next items; none at the end."""
    assert _open is not None, "begin() comes first"
    found: list[Any] = []
    until = time.monotonic() + _SECONDS
    for item in _open:
        found.append(item)
        if len(found) >= _MOST or time.monotonic() > until:
            break
    return found
