"""Site files, packed or not: dumps, exports, answers of APIs, typed numbers, lists of files.

What each is, is said before it is read.
"""

import zipfile
from collections.abc import Callable, Iterator
from functools import partial
from typing import BinaryIO

from palinode.core.dumps import origin
from palinode.core.dumps.origin import Origin
from palinode.core.dumps.script import Script
from palinode.core.exports import rest, typed_numbers, wxr
from palinode.core.exports.rest import Api
from palinode.core.exports.wxr import Export
from palinode.core.listings import listing
from palinode.core.listings.listing import Form, Listing, Reading
from palinode.gather import archive_files, export_parts
from palinode.gather.packed import Choice, NoEntryError, Packed, PackedError

_MOST_TYPED = 1 << 20
"""Bytes of a typed table."""


class NotSiteFileError(PackedError):
    """A file is none of them; the message is for a person."""


class SiteFile:
    """A file that was opened and recognised, and not read yet."""

    kind: str
    """The kind of capture that it makes."""

    def __init__(self, packed: Packed, beginning: bytes, what: str) -> None:
        self.name = packed.name
        packing = f", packed by {' and '.join(packed.packings)}" if packed.packings else ""
        self.said = f"{packed.name} is {what}{packing}."
        """What it is, in words."""
        self.taken = 0
        """Bytes that were read of it so far, unpacked."""
        self._packed, self._beginning = packed, beginning

    def read(self, size: int) -> bytes:
        """Return so many further bytes or fewer, none at its end. Raises PackedError."""
        data, self._beginning = self._beginning or self._packed.read(size), b""
        self.taken += len(data)
        return data


class Dump(SiteFile):
    """A dump of a database."""

    kind = "dump"

    def __init__(self, packed: Packed, beginning: bytes, origin: Origin) -> None:
        super().__init__(packed, beginning, f"a dump of {origin.server}")
        self.quoting, self.packings = origin.quoting, tuple(packed.packings)

    def script(self) -> Script:
        """Return what reads it, from its beginning on; once. Reading raises DumpError and PackedError."""
        return Script(self.read, self.quoting)


class ExportPart(SiteFile):
    """An export of a content platform, or a part of one."""

    kind = "export"

    def __init__(self, packed: Packed, beginning: bytes) -> None:
        super().__init__(packed, beginning, "an export of WordPress (WXR)")

    def add_to(self, export: Export) -> Iterator[None]:
        """Read it into an export, a piece with each step; once. Raises ExportError and PackedError."""
        return export.steps(self.read)


class ExportParts(SiteFile):
    """All parts of an export, in one ZIP archive."""

    kind = "export"

    def __init__(self, file: BinaryIO, name: str, parts: list[str]) -> None:
        self.name, self.taken = name, 0
        self.said = f"{name} is an export of WordPress (WXR) in {len(parts)} parts."
        self._file, self._parts = file, parts

    def add_to(self, export: Export) -> Iterator[None]:
        """Read all parts into an export, a piece with each step; once. Raises ExportError and PackedError."""
        for read in export_parts.read(self._file, self.name, self._parts, self._note):
            yield from export.steps(read)

    def _note(self, taken: int) -> None:
        self.taken = taken


class ApiAnswers(SiteFile):
    """What the public API of a platform said, as we keep it."""

    kind = "api"

    def __init__(self, packed: Packed, beginning: bytes) -> None:
        super().__init__(packed, beginning, "what a public API said")

    def add_to(self, api: Api) -> Iterator[None]:
        """Read it, a piece with each step; once. Raises ApiError and PackedError."""
        return api.steps(self.read)


class TypedNumbers(SiteFile):
    """A small table that a person typed."""

    kind = "numbers"

    def __init__(self, packed: Packed, beginning: bytes) -> None:
        super().__init__(packed, beginning, "a table of numbers that was typed by hand")

    def numbers(self) -> dict[str, int]:
        """Return them. Raises NumbersError and PackedError."""
        data = b""
        while piece := self.read(_MOST_TYPED):
            data += piece
            if len(data) > _MOST_TYPED:
                raise typed_numbers.NumbersError("It is longer than any table that is typed.")
        return typed_numbers.read(data.decode("utf-8", "replace"))


class FileList(SiteFile):
    """A list of the files on a host, as a program printed it."""

    kind = "listing"

    def __init__(self, packed: Packed, beginning: bytes, form: Form) -> None:
        super().__init__(packed, beginning, f"a list of files by {form.value}")
        self._form = form

    def reading(self) -> Reading:
        """Return what reads it."""
        return Reading(self._form)


class ArchiveFiles(SiteFile):
    """A list of the files that an archive of a site's folder holds."""

    kind = "listing"

    def __init__(self, file: BinaryIO, name: str) -> None:
        self.name, self.taken = name, 0
        self.said = f"{name} is an archive, whose files are listed."
        self._file, self._found = file, dict[bytes, tuple[int, int]]()

    def steps(self) -> Iterator[None]:
        """Read the list, a file with each step; once. Raises PackedError."""
        for path, size in archive_files.files(self._file, self.name):
            self._found[path.removeprefix("./").encode("utf-8", "surrogateescape")] = size, 0
            self.taken = self._file.tell()
            yield

    @property
    def listing(self) -> Listing:
        """What was read so far."""
        return listing.made(self._found)


def opened(file: BinaryIO, name: str, entry: str = "", kind: str = "") -> SiteFile:
    """Open a file called ``name``; ``entry`` is the one in an archive, where there are several.

    ``kind`` is the kind of capture that is wanted of it; any, if it is empty. An archive in which there is no list of
    files is one itself. Raises NotSiteFileError for what is none of them, and PackedError for what cannot be unpacked.
    """
    if kind != FileList.kind and not entry and len(parts := export_parts.names(file)) > 1:
        return ExportParts(file, name, parts)
    wanted = listing.recognise if kind == FileList.kind else _recognised
    choice: Choice = (lambda one: one.name == entry) if entry else (lambda one: bool(wanted(one.beginning)))
    try:
        packed = Packed(file, name, choice, origin.LOOKED_AT)
    except NoEntryError:
        if (kind != FileList.kind and zipfile.is_zipfile(file)) or not archive_files.is_archive(file):
            raise
        return ArchiveFiles(file, name)
    beginning = packed.read(origin.LOOKED_AT)
    if made := _recognised(beginning):
        return made(packed, beginning)
    raise NotSiteFileError(
        f"{packed.name} is neither a dump nor an export nor a list of files. A plain dump is read as mariadb-dump, "
        "mysqldump or pg_dump writes it, WordPress's export (WXR), and what sha256sum, find -printf or ls -lR print; "
        "all of them also packed."
    )


def _recognised(beginning: bytes) -> Callable[[Packed, bytes], SiteFile] | None:
    """Return what makes a site file of one that begins so; None for what is none."""
    if wxr.recognise(beginning):
        return ExportPart
    if typed_numbers.recognise(beginning):
        return TypedNumbers
    if rest.recognise(beginning):
        return ApiAnswers
    if found := origin.recognise(beginning):
        return partial(Dump, origin=found)
    if form := listing.recognise(beginning):
        return partial(FileList, form=form)
    return None
