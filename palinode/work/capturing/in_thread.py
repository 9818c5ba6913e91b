"""Database work beside the event loop."""

import asyncio
from collections.abc import Callable
from typing import ParamSpec, TypeVar

from django.db import connections

_P = ParamSpec("_P")
_R = TypeVar("_R")


async def in_thread(function: Callable[_P, _R], *arguments: _P.args, **named: _P.kwargs) -> _R:
    """Call a function in a thread, and give the thread's connection back."""

    def call() -> _R:
        try:
            return function(*arguments, **named)
        finally:
            connections.close_all()

    return await asyncio.to_thread(call)
