"""Asks who answers for a side, and reads the answer in a reading process."""

import asyncio

from palinode.core.host_probe import Answers
from palinode.gather import host_probe
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.gather.host_probe import Seen
from palinode.work import readers, side_access
from palinode.work.readers import Unreadable


def each(*asked: tuple[Access, str]) -> list[Answers]:
    """Ask an address of each of some hosts, at the same time."""

    async def ask() -> list[Answers]:
        guard, agent = side_access.guard(), side_access.agent()
        return await asyncio.gather(*(host_probe.who(one, guard, agent, _look, address) for one, address in asked))

    return asyncio.run(ask())


async def _look(base: str, exchange: Exchange) -> Seen:
    try:
        return await asyncio.to_thread(readers.ours().run, host_probe.look, base, exchange)
    except Unreadable as error:
        return Seen(fault=f"What answers {error}.")
