"""A comparison, and which outcomes of checks it holds."""

from django.db import models

from palinode.records.models.capture import Capture
from palinode.records.models.move import Move
from palinode.records.models.outcome import CheckOutcome


class Comparison(models.Model):
    """Two sets of captures held against each other, each named by its capture of pages; immutable once made."""

    class State(models.TextChoices):
        WAITING = "waiting", "waiting"
        MADE = "made", "made"
        FAILED = "failed", "failed"

    move = models.ForeignKey(Move, models.CASCADE, related_name="comparisons")
    left = models.ForeignKey(Capture, models.CASCADE, related_name="+")
    right = models.ForeignKey(Capture, models.CASCADE, related_name="+")
    rule = models.TextField()
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    why = models.TextField(blank=True)
    """Why it failed, in words."""
    crossing = models.JSONField(default=list)
    """``[left section, right section, fate, rows]``: the bands of Standing."""
    findings = models.JSONField(default=list)
    """Findings in their order: ``[state, weight, kind, findings]``."""
    standing = models.JSONField(default=dict)
    """As core/standing.py gives it, but for the stage."""
    created_at = models.DateTimeField(auto_now_add=True)
    begun_at = models.DateTimeField(null=True)
    decided = models.BigIntegerField(default=0)
    """The last decision about the move when it was begun; later ones it has not read."""
    revised = models.BigIntegerField(default=0)
    """The last revision of any check's options when it was begun."""

    class Meta:
        ordering = ["-created_at", "-id"]


class ComparisonCheck(models.Model):
    """One outcome that a comparison holds, at a place of its own."""

    comparison = models.ForeignKey(Comparison, models.CASCADE, related_name="checks")
    place = models.SmallIntegerField()
    """In the order of the checks; outcomes of comparisons before, of which findings were carried over, come after."""
    outcome = models.ForeignKey(CheckOutcome, models.CASCADE, related_name="+")
    carried = models.BooleanField(default=False)
    """It is one of a comparison before, and only some of its findings are told."""

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["comparison", "place"], name="one_outcome_a_place")]


class Judgement(models.Model):
    """What became of the findings of a comparison: state, weight, since when, which cause."""

    comparison = models.OneToOneField(Comparison, models.CASCADE, primary_key=True, related_name="judgement")
    kinds = models.JSONField(default=list)
    """Words of the kinds that occur."""
    findings = models.BinaryField()
    """One record for each finding in the order in which they are told (records/findings.RECORD)."""
