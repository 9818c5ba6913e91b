"""One request and what came back, or why nothing did."""

import zlib
from collections.abc import Iterable
from dataclasses import dataclass

from palinode.core.reason import Reason

BODY_LIMIT = 50_000_000
"""Bytes of a body, as sent and decoded; what is longer is cut and said to be."""
_CODINGS = 3
"""Codings upon each other that are undone at most."""
_AT_ONCE = 65_536


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
    why: Reason = Reason.NONE
    """The same, for what follows from it."""
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
    has_body: bool = True
    """Nothing was asked that has none, like HEAD."""

    def decoded(self) -> tuple[bytes, str]:
        """Return the body with its content coding undone, and what is wrong with it, as :func:`decode` says."""
        body, fault = decode((self.headers or {}).get("content-encoding", ""), self.body)
        return body, CUT_OFF if self.truncated else fault


def joined(fields: Iterable[tuple[str, str]]) -> dict[str, str]:
    """Return response fields by name in lower case, repeated ones joined by a comma (RFC 9110 section 5.3)."""
    found: dict[str, list[str]] = {}
    for name, value in fields:
        found.setdefault(name.strip().lower(), []).append(value.strip())
    return {name: ", ".join(values) for name, values in found.items()}


CUT_OFF = f"cut off: longer than {BODY_LIMIT // 1_000_000} MB"


def decode(coding: str, body: bytes) -> tuple[bytes, str]:
    """Undo content codings (RFC 9110 section 8.4) within BODY_LIMIT; what is broken ends there.

    Returns the body, and in words what is wrong with it; empty if nothing is.
    """
    fault = ""
    for one in reversed([name.strip().lower() for name in coding.split(",")][:_CODINGS]):
        if one in ("gzip", "x-gzip"):
            body, fault = _inflate(body, 31)
        elif one == "deflate":
            # RFC 9110 means zlib's format; some servers send the bare one.
            bare = body[:1] and body[0] & 0x0F != 8
            body, fault = _inflate(body, -15 if bare else 15)
        elif one not in ("", "identity"):
            return body, f"its coding is not known: {one[:40]}"
    return body, fault


def _inflate(body: bytes, window: int) -> tuple[bytes, str]:
    stream, read = zlib.decompressobj(window), bytearray()
    for at in range(0, len(body), _AT_ONCE):
        try:
            read += stream.decompress(body[at : at + _AT_ONCE], BODY_LIMIT + 1 - len(read))
        except zlib.error:
            # Some servers say that they compress, and do not.
            return (bytes(read), "its compression is broken") if read or at else (body, "its compression is not there")
        if len(read) > BODY_LIMIT:
            return bytes(read[:BODY_LIMIT]), f"{CUT_OFF} when unpacked"
        if stream.eof:
            return bytes(read), ""
    return bytes(read), "its compression breaks off" if body else ""
