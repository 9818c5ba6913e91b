"""Asks some pages of a capture again as it ends: what is volatile, what changed meanwhile, whether a cache answers."""

import asyncio
from collections.abc import Awaitable, Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.db import connection

from palinode.core import facts as core_facts
from palinode.core import freshness, page, volatile
from palinode.core.facts import Facts
from palinode.core.rest import Rest
from palinode.core.volatile import Volatile
from palinode.gather.exchange import Exchange
from palinode.records.models import Capture

Ask = Callable[[str, Mapping[str, str]], Awaitable[Exchange]]
"""Asks for an address with further header fields, at the pace of the capture."""

_NAMED = 10


@dataclass
class _Seen:
    """The readings of one page: as captured, asked twice, asked twice past caches."""

    address: str
    captured: Facts
    plain: list[Facts] = field(default_factory=list)
    past: list[Facts] = field(default_factory=list)
    headers: Mapping[str, str] = field(default_factory=dict)


def take(capture: Capture) -> bool:
    """Whether the sample is to be asked by whoever calls this first."""
    return bool(Capture.objects.filter(pk=capture.pk, sample__isnull=True).update(sample={}))


async def ask(capture: Capture, most: int, asks: Ask, certificate: str = "") -> None:
    """Ask a sample of up to ``most`` pages again, and keep with the capture what that showed.

    What the host's ``certificate`` said, in words, is kept beside it.
    """
    seen = await asyncio.to_thread(_chosen, capture, most)
    for one in seen:
        one.plain, one.headers = await _twice(asks, one.address, {}, lambda address: address)
        if one.plain:
            one.past, _ = await _twice(asks, one.address, freshness.PAST_CACHES, freshness.new_query)
    found = {**await asyncio.to_thread(_read, seen), "certificate": certificate}
    await asyncio.to_thread(Capture.objects.filter(pk=capture.pk).update, sample=found)


async def _twice(
    asks: Ask, address: str, fields: Mapping[str, str], form: Callable[[str], str]
) -> tuple[list[Facts], Mapping[str, str]]:
    """Return two readings of a page, and the header of the first; none if it is no page any more."""
    readings: list[Facts] = []
    headers: Mapping[str, str] = {}
    for _ in range(2):
        exchange = await asks(form(address), fields)
        told = exchange.headers or {}
        if exchange.status != 200 or not page.is_html(page.media_type(told.get("content-type", ""))):
            return [], {}
        body, _ = exchange.decoded()
        # Read as if asked for by its own address, so that a query that is new each time changes nothing in it.
        readings.append(await asyncio.to_thread(core_facts.read, address, told, body))
        headers = headers or told
    return readings, headers


def _read(seen: list[_Seen]) -> dict[str, Any]:
    asked = [one for one in seen if one.plain]
    learnt = volatile.NOTHING
    for one in asked:
        learnt |= volatile.learn(one.address, *one.plain)
    changed = [one.address for one in asked if not volatile.alike(one.captured, one.plain[0], learnt)]
    older = [
        one
        for one in asked
        if one.past
        and volatile.alike(*one.plain, learnt)
        and volatile.alike(*one.past, learnt)
        and not volatile.alike(one.plain[1], one.past[0], learnt)
    ]
    return {
        "asked": len(asked),
        "gone": len(seen) - len(asked),
        "changed": len(changed),
        "changed_examples": changed[:_NAMED],
        "volatile": learnt.plain(),
        "older": len(older),
        "older_examples": [one.address for one in older[:_NAMED]],
        "age": max((freshness.age(one.headers) for one in older), default=0),
        "keeps": max((freshness.keeps(one.headers) for one in older), default=0),
    }


def _chosen(capture: Capture, most: int) -> list[_Seen]:
    """Choose pages; their identities are as good as drawn, and the same ones for the same site."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT d.text, f.title, f.description, f.robots, f.rest FROM records_answer a "
            "JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts "
            "JOIN records_address d ON d.move_id = %(move)s AND d.ident = a.ident "
            "WHERE a.capture_id = %(capture)s AND a.is_page AND a.media_type = ANY(%(html)s) "
            "ORDER BY a.depth > 0, a.ident LIMIT %(most)s",
            {"move": capture.move_id, "capture": capture.pk, "most": most, "html": sorted(page.HTML)},
        )
        rows = cursor.fetchall()
    return [_Seen(text, _facts(title, description, robots, rest)) for text, title, description, robots, rest in rows]


def _facts(title: str, description: str, robots: str, rest: bytes) -> Facts:
    return Facts(title, description, robots, blocks=tuple(Rest(rest).blocks))


def volatile_of(capture: Capture) -> Volatile:
    """Return what was learnt to be volatile as a capture was made; on either side it is kept out on both."""
    return Volatile.read((capture.sample or {}).get("volatile", {}))
