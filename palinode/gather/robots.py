"""robots.txt of each host (RFC 9309), asked once by each client."""

from collections.abc import Awaitable, Callable

import aiohttp
from protego import Protego

from palinode.core import address as addresses
from palinode.core import robots
from palinode.core.page import TOO_MANY, UNAVAILABLE
from palinode.core.reason import FINAL, Reason
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.gather.fetch import fetch

LONGEST_DELAY = 60.0
"""Seconds: a longer delay would keep a capture from ever ending."""


Read = Callable[[Exchange], Awaitable[Protego | str]]
"""Reads rules in a process that they cannot stop: see :func:`rules_of`; why not, if they cannot be read."""


Waits = Callable[[Exchange], Awaitable[bool]]
"""Waits as an answer asks for; whether it did, so that the rules may be asked for again."""


async def wait_for_nobody(_: Exchange) -> bool:
    """Wait for no host."""
    return False


class Robots:
    """The rules of the hosts of one side."""

    def __init__(
        self,
        session: aiohttp.ClientSession,
        access: Access,
        agent: str,
        reads: Read,
        waits: Waits = wait_for_nobody,
    ) -> None:
        self._session, self._access, self._agent = session, access, agent.partition("/")[0]
        self._reads, self._waits = reads, waits
        self._rules: dict[str, Protego | str] = {}

    async def refusal(self, address: str) -> tuple[Reason, str]:
        """Return why the rules shut this client out from an address, and that in words; NONE when they do not.

        A host whose rules cannot be read shuts it out (RFC 9309 section 2.3.1.4), and is said to.
        """
        rules = await self._of(address)
        if isinstance(rules, str):
            return Reason.RULES_UNKNOWN, rules
        reason = Reason.NONE if rules.can_fetch(address, self._agent) else Reason.SHUT_OUT
        return reason, reason.words()

    async def sitemaps(self, address: str) -> list[str]:
        """Return the sitemaps that the rules of the address's host name."""
        rules = await self._of(address)
        return [] if isinstance(rules, str) else list(rules.sitemaps)

    async def delay(self, address: str) -> float:
        """Return the seconds between two requests that the rules of the address's host ask for; 0 for none."""
        rules = await self._of(address)
        asked = None if isinstance(rules, str) else rules.crawl_delay(self._agent)
        return min(float(asked), LONGEST_DELAY) if asked and asked > 0 else 0.0

    async def _of(self, address: str) -> Protego | str:
        origin = addresses.origin(address)
        if origin not in self._rules:
            self._rules[origin] = await self._ask(f"{origin}/robots.txt")
        return self._rules[origin]

    async def _ask(self, address: str, hops: int = 5) -> Protego | str:
        """Return the rules, or why there are none to go by."""
        exchange = await fetch(self._session, self._access, address)
        while exchange.status in (TOO_MANY, UNAVAILABLE) and await self._waits(exchange):
            exchange = await fetch(self._session, self._access, address)
        if exchange.status is None:
            # What this installation does not do at all is said as it is.
            final = exchange.why in FINAL
            return exchange.reason if final else Reason.RULES_UNKNOWN.words(f"was not had: {exchange.reason}")
        if exchange.status >= 500 or exchange.status == 429:
            return Reason.RULES_UNKNOWN.words(f"answers {exchange.status}, so that nothing may be asked")
        location = (exchange.headers or {}).get("location")
        if 300 <= exchange.status < 400 and location and hops:
            to = addresses.normal(location, address)
            return await self._ask(to, hops - 1) if to else Protego.parse("")
        if exchange.status != 200:
            return Protego.parse("")
        return await self._reads(exchange)


def rules_of(exchange: Exchange) -> Protego:
    """Return the rules that an answer holds."""
    return robots.read(exchange.decoded()[0])[1]
