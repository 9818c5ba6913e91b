"""Shares of captures offered to workers."""

from palinode.records.models import Capture
from palinode.work import job_queue

SHARE = "capture_share"
"""Name of the task that takes a share (tasks.py)."""


def offer(capture: Capture, number: int = 1) -> None:
    """Offer so many shares of a capture; with 0 as many as workers run."""
    for _ in range(number or job_queue.workers()):
        job_queue.offer(SHARE, capture_id=capture.pk)
