"""Queries side by side: each on a connection of its own, so that the server works on them at once."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from django.db import connections

Call = tuple[Any, ...]
"""A function and its arguments."""


def at_once(first: Call, *others: Call) -> list[Any]:
    """Call functions at once and return what they return, in order; raise what the first to fail raises.

    The first runs in this thread; the threads of the others give their connections back.
    """
    with ThreadPoolExecutor(max(1, len(others))) as threads:
        waiting = [threads.submit(_give_back, *other) for other in others]
        return [first[0](*first[1:]), *(one.result() for one in waiting)]


def _give_back(function: Callable[..., Any], *arguments: Any) -> Any:
    try:
        return function(*arguments)
    finally:
        connections.close_all()
