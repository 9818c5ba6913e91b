"""Deletes moves with all their evidence: gone for everybody at once, then piece by piece in the background."""

import logging
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from palinode.records import column_files, contents_files, deletion, expected_columns, folder, link_columns
from palinode.records.folder import Folder
from palinode.records.models import Capture, CaptureFile, Import, Move, Segment
from palinode.work import job_queue
from palinode.work.comparing import fragment_files, identifier_files, leftover_files

log = logging.getLogger(__name__)

FORGET = "forget"
"""Name of the task that deletes a move (tasks.py)."""
STRAY = timedelta(days=1)
"""A file that no row names is swept when it is older: longer than any lease, and than any transaction."""


def order(move: Move) -> None:
    """Let a move be gone for everybody, and order that it be deleted."""
    with transaction.atomic():
        move.memberships.all().delete()
        Move.objects.filter(pk=move.pk).update(forgotten_at=timezone.now())
        # Nothing of it goes on; a share that still runs finds that it is not wanted.
        Capture.objects.filter(move=move).exclude(state=Capture.State.CLOSED).update(state=Capture.State.CLOSED)
        Import.objects.filter(move=move, state=Import.State.WAITING).update(state=Import.State.FAILED)
        job_queue.offer(FORGET, move_id=move.pk)


def forget(number: int) -> None:
    """Delete what is left of a move that was ordered to be deleted; its files go last, when no row names them."""
    move = Move.everything.exclude(forgotten_at=None).filter(pk=number).first()
    if move is not None:
        deletion.delete(move, lambda: _seen(number))
    if not Move.everything.filter(pk=number).exists():
        Folder(number).clear()


def take_up() -> None:
    """Offer moves again whose deletion was broken off."""
    lost = Move.everything.filter(forgotten_at__lt=job_queue.late(2))
    job_queue.take_up(FORGET, "move_id", lost.values_list("pk", flat=True), _seen)


def sweep() -> int:
    """Delete files that no row names: what was stored right before a worker died; return how many."""
    swept = 0
    for number in folder.moves():
        try:
            swept += _sweep(number)
        except Exception:
            # One folder that cannot be read must not keep the others from being swept.
            log.exception("the folder of move %s could not be swept", number)
    return swept


def _sweep(number: int) -> int:
    files, swept = Folder(number), 0
    before = timezone.now() - STRAY
    stray = [name for name in files.names() if files.stored_at(name) < before]
    # Asked after the files were listed: a row of a listed file is there by now, or never comes.
    kept = set(Segment.objects.filter(capture__move=number, let_go_at=None).values_list("name", flat=True))
    kept |= set(Import.objects.filter(move=number).exclude(stored="").values_list("stored", flat=True))
    kept |= set(CaptureFile.objects.filter(capture__move=number).values_list("stored", flat=True))
    captures = list(Capture.objects.filter(move=number, state=Capture.State.CLOSED).select_related("move"))
    kept |= column_files.names(captures) | expected_columns.names(captures) | contents_files.names(captures)
    kept |= leftover_files.names(captures) | link_columns.names(captures)
    kept |= identifier_files.names(captures) | fragment_files.names(captures)
    for name in set(stray) - kept:
        files.delete(name)
        swept += 1
    if not Move.everything.filter(pk=number).exists() and not files.names():
        files.clear()
    return swept


def _seen(number: int) -> None:
    Move.everything.filter(pk=number).update(forgotten_at=timezone.now())
