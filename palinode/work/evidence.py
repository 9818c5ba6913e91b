"""Records read back from the stored WARC files."""

from django.core.files.storage import storages

from palinode.gather.warc import segment as segments
from palinode.gather.warc.segment import Recorded
from palinode.records import bodies
from palinode.records.models import Answer


def recorded(answer: Answer) -> Recorded | None:
    """Return the response of an answer as it was stored; None if nothing was fetched, or its file was let go of."""
    if answer.segment_id is None or answer.offset is None:
        return None
    try:
        return _at(bodies.place(answer.segment_id, answer.offset))
    except FileNotFoundError:
        return None


def body(move: int, digest: bytes) -> bytes:
    """Return a stored body.

    Raises ValueError if it is not there.
    """
    place = bodies.place_of_body(move, digest)
    if place is None:
        raise ValueError("The body is not in the evidence.")
    return _at(place).body


def _at(place: bodies.Place) -> Recorded:
    with storages["evidence"].open(place.name) as file:
        return segments.response_at(file, place.offset)
