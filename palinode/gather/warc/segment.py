"""Reads records back from a segment."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

from warcio.archiveiterator import ArchiveIterator
from warcio.recordloader import ArcWarcRecord

from palinode.gather.exchange import BODY_LIMIT, decode


@dataclass(frozen=True, slots=True)
class Recorded:
    """A response as it stands in a segment."""

    address: str
    revisit: bool
    """The body is not here, but where the same one was stored first."""
    status: int
    status_line: str
    headers: dict[str, str]
    """Names in lower case, repeated ones joined by a comma."""
    body: bytes
    """Content coding undone; empty for a revisit."""


def responses(file: BinaryIO) -> Iterator[Recorded]:
    """Yield the responses of a segment, in the order in which they were written."""
    for record in ArchiveIterator(file, no_record_parse=False):
        if record.rec_type in ("response", "revisit"):
            yield _recorded(record)


def response_at(file: BinaryIO, offset: int) -> Recorded:
    """Return the response whose record begins at ``offset``.

    Raises ValueError if none begins there.
    """
    file.seek(offset)
    found = next(responses(file), None)
    if found is None:
        raise ValueError(f"no response record at offset {offset}")
    return found


def _recorded(record: ArcWarcRecord) -> Recorded:
    headers: dict[str, str] = {}
    for name, value in record.http_headers.headers:
        key = name.lower()
        headers[key] = f"{headers[key]}, {value}" if key in headers else value
    status = record.http_headers.get_statuscode()
    return Recorded(
        address=record.rec_headers.get_header("WARC-Target-URI"),
        revisit=record.rec_type == "revisit",
        status=int(status) if status.isdigit() else 0,
        status_line=f"{record.http_headers.protocol} {record.http_headers.statusline}",
        headers=headers,
        body=decode(headers.get("content-encoding", ""), record.raw_stream.read(BODY_LIMIT))[0],
    )
