"""Asks some pages of a capture again as it ends: what is volatile, what changed meanwhile, whether a cache answers."""

import asyncio
from collections.abc import Awaitable, Callable, Mapping
from typing import Any

from django.db import connection

from palinode.core import http_cache, page
from palinode.core.facts import Facts
from palinode.core.packed_facts import PackedFacts
from palinode.core.sample import Seen
from palinode.core.volatile import Volatile
from palinode.gather.exchange import Exchange
from palinode.records import plans
from palinode.records.models import Capture

Ask = Callable[[str, Mapping[str, str]], Awaitable[Exchange]]
"""Asks for an address with further header fields, at the pace of the capture."""

Read = Callable[[str, Exchange], Awaitable[Facts | None]]
"""Reads what answered as a page of an address, in a reading process; None for what cannot be read."""
Tell = Callable[[list[Seen]], Awaitable[dict[str, Any]]]
"""Tells in a reading process what the readings show."""


def take(capture: Capture) -> bool:
    """Whether the sample is to be asked by whoever calls this first."""
    return bool(Capture.objects.filter(pk=capture.pk, sample__isnull=True).update(sample={}))


async def ask(capture: Capture, most: int, asks: Ask, read: Read, tell: Tell, certificate: str = "") -> None:
    """Ask a sample of up to ``most`` pages again, and keep with the capture what that showed.

    What the host's ``certificate`` said, in words, is kept beside it.
    """
    seen = await asyncio.to_thread(_chosen, capture, most)
    for one in seen:
        one.plain, one.headers = await _twice(asks, read, one.address, {}, lambda address: address)
        if one.plain:
            one.past, _ = await _twice(asks, read, one.address, http_cache.PAST_CACHES, http_cache.new_query)
    found = {**await tell(seen), "certificate": certificate}
    await asyncio.to_thread(Capture.objects.filter(pk=capture.pk).update, sample=found)


async def _twice(
    asks: Ask, read: Read, address: str, fields: Mapping[str, str], form: Callable[[str], str]
) -> tuple[list[Facts], Mapping[str, str]]:
    """Return two readings of a page, and the header of the first; none if it is no page any more."""
    readings: list[Facts] = []
    headers: Mapping[str, str] = {}
    for _ in range(2):
        exchange = await asks(form(address), fields)
        told = exchange.headers or {}
        if exchange.status != 200 or not page.is_html(page.media_type(told.get("content-type", ""))):
            return [], {}
        # Read as if asked for by its own address, so that a query that is new each time changes nothing in it.
        found = await read(address, exchange)
        if found is None:
            return [], {}
        readings.append(found)
        headers = headers or told
    return readings, headers


def _chosen(capture: Capture, most: int) -> list[Seen]:
    """Choose pages; their identities are as good as drawn, and the same ones for the same site."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT d.text, f.title, f.description, f.robots, f.rest FROM "
            "(SELECT * FROM records_answer WHERE capture_id = %(capture)s AND is_page AND media_type = ANY(%(html)s) "
            f"ORDER BY depth > 0, ident LIMIT %(most)s) a {plans.FACTS} {plans.ADDRESS} ORDER BY a.depth > 0, a.ident",
            {"move": capture.move_id, "capture": capture.pk, "most": most, "html": sorted(page.HTML)},
        )
        rows = cursor.fetchall()
    return [Seen(text, _facts(title, description, robots, rest)) for text, title, description, robots, rest in rows]


def _facts(title: str, description: str, robots: str, rest: bytes) -> Facts:
    return Facts(title, description, robots, blocks=tuple(PackedFacts(rest).blocks))


def volatile_of(capture: Capture) -> Volatile:
    """Return what was learnt to be volatile as a capture was made; on either side it is kept out on both."""
    return Volatile.read((capture.sample or {}).get("volatile", {}))
