"""A capture, its frontier, and the shares that workers take of it."""

from django.db import models
from django.db.models import Value

from palinode.records.models.move import Move, Side


class Capture(models.Model):
    """A dated record of one side; closed once, never changed after."""

    class Kind(models.TextChoices):
        """What was recorded, and how."""

        CRAWL = "crawl", "crawl"
        COPY = "copy", "copy"
        """Pages from files: an archive of static pages, a WARC file."""
        ASKED = "asked", "asked"
        """What checks asked anew, and nothing else."""
        DUMP = "dump", "dump"
        """A dump of a database."""
        EXPORT = "export", "export"
        """An export of a content platform."""
        API = "api", "public API"
        """What the public API of a content platform said."""
        NUMBERS = "numbers", "numbers typed by hand"
        """A small table of what no file shows."""
        LISTING = "listing", "list of files"
        """A list of the files on its host."""

    SITE_FILES = (Kind.DUMP, Kind.EXPORT, Kind.API, Kind.NUMBERS, Kind.LISTING)
    """Those that are made of a site file, which they keep: what stands behind the site."""

    class State(models.TextChoices):
        RUNNING = "running", "running"
        PAUSED = "paused", "paused"
        ENDING = "ending", "ending"
        CLOSED = "closed", "closed"

    move = models.ForeignKey(Move, models.CASCADE, related_name="captures")
    which = models.CharField(max_length=12, choices=Side.Which)
    kind = models.CharField(max_length=10, choices=Kind, default=Kind.CRAWL)
    name = models.CharField(max_length=60, blank=True)
    """Tells captures of one kind apart that belong together: a database, a part of an export."""
    round = models.IntegerField(null=True)
    """Number of the round, for captures of the destination's pages; others have none."""
    parent = models.ForeignKey("self", models.SET_NULL, null=True, blank=True, related_name="+")
    """The closed capture of the same side that it goes on from."""
    again = models.JSONField(default=dict)
    """What of the parent is asked again, as in work/capturing/recapture.py; empty without a parent."""
    asking = models.JSONField(default=dict)
    """Of one that was asked for checks: ``{"head", "variants"}``, the capture of pages whose set it joins when it
    closes, and what each variant of a request is, from 1 on (core/checks/ask.py)."""
    state = models.CharField(max_length=10, choices=State, default=State.RUNNING)
    complete = models.BooleanField(default=False)
    """Closed with every known address asked."""
    settings = models.JSONField(default=dict)
    """As in work/capturing/policy.py: concurrency, rate, limits."""
    access = models.JSONField(default=dict)
    """How the side was reached when the capture began, without secrets."""
    limits = models.JSONField(default=list)
    """Which limits bit, in words."""
    rests = models.JSONField(default=dict, db_default=Value({}, models.JSONField()))
    """Hosts that ask to wait: until when, in seconds since the epoch."""
    why = models.TextField(blank=True)
    """Why it is paused or was stopped, in words."""
    known = models.IntegerField(default=0)
    asked = models.IntegerField(default=0)
    pages = models.IntegerField(default=0)
    files = models.IntegerField(default=0)
    redirects = models.IntegerField(default=0)
    not_fetched = models.IntegerField(default=0)
    stored_bytes = models.BigIntegerField(default=0)
    unchanged = models.IntegerField(default=0)
    """Answers that said: not modified since the parent's."""
    """These counters are raised with each batch of answers, in its transaction."""
    taken_over = models.IntegerField(default=0)
    """Answers of the parent that were not asked for again."""
    ignored = models.JSONField(default=list)
    """Query parameters that do nothing to the content: ``{"name", "addresses", "pages"}``."""
    sample = models.JSONField(null=True)
    """What asking some pages again at the end showed, as in work/capturing/sampling.py; empty while it is asked."""
    judgement = models.JSONField(null=True)
    """As in core/capture_quality.py, once it is closed; and whether addresses that cannot exist gave pages."""
    readings = models.IntegerField(default=0)
    """How often its facts were made anew (work/read_again.py)."""
    facts_version = models.SmallIntegerField(default=0, db_default=0)
    """The oldest version (core/facts.py) by which its pages were read; 0 where nobody noted it."""
    seconds = models.FloatField(default=0)
    """Time that shares have worked on it."""
    started_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-started_at", "-id"]

    @property
    def slot(self) -> str:
        """Its place in a set of captures: kind and name."""
        return f"{self.kind}:{self.name}" if self.name else str(self.kind)

    @property
    def bases(self) -> tuple[str, ...]:
        """Home page's address of each host of its side as it was reached, the main one first."""
        return (self.access["base"], *self.access.get("further", ())) if self.access else ()


