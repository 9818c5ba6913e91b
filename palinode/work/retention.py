"""How long bodies are kept: WARC files of old captures that nothing rests on are let go of; their facts stay."""

import logging
from datetime import timedelta

from django.db import connection, transaction
from django.utils import timezone

from palinode.records import capture_sets, captures, plans
from palinode.records.folder import Folder
from palinode.records.models import Capture, Move, Segment

log = logging.getLogger(__name__)

MOST_DAYS = 36_500
"""For which files may be said to be kept."""

_RESTING = """
    SELECT s.id FROM records_segment s JOIN records_capture c ON c.id = s.capture_id
    WHERE c.move_id = %(move)s AND s.let_go_at IS NULL AND s.capture_id = ANY(%(old)s)
    AND NOT EXISTS (SELECT 1 FROM records_answer a WHERE a.segment_id = s.id AND a.capture_id = ANY(%(kept)s))
    AND NOT EXISTS (SELECT 1 FROM records_body b JOIN records_answer a ON a.body = b.digest
                    WHERE b.move_id = %(move)s AND b.segment_id = s.id AND a.capture_id = ANY(%(kept)s))"""


def let_go(move: Move) -> int:
    """Delete the files of captures older than the move's days that no kept capture rests on; return how many.

    Kept are the sets of the baseline and of the latest closed capture of each side, all that are open, and all that
    are younger.
    """
    if not move.keep_days:
        return 0
    since = timezone.now() - timedelta(days=move.keep_days)
    closed = move.captures.filter(state=Capture.State.CLOSED)
    heads = [move.baseline, *(captures.latest(move, which) for which in ("source", "destination"))]
    held = {one.pk for head in heads if head for one in capture_sets.of(head)}
    old = set(closed.filter(ended_at__lt=since).values_list("pk", flat=True)) - held
    kept = set(move.captures.values_list("pk", flat=True)) - old
    if not old:
        return 0
    with transaction.atomic():
        with plans.whole(), connection.cursor() as cursor:
            cursor.execute(_RESTING, {"move": move.pk, "old": sorted(old), "kept": sorted(kept)})
            idents = [row[0] for row in cursor.fetchall()]
            cursor.execute("DELETE FROM records_body WHERE move_id = %s AND segment_id = ANY(%s)", [move.pk, idents])
        segments = Segment.objects.filter(pk__in=idents)
        names = list(segments.values_list("name", flat=True))
        segments.update(let_go_at=timezone.now())
    for name in names:
        Folder(move.pk).delete(name)
    return len(names)


def let_go_everywhere() -> None:
    """Do so for each move that has a bound."""
    for move in Move.objects.exclude(keep_days=None):
        try:
            let_go(move)
        except Exception:
            # One move must not keep the others from theirs.
            log.exception("the old files of move %s could not be let go of", move.pk)
