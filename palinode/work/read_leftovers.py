"""Leftovers read where answers are stored. Run in reading processes, without models: see work/readers.py."""

from typing import NamedTuple

from palinode.core import page
from palinode.core.leftovers import answer
from palinode.core.leftovers.answer import Leftover
from palinode.core.leftovers.wanted import Wanted
from palinode.work import record_location
from palinode.work.record_location import At

_UNREADABLE = ("image/", "font/", "audio/", "video/", "application/zip", "application/gzip", "application/octet-stream")
"""Media types that hold no text, but for pictures that are drawn by words."""


class StoredAnswer(NamedTuple):
    """Where an answer lies."""

    ident: int
    record: At
    body: At | None
    """Where its body lies in full; None where it has none, or it is in the record."""


def read(answers: list[StoredAnswer], wanted: Wanted) -> list[tuple[int, list[Leftover]]]:
    """Return what stored answers have of what is wanted; those that have nothing are left out."""
    found = []
    for one in answers:
        record = record_location.opened(one.record)
        media = page.media_type(record.headers.get("content-type", ""))
        body = b""
        if not media.startswith(_UNREADABLE) or media == "image/svg+xml":
            body = record_location.body(one.body) if record.revisit and one.body else record.body
        if leftovers := answer.read(list(record.headers.items()), body, wanted):
            found.append((one.ident, leftovers))
    return found
