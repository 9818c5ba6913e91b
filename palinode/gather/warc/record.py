"""Writes the records of one exchange, each a gzip member of its own.

Written by hand because it is done for every answer: the library takes thirty times as long for it
(docs/decisions.md). What is written is read back and checked by that library in the tests.
"""

import uuid
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime

from isal import igzip

from palinode.core.page import NOT_MODIFIED
from palinode.gather.exchange import Exchange
from palinode.gather.warc.base32 import sha1

_SAME_BODY = "http://netpreserve.org/warc/1.1/revisit/identical-payload-digest"
_NOT_MODIFIED = "http://netpreserve.org/warc/1.1/revisit/server-not-modified"
_LEVEL = 1


@dataclass(frozen=True, slots=True)
class Stored:
    """Where a body was stored first, for a revisit record."""

    record_id: str
    """Empty for a record of an earlier capture; it is told by address and date."""
    address: str
    date: str

    @classmethod
    def earlier(cls, address: str, moment: datetime) -> "Stored":
        """Say where a body lies that an earlier capture stored."""
        return cls("", address, _date(moment.timestamp()))


def info(software: str, name: str) -> bytes:
    """Return the ``warcinfo`` record that begins a segment."""
    content = f"software: {software}\r\nformat: WARC File Format 1.1\r\n".encode()
    fields = [("WARC-Type", "warcinfo"), ("WARC-Record-ID", _new_id()), ("WARC-Date", _date(None))]
    fields += [("WARC-Filename", name), ("Content-Type", "application/warc-fields")]
    return _member(fields, content)


def records(exchange: Exchange, seen: Stored | None) -> tuple[bytes, Stored]:
    """Return the ``response`` and ``request`` records of an exchange, and where its body now is stored.

    With ``seen``, the same body was stored before, and a ``revisit`` record points there; so it does
    when the host answered 304, that what was stored still holds.
    """
    response_id, date = _new_id(), _date(exchange.asked_at)
    content = exchange.response_head + (b"" if seen else exchange.body)
    fields = [
        ("WARC-Type", "revisit" if seen else "response"),
        ("WARC-Record-ID", response_id),
        ("WARC-Target-URI", exchange.address),
        ("WARC-Date", date),
        ("WARC-Block-Digest", _sha1(content)),
        ("Content-Type", "application/http;msgtype=response"),
    ]
    if not (seen and exchange.status == NOT_MODIFIED):
        fields.insert(4, ("WARC-Payload-Digest", _sha1(exchange.body)))
    if exchange.peer:
        fields.append(("WARC-IP-Address", exchange.peer))
    if exchange.truncated:
        fields.append(("WARC-Truncated", "length"))
    if seen:
        not_modified = exchange.status == NOT_MODIFIED
        fields.append(("WARC-Profile", _NOT_MODIFIED if not_modified else _SAME_BODY))
        if seen.record_id:
            fields.append(("WARC-Refers-To", seen.record_id))
        fields += [("WARC-Refers-To-Target-URI", seen.address), ("WARC-Refers-To-Date", seen.date)]
    request_fields = [
        ("WARC-Type", "request"),
        ("WARC-Record-ID", _new_id()),
        ("WARC-Target-URI", exchange.address),
        ("WARC-Date", date),
        ("WARC-Concurrent-To", response_id),
        ("WARC-Block-Digest", _sha1(exchange.request_head)),
        ("Content-Type", "application/http;msgtype=request"),
    ]
    data = _member(fields, content) + _member(request_fields, exchange.request_head)
    return data, seen or Stored(response_id, exchange.address, date)


def _member(fields: Iterable[tuple[str, str]], content: bytes) -> bytes:
    lines = "".join(f"{name}: {value}\r\n" for name, value in fields)
    head = f"WARC/1.1\r\n{lines}Content-Length: {len(content)}\r\n\r\n".encode()
    return igzip.compress(head + content + b"\r\n\r\n", _LEVEL)


def _new_id() -> str:
    return f"<{uuid.uuid4().urn}>"


def _date(seconds: float | None) -> str:
    moment = datetime.now(UTC) if seconds is None else datetime.fromtimestamp(seconds, UTC)
    return moment.strftime("%Y-%m-%dT%H:%M:%S.%fZ")


def _sha1(data: bytes) -> str:
    return f"sha1:{sha1(data)}"
