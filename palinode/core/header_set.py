"""Header sets: what a host says with all its answers alike, as one thing that is kept once.

Of each response's fields (RFC 9110 section 6.3) those are taken that a server is set up to send; what is told of one
answer alone is left out, and values that are made anew for each are kept as an ellipsis.
"""

import hashlib
import re
from collections.abc import Iterable, Iterator
from typing import NamedTuple

import orjson

_OF_ONE_ANSWER = frozenset((
    "date", "age", "expires", "last-modified", "etag", "content-length", "content-range", "content-md5",
    "content-digest", "repr-digest", "digest", "location", "content-location", "link", "retry-after", "connection",
    "keep-alive", "transfer-encoding", "trailer",
))  # fmt: skip
"""Fields that say something of one answer, its body or its address; they are kept with the answer and its facts."""
_PLAIN = frozenset((
    "accept-ranges", "access-control-allow-credentials", "access-control-allow-headers",
    "access-control-allow-methods", "access-control-allow-origin", "access-control-expose-headers",
    "access-control-max-age", "alt-svc", "cache-control", "content-encoding", "content-language", "content-type",
    "cross-origin-embedder-policy", "cross-origin-opener-policy", "cross-origin-resource-policy", "expect-ct",
    "feature-policy", "p3p", "permissions-policy", "pragma", "referrer-policy", "server",
    "strict-transport-security", "vary", "via", "x-content-type-options", "x-frame-options", "x-pingback",
    "x-powered-by", "x-robots-tag", "x-ua-compatible", "x-xss-protection",
))  # fmt: skip
"""Fields whose values are settings, numbers included."""
_MOST_FIELDS = 100
_LONGEST = 2_000
_WORD = re.compile(r"[0-9A-Za-z_+/=-]{8,}")
_NONCE = re.compile(r"'nonce-[^']*'")
_DIGIT = re.compile(r"\d")
MADE_ANEW = "…"


class HeaderSet(NamedTuple):
    """The fields that answers have in common."""

    key: int
    """Signed 64-bit: the first eight bytes of BLAKE2b (RFC 7693) over ``fields``."""
    fields: str
    """JSON: a list of [name in lower case, value], in order of name; repeated ones in the order sent."""


def of(head: bytes) -> HeaderSet:
    """Return the set of a response's head: its status line and fields as sent."""
    lines = head.decode("utf-8", "replace").split("\r\n", _MOST_FIELDS + 1)[1 : _MOST_FIELDS + 1]
    fields = sorted(_kept(lines), key=lambda field: field[0])
    written = orjson.dumps(fields)
    key = int.from_bytes(hashlib.blake2b(written).digest()[:8], "big", signed=True)
    return HeaderSet(key, written.decode())


def _kept(lines: Iterable[str]) -> Iterator[tuple[str, str]]:
    for line in lines:
        name, colon, value = line.partition(":")
        name = name.strip().lower()[:100]
        if colon and name not in _OF_ONE_ANSWER:
            yield name, _lasting(name, value.strip()[:_LONGEST])


def _lasting(name: str, value: str) -> str:
    """Return a value without what is made anew for each answer."""
    if name in _PLAIN:
        return value
    if name == "set-cookie":
        return _cookie(value)
    if name.startswith("content-security-policy"):
        return _NONCE.sub(f"'nonce-{MADE_ANEW}'", value)
    return _WORD.sub(_masked, value)


def _cookie(value: str) -> str:
    """Return a cookie's name and attributes (RFC 6265 section 4.1) without what it holds, and when it ends."""
    pair, *attributes = value.split(";")
    name = _WORD.sub(_masked, pair.partition("=")[0].strip())
    told = [one.strip() for one in attributes]
    told = [f"Expires={MADE_ANEW}" if one.lower().startswith("expires=") else one for one in told if one]
    return "; ".join([f"{name}={MADE_ANEW}", *told])


def _masked(found: re.Match[str]) -> str:
    """Return a word as it is, or as an ellipsis if it is an identifier: one with two digits or more."""
    word = found[0]
    return MADE_ANEW if len(_DIGIT.findall(word)) > 1 else word
