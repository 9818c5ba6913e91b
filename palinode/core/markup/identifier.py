"""The platform's own identifier of a page, where its markup tells one: a post, a node, an item, a term."""

import re
from urllib.parse import parse_qs, urlsplit

_IN_CLASS = (
    ("post", re.compile(r"(?:^|\s)(?:postid|page-id|attachmentid)-(\d{1,10})(?=\s|$)")),
    ("node", re.compile(r"(?:^|\s)(?:page-node|node-id|nid)-(\d{1,10})(?=\s|$)")),
    ("item", re.compile(r"(?:^|\s)itemid-(\d{1,10})(?=\s|$)")),
    ("term", re.compile(r"(?:^|\s)(?:category|tag|term)-(\d{1,10})(?=\s|$)")),
)
_IN_QUERY = {"p": "post", "page_id": "post", "attachment_id": "post", "cat": "term"}
_NODE = re.compile(r"/node/(\d{1,10})$")


def of_classes(names: str) -> str:
    """Return the identifier that the class names of a ``body`` element give, as ``post 123``; empty for none."""
    for kind, pattern in _IN_CLASS:
        if found := pattern.search(names):
            return f"{kind} {found[1]}"
    return ""


def of_address(written: str) -> str:
    """Return the identifier that a short link or the ``guid`` of a feed tells, as ``post 123``; empty for none."""
    try:
        parts = urlsplit(written)
    except ValueError:
        return ""
    for name, values in parse_qs(parts.query[:2_000]).items():
        if name in _IN_QUERY and values[0].isascii() and values[0].isdigit():
            return f"{_IN_QUERY[name]} {values[0][:10]}"
    found = _NODE.search(parts.path)
    return f"node {found[1]}" if found else ""
