"""Reads responses back from a segment, or from a WARC file made elsewhere."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

from palinode.gather.exchange import BODY_LIMIT, decode, joined
from palinode.gather.warc import reader
from palinode.gather.warc.reader import Record

_HEAD_LIMIT = 262_144
"""Bytes of a response's head that are read; no server sends more, and no client takes it."""
_MOST_FIELDS = 1_000
KINDS = frozenset({"response", "revisit"})
_STATUS = re.compile(rb"HTTP/\d(?:\.\d)? (\d{3})")


@dataclass(frozen=True, slots=True)
class Recorded:
    """A response as it stands in a segment."""

    address: str
    revisit: bool
    """The body is not here, but where the same one was stored first."""
    status: int
    """0 where it is no response of HTTP."""
    head: bytes
    """Status line and fields as sent, with the blank line."""
    headers: dict[str, str]
    """Names in lower case, repeated ones joined by a comma."""
    sent: bytes
    """The body as sent, but for chunks, which are joined; empty for a revisit."""

    @property
    def body(self) -> bytes:
        """The body, content coding undone."""
        return decode(self.headers.get("content-encoding", ""), self.sent)[0]


def responses(file: BinaryIO) -> Iterator[Recorded]:
    """Yield the responses of a segment, in the order in which they were written.

    Raises reader.Damaged where it cannot be read on.
    """
    for record in reader.records(file):
        if record.kind in KINDS:
            yield recorded(record)


def response_at(file: BinaryIO, offset: int) -> Recorded:
    """Return the response whose record begins at ``offset``.

    Raises ValueError if none begins there.
    """
    file.seek(offset)
    found = next(responses(file), None)
    if found is None:
        raise ValueError(f"no response record at offset {offset}")
    return found


def recorded(record: Record) -> Recorded:
    """Read the response that a record holds."""
    head, mark, sent = record.block.partition(b"\r\n\r\n")
    status = _STATUS.match(head)
    lines = head[:_HEAD_LIMIT].decode("utf-8", "replace").split("\r\n")[1 : _MOST_FIELDS + 1]
    headers = joined(line.split(":", 1) for line in lines if ":" in line)  # type: ignore[misc]
    if "chunked" in headers.pop("transfer-encoding", "").lower():
        sent = _joined(sent)
    return Recorded(
        address=record.address,
        revisit=record.kind == "revisit",
        status=int(status[1]) if status else 0,
        head=head + mark,
        headers=headers,
        sent=sent[:BODY_LIMIT],
    )


def _joined(sent: bytes) -> bytes:
    """Return chunks joined (RFC 9112 section 7.1); what is not chunked after all stays, what breaks off ends there."""
    parts: list[bytes] = []
    at = 0
    while True:
        end = sent.find(b"\r\n", at, at + 1_000)
        size = sent[at:end].partition(b";")[0].strip()
        if end < 0 or not re.fullmatch(rb"[0-9A-Fa-f]{1,8}", size):
            return b"".join(parts) if parts else sent
        length = int(size, 16)
        if not length:
            return b"".join(parts)
        parts.append(sent[end + 2 : end + 2 + length])
        at = end + 2 + length + 2
