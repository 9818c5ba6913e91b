"""Decisions: one kind of record, superseded but never rewritten."""

from django.conf import settings
from django.db import models

from palinode.records.models.move import Move


class Decision(models.Model):
    """What a person decided about a move, read by every later comparison or capture."""

    class Kind(models.TextChoices):
        RETIRE = "retire", "retire"
        ACCEPT = "accept", "accept"
        EXPECT = "expect", "expect"
        PAIR = "pair", "pair"
        PART = "part", "part"
        OVERRIDE = "override", "override"

    move = models.ForeignKey(Move, models.CASCADE, related_name="decisions")
    kind = models.CharField(max_length=10, choices=Kind)
    scope = models.JSONField(default=dict)
    """What it is about, by kind:

    - retire: ``{"address"}`` or ``{"section"}``
    - pair, part: ``{"left", "right"}``
    - accept: ``{"marks"}``, base64 of int64 (core/judgement.marks)
    - expect: as core/expected.py keeps it
    - override: ``{"side", "what"}``; ``{"what": "baseline", "capture"}``; ``{"what": "weight", "kind", "weight"}``
    """
    reason = models.TextField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    revoker = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, null=True, blank=True, related_name="+")
    """Who revoked a part of the decision that it supersedes, and whose to undo it is; null where nobody did."""
    made_at = models.DateTimeField(auto_now_add=True)
    ends_at = models.DateTimeField(null=True, blank=True)
    supersedes = models.OneToOneField("self", models.PROTECT, null=True, blank=True, related_name="superseded_by")
    withdrawn = models.BooleanField(default=False)
    """A decision that only takes back the one which it supersedes."""

    class Meta:
        ordering = ["made_at", "id"]
