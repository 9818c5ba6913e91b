"""Names of tables without the prefix that all tables of an installation have."""

from collections import Counter
from collections.abc import Sequence

from palinode.core.dumps.database import Database

_SHARE = 0.8
"""Of the tables of a database that have a prefix, where no platform says so."""
_FEWEST = 3


def of(database: Database) -> list[str]:
    """Return the prefixes of a database's tables, the longest first: of its platforms, or one that nearly all have."""
    found = {one.prefix for one in database.installations if one.prefix}
    if not database.installations and (common := _common([one.name for one in database.tables])):
        found.add(common)
    return sorted(found, key=lambda one: (-len(one), one))


def bare(name: str, prefixes: Sequence[str]) -> str:
    """Return a table's name without its prefix."""
    return next((name.removeprefix(one) for one in prefixes if name.startswith(one) and name != one), name)


def prefix_of(name: str, prefixes: Sequence[str]) -> str:
    """Return the prefix that a table's name has; empty for none."""
    return name.removesuffix(bare(name, prefixes))


def _common(names: Sequence[str]) -> str:
    """Return what stands before the first underscore of nearly all names, with it."""
    if len(names) < _FEWEST:
        return ""
    tally = Counter(f"{before}_" for before, mark, _ in (name.partition("_") for name in names) if mark)
    prefix, count = tally.most_common(1)[0] if tally else ("", 0)
    return prefix if count >= _SHARE * len(names) else ""
