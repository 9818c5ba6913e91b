"""The database of a side, as its dump shows it."""

from collections.abc import Sequence
from dataclasses import dataclass

from palinode.core.dumps.contents import Table
from palinode.core.platforms.items import Installation


@dataclass(frozen=True)
class Database:
    """What a dump holds besides the items of platforms."""

    tables: Sequence[Table]
    """In the order of the dump."""
    server: str
    """Version of the server, as the dump says."""
    ends_early: str
    """Why it is taken for cut off; empty where it ends as it should."""
    installations: Sequence[Installation] = ()
