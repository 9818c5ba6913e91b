"""Sitemaps (sitemaps.org 0.9): XML, index or text; entities and document types are refused."""

import zlib
from xml.etree.ElementTree import ParseError

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

SIZE_LIMIT = 52_428_800
"""Bytes of a sitemap, uncompressed, as the protocol has it."""
ENTRY_LIMIT = 50_000


def read(body: bytes) -> tuple[list[str], list[str]]:
    """Return the pages and the further sitemaps that a sitemap names, as written.

    What cannot be read names nothing. A body that is gzip itself is unpacked within SIZE_LIMIT.
    """
    if body[:2] == b"\x1f\x8b":
        try:
            body = zlib.decompressobj(31).decompress(body, SIZE_LIMIT)
        except zlib.error:
            return [], []
    body = body[:SIZE_LIMIT].lstrip()
    if not body.startswith(b"<") and not body.startswith(b"\xef\xbb\xbf<"):
        lines = body.decode("utf-8", "replace").split()
        return [line for line in lines if line.startswith(("http://", "https://"))][:ENTRY_LIMIT], []
    try:
        root = fromstring(body, forbid_dtd=False)
    except (ParseError, DefusedXmlException, ValueError):
        return [], []
    pages: list[str] = []
    maps: list[str] = []
    for entry in root:
        kind = entry.tag.rpartition("}")[2]
        for child in entry:
            if child.tag.rpartition("}")[2] == "loc" and child.text and len(pages) < ENTRY_LIMIT:
                (maps if kind == "sitemap" else pages).append(child.text.strip())
    return pages, maps
