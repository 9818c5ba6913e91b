"""One request and what came back, or why nothing did."""

import zlib
from dataclasses import dataclass

BODY_LIMIT = 50_000_000
"""Bytes of a body, as sent and decoded; what is longer is cut and said to be."""


@dataclass(frozen=True, slots=True)
class Exchange:
    """One request for an address and its response, as they went over the wire."""

    address: str
    asked_at: float
    """Seconds since the epoch."""
    took_ms: int
    status: int | None = None
    reason: str = ""
    """Why there is no answer, in words; empty when there is one."""
    request_head: bytes = b""
    response_head: bytes = b""
    """Status line and fields as sent, but for Transfer-Encoding, which is undone."""
    headers: dict[str, str] | None = None
    """Response fields, names in lower case, repeated ones joined by a comma."""
    body: bytes = b""
    """As sent: a content coding is still on it."""
    peer: str = ""
    """The address connected to."""
    truncated: bool = False

    def decoded(self) -> bytes:
        """Return the body with its content coding undone, cut at BODY_LIMIT."""
        return decode((self.headers or {}).get("content-encoding", ""), self.body)


def decode(coding: str, body: bytes) -> bytes:
    """Undo a content coding (RFC 9110 section 8.4) within BODY_LIMIT; what is broken ends there."""
    coding = coding.strip().lower()
    if coding in ("gzip", "x-gzip"):
        return _inflate(body, 31)
    if coding == "deflate":
        return _inflate(body, 15) or _inflate(body, -15)
    return body


def _inflate(body: bytes, window: int) -> bytes:
    stream = zlib.decompressobj(window)
    try:
        return stream.decompress(body, BODY_LIMIT)
    except zlib.error:
        pass
    # Broken somewhere: keep what can be read before it.
    stream, read = zlib.decompressobj(window), bytearray()
    for at in range(0, len(body), 4096):
        try:
            read += stream.decompress(body[at : at + 4096], BODY_LIMIT - len(read) or 1)
        except zlib.error:
            break
        if len(read) >= BODY_LIMIT:
            break
    return bytes(read)
