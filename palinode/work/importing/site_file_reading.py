"""Site files read step by step, and what they hold at the end."""

from collections.abc import Iterator, Sequence

from palinode.core import platforms, site_contents
from palinode.core.dumps.contents import Gathering
from palinode.core.dumps.script import DumpError
from palinode.core.exports.rest import Api, ApiError
from palinode.core.exports.typed_numbers import NumbersError
from palinode.core.exports.wxr import Export, ExportError
from palinode.core.listings.listing import ListingError
from palinode.core.platforms.inventory import Inventory
from palinode.core.site_contents import SiteContents
from palinode.gather.packed import PackedError
from palinode.gather.site_files import (
    ApiAnswers,
    ArchiveFiles,
    Dump,
    ExportPart,
    ExportParts,
    FileList,
    SiteFile,
    TypedNumbers,
)

ERRORS = (ApiError, DumpError, ExportError, ListingError, NumbersError, PackedError)
"""What reading may end with; each message is for a person."""
_STEP = 8_000_000
"""Bytes after which it is said how far reading is."""


def steps(files: Sequence[SiteFile], grouping: frozenset[str] = frozenset()) -> Iterator[int | SiteContents]:
    """Read a file, or the parts of an export; yield now and then how many bytes were read, and last what they hold.

    ``grouping`` are names of columns of a dump by whose values rows are to be counted. Raises what ERRORS names.
    """
    first = files[0]
    if isinstance(first, Dump):
        yield from _of_dump(first, grouping)
    elif isinstance(first, FileList):
        yield from _of_listing(first)
    elif isinstance(first, TypedNumbers):
        yield site_contents.of_numbers(first.numbers())
    elif isinstance(first, ArchiveFiles):
        yield from _of_archive(first)
    elif isinstance(first, ApiAnswers):
        yield from _of_api(first)
    else:
        yield from _of_export([part for part in files if isinstance(part, ExportPart | ExportParts)])


def _of_dump(dump: Dump, grouping: frozenset[str]) -> Iterator[int | SiteContents]:
    inventory = Inventory(platforms.ALL)
    gathering = Gathering(inventory.take, grouping)
    said = 0
    for part in dump.script().parts():
        gathering.add(part)
        if dump.taken - said > _STEP:
            said = dump.taken
            yield said
    contents = gathering.contents
    yield site_contents.of_dump(contents, inventory.installations(list(contents.tables.values())))


def _of_export(parts: Sequence[ExportPart | ExportParts]) -> Iterator[int | SiteContents]:
    export, before = Export(), 0
    for part in parts:
        said = 0
        for _ in part.add_to(export):
            if part.taken - said > _STEP:
                said = part.taken
                yield before + said
        before += part.taken
    yield site_contents.of_export(export)


def _of_archive(archive: ArchiveFiles) -> Iterator[int | SiteContents]:
    said = 0
    for _ in archive.steps():
        if archive.taken - said > _STEP:
            said = archive.taken
            yield said
    yield site_contents.of_listing(archive.listing)


def _of_api(answers: ApiAnswers) -> Iterator[int | SiteContents]:
    api = Api()
    for _ in answers.add_to(api):
        yield answers.taken
    yield site_contents.of_api(api)


def _of_listing(file: FileList) -> Iterator[int | SiteContents]:
    reading, said = file.reading(), 0
    for _ in reading.steps(file.read):
        if file.taken - said > _STEP:
            said = file.taken
            yield said
    yield site_contents.of_listing(reading.listing)
