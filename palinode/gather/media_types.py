"""What a host calls files of which only the names are known: asked by HEAD (RFC 9110 section 9.3.2)."""

import time
from collections.abc import Sequence

from palinode.core.reason import Reason
from palinode.gather import client
from palinode.gather.access import Access
from palinode.gather.fetch import fetch
from palinode.gather.guard import Guard
from palinode.gather.robots import Read, Robots

MOST = 500
"""Files that a host is asked about."""
_SECONDS = 20.0
_ALTOGETHER = 120.0
"""Seconds after which no more is asked."""


async def of(asked: Sequence[str], access: Access, guard: Guard, agent: str, reads: Read | None) -> dict[str, str]:
    """Return the Content-Type that a host gives for addresses; those that it has not any more are left out.

    Robots rules are honoured with ``reads``, which reads them. A host that does not answer is not asked again. Never
    raises.
    """
    found: dict[str, str] = {}
    until = time.monotonic() + _ALTOGETHER
    async with client.session(access, guard, 1, agent, _SECONDS, _SECONDS) as session:
        robots = Robots(session, access, agent, reads) if reads else None
        for address in asked[:MOST]:
            if robots and (await robots.refusal(address))[0] is not Reason.NONE:
                continue
            exchange = await fetch(session, access, address, 1, method="HEAD")
            if exchange.status is None or time.monotonic() > until:
                break
            if exchange.status == 200 and (said := (exchange.headers or {}).get("content-type", "")):
                found[address] = said
    return found
