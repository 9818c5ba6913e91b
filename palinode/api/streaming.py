"""Streams what is read from the database, under ASGI."""

from collections.abc import AsyncIterator, Iterator
from typing import TypeVar

from asgiref.sync import sync_to_async
from django.db import connections

Part = TypeVar("Part", str, bytes)


async def later(parts: Iterator[Part]) -> AsyncIterator[Part]:
    """Yield the parts of a blocking iterator, each read in the thread that holds the database connection."""

    def following() -> Part | None:
        part = next(parts, None)
        if part is None:
            connections.close_all()
        return part

    read = sync_to_async(following, thread_sensitive=True)
    while (part := await read()) is not None:
        yield part
