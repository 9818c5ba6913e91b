"""robots.txt of each host (RFC 9309), asked once by each client."""

import aiohttp
from protego import Protego

from palinode.core import address as addresses
from palinode.core import encoding
from palinode.gather.access import Access
from palinode.gather.fetch import fetch

_SIZE = 512_000
"""Bytes read, as RFC 9309 section 2.5 asks for at least."""


class Robots:
    """The rules of the hosts of one side."""

    def __init__(self, session: aiohttp.ClientSession, access: Access, agent: str) -> None:
        self._session, self._access, self._agent = session, access, agent.partition("/")[0]
        self._rules: dict[str, Protego | None] = {}

    async def allows(self, address: str) -> bool:
        """Whether the rules let this client ask for an address. A host that fails shuts it out."""
        rules = await self._of(address)
        return rules is not None and rules.can_fetch(address, self._agent)

    async def sitemaps(self, address: str) -> list[str]:
        """Return the sitemaps that the rules of the address's host name."""
        rules = await self._of(address)
        return list(rules.sitemaps) if rules else []

    async def _of(self, address: str) -> Protego | None:
        parts = addresses.split(address)
        origin = f"{parts.scheme}://{parts.host}"
        if origin not in self._rules:
            self._rules[origin] = await self._ask(f"{origin}/robots.txt")
        return self._rules[origin]

    async def _ask(self, address: str, hops: int = 5) -> Protego | None:
        exchange = await fetch(self._session, self._access, address)
        if exchange.status is None or exchange.status >= 500 or exchange.status == 429:
            return None
        location = (exchange.headers or {}).get("location")
        if 300 <= exchange.status < 400 and location and hops:
            to = addresses.normal(location, address)
            return await self._ask(to, hops - 1) if to else Protego.parse("")
        text = encoding.decode(exchange.decoded()[:_SIZE], "utf-8") if exchange.status == 200 else ""
        return Protego.parse(text)
