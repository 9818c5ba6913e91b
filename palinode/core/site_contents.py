"""What a site file holds, of whatever kind, in words and in plain values."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from palinode.core.dumps.contents import Contents
from palinode.core.exports.rest import Api
from palinode.core.exports.wxr import Export
from palinode.core.listings.listing import UNKNOWN, Listing
from palinode.core.platforms import packing
from palinode.core.platforms.items import Installation
from palinode.core.wording import number, sentence

VERSION = 3
"""Raised when the same file gives something else: what was kept of it is made anew then."""
_MOST_FOLDERS = 200


@dataclass(frozen=True)
class SiteContents:
    """What a site file holds."""

    summary: str
    """In words; so is the next."""
    ends_early: str
    """Why it is taken for cut off; empty where it ends as it should."""
    plain: dict[str, Any]
    """As it is kept, printed and shown: ``tables``, ``beside``, ``server``, ``platforms`` and ``grouping``, or
    ``files`` and what is said of them, as the kind of file goes."""
    arrays: Mapping[str, np.ndarray] = field(default_factory=dict)
    """What there may be a million of: the items of platforms, the files of a list."""

    def kept(self) -> dict[str, Any]:
        """Return the plain values as they are kept, with the version and the names of the arrays."""
        return self.plain | {"version": VERSION, "arrays": sorted(self.arrays)}


def of_dump(contents: Contents, installations: Sequence[Installation]) -> SiteContents:
    """Return what a dump holds, with the platforms that were recognised in it."""
    beside = ", ".join(number(len(names), kind) for kind, names in contents.beside.items())
    rows = number(sum(one.rows for one in contents.tables.values()), "row")
    besides = f"; besides {beside}, not read" if beside else ""
    return SiteContents(
        sentence(f"{number(len(contents.tables), 'table')}, {rows}{besides}."),
        contents.ends_early,
        {
            "server": contents.server,
            "tables": [asdict(one) for one in contents.tables.values()],
            "beside": {kind: sorted(names) for kind, names in contents.beside.items()},
            "platforms": packing.plain(installations),
            "grouping": sorted(contents.grouping),
        },
        packing.arrays(installations),
    )


def of_export(export: Export) -> SiteContents:
    """Return what an export holds."""
    found = [export.installation]
    items = number(sum(one.number for one in export.installation.counts()), "item")
    plain = {"platforms": packing.plain(found)}
    return SiteContents(sentence(f"{items}."), export.ends_early, plain, packing.arrays(found))


def of_api(api: Api) -> SiteContents:
    """Return what the answers of an API hold."""
    found = api.installations
    items = number(sum(count.number for one in found for count in one.counts()), "item")
    refused = f"; not shown: {', '.join(sorted(api.refused))}" if api.refused else ""
    return SiteContents(sentence(f"{items}{refused}."), "", {"platforms": packing.plain(found)}, packing.arrays(found))


def of_numbers(numbers: Mapping[str, int]) -> SiteContents:
    """Return what a person typed."""
    return SiteContents(sentence(f"{number(len(numbers), 'number')}."), "", {"numbers": dict(numbers)})


def of_listing(listing: Listing) -> SiteContents:
    """Return what a list of files holds."""
    sizes = listing.size[listing.size != UNKNOWN]
    folders = Counter(path.partition("/")[0] + "/" if "/" in path else "" for path in listing.paths)
    return SiteContents(
        sentence(f"{number(len(listing), 'file')}."),
        "",
        {
            "files": len(listing),
            "size": int(sizes.sum()) if len(sizes) else None,
            "empty": int((sizes == 0).sum()),
            "unread": listing.unread,
            "folders": [{"name": name, "files": files} for name, files in folders.most_common(_MOST_FOLDERS)],
        },
        listing.arrays(),
    )
