"""Sitemaps (sitemaps.org 0.9) with images, videos and other languages: XML, index or text; entities are refused."""

import zlib
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from xml.etree.ElementTree import Element, ParseError

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from palinode.core.documents import xml_root

SIZE_LIMIT = 52_428_800
"""Bytes of a sitemap, uncompressed, as the protocol has it."""
ENTRY_LIMIT = 50_000
_LOOKED_AT = 4_000
_FIRST_DAY = date(1970, 1, 1).toordinal()
_GZIP = b"\x1f\x8b"


@dataclass
class Sitemap:
    """What a sitemap names, as written."""

    pages: list[str] = field(default_factory=list)
    maps: list[str] = field(default_factory=list)
    files: list[str] = field(default_factory=list)
    """Images and videos of its extensions."""
    modified: dict[str, int] = field(default_factory=dict)
    """Of pages, the day of their last modification (W3C-DTF), in days from 1970 on, by UTC where a time is told."""


def read(body: bytes) -> Sitemap:
    """Return what a sitemap names.

    What cannot be read names nothing. A body that is gzip itself is unpacked within SIZE_LIMIT.
    """
    body = _unpacked(body, SIZE_LIMIT).lstrip()
    if not body.startswith(b"<") and not body.startswith(b"\xef\xbb\xbf<"):
        lines = body.decode("utf-8", "replace").split()
        return Sitemap([line for line in lines if line.startswith(("http://", "https://"))][:ENTRY_LIMIT])
    try:
        root = fromstring(body, forbid_dtd=False)
    except (ParseError, DefusedXmlException, ValueError):
        return Sitemap()
    found = Sitemap()
    for entry in root:
        _entry(entry, found.maps if _name(entry) == "sitemap" else found.pages, found)
        if len(found.pages) >= ENTRY_LIMIT:
            break
    return found


def is_one(body: bytes) -> bool:
    """Whether a body is a sitemap or an index of them, in XML; one in plain text cannot be told from other texts."""
    return xml_root.name(_unpacked(body, _LOOKED_AT)) in ("urlset", "sitemapindex")


def _unpacked(body: bytes, most: int) -> bytes:
    """Return the first bytes of a body, unpacked if it is gzip itself."""
    if body[:2] != _GZIP:
        return body[:most]
    try:
        return zlib.decompressobj(31).decompress(body, most)
    except zlib.error:
        return b""


def _entry(entry: Element, named: list[str], found: Sitemap) -> None:
    page, day = "", 0
    for child in entry:
        name, text = _name(child), (child.text or "").strip()
        if name == "loc" and text:
            named.append(text)
            page = text
        elif name == "lastmod":
            day = _day(text)
        elif name == "link" and child.get("href"):
            # The same page in another language.
            found.pages.append(child.get("href") or "")
        elif name in ("image", "video"):
            found.files += [
                one.text.strip()
                for one in child
                if _name(one) in ("loc", "content_loc", "thumbnail_loc") and one.text and one.text.strip()
            ]
    if page and day and named is found.pages:
        found.modified[page] = day


def _day(text: str) -> int:
    """Return a day in days from 1970 on; 0 for what names none."""
    try:
        told = datetime.fromisoformat(text)
    except ValueError:
        return 0
    if told.tzinfo is not None:
        told = told.astimezone(UTC)
    return max(told.date().toordinal() - _FIRST_DAY, 0)


def _name(element: Element) -> str:
    return str(element.tag).rpartition("}")[2]
