"""Readers of documents, and of parts of them, that hold addresses besides the markup of a page.

Each reads text and returns addresses as written; none of them raises for what it cannot read.
"""

from enum import Enum

from palinode.core.documents import feed, manifest, sitemap

CSS = "text/css"


class Document(Enum):
    """What a file is that is read for the addresses in it."""

    STYLE = "style sheet"
    SITEMAP = "sitemap"
    FEED = "feed"
    MANIFEST = "manifest"


def told(media: str, body: bytes) -> Document | None:
    """Return what a body is by what it says, whatever it is called; only a style sheet is told by its media type."""
    if media == CSS:
        return Document.STYLE
    if sitemap.is_one(body):
        return Document.SITEMAP
    if feed.is_one(body):
        return Document.FEED
    return Document.MANIFEST if manifest.is_one(media, body) else None


def names_addresses(media: str) -> bool:
    """Whether a file of this media type may be one that is read for the addresses that it names."""
    return media == CSS or media in feed.MEDIA or media in manifest.MEDIA
