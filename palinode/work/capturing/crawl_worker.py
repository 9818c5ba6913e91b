"""One worker's share of a capture: lease, fetch, read, store, commit, until nothing is left."""

import asyncio
import time
from collections import deque
from collections.abc import Mapping
from contextlib import suppress
from datetime import UTC, datetime
from typing import Any

import uvloop
from django.conf import settings
from django.db import connections
from protego import Protego

from palinode.core import hours, sample
from palinode.core import ignored_parameters as parameters
from palinode.core.facts import Facts
from palinode.core.novelty import Novelty
from palinode.core.reason import Reason
from palinode.core.sample import Seen
from palinode.gather import client, host_probe
from palinode.gather.exchange import Exchange
from palinode.gather.robots import rules_of
from palinode.records import captures, disk, frontier, ignored_parameters
from palinode.records.models import Capture
from palinode.records.rows import Batch, Leased
from palinode.work import side_access
from palinode.work.capturing import asking, capture_end, extraction, recapture, sampling, sealing, seeds
from palinode.work.capturing.extraction import Follows
from palinode.work.capturing.hosts import Hosts, StoppedError
from palinode.work.capturing.in_thread import in_thread
from palinode.work.capturing.pace import Pace
from palinode.work.capturing.policy import Policy
from palinode.work.capturing.recapture import What
from palinode.work.readers import Readers, Unreadable

_LEASE = 200
_TOGETHER = 24
_TOGETHER_BYTES = 1_000_000
_TOGETHER_SECONDS = 0.2
"""Exchanges are handed to a reading process together: so many, or so large, or when the first has waited so long."""
_IN_READING = 6
"""Such hand-overs at once; more wait, and fetching with them, so that memory stays bounded."""
_IDLE = 0.3
_FIRST_SEAL = 2.0
_LOOK = 1.0
"""Seconds between two looks for parameters that do nothing …"""
_LOOK_TIMES = 20
"""… and as many times what the last one took, so that looking costs little."""
_BEAT = 1.0


def work_on(capture_id: int) -> None:
    """Take a share in a capture and work on it until it is done, paused or stopped."""
    capture = Capture.objects.select_related("move").get(pk=capture_id)
    if capture.state != Capture.State.RUNNING:
        return
    try:
        uvloop.run(_Share(capture).run())
    finally:
        connections.close_all()


