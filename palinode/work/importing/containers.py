"""Files that become captures, read into exchanges. Run in reading processes, without models: see work/readers.py."""

import zipfile
from collections.abc import Iterator, Mapping
from datetime import datetime
from time import time
from typing import NamedTuple

from palinode.core import address as addresses
from palinode.core import page
from palinode.core.site_contents import SiteContents
from palinode.gather import pages, site_files
from palinode.gather.exchange import Exchange
from palinode.gather.packed import NoEntryError
from palinode.gather.warc import reader, segment
from palinode.gather.warc.reader import Damaged, Record
from palinode.records.folder import Folder
from palinode.work.importing import site_file_reading


class Item(NamedTuple):
    """An answer that a file holds."""

    exchange: Exchange
    payload: str = ""
    """The digest that the file gives for its body."""
    body: bytes | None = None
    """The digest of its body; None for a revisit, whose body was stored with another answer."""


def archive(move: int, stored: str, base: str, types: Mapping[str, str]) -> Iterator[Item]:
    """Yield the pages of an archive, some of which have ``types`` by their host. Raises ArchiveError."""
    with Folder(move).open(stored) as file:
        for exchange in pages.exchanges(file, base, types):
            yield Item(exchange)


def pages_by_name(move: int, stored: str, base: str) -> list[str]:
    """Return the addresses of an archive's files that only their names make pages. Raises ArchiveError."""
    with Folder(move).open(stored) as file:
        return pages.pages_by_name(file, base)


def warc(move: int, stored: str, base: str) -> Iterator[Item]:
    """Yield the answers of a WARC file. Raises Damaged."""
    with Folder(move).open(stored) as file:
        for record in reader.records(file):
            if record.kind not in segment.KINDS:
                continue
            if fault := record.fault():
                raise Damaged(record.offset, fault)
            recorded = segment.recorded(record)
            if recorded.status:
                payload = record.fields.get("warc-payload-digest", "")
                digest = None if recorded.revisit else page.body_digest(recorded.body)
                yield Item(_exchange(record, recorded), payload, digest)


def site_file_kind(move: int, stored: str, name: str, wanted: str = "") -> str:
    """Return which kind of site file a file is; empty for a ZIP with none.

    ``wanted`` is the kind that a person wants of it, empty for what it is by itself. A ZIP with a page in it is one of
    pages, whatever else it holds. Raises PackedError for what is none of them.
    """
    with Folder(move).open(stored) as file:
        if not wanted and pages.holds_pages(file):
            return ""
        try:
            return site_files.opened(file, name, kind=wanted).kind
        except NoEntryError:
            file.seek(0)
            if zipfile.is_zipfile(file):
                return ""
            raise


def site_file(
    move: int, stored: str, name: str, kind: str, grouping: frozenset[str] = frozenset()
) -> Iterator[str | int | SiteContents]:
    """Yield what a site file is, in words, then what site_file_reading.steps yields of it."""
    with Folder(move).open(stored) as file:
        opened = site_files.opened(file, name, kind=kind)
        yield opened.said
        yield from site_file_reading.steps([opened], grouping)


def _exchange(record: Record, recorded: segment.Recorded) -> Exchange:
    target = addresses.split(record.address)
    request = f"GET {target.path}{target.query} HTTP/1.1\r\nHost: {target.host}\r\n\r\n"
    return Exchange(
        address=record.address,
        asked_at=_moment(record.fields.get("warc-date", "")),
        took_ms=0,
        status=recorded.status,
        request_head=request.encode("utf-8", "replace"),
        response_head=recorded.head,
        headers=recorded.headers,
        body=recorded.sent,
        peer=record.fields.get("warc-ip-address", ""),
        truncated="warc-truncated" in record.fields or record.length > len(record.block),
    )


def _moment(text: str) -> float:
    try:
        return datetime.fromisoformat(text).timestamp()
    except (ValueError, OverflowError):
        return time()
