"""How one share asks the hosts of its side: as robots rules allow, not while they rest, so many a second."""

import asyncio
import time
from collections import deque
from collections.abc import Mapping, Sequence

import aiohttp

from palinode.core import address as addresses
from palinode.core.checks.ask import Variant
from palinode.core.reason import Reason
from palinode.core.scope import AskedFor
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.gather.fetch import fetch
from palinode.gather.robots import Read, Robots
from palinode.records import captures
from palinode.records.models import Capture
from palinode.records.rows import Leased
from palinode.work import side_access
from palinode.work.capturing import rests
from palinode.work.capturing.in_thread import in_thread
from palinode.work.capturing.policy import Policy
from palinode.work.capturing.rests import Rests


class StoppedError(Exception):
    """Somebody stopped or paused the capture while a host was waited for."""


class _Limiter:
    """Lets at most so many requests a second through; 0 lets all through."""

    def __init__(self, rate: float) -> None:
        self.rate = rate
        self._next = 0.0

    async def wait(self) -> None:
        if self.rate <= 0:
            return
        now = time.monotonic()
        self._next = max(now, self._next) + 1 / self.rate
        await asyncio.sleep(self._next - 1 / self.rate - now)


class Hosts:
    """The hosts that a share asks.

    ``honours`` says whether robots rules are kept to, ``variants`` in which ways an address is asked, ``reads`` reads
    rules.
    """

    def __init__(
        self,
        capture: Capture,
        policy: Policy,
        session: aiohttp.ClientSession,
        access: Access,
        honours: bool,
        variants: Sequence[Variant],
        reads: Read,
    ) -> None:
        self.robots = Robots(session, access, side_access.agent(), reads, self._waits)
        self.rests = Rests()
        self.waits_for = ""
        """For what it waits before it asks anything, in words."""
        self.met: dict[str, str] = {}
        """Each host that was asked since somebody last looked, with an address of it."""
        self._capture, self._policy, self._session = capture, policy, session
        self._access, self._honours, self._variants = access, honours, variants
        self._rate = policy.rate
        """Requests a second over all shares: as the policy says, or fewer as robots rules ask for; 0 for no bound."""
        self._limiter = _Limiter(policy.rate)
        self._going = True

    def stop(self) -> None:
        """Wait for no host any longer."""
        self._going = False

    def divide(self, shares: int) -> None:
        """Divide the requests a second between so many shares."""
        self._limiter.rate = self._rate / shares

    async def keep_delay(self, base: str) -> None:
        """Keep to the delay that the robots rules of an address's host ask for. Raises StoppedError."""
        if self._honours and (delay := await self.robots.delay(base)):
            self._rate = min(self._rate or 1 / delay, 1 / delay)
            self._limiter.rate = self._rate

    def take_next(self, queue: deque[Leased]) -> Leased | None:
        """Take the next address whose host may be asked or is waited for no longer; None while all of them rest."""
        now = time.time()
        for _ in range(len(queue)):
            leased = queue.popleft()
            if not self.rests.until(leased.text, now) or self.rests.refusal(leased.text, now):
                return leased
            queue.append(leased)
        return None

    async def exchange(self, leased: Leased) -> Exchange:
        """Ask for a leased address, or say why it is not asked. Raises StoppedError."""
        if refusal := self.rests.refusal(leased.text, time.time()):
            return Exchange(leased.text, time.time(), 0, reason=refusal, why=Reason.MUST_WAIT)
        self.met.setdefault(addresses.origin(leased.text), leased.text)
        if leased.asked_for != AskedFor.ROBOTS and self._honours:
            reason, words = await self.robots.refusal(leased.text)
            if reason is not Reason.NONE:
                return Exchange(leased.text, time.time(), 0, reason=words, why=reason)
        variant = self._variants[leased.variant]
        fields = {**leased.condition, **dict(variant.fields)}
        return await self._ask(leased.text, fields, self._policy.attempts, variant.method)

    async def ask_again(self, address: str, fields: Mapping[str, str]) -> Exchange:
        """Ask once more, with header fields, for an address that has answered."""
        return await self._ask(address, fields, attempts=1)

    async def rest(self, exchange: Exchange) -> bool:
        """Let a host rest that asks for it, for all shares; whether the address is to be asked again."""
        now = time.time()
        rest = self.rests.note(exchange, now)
        if rest is None:
            return False
        await in_thread(captures.rest, self._capture, *rest)
        return not self.rests.refusal(exchange.address, now)

    def resting(self, address: str) -> str:
        """Say until when the host of an address is left alone; nothing if it may be asked."""
        until = self.rests.until(address, time.time())
        return (
            f"nothing of {addresses.split(address).host} until {rests.moment(until)}: it asks to wait" if until else ""
        )

    async def _ask(self, address: str, fields: Mapping[str, str], attempts: int, method: str = "GET") -> Exchange:
        await self._limiter.wait()
        return await fetch(self._session, self._access, address, attempts, fields, method=method)

    async def _waits(self, exchange: Exchange) -> bool:
        """Wait until a host has rested whose rules are asked for; whether that was worth it. Raises StoppedError."""
        if not await self.rest(exchange):
            return False
        while (now := time.time()) < (until := self.rests.until(exchange.address, now)):
            if not self._going:
                raise StoppedError
            self.waits_for = f"nothing until {rests.moment(until)}: the host of {exchange.address} asks to wait"
            await asyncio.sleep(min(0.2, until - now))
        self.waits_for = ""
        return True
