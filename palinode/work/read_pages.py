"""Facts made of stored pages. Run in reading processes, without models: see work/readers.py."""

from collections.abc import Iterator
from typing import NamedTuple

from palinode.core import address as addresses
from palinode.core import facts as core_facts
from palinode.core import header_set
from palinode.core.discovery import Discovery
from palinode.core.facts import Facts
from palinode.core.header_set import HeaderSet
from palinode.core.resolver import Resolver
from palinode.core.scope import Scope
from palinode.records import rows
from palinode.records.rows import Found
from palinode.work import record_location
from palinode.work.record_location import At

_resolver = Resolver()
"""One for the process, since menus repeat from page to page."""


class Page(NamedTuple):
    """A stored page."""

    ident: int
    address: str
    digest: bytes
    record: At
    body: At


class Read(NamedTuple):
    """What was read of a page."""

    ident: int
    key: int
    line: str
    """COPY text of its facts."""
    references: dict[int, str]
    asks: list[Found]
    """What a capture that reads the page asks for because of it."""


class Head(NamedTuple):
    """An answer whose header set is not known."""

    ident: int
    variant: int
    record: At


def header_sets(heads: list[Head]) -> list[tuple[Head, HeaderSet]]:
    """Read the header sets of stored answers."""
    return [(one, header_set.of(record_location.opened(one.record).head)) for one in heads]


def read(move: int, scope: Scope, pages: list[Page]) -> list[Read]:
    """Read stored pages of a side of a move, and return their facts."""
    found = []
    for page in pages:
        record = record_location.opened(page.record)
        body = record_location.body(page.body) if record.revisit else record.body
        key = core_facts.key(page.ident, record.headers, page.digest)
        facts = core_facts.read(page.address, record.headers, body, _resolver)
        references = {one.ident: one.address for one in facts.references}
        found.append(Read(page.ident, key, rows.facts_line(move, key, facts), references, list(_asks(scope, facts))))
    return found


def _asks(scope: Scope, facts: Facts) -> Iterator[Found]:
    for one in facts.references:
        reached = scope.reached(one.address)
        asked_for = scope.asked_for(reached, one.place)
        if asked_for is not None:
            yield Found(addresses.ident(reached), reached, 0, int(Discovery.LINK), int(asked_for))
