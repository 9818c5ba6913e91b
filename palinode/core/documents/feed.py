"""Feeds: RSS 2.0 and its forerunner on RDF, Atom (RFC 4287), JSON Feed; entities are refused."""

from dataclasses import dataclass, field
from xml.etree.ElementTree import Element, ParseError

import orjson
from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from palinode.core.documents import xml_root

_ROOTS = ("rss", "feed", "RDF")
_JSON = b"jsonfeed.org/version/"
LIMIT = 20_000
"""Addresses taken from one feed."""
SIZE_LIMIT = 20_000_000
MEDIA = frozenset(
    {
        "application/rss+xml",
        "application/atom+xml",
        "application/rdf+xml",
        "application/feed+json",
        "application/xml",
        "text/xml",
    }
)
"""Media types that a feed may have."""


@dataclass
class Feed:
    """What a feed names."""

    pages: list[str] = field(default_factory=list)
    files: list[str] = field(default_factory=list)
    """Enclosures."""
    feeds: list[str] = field(default_factory=list)
    """Its further pages (RFC 5005)."""


def read(body: bytes) -> Feed:
    """Return what a feed names, as written; what cannot be read names nothing."""
    body = body[:SIZE_LIMIT].lstrip()
    if body.startswith(b"{"):
        return _json(body)
    try:
        root = fromstring(body, forbid_dtd=False)
    except (ParseError, DefusedXmlException, ValueError, RecursionError):
        return Feed()
    if _name(root) not in _ROOTS:
        return Feed()
    found = Feed()
    for element in root.iter():
        _element(element, found)
        if len(found.pages) + len(found.files) >= LIMIT:
            break
    return found


def is_one(body: bytes) -> bool:
    """Whether a body is a feed, in XML or JSON."""
    return xml_root.name(body) in _ROOTS or (body[:1_000].lstrip().startswith(b"{") and _JSON in body[:10_000])


def _element(element: Element, found: Feed) -> None:
    name, text = _name(element), (element.text or "").strip()
    if name == "link":
        href, relation = element.get("href"), (element.get("rel") or "alternate").lower()
        if href is None:
            found.pages += [text] if text else []
        elif relation == "enclosure":
            found.files.append(href)
        elif relation in ("next", "prev-archive", "next-archive"):
            found.feeds.append(href)
        elif relation == "alternate":
            found.pages.append(href)
    elif name == "guid" and text.startswith(("http://", "https://")) and element.get("isPermaLink") != "false":
        found.pages.append(text)
    elif name in ("enclosure", "content", "thumbnail") and element.get("url"):
        found.files.append(element.get("url") or "")


def _json(body: bytes) -> Feed:
    try:
        given = orjson.loads(body)
    except orjson.JSONDecodeError:
        return Feed()
    if not isinstance(given, dict) or not isinstance(given.get("items"), list):
        return Feed()
    items = [item for item in given["items"] if isinstance(item, dict)][:LIMIT]
    pages = [item[key] for item in items for key in ("url",) if isinstance(item.get(key), str)]
    files = [item[key] for item in items for key in ("image", "banner_image") if isinstance(item.get(key), str)]
    following = given.get("next_url")
    return Feed(pages, files, [following] if isinstance(following, str) else [])


def _name(element: Element) -> str:
    return str(element.tag).rpartition("}")[2]
