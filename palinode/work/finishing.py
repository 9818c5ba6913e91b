"""Closes captures. A round that closes is compared with the baseline without being asked."""

from django.db import transaction

from palinode.records import captures
from palinode.records.models import Capture
from palinode.work import comparing


def close(capture: Capture, why: str = "", limit: str = "") -> bool:
    """Close a capture for good; False if it was closed already.

    ``why`` says who stopped it, ``limit`` which limit bit.
    """
    with transaction.atomic():
        if not captures.close(capture, why, limit):
            return False
        current = Capture.objects.select_related("move__baseline").get(pk=capture.pk)
        if current.which == "destination" and current.move.baseline and current.pages:
            comparing.order(current.move, current.move.baseline, current)
    return True
