"""Installations as arrays and plain values, in which they are kept, and back."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import numpy as np

from palinode.core import platforms
from palinode.core.platforms.items import Installation, Items, Links
from palinode.core.platforms.platform import Field

_SIZES = "sizes"


def arrays(installations: Sequence[Installation]) -> dict[str, np.ndarray]:
    """Return the columns of all items (uint8: UTF-8, a zero byte between each two) and links (int64), by name."""
    found: dict[str, np.ndarray] = {}
    for number, one in enumerate(installations):
        for items in one.items:
            for what in items.fields:
                found[f"{number}-{items.table.name}-{what}"] = np.frombuffer(items.packed(what), np.uint8)
            found[f"{number}-{items.table.name}-{_SIZES}"] = items.sizes
        for links in one.links:
            found[f"{number}-{links.table.name}-of"] = links.of
            found[f"{number}-{links.table.name}-to"] = links.to
    return found


def plain(installations: Sequence[Installation]) -> list[dict[str, Any]]:
    """Return what is said of installations besides their columns."""
    return [
        {
            "name": one.platform.name,
            "database": one.database,
            "prefix": one.prefix,
            "counts": [vars(count) for count in one.counts()],
            "settings": dict(one.settings),
            "keys": one.keys,
            "items": {items.table.name: {"count": items.count, "fields": items.fields} for items in one.items},
        }
        for one in installations
    ]


def installations(said: Iterable[Mapping[str, Any]], columns: Mapping[str, np.ndarray]) -> tuple[Installation, ...]:
    """Return installations of which this was kept; those of platforms that are not known any more are left out."""
    known = {one.name: one for one in platforms.ALL}
    found = []
    for number, one in enumerate(said):
        if one["name"] not in known:
            continue
        platform = known[one["name"]]
        items = []
        for table in platform.items:
            held = one["items"].get(table.name, {"count": 0, "fields": []})
            taken = Items(table)
            packed = {Field(what): columns[f"{number}-{table.name}-{what}"].tobytes() for what in held["fields"]}
            if held["count"]:
                taken.add(held["count"], packed, columns[f"{number}-{table.name}-{_SIZES}"])
            items.append(taken)
        links = tuple(
            Links(table, columns[f"{number}-{table.name}-of"], columns[f"{number}-{table.name}-to"])
            for table in platform.links
            if f"{number}-{table.name}-of" in columns
        )
        named = one["database"], one["prefix"], one["settings"]
        found.append(Installation(platform, tuple(items), *named, links, tuple(one["keys"])))
    return tuple(found)
