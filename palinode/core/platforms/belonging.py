"""How many items belong to each of others, by the rows of a database: comments to a post, posts to a category."""

import numpy as np

from palinode.core.platforms.items import Installation, Items
from palinode.core.platforms.platform import Field


def of(installation: Installation, items: Items) -> np.ndarray | None:
    """Return int64 (items,): how many that visitors see belong to each; None where nothing is counted."""
    places = {ident: at for at, ident in enumerate(items.column(Field.IDENTITY))}
    for links in installation.links:
        if links.table.name == items.table.counts:
            others = next(one for one in installation.items if one.table.name == links.table.of)
            shown = _shown(others)
            seen = np.array([int(ident) for ident, is_shown in shown if is_shown and ident.isdigit()], np.int64)
            return _counted(places, links.to[np.isin(links.of, seen)].tolist(), items.count)
    for others in installation.items:
        if others.table.name == items.table.counts:
            shown = _shown(others)
            parents = others.column(Field.PARENT)
            return _counted(places, [one for one, (_, seen) in zip(parents, shown, strict=True) if seen], items.count)
    return None


def contradictions(installation: Installation, items: Items) -> list[tuple[int, int, int]]:
    """Return the items whose own counter says something else than the rows: place, counter, rows."""
    rows = of(installation, items)
    if rows is None or Field.COUNTER not in items.fields:
        return []
    pairs = zip(items.column(Field.COUNTER), rows.tolist(), strict=True)
    return [(at, int(said), count) for at, (said, count) in enumerate(pairs) if said.isdigit() and int(said) != count]


def _shown(items: Items) -> list[tuple[str, bool]]:
    shown = items.table.shown
    pairs = zip(items.column(Field.IDENTITY), items.column(Field.STATUS), strict=True)
    return [(ident, status in shown) for ident, status in pairs]


def _counted(places: dict[str, int], named: list[int] | list[str], count: int) -> np.ndarray:
    at = [place for one in named if (place := places.get(str(one))) is not None]
    return np.bincount(np.array(at, np.int64), minlength=count)
