"""Records read back from the stored WARC files, in reading processes, since others wrote what is in them."""

from palinode.records import bodies
from palinode.records.models import Answer
from palinode.work import readers, record_location
from palinode.work.readers import Unreadable
from palinode.work.record_location import At, Stored


class NotStored(ValueError):
    """Nothing of it is stored, or not any more, or it cannot be read; the message is for a person."""


def headers(answer: Answer) -> dict[str, str]:
    """Return the response fields of an answer as they were stored; none if nothing was, or its file was let go of."""
    at = record_of(answer)
    try:
        return readers.ours().run(record_location.headers, at) if at else {}
    except (FileNotFoundError, Unreadable):
        return {}


def body(move: int, digest: bytes) -> bytes:
    """Return a stored body. Raises NotStored."""
    at = body_at(move, digest)
    if at is None:
        raise NotStored("The body is not in the evidence.")
    try:
        return readers.ours().run(record_location.body, at)
    except (FileNotFoundError, Unreadable, ValueError) as error:
        raise NotStored(f"The body is not in the evidence: {error}") from None


def stored(answer: Answer) -> Stored | None:
    """Return where an answer and its body lie; None if nothing was stored, or its files were let go of."""
    if answer.body is None:
        return None
    body = body_at(answer.capture.move_id, bytes(answer.body))
    # What is known of the answer alone is told by its own record; without it, by that of the body.
    return Stored(record_of(answer) or body, body) if body else None


def record_of(answer: Answer) -> At | None:
    """Return where the record of an answer lies."""
    if answer.segment_id is None or answer.offset is None:
        return None
    return _at(answer.capture.move_id, bodies.place(answer.capture.move_id, answer.segment_id, answer.offset))


def body_at(move: int, digest: bytes) -> At | None:
    """Return where a body is stored in full."""
    return _at(move, bodies.place_of_body(move, digest))


def _at(move: int, place: bodies.Place | None) -> At | None:
    return At(move, place.name, place.offset) if place else None
