"""Verifies stored evidence: each WARC file is there, is what it was when it was sealed, and holds what the rows say.

So are site files, which must be what was imported.
"""

import hashlib

from django.db import connection
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from palinode.core import address as addresses
from palinode.gather.warc.check import Checked
from palinode.records.folder import Folder
from palinode.records.models import CaptureFile, Move, Segment
from palinode.work import job_queue, readers, record_location
from palinode.work.readers import Unreadable

VERIFY = "verify"
"""Name of the task that verifies the evidence of a move (tasks.py)."""
_SECONDS = 120.0
"""That checking one segment may take."""
_CHUNK = 1 << 20


def order(move: Move) -> bool:
    """Order that the evidence of a move be verified; False if that is under way."""
    if under_way(move):
        return False
    job_queue.offer(VERIFY, move_id=move.pk)
    return True


def under_way(move: Move) -> bool:
    """Whether the evidence of a move is being verified, or is to be."""
    jobs = ProcrastinateJob.objects.filter(task_name=VERIFY, args__move_id=move.pk)
    return jobs.filter(status__in=["todo", "doing"]).exists()


def verify_all(move: Move) -> int:
    """Verify each stored file of a move, the one that was verified longest ago first; return how many are at fault."""
    faulty = 0
    kept = Segment.objects.filter(capture__move=move, let_go_at=None)
    for segment in kept.order_by("verified_at", "pk"):
        segment.fault = verify(segment)
        segment.verified_at = timezone.now()
        segment.save(update_fields=["fault", "verified_at"])
        faulty += bool(segment.fault)
    for file in CaptureFile.objects.filter(capture__move=move).defer("contents").order_by("verified_at", "pk"):
        file.fault = verify_file(file)
        file.verified_at = timezone.now()
        file.save(update_fields=["fault", "verified_at"])
        faulty += bool(file.fault)
    return faulty


def verify_file(file: CaptureFile) -> str:
    """Return what is wrong with a stored site file, in words; empty if nothing is."""
    digest = hashlib.sha256()
    try:
        with Folder(file.capture.move_id).open(file.stored) as opened:
            while chunk := opened.read(_CHUNK):
                digest.update(chunk)
    except FileNotFoundError:
        return "the file is missing"
    except OSError as error:
        return f"the file cannot be read: {error.strerror or error}"
    return "" if digest.hexdigest() == file.sha256 else "the file is not the one that was imported: its SHA-256 differs"


def verify(segment: Segment) -> str:
    """Return what is wrong with a stored segment, in words; empty if nothing is."""
    try:
        return _wrong(
            segment, *readers.ours().run_for(_SECONDS, record_location.checked, segment.capture.move_id, segment.name)
        )
    except FileNotFoundError:
        return "the file is missing"
    except Unreadable as error:
        return f"the file {error}"
    except OSError as error:
        return f"the file cannot be read: {error.strerror or error}"


def _wrong(segment: Segment, found: Checked, sha256: str) -> str:
    if found.faults:
        return "; ".join(found.faults[:3])
    if sha256 != segment.sha256:
        return "the file is not the one that was sealed: its SHA-256 differs"
    if found.records != segment.records:
        return f"{found.records:,} records are there, {segment.records:,} were sealed"
    idents = {offset: addresses.ident(address) for offset, address in found.responses.items()}
    astray = sum(idents.get(offset) != ident for ident, offset in _pointing(segment))
    return f"{astray:,} answers point to records that are not theirs" if astray else ""


def _pointing(segment: Segment) -> list[tuple[int, int]]:
    """Return identity and offset of the answers that point into a segment, of whatever capture of the move."""
    with connection.cursor() as cursor:
        cursor.execute(
            'SELECT ident, "offset" FROM records_answer WHERE segment_id = %s AND capture_id IN '
            "(SELECT id FROM records_capture WHERE move_id = %s)",
            [segment.pk, segment.capture.move_id],
        )
        return [(int(ident), int(offset)) for ident, offset in cursor.fetchall()]
