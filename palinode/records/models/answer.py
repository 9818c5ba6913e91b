"""Answers, the facts and bodies they point to, and the WARC segments that hold them.

Rows come by the hundred thousand, so nothing here is loaded as an object in a loop, and the
foreign keys of bulk tables are held by the code that writes them, not by the database.
"""

from django.db import models

from palinode.records.models.capture import Capture
from palinode.records.models.move import Move


class Segment(models.Model):
    """A sealed WARC 1.1 file of a capture. Stored before the answers that point into it."""

    capture = models.ForeignKey(Capture, models.CASCADE, related_name="segments")
    number = models.IntegerField()
    name = models.TextField()
    """Name in the evidence storage."""
    bytes = models.BigIntegerField()
    records = models.IntegerField()
    sha256 = models.CharField(max_length=64)
    sealed_at = models.DateTimeField(auto_now_add=True)
    verified_at = models.DateTimeField(null=True)
    """When the stored file was last read and checked."""
    fault = models.TextField(blank=True)
    """What was wrong with it then, in words."""
    let_go_at = models.DateTimeField(null=True)
    """When the file was deleted because its time was over (work/retention.py)."""

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["capture", "number"], name="one_segment")]


class Body(models.Model):
    """Where a body lies, by its digest, once per move."""

    pk = models.CompositePrimaryKey("move_id", "digest")
    move = models.ForeignKey(Move, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    digest = models.BinaryField()
    """SHA-256 of the body, after transfer and content coding are undone."""
    segment_id = models.BigIntegerField()
    offset = models.BigIntegerField()
    length = models.BigIntegerField()


class Answer(models.Model):
    """What one address gave in one capture, asked in one way."""

    pk = models.CompositePrimaryKey("capture_id", "ident", "variant")
    capture = models.ForeignKey(Capture, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    ident = models.BigIntegerField()
    variant = models.SmallIntegerField(default=0, db_default=0)
    """How it was asked: 0 the plain GET, any other as ``asking`` of the capture says."""
    as_asked = models.TextField(null=True)
    """As it was written where it was found first, if the normal form does not end with that."""
    status = models.SmallIntegerField(null=True)
    """Null when nothing was fetched; then ``reason`` says why."""
    reason = models.TextField(null=True)
    why = models.SmallIntegerField(default=0, db_default=0)
    """The number of that (core/reason.py), for what follows from it; 0 where the reason is another."""
    is_page = models.BooleanField()
    media_type = models.TextField(null=True)
    target = models.BigIntegerField(null=True)
    """Identity of the address that a redirect sends on to."""
    length = models.BigIntegerField()
    body = models.BinaryField(null=True)
    facts = models.BigIntegerField(null=True)
    segment_id = models.BigIntegerField(null=True)
    offset = models.BigIntegerField(null=True)
    etag = models.TextField(null=True)
    """``ETag`` as sent; with ``modified`` what the next capture asks by."""
    modified = models.TextField(null=True)
    """``Last-Modified`` as sent."""
    coding = models.TextField(null=True)
    """``Content-Encoding`` of the body as stored."""
    recorded_at = models.DateTimeField(null=True)
    """When the record was made, if it is an earlier capture's: the host said that nothing changed."""
    known = models.SmallIntegerField()
    depth = models.SmallIntegerField()
    asked_at = models.DateTimeField()
    took_ms = models.IntegerField()
    header_set = models.BigIntegerField(null=True)
    """The key of what the host says with all such answers; null where nothing answered."""


class HeaderSet(models.Model):
    """What a host says with its answers alike (core/header_set.py), once per move."""

    pk = models.CompositePrimaryKey("move_id", "key")
    move = models.ForeignKey(Move, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    key = models.BigIntegerField()
    fields = models.JSONField()
    """``[[name, value], …]``, names in lower case and in order."""


class Facts(models.Model):
    """The facts of a page (core/facts.py), once per key and move."""

    pk = models.CompositePrimaryKey("move_id", "key")
    move = models.ForeignKey(Move, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    key = models.BigIntegerField()
    version = models.SmallIntegerField()
    title = models.TextField()
    description = models.TextField()
    robots = models.TextField()
    language = models.TextField()
    canonical = models.BigIntegerField(null=True)
    words = models.IntegerField()
    headings = models.SmallIntegerField()
    images = models.IntegerField()
    links = models.IntegerField()
    forms = models.SmallIntegerField()
    recognised = models.SmallIntegerField(default=0)
    """What it is besides being the page (core/recognition/page_kind.py)."""
    compared = models.IntegerField()
    """How many of the targets stand in compared fields."""
    whole = models.BigIntegerField()
    """One digest over the prints."""
    edge_sum = models.BigIntegerField()
    """The sum over the targets in compared fields (core/edges.py)."""
    template = models.BigIntegerField(default=0)
    """Fingerprint of what stands around the main content."""
    prints = models.BinaryField()
    """int64, little-endian, one for each of core/fields.py."""
    targets = models.BinaryField()
    """int64, little-endian: identities of the addresses in the page, those in compared fields first."""
    places = models.BinaryField()
    """uint8: where each target stands (core/fields.py)."""
    rest = models.BinaryField()
    """zlib of JSON: extractor name to version and output."""


class Target(models.Model):
    """How often an address is referred to in a capture; written when it closes."""

    pk = models.CompositePrimaryKey("capture_id", "ident")
    capture = models.ForeignKey(Capture, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    ident = models.BigIntegerField()
    pages = models.IntegerField()
    """Pages that refer to it."""
    example = models.BigIntegerField()
    """Identity of one of them."""