class CaptureFile(models.Model):
    """The site file that a capture was made of, of whatever kind of Capture.SITE_FILES; it stays as evidence."""

    capture = models.OneToOneField(Capture, models.CASCADE, primary_key=True, related_name="file")
    name = models.CharField(max_length=255)
    """As the person's file is called."""
    stored = models.TextField()
    """Name in the evidence storage."""
    bytes = models.BigIntegerField()
    sha256 = models.CharField(max_length=64)
    what = models.TextField()
    """What it is, in words; so are the next two."""
    summary = models.TextField()
    ends_early = models.TextField(blank=True)
    """Why it is taken for cut off; empty where it ends as it should."""
    verified_at = models.DateTimeField(null=True)
    fault = models.TextField(blank=True, db_default="", default="")
    """What was wrong with the stored file when it was verified, in words; empty if nothing was."""
    contents = models.JSONField()
    """What it holds, as in core/site_contents.py."""


class Frontier(models.Model):
    """An address that a capture knows: waiting, leased, asked, held back by its pattern, or left out for good."""

    WAITING, ASKED, LEFT_OUT, HELD = 0, 1, 2, 3

    pk = models.CompositePrimaryKey("capture_id", "ident", "variant")
    capture = models.ForeignKey(Capture, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    ident = models.BigIntegerField()
    variant = models.SmallIntegerField(default=0, db_default=0)
    """How it was asked: 0 the plain GET, any other as ``asking`` of the capture says."""
    state = models.SmallIntegerField(default=WAITING)
    depth = models.SmallIntegerField()
    known = models.SmallIntegerField()
    """Bits of core/discovery.py: how the address became known."""
    lease = models.BigIntegerField(default=0)
    """Fencing token: id of the share that holds it, for as long as that share lives; 0 for nobody."""
    asked_for = models.SmallIntegerField(default=0)
    """As in core/scope.py: a page, a file, a sitemap, robots rules."""
    written = models.TextField(null=True)
    """As it was written where it was found first, if the normal form does not end with that."""
    turn = models.SmallIntegerField(default=0, db_default=0)
    """The lower is asked first: 0 what is listed, then what is new of its pattern, then what a large pattern holds."""
    held_by = models.BigIntegerField(default=0, db_default=0)
    """Of one held back or left out: the identity of the pattern that had no room for it."""

    class Meta:
        indexes = [
            models.Index(
                fields=["capture", "turn", "depth", "ident"],
                condition=models.Q(state=0),
                name="frontier_waiting",
            ),
            models.Index(
                fields=["capture", "held_by", "depth", "ident"],
                condition=models.Q(state=3),
                name="frontier_held",
            ),
        ]


class Pattern(models.Model):
    """A pattern (core/pattern.py) that addresses of a capture fall under, with its budget (core/pattern_budget.py)."""

    capture = models.ForeignKey(Capture, models.CASCADE, related_name="patterns")
    text = models.TextField()
    ident = models.BigIntegerField(default=0, db_default=0)
    most = models.IntegerField()
    before = models.IntegerField(default=0, db_default=0)
    let = models.IntegerField(default=0, db_default=0)
    asked = models.IntegerField(default=0, db_default=0)
    told = models.IntegerField(default=0, db_default=0)
    fresh = models.IntegerField(default=0, db_default=0)
    step = models.SmallIntegerField(default=0, db_default=0)
    left_out = models.IntegerField(default=0, db_default=0)
    """Addresses that it had no room for when the capture closed."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["capture", "text"], name="one_pattern")]


class Share(models.Model):
    """One worker's part in a capture. Its id is the fencing token of what it leases."""

    capture = models.ForeignKey(Capture, models.CASCADE, related_name="shares")
    started_at = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    progress = models.JSONField(default=dict)
    """Written at most every second: what is asked but not yet stored, rate, what now."""
