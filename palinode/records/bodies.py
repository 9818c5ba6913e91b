"""Where records and bodies lie in the evidence of a move."""

from dataclasses import dataclass

from palinode.records.models import Body, Segment


@dataclass(frozen=True)
class Place:
    """Where a record begins."""

    name: str
    """Of the segment in the move's folder."""
    offset: int


def place_of_body(move: int, digest: bytes) -> Place | None:
    """Return where a body is stored in full, or None."""
    found = Body.objects.filter(move_id=move, digest=digest).values_list("segment_id", "offset").first()
    return place(move, *found) if found else None


def place(move: int, segment: int, offset: int) -> Place | None:
    """Return where a record of a segment begins; None if the segment is not the move's, or was let go of."""
    held = Segment.objects.filter(pk=segment, capture__move=move, let_go_at=None)
    name = held.values_list("name", flat=True).first()
    return Place(name, offset) if name else None
