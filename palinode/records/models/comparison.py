"""A comparison and its ledger."""

from django.db import models

from palinode.records.models.capture import Capture
from palinode.records.models.move import Move


class Comparison(models.Model):
    """A left and a right capture held against each other; immutable once made."""

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
    counts = models.JSONField(default=list)
    """Rows by fate and section, in the ledger's order: ``[fate, section, rows]``."""
    sections = models.JSONField(default=list)
    """Rows by section in order of address: ``[section, rows]``."""
    crossing = models.JSONField(default=list)
    """``[left section, right section, fate, rows]``: the bands of Standing."""
    findings = models.JSONField(default=list)
    """Findings in their order: ``[state, weight, kind, findings]``."""
    standing = models.JSONField(default=dict)
    """As core/standing.py gives it, but for the stage."""
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created_at", "-id"]


class LedgerRow(models.Model):
    """One row of a ledger, with the words that it shows; its fate and section follow from its rank and the counts."""

    pk = models.CompositePrimaryKey("comparison_id", "rank")
    comparison = models.ForeignKey(Comparison, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    rank = models.IntegerField()
    """From 0, worst first."""
    left_address = models.TextField(null=True)
    left_title = models.TextField(null=True)
    right_address = models.TextField(null=True)
    """Of the partner; of the address expected, where there is no partner."""
    detail = models.TextField()
    content_change = models.IntegerField()
    """Bits of core/fields.py."""
    left_status = models.SmallIntegerField(null=True)
    right_status = models.SmallIntegerField(null=True)


class LedgerParts(models.Model):
    """The parts of a ledger's pairs, kept apart: arrays in the order of the rows, little-endian.

    What is shown row by row has columns (LedgerRow); what is read whole, by the next comparison say,
    stands here, where a million rows cost one.
    """

    comparison = models.OneToOneField(Comparison, models.CASCADE, primary_key=True, related_name="parts")
    by_address = models.BinaryField()
    """int32: the ranks, in order of address."""
    left = models.BinaryField()
    """int64: identity of the left page; 0 for none."""
    right = models.BinaryField()
    """int64: identity of the right page; 0 for none."""
    found_by = models.BinaryField()
    """uint8, as core/fates.py; so are the next three."""
    address_change = models.BinaryField()
    template = models.BinaryField(default=bytes)
    """int16, little-endian: which template each row's page stands in (core/ledger.py)."""
    redirect = models.BinaryField()
    asked = models.BinaryField()
    certainty = models.BinaryField()
    """float32, from 0 to 1."""


class Finding(models.Model):
    """A finding of one comparison (core/findings), in the order in which they are told."""

    pk = models.CompositePrimaryKey("comparison_id", "rank")
    comparison = models.ForeignKey(Comparison, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    rank = models.IntegerField()
    """From 0: open ones first, then by weight, kind and row."""
    key = models.BigIntegerField()
    seen = models.BigIntegerField()
    page = models.BigIntegerField()
    """Identity of the left page; of the right one where there is no left one."""
    kind = models.SmallIntegerField()
    weight = models.SmallIntegerField()
    state = models.SmallIntegerField()
    since = models.SmallIntegerField()
    """The round in which it was found first."""
    fresh = models.BooleanField()
    """The comparison before did not have it."""
    returned = models.BooleanField()
    """It was cleared, and is back."""
    row = models.IntegerField(null=True)
    """Rank in the ledger; null for one that is not seen in this comparison, or that many pages share."""
    pages = models.IntegerField(default=1)
    """On how many pages it is seen."""
    cause = models.SmallIntegerField(null=True)
    """Place among the causes of the standing."""
    decision = models.BigIntegerField(null=True)
    """Of what is expected, if that sets it aside."""
    left_address = models.TextField(null=True)
    right_address = models.TextField(null=True)
    detail = models.TextField()
