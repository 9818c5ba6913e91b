"""What files hold that tell of a site from behind it, in plain values: as it is kept, printed and shown."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import asdict
from typing import Any

from palinode.core import platforms
from palinode.core.dumps.contents import Contents, Gathering
from palinode.core.dumps.script import DumpError
from palinode.core.exports.wxr import Export, ExportError
from palinode.core.listings.listing import UNKNOWN, Listing, ListingError
from palinode.core.platforms.inventory import Inventory
from palinode.core.platforms.items import Installation
from palinode.core.wording import number, sentence
from palinode.gather.packed import PackedError
from palinode.gather.told_files import Dump, ExportPart, FileList

Told = dict[str, Any]
"""``what`` it is and its ``summary`` in words; ``ends_early``, why in words, empty where it ends as it should; and as
the kind of file goes ``tables``, ``beside``, ``server`` and ``platforms``, or ``files`` and what is said of them."""
ERRORS = (DumpError, ExportError, ListingError, PackedError)
"""What reading may end with; each message is for a person."""
_STEP = 8_000_000
"""Bytes after which it is said how far reading is."""


def steps(files: Sequence[Dump | ExportPart | FileList]) -> Iterator[int | Told]:
    """Read a file, or the parts of an export; yield now and then how many bytes were read, and last what they hold.

    Raises what ERRORS names.
    """
    first = files[0]
    if isinstance(first, Dump):
        yield from _of_dump(first)
    elif isinstance(first, FileList):
        yield from _of_listing(first)
    else:
        yield from _of_export([part for part in files if isinstance(part, ExportPart)])


def _of_dump(dump: Dump) -> Iterator[int | Told]:
    inventory = Inventory(platforms.ALL)
    gathering = Gathering(inventory.take)
    said = 0
    for part in dump.script().parts():
        gathering.add(part)
        if dump.taken - said > _STEP:
            said = dump.taken
            yield said
    told = gathering.contents
    found = inventory.installations(list(told.tables.values()))
    yield {
        "what": f"{dump.said} {f'Its server was {told.server}.' if told.server else ''}".strip(),
        "summary": _dump_summary(told),
        "ends_early": told.ends_early,
        "server": told.server,
        "tables": [asdict(one) for one in told.tables.values()],
        "beside": {kind: sorted(names) for kind, names in told.beside.items()},
        "platforms": [_installation(one) for one in found],
    }


def _dump_summary(told: Contents) -> str:
    beside = ", ".join(number(len(names), kind) for kind, names in told.beside.items())
    rows = number(sum(one.rows for one in told.tables.values()), "row")
    besides = f"; besides {beside}, not read" if beside else ""
    return sentence(f"{number(len(told.tables), 'table')}, {rows}{besides}.")


def _of_export(parts: Sequence[ExportPart]) -> Iterator[int | Told]:
    export, before = Export(), 0
    for part in parts:
        said = 0
        for _ in part.add_to(export):
            if part.taken - said > _STEP:
                said = part.taken
                yield before + said
        before += part.taken
    found = _installation(export.installation)
    yield {
        "what": " ".join(part.said for part in parts),
        "summary": sentence(f"{number(sum(one['number'] for one in found['counts']), 'item')}."),
        "ends_early": export.ends_early,
        "platforms": [found],
    }


def _installation(one: Installation) -> dict[str, Any]:
    counts = [asdict(count) for count in one.counts()]
    return {"name": one.platform.name, "database": one.database, "prefix": one.prefix, "counts": counts}


def _of_listing(file: FileList) -> Iterator[int | Told]:
    reading, said = file.reading(), 0
    for _ in reading.steps(file.read):
        if file.taken - said > _STEP:
            said = file.taken
            yield said
    yield {"what": file.said, **_listed(reading.listing)}


def _listed(listing: Listing) -> Told:
    sizes = listing.size[listing.size != UNKNOWN]
    folders = Counter(path.partition("/")[0] + "/" if "/" in path else "" for path in listing.paths)
    return {
        "summary": sentence(f"{number(len(listing), 'file')}."),
        "ends_early": "",
        "files": len(listing),
        "size": int(sizes.sum()) if len(sizes) else None,
        "empty": int((sizes == 0).sum()),
        "unread": listing.unread,
        "folders": [{"name": name, "files": files} for name, files in folders.most_common(_MOST_FOLDERS)],
    }


_MOST_FOLDERS = 200
