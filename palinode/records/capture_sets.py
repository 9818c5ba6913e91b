"""Sets of captures: a crawl or a copy, and what was recorded of the same side beside it, one of each kind and name.

The baseline is the set of the capture that a person named; a round is that of the destination's capture. Both can be
added to, and each comparison keeps the sets that it was ordered for.
"""

from palinode.records.captures import PAGED
from palinode.records.models import Capture, Comparison, ComparisonCapture, SetMember

SIDES = ("left", "right")


class SetError(ValueError):
    """A capture cannot belong to a set; the message is for a person."""


def of(head: Capture) -> list[Capture]:
    """Return the captures of a set, its capture of pages first."""
    return [head, *(one.capture for one in head.set_members.select_related("capture"))]


def add(head: Capture, capture: Capture) -> None:
    """Put a capture into a set, in the place of the one of its kind and name. Raises SetError."""
    if head.kind not in PAGED:
        raise SetError("Other captures are added to one that holds pages. This one holds none.")
    if capture.kind in PAGED:
        raise SetError("This capture holds pages, and stands for itself. Name it as the baseline, or compare it.")
    if (capture.move_id, capture.which) != (head.move_id, head.which):
        raise SetError("Both captures must be of the same side of the same move.")
    if capture.state != Capture.State.CLOSED:
        raise SetError("This capture is not closed yet.")
    SetMember.objects.update_or_create(head=head, slot=capture.slot, defaults={"capture": capture})


def remove(head: Capture, capture: Capture) -> bool:
    """Take a capture out of a set; False if it was not in it."""
    return bool(SetMember.objects.filter(head=head, capture=capture).delete()[0])


def wanted(left: Capture, right: Capture) -> set[tuple[str, int]]:
    """Return what besides the captures of pages is compared now where these two are: side and capture."""
    if left.which == right.which:
        return set()
    heads = {left.pk: "left", right.pk: "right"}
    found = SetMember.objects.filter(head__in=heads).values_list("head_id", "capture_id")
    return {(heads[head], capture) for head, capture in found}


def keep(comparison: Comparison, members: set[tuple[str, int]]) -> None:
    """Write what a comparison is made of besides its captures of pages, as :func:`wanted` gives it."""
    ComparisonCapture.objects.bulk_create(
        ComparisonCapture(comparison=comparison, side=side, capture_id=capture) for side, capture in sorted(members)
    )


def kept(comparison: Comparison) -> set[tuple[str, int]]:
    """Return what a comparison is made of besides its captures of pages."""
    return set(comparison.members.values_list("side", "capture_id"))


def compared(comparison: Comparison) -> dict[str, list[Capture]]:
    """Return the captures that each side of a comparison is made of, those of pages first."""
    found = {"left": [comparison.left], "right": [comparison.right]}
    for member in comparison.members.select_related("capture"):
        found[member.side].append(member.capture)
    return found
