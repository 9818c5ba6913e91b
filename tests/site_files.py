"""Site files read in one go, for tests and benchmarks; the project reads them step by step."""

from collections.abc import Callable, Iterable
from typing import Any

from palinode.core.dumps.contents import Contents, Gathering
from palinode.core.dumps.script import Part
from palinode.core.exports.wxr import Export
from palinode.core.listings.listing import Form, Listing, Reading


def gathered(parts: Iterable[Part], take: Callable[..., Any] | None = None) -> Contents:
    """Return what a whole dump holds; ``take`` is given its rows."""
    gathering = Gathering(take)
    for part in parts:
        gathering.add(part)
    return gathering.contents


def export_of(*files: bytes, at_once: int = 1 << 18) -> Export:
    """Return what the parts of an export hold."""
    export = Export()
    for data in files:
        pieces = iter([data[at : at + at_once] for at in range(0, len(data), at_once)])
        for _ in export.steps(lambda _, pieces=pieces: next(pieces, b"")):
            pass
    return export


def listing_of(read: Callable[[int], bytes], form: Form) -> Listing:
    """Return a whole list of files."""
    reading = Reading(form)
    for _ in reading.steps(read):
        pass
    return reading.listing