class _Share:
    def __init__(self, capture: Capture) -> None:
        self.capture = capture
        self.policy = Policy.kept(capture.settings)
        self.access, self.honours = side_access.side_of(capture.move, capture.which)
        self.share = captures.join(capture)
        scope, all_of_it = recapture.site(capture)
        self.for_checks = capture.kind == Capture.Kind.ASKED
        self.variants = asking.variants(capture)
        follows = Follows.REDIRECTS if self.for_checks else Follows.ALL if all_of_it else Follows.NOTHING
        self.site = extraction.Site(capture.move_id, capture.pk, scope, self.policy.max_depth, follows)
        self.queue: deque[Leased] = deque()
        self.fetched: list[tuple[Leased, Exchange]] = []
        self.fetched_since = 0.0
        """When the first of them came."""
        self.readings: set[asyncio.Task[None]] = set()
        self.batch, self.batch_since = Batch(), time.monotonic()
        self.sealing: asyncio.Task[None] | None = None
        self.fetching = 0
        self.asked = 0
        self.held = 0
        """Leased and not yet committed."""
        self.full = False
        """As many addresses as may be asked are asked or held."""
        self.now = ""
        self.going = True
        self.dry = 0.0
        """When the frontier last had nothing to lease; 0 after each commit."""
        self.failure: BaseException | None = None
        self.wake = asyncio.Event()
        self.pace = Pace(self.policy.concurrency)
        self.hours = hours.read(self.policy.hours)
        self.shut = self._is_shut()
        self.has_parameters = False
        """An address with parameters was asked."""
        self.look_at = 0.0
        """When parameters that do nothing are looked for again."""
        self.novelty = Novelty()
        self.recent: deque[tuple[float, int]] = deque(maxlen=15)

    async def run(self) -> None:
        """Work until nothing is left or somebody says so."""
        self.started = time.monotonic()
        with Readers(settings.PALINODE_READERS) as self.readers:
            async with client.session(
                self.access,
                side_access.guard(),
                self.policy.concurrency,
                side_access.agent(),
                self.policy.answer_seconds,
                self.policy.silent_seconds,
            ) as session:
                self.hosts = Hosts(
                    self.capture, self.policy, session, self.access, self.honours, self.variants, self._rules
                )
                beating = asyncio.create_task(self._beat())
                fetchers = [asyncio.create_task(self._fetch(number)) for number in range(self.policy.concurrency)]
                for task in (beating, *fetchers):
                    task.add_done_callback(self._ended)
                try:
                    with suppress(StoppedError):
                        await self._robots()
                    await self._lead()
                finally:
                    self.going = False
                    for task in (beating, *fetchers):
                        task.cancel()
                    sealing = [self.sealing] if self.sealing else []
                    await asyncio.gather(beating, *fetchers, *sealing, return_exceptions=True)
                    await self._end_readers()
                    await in_thread(frontier.give_back, self.share)
                    await in_thread(captures.add_seconds, self.capture, time.monotonic() - self.started)
                    await in_thread(capture_end.conclude, self.capture)

    async def _lead(self) -> None:
        """Keep the fetchers supplied, seal when it is time, close when all is asked."""
        while True:
            if self.failure:
                raise RuntimeError("what was fetched could not be read") from self.failure
            if self.going and len(self.queue) < _LEASE // 2 and self._may_lease():
                leased = await in_thread(self._lease)
                self.queue.extend(leased)
                self.held += len(leased)
                self.dry = 0.0 if leased else time.monotonic()
                self.wake.set()
            self._hand_over()
            resting = not self.fetching and not self.readings and not self.fetched and not self.sealing
            if resting and (not self.going or (not self.queue and self.dry)):
                if self.batch.answers:
                    await self._seal()
                    continue
                if not self.going:
                    return
                if self.hosts.met and not self.for_checks and await in_thread(self._new_hosts):
                    self.dry = 0.0
                    continue
                if not self.for_checks and await in_thread(self._settle):
                    self.dry = 0.0
                    continue
                if not await in_thread(frontier.waiting, self.capture):
                    if self.policy.sample and await in_thread(sampling.take, self.capture):
                        await self._sample()
                        if not self.going:
                            continue
                    await self._end_readers()
                    await in_thread(capture_end.close, self.capture)
                    return
                if self.full:
                    limit = f"stopped at {self.policy.max_addresses:,} addresses, the limit set"
                    await in_thread(capture_end.end, self.capture, "", limit)
                    return
            elif self._due() and not self.sealing:
                # In the background, so that leasing and fetching go on meanwhile.
                self.sealing = asyncio.create_task(self._seal())
                self.sealing.add_done_callback(self._ended)
            await self._pause()

    def _new_hosts(self) -> bool:
        """Let robots.txt be asked of hosts that were met on the way; whether there are any."""
        met, self.hosts.met = self.hosts.met, {}
        return seeds.add_robots(self.capture, met.values()) > 0

    def _settle(self) -> bool:
        """Look whether what patterns hold back is to be asked still; whether some of it is."""
        if frontier.waiting(self.capture):
            return False
        self._look()
        return bool(frontier.settle(self.capture)) or frontier.waiting(self.capture)

    def _lease(self) -> list[Leased]:
        """Lease as many addresses as may still be asked; several shares may pass the limit by what others hold."""
        asked = Capture.objects.values_list("asked", flat=True).get(pk=self.capture.pk)
        room = self.policy.max_addresses - asked - self.held
        self.full = room <= 0
        return frontier.lease(self.share, min(_LEASE, room)) if room > 0 else []

    def _is_shut(self) -> bool:
        """Whether the window of hours is shut."""
        return bool(self.hours and self.hours.wait(datetime.now(UTC)))

    def _may_lease(self) -> bool:
        return not self.shut and (not self.dry or time.monotonic() - self.dry > _IDLE)

    def _due(self) -> bool:
        # Sooner in the beginning, so that whoever watches sees what is found.
        now = time.monotonic()
        wait = min(settings.PALINODE_SEAL_SECONDS, _FIRST_SEAL + (now - self.started) / 4)
        old = self.batch.answers and now - self.batch_since > wait
        return bool(len(self.batch.records) >= sealing.SEAL_BYTES or old)

    async def _pause(self) -> None:
        self.wake.clear()
        try:
            await asyncio.wait_for(self.wake.wait(), 0.05 if self.fetching or self.readings else _IDLE)
        except TimeoutError:
            pass

    async def _fetch(self, number: int) -> None:
        while True:
            held_back = self.shut or number >= self.pace.at_once or len(self.readings) >= _IN_READING
            if held_back or not self.queue or not self.going:
                await asyncio.sleep(0.01)
                continue
            leased = self.hosts.take_next(self.queue)
            if leased is None:
                await asyncio.sleep(0.1)
                continue
            self.fetching += 1
            try:
                exchange = await self.hosts.exchange(leased)
                self.pace.note(exchange, time.monotonic())
                if await self.hosts.rest(exchange):
                    # It is asked again when its host has rested.
                    self.queue.append(leased)
                    continue
                if not self.fetched:
                    self.fetched_since = time.monotonic()
                self.fetched.append((leased, exchange))
            except StoppedError:
                self.queue.append(leased)
                continue
            finally:
                self.fetching -= 1
            self.asked += 1
            self.now = leased.text
            self.has_parameters = self.has_parameters or bool(parameters.names(leased.text))
            if self._hand_over():
                self.wake.set()

    async def _sample(self) -> None:
        """Ask some pages again, unless somebody ends the capture meanwhile."""

        async def asks(address: str, fields: Mapping[str, str]) -> Exchange:
            if not self.going:
                return Exchange(address, time.time(), 0, reason=Reason.STOPPED.words(), why=Reason.STOPPED)
            return await self.hosts.ask_again(address, fields)

        secure = self.access.base.startswith("https:")
        found = await host_probe.certificate(self.access, side_access.guard()) if secure else None
        said = found.sentence if found else ""
        await sampling.ask(self.capture, self.policy.sample, asks, self._facts, self._told, said)

    async def _facts(self, address: str, exchange: Exchange) -> Facts | None:
        """Read a page of the sample; None if it cannot be read."""
        try:
            return await asyncio.to_thread(self.readers.run, extraction.facts, address, exchange)
        except Unreadable:
            return None

    async def _end_readers(self) -> None:
        """End the reading processes: what closing a capture needs of memory takes the place of theirs."""
        await asyncio.to_thread(self.readers.close)

    async def _rules(self, exchange: Exchange) -> Protego | str:
        """Read robots rules; why they cannot be read, if they cannot."""
        try:
            return await asyncio.to_thread(self.readers.run, rules_of, exchange)
        except Unreadable as error:
            return Reason.RULES_UNKNOWN.words(str(error))

    async def _told(self, seen: list[Seen]) -> dict[str, Any]:
        """Tell what the sample shows; nothing, if what came cannot be told within the limit."""
        try:
            return await asyncio.to_thread(self.readers.run, sample.told, seen)
        except Unreadable:
            return sample.NOTHING_TOLD

    def _hand_over(self) -> bool:
        """Let what was fetched be read, if it is enough to be read together, or nothing more comes; whether it is."""
        enough = (
            len(self.fetched) >= _TOGETHER
            or sum(len(exchange.body) for _, exchange in self.fetched) >= _TOGETHER_BYTES
            or time.monotonic() - self.fetched_since > _TOGETHER_SECONDS
            or not (self.queue or self.fetching)
        )
        if not (self.fetched and enough):
            return False
        some, self.fetched = self.fetched, []
        task = asyncio.create_task(self._read(some))
        self.readings.add(task)
        task.add_done_callback(self._ended)
        return True

    async def _read(self, some: list[tuple[Leased, Exchange]]) -> None:
        batch = await asyncio.wrap_future(self.readers.later(self.site, some))
        if not self.batch.answers:
            self.batch_since = time.monotonic()
        for answer in batch.answers:
            if answer.content is not None:
                answer.fresh = self.novelty.brings(answer.content)
                answer.content = None
        self.batch.add(batch)

    def _ended(self, task: asyncio.Task[None]) -> None:
        """Keep the failure of a task, so that the leading loop raises it."""
        self.readings.discard(task)
        if task is self.sealing:
            self.sealing = None
        self.wake.set()
        if not task.cancelled() and task.exception():
            self.failure = self.failure or task.exception()

    async def _seal(self) -> None:
        batch, self.batch = self.batch, Batch()
        await in_thread(sealing.seal, self.share, batch)
        if self.has_parameters and not self.for_checks and time.monotonic() > self.look_at:
            await in_thread(self._look)
        self.asked -= len(batch.answers)
        self.held -= len(batch.answers)
        self.dry = 0.0

    async def _robots(self) -> None:
        """Keep to the delay that the robots rules of the side's hosts ask for; make known what they name."""
        for base in self.capture.bases:
            await self.hosts.keep_delay(base)
            if self.for_checks or self.capture.again.get("what", What.ALL) != What.ALL:
                continue
            named = await self.hosts.robots.sitemaps(base)
            await in_thread(seeds.add_sitemaps, self.capture, base, named)

    async def _beat(self) -> None:
        while True:
            self.shut = self._is_shut()
            goes_on, living = await in_thread(self._say)
            if not goes_on:
                self.going = False
                self.hosts.stop()
                self.queue.clear()
            shares = max(1, len(living))
            self.pace.most = max(1, self.policy.concurrency // shares)
            self.hosts.divide(shares)
            await asyncio.sleep(_BEAT)

    def _look(self) -> None:
        """Look for parameters that do nothing to the content."""
        began = time.monotonic()
        ignored_parameters.look(self.capture)
        now = time.monotonic()
        self.look_at = now + max(_LOOK, _LOOK_TIMES * (now - began))

    def _say(self) -> tuple[bool, list[int]]:
        """Write progress; look whether the capture goes on, which shares it has, and whether a limit bites."""
        current = Capture.objects.get(pk=self.capture.pk)
        self.hosts.rests.take_over(current.rests)
        self.recent.append((time.monotonic(), current.asked + self.asked))
        (first, then), (last, now) = self.recent[0], self.recent[-1]
        progress: dict[str, Any] = {
            "asked": self.asked,
            "now": self._doing(),
            "rate": round((now - then) / (last - first), 1) if last > first else 0,
            "bytes": len(self.batch.records),
            "disk_free": disk.free(),
        }
        if not frontier.beat(self.share, progress):
            return False, []
        if current.state == Capture.State.RUNNING:
            self._bound(current)
            current.refresh_from_db(fields=["state"])
        return current.state == Capture.State.RUNNING, frontier.living_shares(self.capture)

    def _doing(self) -> str:
        """Say what it does now: the address asked last, or until when nothing is asked, and why."""
        if self.shut and self.hours:
            return f"nothing until {self.hours.start:%H:%M} UTC"
        waiting = [] if self.fetching else [self.hosts.resting(one.text) for one in list(self.queue)[:1]]
        return "".join(waiting) or self.hosts.waits_for or self.now

    def _bound(self, current: Capture) -> None:
        policy = self.policy
        running = current.seconds + time.time() - self.share.started_at.timestamp()
        if shortage := disk.shortage():
            captures.pause(current, shortage)
        elif current.stored_bytes >= policy.max_megabytes * 1_000_000:
            capture_end.end(current, limit=f"stopped at {policy.max_megabytes:,} MB, the limit set")
        elif running >= policy.max_seconds:
            capture_end.end(current, limit=f"stopped after {policy.max_seconds:,} seconds, the limit set")
