"""Which pages of a capture name an address in one of its two forms, written out with its host."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from palinode.core import address as addresses
from palinode.core.packed_facts import unpacked
from palinode.records import bulk_copy, plans
from palinode.records.models import Capture

MOST = 1_000
"""Pages that are listed; where there are more, they are counted no further."""
_BATCH = 200


@dataclass(frozen=True)
class Naming:
    """A page that names an address of some folders."""

    address: str
    written: str
    """The first such address in it, as written."""
    times: int


def pages(capture: Capture, folders: Sequence[str]) -> list[Naming]:
    """Return the pages of a capture that name what is below ``folders``, whole addresses; MOST + 1 at most.

    Relative addresses name no host, so they are not meant.
    """
    begins = [
        re.escape(host + parts.path)
        for parts in map(addresses.split, folders)
        for host in (parts.host, addresses.twin_host(parts.host))
    ]
    # In JSON a quotation mark ends the text; what has one escaped in it is no address.
    pattern = re.compile(rf'(?:https?:)?//(?:{"|".join(begins)})[^"\\\s]*'.encode())
    sql = (
        "SELECT d.text, f.rest FROM records_answer a "
        "JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts "
        "JOIN records_address d ON d.move_id = %(move)s AND d.ident = a.ident "
        "WHERE a.capture_id = %(capture)s AND a.is_page"
    )
    found: list[Naming] = []
    values = {"move": capture.move_id, "capture": capture.pk}
    with plans.whole(), bulk_copy.stream(sql, values, _BATCH) as batches:
        for batch in batches:
            for text, rest in batch:
                if named := pattern.findall(unpacked(rest)):
                    found.append(Naming(text, named[0].decode("utf-8", "replace"), len(named)))
                    if len(found) > MOST:
                        return found
    return sorted(found, key=lambda one: one.address)
