"""Readers of documents, and of parts of them, that hold addresses besides the markup of a page.

Each reads text and returns addresses as written; none of them raises for what it cannot read.
"""

from palinode.core.documents import feed, manifest

CSS = "text/css"


def names_addresses(media: str) -> bool:
    """Whether a file of this media type is read for the addresses that it names."""
    return media == CSS or media in feed.MEDIA or media in manifest.MEDIA
