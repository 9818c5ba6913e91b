"""A move, its two sides, who may see it, and the addresses that it knows."""

from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import Value

from palinode.records.secrets import EncryptedField


class Present(models.Manager["Move"]):
    """The moves that people see: all but those that are being deleted in the background."""

    def get_queryset(self) -> models.QuerySet["Move"]:
        """Leave out what was ordered to be forgotten."""
        return super().get_queryset().filter(forgotten_at=None)


class Move(models.Model):
    """One site being moved or restored."""

    class Kind(models.TextChoices):
        """What kind of move it is; read from the two addresses, corrected by a person."""

        HOST = "host", "new host"
        NAME = "name", "new name"
        RESTORE = "restore", "restore under the same name"
        FOLDER = "folder", "new folder"
        SCHEME = "scheme", "plain HTTP to HTTPS"

    class Stage(models.TextChoices):
        """Where in the job the move is; set by a person, but for rehearsal, which begins with the first comparison."""

        BASELINE = "baseline", "Baseline"
        REHEARSAL = "rehearsal", "Rehearsal"
        SWITCH = "switch", "Switch"
        WATCH = "watch", "Watch"
        SIGN_OFF = "sign-off", "Sign-off"

    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, choices=Kind)
    stage = models.CharField(max_length=10, choices=Stage, default=Stage.BASELINE)
    rule = models.TextField()
    """The address rule, as written (core/rule.py)."""
    baseline = models.ForeignKey(
        "Capture", models.SET_NULL, null=True, blank=True, related_name="+", db_constraint=False
    )
    listings = models.JSONField(default=list, blank=True, db_default=Value([], models.JSONField()))
    """Mappings of its JSON listings, as in core/exports/json_listing.py."""
    keep_days = models.PositiveIntegerField(null=True, blank=True)
    """Days for which bodies of captures are kept that nothing rests on any more; null for as long as the move."""
    created_at = models.DateTimeField(auto_now_add=True)
    forgotten_at = models.DateTimeField(null=True, editable=False)
    """Since when it is being deleted, and when that last went on; for people it is not there any more."""
    members: Any = models.ManyToManyField(settings.AUTH_USER_MODEL, through="Membership", related_name="moves")

    objects = Present()
    everything: "models.Manager[Move]" = models.Manager()

    class Meta:
        ordering = ["name", "id"]

    def __str__(self) -> str:
        return self.name

    def side(self, which: str) -> "Side":
        """Return the side ``source`` or ``destination``."""
        return next(side for side in self.sides.all() if side.which == which)


class Membership(models.Model):
    """A person who sees and changes a move. The owner also deletes it and names members."""

    class Role(models.TextChoices):
        OWNER = "owner", "owner"
        MEMBER = "member", "member"

    move = models.ForeignKey(Move, models.CASCADE, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role, default=Role.MEMBER)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["move", "user"], name="one_membership")]


class Host(models.Model):
    """A host of a side: its address and how it is reached."""

    class SignIn(models.TextChoices):
        """How the user name and password are sent (RFC 7617, RFC 7616)."""

        BASIC = "basic", "Basic"
        DIGEST = "digest", "Digest"

    SECRETS = ("password", "cookie", "header_value")
    """Encrypted at rest, sent where they were typed for (work/side_access.py), and never shown again."""

    base = models.TextField()
    """Home page's address, in normal form."""
    connect_to = models.JSONField(default=list)
    """Lines ``{"host", "port", "address", "to_port"}``."""
    user_name = models.CharField(max_length=200, blank=True)
    sign_in = models.CharField(max_length=6, choices=SignIn, default=SignIn.BASIC)
    password = EncryptedField(blank=True)
    cookie = EncryptedField(blank=True)
    """Value of a Cookie field that is sent with every request."""
    header_name = models.CharField(max_length=100, blank=True)
    header_value = EncryptedField(blank=True)
    secrets_to_www = models.BooleanField(default=False)
    """They are for the www name of the host, or its bare one, as well."""

    class Meta:
        abstract = True


class Side(Host):
    """Source or destination of a move: its main host, and further ones in ``further``."""

    class Which(models.TextChoices):
        SOURCE = "source", "Source"
        DESTINATION = "destination", "Destination"

    move = models.ForeignKey(Move, models.CASCADE, related_name="sides")
    which = models.CharField(max_length=12, choices=Which)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["move", "which"], name="one_side")]

    @property
    def hosts(self) -> list[Host]:
        """Return its hosts, the main one first."""
        return list(self.by_place().values())

    def by_place(self) -> dict[int, Host]:
        """Return its hosts by their places, the main one at 0."""
        return {0: self, **{one.place: one for one in self.further.all()}}


class FurtherHost(Host):
    """A host that a side has besides its main one: shop, media, a language."""

    side = models.ForeignKey(Side, models.CASCADE, related_name="further")
    place = models.PositiveSmallIntegerField()
    """The other side's host of the same place is the one that faces it."""

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["side", "place"], name="one_host_a_place")]


class Address(models.Model):
    """The text of an address, kept once per move beside its identity (core/address.py)."""

    pk = models.CompositePrimaryKey("move_id", "ident")
    move = models.ForeignKey(Move, models.CASCADE, db_constraint=False, db_index=False, related_name="+")
    ident = models.BigIntegerField()
    text = models.TextField()


class ImportedAddress(models.Model):
    """An address of a side, of an imported list; each later capture of the side asks for it."""

    pk = models.CompositePrimaryKey("move_id", "which", "ident")
    move = models.ForeignKey(Move, models.CASCADE, db_index=False, related_name="+")
    which = models.CharField(max_length=12, choices=Side.Which)
    ident = models.BigIntegerField()
    known = models.SmallIntegerField()
    """Bits of core/discovery.py: in a list, in an access log."""
    visits = models.BigIntegerField(default=0, db_default=0)
    """How often people asked for it, by the logs imported."""
    last_visit = models.IntegerField(default=0, db_default=0)
    """Day on which it was asked for last, as 20261112; 0 for never."""
