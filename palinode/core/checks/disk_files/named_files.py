"""Files that items of the database name, and that are not on the destination's disk."""

from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

from palinode.core.checks.content.seen_pages import NOT_SEEN, SeenPages
from palinode.core.checks.looked import Looked
from palinode.core.platforms.items import Items
from palinode.core.platforms.platform import Field


class NamedFile(NamedTuple):
    """A file that an item names and nobody has."""

    path: str
    by: str
    """What the item is called."""
    was_there: bool
    """The source has it."""
    page: str
    """Where the page stands to which the item belongs; empty for none."""


def named_files(looked: Looked) -> Iterator[NamedFile]:
    """Yield the files that items of the destination name and its list of files lacks, in the order of the items.

    In which folder they stand is told by those that are there.
    """
    left, right = looked.left.listing, looked.right.listing
    if left is None or right is None:
        return
    there, before = set(right.paths), set(left.paths)
    for held in looked.right.items or ():
        for installation in held.installations:
            for items in installation.items:
                if Field.FILE not in items.fields:
                    continue
                folder = _folder(items, right.paths) or _folder(items, left.paths)
                if folder is None:
                    continue
                pages = _pages(looked, items)
                for at, (path, title) in enumerate(zip(_paths(items), items.column(Field.TITLE), strict=True)):
                    whole = folder + path
                    if path and whole not in there:
                        yield NamedFile(
                            whole, f"“{title}”" if title else f"number {at + 1:,}", whole in before, pages.get(at, "")
                        )
        return


def _paths(items: Items) -> list[str]:
    """Return the path of each item's file below the folder of uploads, which some platforms write as a scheme."""
    return [path.rpartition("://")[2] for path in items.column(Field.FILE)]


def _folder(items: Items, paths: list[str]) -> str | None:
    """Return the folder below which most files stand that items name; None where none of them is there."""
    named = {path.rpartition("/")[2]: path for path in _paths(items) if path}
    tally: Counter[str] = Counter()
    for path in paths:
        other = named.get(path.rpartition("/")[2])
        if other and (path == other or path.endswith(f"/{other}")):
            tally[path.removesuffix(other)] += 1
    return tally.most_common(1)[0][0] if tally else None


def _pages(looked: Looked, items: Items) -> dict[int, str]:
    """Return where the pages stand to whose items others belong, by the places of these."""
    pages = looked.pages
    if pages is None:
        return {}
    installation = next(
        one
        for held in looked.right.items or ()
        for one in held.installations
        if any(items is some for some in one.items)
    )
    rows = SeenPages(installation, looked.right.bases, pages.right, looked.rule.forms).rows(
        items.table.name, items.count
    )
    places = {ident: at for at, ident in enumerate(items.column(Field.IDENTITY))}
    found = {}
    for at, parent in enumerate(items.column(Field.PARENT)):
        above = places.get(parent)
        if above is not None and int(rows[above]) != NOT_SEEN:
            found[at] = pages.right_place(int(rows[above]))
    return found
