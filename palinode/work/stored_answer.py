"""An answer where it is stored. Opened in reading processes, without models: see work/readers.py."""

from typing import NamedTuple

from palinode.core import encoding, page
from palinode.work import record_location
from palinode.work.record_location import At

_UNREADABLE = ("image/", "font/", "audio/", "video/", "application/zip", "application/gzip", "application/octet-stream")
"""Media types that hold no text, but for pictures that are drawn by words."""


class StoredAnswer(NamedTuple):
    """Where an answer lies."""

    ident: int
    address: str
    record: At
    body: At | None
    """Where its body lies in full; None where it has none, or it is in the record."""


def opened(one: StoredAnswer) -> tuple[list[tuple[str, str]], bytes]:
    """Return the header fields of an answer, and its body; none of a body that holds no text.

    Raises FileNotFoundError and ValueError for what is not there any more, or damaged.
    """
    record = record_location.opened(one.record)
    media = page.media_type(record.headers.get("content-type", ""))
    body = b""
    if not media.startswith(_UNREADABLE) or media == "image/svg+xml":
        body = record_location.body(one.body) if record.revisit and one.body else record.body
    return list(record.headers.items()), body


def text(one: StoredAnswer, *kinds: str) -> str:
    """Return the body of an answer as text; empty unless its media type holds one of some words, as ``html``.

    Raises as :func:`opened` does.
    """
    headers, body = opened(one)
    kind = next((value for name, value in headers if name.lower() == "content-type"), "")
    wanted = any(word in page.media_type(kind) for word in kinds)
    return encoding.decode(body, page.charset(kind)) if body and wanted else ""
