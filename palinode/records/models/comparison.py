"""A comparison, which outcomes of checks it holds, and how it was judged."""

from typing import Any

from django.db import models

from palinode.records.models.capture import Capture
from palinode.records.models.decision import Decision
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
    created_at = models.DateTimeField(auto_now_add=True)
    begun_at = models.DateTimeField(null=True)
    decided = models.BigIntegerField(default=0)
    """The last decision about the move when it was begun; later ones it has not read."""
    revised = models.BigIntegerField(default=0)
    """The last revision of any check's options when it was begun."""
    judgement = models.ForeignKey("Judgement", models.SET_NULL, null=True, related_name="+")
    """The last one of it."""

    class Meta:
        ordering = ["-created_at", "-id"]

    @property
    def standing(self) -> dict[str, Any]:
        """What it comes to by its last judgement, as core/standing.py gives it; empty until it is made."""
        return dict(self.judgement.standing) if self.judgement else {}

    @property
    def counts(self) -> list[list[Any]]:
        """Its findings by its last judgement: ``[state, weight, kind, findings]``."""
        return list(self.judgement.counts) if self.judgement else []


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


class ComparisonFindings(models.Model):
    """The findings of a comparison and their causes, whatever people decide about them."""

    comparison = models.OneToOneField(Comparison, models.CASCADE, primary_key=True, related_name="found")
    kinds = models.JSONField(default=list)
    """Words of the kinds that occur."""
    findings = models.BinaryField()
    """One record for each (records/judgements.RECORD)."""
    causes = models.JSONField(default=list)
    """As core/causes/cause.py gives them; a finding names its cause by the place here."""
    basis = models.JSONField(default=dict)
    """What the comparison says by itself (core/standing.Basis)."""
    has_before = models.BooleanField(default=False)
    """It was held against a comparison before."""


class Judgement(models.Model):
    """A comparison seen with the decisions of a moment; only the last one keeps what each finding counts for."""

    comparison = models.ForeignKey(Comparison, models.CASCADE, related_name="judgements")
    decision = models.ForeignKey(Decision, models.SET_NULL, null=True, related_name="+")
    """The decision that called for it; null where the comparison was made just then, or a date passed."""
    made_at = models.DateTimeField(auto_now_add=True)
    due_at = models.DateTimeField(null=True)
    """When a decision that it reads ends, so that another judgement is due."""
    counts = models.JSONField(default=list)
    """Findings in their order: ``[state, weight, kind, findings]``."""
    standing = models.JSONField(default=dict)
    """As core/standing.py gives it; in the last one with what changed, and the causes by place and numbers."""
    weights = models.JSONField(default=list)
    """The weight of each kind that occurs, by word."""
    expected = models.JSONField(default=list)
    """Numbers of the expectations that were held against the findings."""
    decisions = models.JSONField(default=list)
    """Numbers of the decisions that set something aside."""
    aside = models.JSONField(default=dict)
    """Number of an open finding to that of its pages on which a decision sets it aside."""
    states = models.BinaryField(null=True)
    """zlib of one state for each finding (records/judgements.STATE); null for one that is not the last."""

    class Meta:
        ordering = ["id"]
