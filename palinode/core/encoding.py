"""The text of a body: byte order mark, header, the markup's own word, in this order (WHATWG Encoding)."""

import codecs
import re

_PRESCAN = 1024
_META = re.compile(rb"""<meta[^>]+charset\s*=\s*["']?\s*([A-Za-z0-9_:.-]+)""", re.IGNORECASE)
_MARKS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"))
_OF_NO_PAGE = {"undefined", "idna", "punycode", "unicode-escape", "raw-unicode-escape"}
"""What Python calls encodings and no browser does; some of them fail, or make other characters of a text."""
_AS_WINDOWS = {"iso8859-1", "ascii", "latin-1", "iso-8859-1", "us-ascii", "latin1"}


def decode(body: bytes, charset: str = "") -> str:
    """Return the body as text; ``charset`` is the label of the Content-Type header. Never fails."""
    for mark, name in _MARKS:
        if body.startswith(mark):
            return body[len(mark) :].decode(name, "replace")
    if not charset and (found := _META.search(body, 0, _PRESCAN)):
        charset = found[1].decode("ascii")
    if known := _codec(charset):
        return body.decode(known, "replace")
    try:
        return body.decode("utf-8")
    except UnicodeDecodeError:
        return body.decode("cp1252", "replace")


def _codec(label: str) -> str | None:
    label = label.strip().lower()
    if label in _AS_WINDOWS:
        return "cp1252"
    try:
        info = codecs.lookup(label)
    except (LookupError, ValueError):
        return None
    return info.name if info._is_text_encoding and info.name not in _OF_NO_PAGE else None
