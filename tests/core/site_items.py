"""What checks read of dumps, built from the dumps themselves."""

import io

from demo.wordpress_dump import WordPressDump
from palinode.core import platforms
from palinode.core.dumps.contents import Gathering
from palinode.core.dumps.database import Database
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Script
from palinode.core.platforms.inventory import Inventory
from palinode.core.platforms.items import SiteItems


def database(dump: WordPressDump | bytes) -> Database:
    """Return the database that a dump shows."""
    data = dump if isinstance(dump, bytes) else dump.sql()
    inventory = Inventory(platforms.ALL)
    gathering = Gathering(inventory.take)
    for part in Script(io.BytesIO(data).read, Quoting.BACKSLASH).parts():
        gathering.add(part)
    contents = gathering.contents
    tables = list(contents.tables.values())
    return Database(tables, contents.server, contents.ends_early, inventory.installations(tables))


def items(dump: WordPressDump) -> tuple[SiteItems, ...]:
    """Return the items of a dump."""
    return (SiteItems("dump", tuple(database(dump).installations)),)
