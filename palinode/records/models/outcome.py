"""Outcomes of checks: rows and findings, written once under the digest of what they were made of.

Rows come by the hundred thousand, so nothing here is loaded as an object in a loop, and the foreign keys of bulk tables
are held by the code that writes them, not by the database.
"""

from django.conf import settings
from django.db import models

from palinode.records.models.move import Move


class CheckOptions(models.Model):
    """Options of a check in a move, as a person set them; the last revision holds, the others stay on record."""

    move = models.ForeignKey(Move, models.CASCADE, related_name="options")
    check_name = models.CharField(max_length=40)
    values = models.JSONField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class CheckOutcome(models.Model):
    """What one check made of its inputs; every comparison with the same inputs holds it."""

    move = models.ForeignKey(Move, models.CASCADE, related_name="outcomes")
    check_name = models.CharField(max_length=40)
    version = models.SmallIntegerField()
    digest = models.CharField(max_length=64)
    """Of its inputs: captures, rule, options, decisions, earlier outcomes, version."""
    rows = models.IntegerField(default=0)
    counts = models.JSONField(default=list)
    """Rows by verdict and group, in their order: ``[verdict, group, rows]``."""
    groups = models.JSONField(default=list)
    """Rows by group, in the order of groups: ``[group, rows]``."""
    unseen = models.JSONField(default=list)
    """What could not be looked at, in sentences."""
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["move", "check_name", "digest"], name="one_outcome")]


class CheckRowBlock(models.Model):
    """The words of a few rows that stand after one another (records/row_blocks.py).

    A row's verdict and group follow from its rank and the counts. Ranks begin at 0, and go by verdict, group, and what
    the check orders by.
    """

    pk = models.CompositePrimaryKey("outcome_id", "first")
    outcome = models.ForeignKey(CheckOutcome, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    first = models.IntegerField()
    """Rank of the first of them."""
    left = models.TextField()
    """What stands at the source, of pages their address; empty for nothing."""
    right = models.TextField()
    left_note = models.TextField()
    right_note = models.TextField()


class CheckColumn(models.Model):
    """One array over the rows of an outcome, little-endian: read whole, or cut out for some rows."""

    pk = models.CompositePrimaryKey("outcome_id", "name")
    outcome = models.ForeignKey(CheckOutcome, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    name = models.CharField(max_length=40)
    kind = models.CharField(max_length=2)
    """As NumPy names it: u1, i2, i4, i8, f4."""
    data = models.BinaryField()


class CheckItems(models.Model):
    """Some of the items that rows or findings stand for; those that stand for the same ones name the same set."""

    pk = models.CompositePrimaryKey("outcome_id", "number", "part")
    outcome = models.ForeignKey(CheckOutcome, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    number = models.IntegerField()
    """Of the set."""
    part = models.IntegerField()
    size = models.IntegerField()
    """Items in this part."""
    pages = models.ForeignKey(
        CheckOutcome, models.CASCADE, null=True, db_constraint=False, db_index=False, related_name="+"
    )
    """The outcome of pages whose rows they are; null for items of another sort."""
    data = models.BinaryField()
    """Of pages their ranks there, int32, little-endian, all in one part; of others zlib of JSON: their columns."""


class CheckFinding(models.Model):
    """A finding of an outcome (core/findings), in its order."""

    pk = models.CompositePrimaryKey("outcome_id", "place")
    outcome = models.ForeignKey(CheckOutcome, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    place = models.IntegerField()
    kind = models.CharField(max_length=40)
    key = models.BigIntegerField()
    seen = models.BigIntegerField()
    subject = models.BigIntegerField()
    """Identity of what it is about: of the left page; of the right one where there is no left one."""
    row = models.IntegerField(null=True)
    """Rank of the row on which it stands; null for one that stands on none."""
    pages = models.IntegerField(default=1)
    """On how many pages it is seen."""
    items = models.IntegerField(null=True)
    """The number of the items that list them; null where they are not listed."""
    left_address = models.TextField(null=True)
    right_address = models.TextField(null=True)
    detail = models.TextField()
