"""Static pages from a ZIP archive: an offline copy of a site, as exchanges that never were."""

import mimetypes
import stat
import struct
import time
import zipfile
import zlib
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime
from email.utils import format_datetime
from pathlib import PurePosixPath
from types import MappingProxyType
from typing import BinaryIO
from urllib.parse import quote

from palinode.core import address as addresses
from palinode.core import page
from palinode.gather import zip_directory
from palinode.gather.exchange import BODY_LIMIT, Exchange

ENTRIES = 500_000
TOTAL = 50_000_000_000
"""Bytes of all files, unpacked."""
_BROKEN = (
    zipfile.BadZipFile,
    zipfile.LargeZipFile,
    EOFError,
    NotImplementedError,
    OSError,
    RuntimeError,
    ValueError,
    struct.error,
    zlib.error,
)
_INDEX = ("index.html", "index.htm")


class ArchiveError(ValueError):
    """An archive cannot be read, or must not be; the message is for a person and names the entry."""


def exchanges(file: BinaryIO, base: str, types: Mapping[str, str] = MappingProxyType({})) -> Iterator[Exchange]:
    """Yield the files of an archive as answers below ``base``; a folder's index page is the folder's address.

    Folders that hold everything are left off, as is one with the side's host for a name. ``types`` are what their host
    calls some of them. Raises ArchiveError for what is broken, too large, or would lie outside.
    """
    with _opened(file, base) as (archive, entries):
        for entry, path in entries:
            yield _exchange(archive, entry, base, path, types)


def pages_by_name(file: BinaryIO, base: str) -> list[str]:
    """Return the addresses of an archive's files that are pages by their names, and not HTML: scripts, samples, notes.

    Raises ArchiveError.
    """
    with _opened(file, base) as (_, entries):
        paths = [path for _, path in entries]
    types = [(path, _media_type(path)) for path in paths]
    return [
        _address(base, path)
        for path, media in types
        if page.is_page(200, media) and media.startswith("text/") and not page.is_html(media)
    ]


def holds_pages(file: BinaryIO) -> bool:
    """Whether a file is an archive with a page in it, by the names of its entries."""
    try:
        with zip_directory.opened(file, ENTRIES) as archive:
            return any(_media_type(name) == "text/html" for name in archive.namelist())
    except (*_BROKEN, zip_directory.TooMany):
        return False
    finally:
        file.seek(0)


@contextmanager
def _opened(file: BinaryIO, base: str) -> Iterator[tuple[zipfile.ZipFile, list[tuple[zipfile.ZipInfo, str]]]]:
    """Open an archive; give its files with their paths on the site. What is found to be broken is an ArchiveError."""
    try:
        with zip_directory.opened(file, ENTRIES) as archive:
            entries = [one for one in archive.infolist() if not one.is_dir()]
            _refuse(entries)
            root = _root([one.filename for one in entries], addresses.split(base).host)
            paths = [(entry, entry.filename[len(root) :]) for entry in entries if entry.filename.startswith(root)]
            yield archive, [(entry, path) for entry, path in paths if not _is_hidden(path)]
    except ArchiveError:
        raise
    except zip_directory.TooMany as error:
        raise ArchiveError(str(error)) from None
    except _BROKEN as error:
        raise ArchiveError(f"the archive is broken or packed in a way that is not known: {error}") from None


def _refuse(entries: list[zipfile.ZipInfo]) -> None:
    if not entries:
        raise ArchiveError("the archive holds no files")
    total = 0
    for entry in entries:
        path = PurePosixPath(entry.filename.replace("\\", "/"))
        if path.is_absolute() or ".." in path.parts or ":" in path.parts[0]:
            raise ArchiveError(f"“{entry.filename[:200]}” would lie outside of the archive")
        if stat.S_ISLNK(entry.external_attr >> 16):
            raise ArchiveError(f"“{entry.filename[:200]}” is a link, not a file")
        total += entry.file_size
    if total > TOTAL:
        raise ArchiveError(f"the files are {total // 10**9:,} GB when unpacked; {TOTAL // 10**9:,} are read at most")


def _root(names: list[str], host: str) -> str:
    """Return the folder that stands for the site's own, with its slash; empty for the archive itself."""
    bare = addresses.bare_host(host.partition(":")[0])
    for name in names:
        parts = name.split("/")
        for depth, part in enumerate(parts[:-1]):
            if addresses.bare_host(part) == bare:
                return "/".join(parts[: depth + 1]) + "/"
    tops = {name.partition("/")[0] for name in names}
    if len(tops) == 1 and all("/" in name for name in names):
        return f"{tops.pop()}/"
    return ""


def _is_hidden(path: str) -> bool:
    return any(part.startswith(".") or part == "__MACOSX" for part in path.split("/"))


def _media_type(path: str) -> str:
    return mimetypes.guess_type(path.rpartition("/")[2])[0] or "application/octet-stream"


def _address(base: str, path: str) -> str:
    folder, _, name = path.rpartition("/")
    shown = f"{folder}/" if folder and name in _INDEX else "" if name in _INDEX else path
    return addresses.normal(quote(shown, safe="/%"), base.rstrip("/") + "/") or base


def _exchange(
    archive: zipfile.ZipFile, entry: zipfile.ZipInfo, base: str, path: str, types: Mapping[str, str]
) -> Exchange:
    address = _address(base, path)
    with archive.open(entry) as opened:
        # Read within the bound, whatever size the archive states.
        body = opened.read(BODY_LIMIT + 1)
    media = types.get(address) or _media_type(path)
    modified = datetime(*entry.date_time, tzinfo=UTC) if entry.date_time[0] > 1980 else None
    headers = {"content-type": media}
    if modified:
        headers["last-modified"] = format_datetime(modified, usegmt=True)
    lines = "".join(f"{field.title()}: {value}\r\n" for field, value in headers.items())
    request = f"GET {addresses.split(address).path} HTTP/1.1\r\nHost: {addresses.split(address).host}\r\n\r\n"
    return Exchange(
        address=address,
        asked_at=time.time(),
        took_ms=0,
        status=200,
        request_head=request.encode(),
        response_head=f"HTTP/1.1 200 OK\r\n{lines}\r\n".encode(),
        headers=headers,
        body=body[:BODY_LIMIT],
        truncated=len(body) > BODY_LIMIT,
    )
