"""Stores a share's batch: first the segment, then the rows that point into it."""

import hashlib
from pathlib import Path

from django.core.files.base import ContentFile

from palinode import __version__
from palinode.gather.warc import record
from palinode.records import batch_commit
from palinode.records.folder import Folder
from palinode.records.models import Segment, Share
from palinode.records.rows import Batch

SEAL_BYTES = 8_000_000
"""A segment is sealed when it is this large; shares seal after PALINODE_SEAL_SECONDS too."""


def seal(share: Share, batch: Batch) -> str:
    """Store a batch of a share; return the name of its segment, empty if it needed none."""
    segment, base = None, 0
    if batch.records:
        number = Segment.objects.filter(capture=share.capture).count() + 1
        capture = share.capture
        path = f"capture-{capture.pk}/{share.pk:06}-{number:05}.warc.gz"
        head = record.info(f"Palinode {__version__}", Path(path).name)
        data, base = head + bytes(batch.records), len(head)
        segment = Segment(
            capture=capture,
            number=share.pk * 100_000 + number,
            name=Folder(capture.move_id).save(path, ContentFile(data)),
            bytes=len(data),
            records=batch.number + 1,
            sha256=hashlib.sha256(data).hexdigest(),
        )
    batch_commit.commit(share, batch, segment, base)
    return segment.name if segment else ""
