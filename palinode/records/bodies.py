"""Bodies, read back from where they lie in the evidence."""

from dataclasses import dataclass

from palinode.records.models import Body, Segment


@dataclass(frozen=True)
class Place:
    """Where a record begins."""

    name: str
    """Of the segment in the evidence storage."""
    offset: int


def place_of_body(move: int, digest: bytes) -> Place | None:
    """Return where a body is stored in full, or None."""
    found = Body.objects.filter(move_id=move, digest=digest).values_list("segment_id", "offset").first()
    return place(*found) if found else None


def place(segment: int, offset: int) -> Place:
    """Return where a record of a segment begins."""
    return Place(Segment.objects.values_list("name", flat=True).get(pk=segment), offset)
