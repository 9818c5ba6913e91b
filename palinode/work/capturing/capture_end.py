"""Ends captures. A round that closes is compared with the baseline without being asked."""

import logging

from django.db import transaction

from palinode.records import captures, column_files, frontier, plans
from palinode.records.models import Capture
from palinode.work.capturing import asking, capture_quality
from palinode.work.comparing import comparison_job

log = logging.getLogger(__name__)


def end(capture: Capture, why: str = "", limit: str = "") -> bool:
    """End a capture before all is asked; False if it is ending or closed already.

    ``why`` says who stopped it, ``limit`` which limit bit. It closes when the last share has stored
    what was under way, which is at once if there is none.
    """
    if not captures.end(capture, why, limit):
        return False
    conclude(capture)
    return True


def conclude(capture: Capture) -> None:
    """Close a capture that is ending, unless a share still works on it."""
    current = Capture.objects.get(pk=capture.pk)
    if current.state == Capture.State.ENDING and not frontier.living_shares(current):
        close(current)


def close(capture: Capture) -> None:
    """Close a capture for good, judge it, and order its comparison if it is a round."""
    plans.analyse()
    with transaction.atomic():
        if not captures.close(capture):
            return
        current = Capture.objects.select_related("move__baseline").get(pk=capture.pk)
        if current.kind == Capture.Kind.ASKED:
            asking.close(current)
            return
        try:
            with transaction.atomic():
                capture_quality.judge(current)
        except Exception as error:
            # A capture that cannot be judged is closed all the same, and says so.
            log.exception("capture %s could not be judged", current.pk)
            capture_quality.give_up(current, error)
        try:
            with transaction.atomic():
                # Written as it closes, so that no comparison waits for them.
                column_files.of(current)
        except Exception:
            log.exception("the columns of capture %s could not be kept", current.pk)
        if current.which == "destination" and current.move.baseline and current.pages:
            comparison_job.order(current.move, current.move.baseline, current)
            asking.repeat(current)
