"""A file that a person imported."""

from django.conf import settings
from django.db import models

from palinode.records.models.capture import Capture
from palinode.records.models.move import Move, Side


class Import(models.Model):
    """A file that a person imported for a side: a list of addresses, or what becomes a capture."""

    class Kind(models.TextChoices):
        LIST = "list", "list of addresses"
        WARC = "warc", "WARC file"
        PAGES = "pages", "archive of pages"
        DUMP = "dump", "dump"
        EXPORT = "export", "export"
        API = "api", "public API"
        NUMBERS = "numbers", "numbers typed by hand"
        LISTING = "listing", "list of files"

    SITE_FILES = tuple(map(str, Capture.SITE_FILES))
    """Kinds of site files; the capture has the same kind, and keeps the file."""

    class State(models.TextChoices):
        WAITING = "waiting", "waiting"
        DONE = "done", "done"
        FAILED = "failed", "failed"

    move = models.ForeignKey(Move, models.CASCADE, related_name="imports")
    which = models.CharField(max_length=12, choices=Side.Which)
    kind = models.CharField(max_length=7, choices=Kind)
    name = models.CharField(max_length=255)
    """As the person's file is called."""
    stored = models.TextField(blank=True)
    """Name in the evidence storage while it waits to be read; what was read is in the capture's own files."""
    bytes = models.BigIntegerField()
    sha256 = models.CharField(max_length=64)
    state = models.CharField(max_length=8, choices=State, default=State.WAITING)
    said = models.TextField(blank=True)
    """What came of it, or why nothing did, in words."""
    read = models.IntegerField(default=0)
    """Answers read so far; of a site file, megabytes."""
    seen_at = models.DateTimeField(null=True)
    """When its reader last reported."""
    shown_elsewhere = models.JSONField(default=list, db_default=[])
    """``[[address, host, times], …]``: of a log, the files that pages of other hosts show (core/hot_link.py)."""
    capture = models.ForeignKey(Capture, models.SET_NULL, null=True, related_name="imports")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created_at", "-id"]
