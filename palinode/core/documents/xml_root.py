"""The name of a document's first element, without parsing the document."""

import re

_LOOKED_AT = 4_000
_BEFORE = re.compile(rb"(?:\s+|<\?.*?\?>|<!--.*?-->|<!DOCTYPE[^>\[]*(?:\[.*?\])?[^>]*>)*", re.DOTALL | re.IGNORECASE)
_NAME = re.compile(rb"<(?:[\w.-]+:)?([\w.-]+)[\s/>]")


def name(body: bytes) -> str:
    """Return the local name of the first element of what may be XML; an empty string if there is none."""
    start = body[:_LOOKED_AT].removeprefix(b"\xef\xbb\xbf")
    before = _BEFORE.match(start)
    found = _NAME.match(start, before.end() if before else 0)
    return found[1].decode("ascii", "replace") if found else ""
