"""Pages of a list by their numbers: ``/journal/page/3``, ``/shop?page=2``."""

import re
from typing import NamedTuple

_NUMBERED = re.compile(r"^((.*?)(?:(?<=/)(?:page|seite)/|[?&](?:page|paged|pg|start|offset)=))(\d+)/?$", re.IGNORECASE)


class ListPage(NamedTuple):
    """One page of a list."""

    list: str
    """What stands before the number; it tells one list from another."""
    first: str
    """Where its first page stands, without a number."""
    number: int


def of(path: str) -> ListPage | None:
    """Return which page of a list a path, or a whole address, is; None for any other page."""
    found = _NUMBERED.match(path)
    return ListPage(found[1], found[2], int(found[3])) if found else None
