"""Media types of imported files that only their names make pages: what their host calls them, where it says so."""

import asyncio
from functools import partial

from protego import Protego

from palinode.core import address as addresses
from palinode.core.reason import Reason
from palinode.gather import media_types
from palinode.gather.exchange import Exchange
from palinode.gather.robots import rules_of
from palinode.records import captures
from palinode.records.models import Answer, Move
from palinode.work import side_access
from palinode.work.readers import Readers, Unreadable


def of(move: Move, which: str, asked: list[str], readers: Readers) -> dict[str, str]:
    """Return the Content-Type of some addresses of a side: as its latest capture has it, or its host says now."""
    if not asked:
        return {}
    found = _captured(move, which, asked)
    access, honours = side_access.side_of(move, which)
    left = [one for one in asked if one not in found]
    reads = partial(_rules, readers) if honours else None
    return found | asyncio.run(media_types.of(left, access, side_access.guard(), side_access.agent(), reads))


def _captured(move: Move, which: str, asked: list[str]) -> dict[str, str]:
    latest = captures.latest(move, which)
    if latest is None:
        return {}
    by_ident = {addresses.ident(one): one for one in asked}
    rows = Answer.objects.filter(capture=latest, ident__in=by_ident, status=200, variant=0).exclude(media_type=None)
    return {by_ident[ident]: media for ident, media in rows.values_list("ident", "media_type")}


async def _rules(readers: Readers, exchange: Exchange) -> Protego | str:
    try:
        return await asyncio.to_thread(readers.run, rules_of, exchange)
    except Unreadable as error:
        return Reason.RULES_UNKNOWN.words(str(error))
