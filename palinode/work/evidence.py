"""Records read back from the stored WARC files."""

from palinode.gather.warc import segment as segments
from palinode.gather.warc.segment import Recorded
from palinode.records import bodies
from palinode.records.folder import Folder
from palinode.records.models import Answer


def recorded(answer: Answer) -> Recorded | None:
    """Return the response of an answer as it was stored; None if nothing was fetched, or its file was let go of."""
    if answer.segment_id is None or answer.offset is None:
        return None
    move = answer.capture.move_id
    place = bodies.place(move, answer.segment_id, answer.offset)
    try:
        return _at(move, place) if place else None
    except FileNotFoundError:
        return None


def body(move: int, digest: bytes) -> bytes:
    """Return a stored body.

    Raises ValueError if it is not there.
    """
    place = bodies.place_of_body(move, digest)
    if place is None:
        raise ValueError("The body is not in the evidence.")
    return _at(move, place).body


def _at(move: int, place: bodies.Place) -> Recorded:
    with Folder(move).open(place.name) as file:
        return segments.response_at(file, place.offset)
