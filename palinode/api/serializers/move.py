"""A move as the interface describes it."""

from typing import Any

from rest_framework import serializers
from rest_framework.fields import empty

from palinode.core import address as addresses
from palinode.core import connect, header, rule
from palinode.core.address import AddressError
from palinode.core.connect import ConnectError
from palinode.core.rule import LIMIT as RULE_LIMIT
from palinode.records import decisions
from palinode.records.models import Host, Membership, Move, Side
from palinode.work.move_setup import MOST_HOSTS, TypedHost, TypedSide


class AddressField(serializers.CharField):
    """An address typed by a person, in its normal form afterwards."""

    def to_internal_value(self, data: Any) -> str:
        """Refuse a bad address, saying what is wrong and what to do."""
        try:
            return addresses.typed(super().to_internal_value(data))
        except AddressError as error:
            raise serializers.ValidationError(str(error)) from None


class SecretField(serializers.CharField):
    """A secret: written, never shown. One that is not given stays."""

    def __init__(self, max_length: int) -> None:
        super().__init__(
            max_length=max_length, allow_blank=True, required=False, write_only=True, trim_whitespace=False
        )

    def to_internal_value(self, data: Any) -> str:
        """Refuse what cannot stand in a header field (RFC 9110 section 5.5)."""
        text: str = super().to_internal_value(data)
        if any(ord(char) < 32 or ord(char) == 127 for char in text):
            raise serializers.ValidationError("It must be one line, without control characters.")
        return text


class HostSerializer(serializers.Serializer[Host]):
    """A host of a side: its address and how it is reached."""

    base = AddressField()
    connect_to = serializers.CharField(max_length=300, allow_blank=True, default="")
    connect_www = serializers.BooleanField(default=False)
    user_name = serializers.CharField(max_length=200, allow_blank=True, default="")
    sign_in = serializers.ChoiceField(choices=Side.SignIn.choices, default=Side.SignIn.BASIC)
    password = SecretField(max_length=500)
    cookie = SecretField(max_length=4_000)
    header_name = serializers.RegexField(
        r"^[A-Za-z0-9!#$%&'*+.^_`|~-]*$",
        max_length=100,
        allow_blank=True,
        default="",
        error_messages={"invalid": "A header's name has letters, digits and hyphens only."},
    )
    header_value = SecretField(max_length=4_000)
    secrets_to_www = serializers.BooleanField(default=False)
    has_password = serializers.BooleanField(read_only=True)
    has_cookie = serializers.BooleanField(read_only=True)
    has_header_value = serializers.BooleanField(read_only=True)

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Read a host whole, also where a move is edited in part: what is not given has its default."""
        whole = {name: field.default for name, field in self.fields.items() if field.default is not empty}
        given = {**whole, "base": "", **data} if isinstance(data, dict) else data
        return super().to_internal_value(given)

    def validate(self, attrs: dict[str, Any]) -> Any:
        """Turn what was typed into a TypedHost."""
        try:
            attrs["connect_to"] = connect.lines(attrs["base"], attrs["connect_to"], attrs.pop("connect_www"))
        except ConnectError as error:
            raise serializers.ValidationError({"connect_to": str(error)}) from None
        if header.is_ours(attrs["header_name"]):
            raise serializers.ValidationError({"header_name": "Palinode sends this field itself."})
        return self.typed(attrs)

    def typed(self, attrs: dict[str, Any]) -> TypedHost:
        """Make a TypedHost of what was read."""
        return TypedHost(**attrs)


class FurtherHostSerializer(HostSerializer):
    """A host that a side has besides its main one: shop, media, a language."""

    place = serializers.IntegerField(
        min_value=1, max_value=MOST_HOSTS, help_text="The other side's host of the same place faces it."
    )

    def typed(self, attrs: dict[str, Any]) -> Any:
        """Make a place and its TypedHost of what was read."""
        return attrs.pop("place"), TypedHost(**attrs)


class SideSerializer(HostSerializer):
    """A side: its main host, further ones, and what holds for all of them."""

    any_certificate = serializers.BooleanField(default=False)
    ignore_robots = serializers.BooleanField(default=False)
    further = FurtherHostSerializer(
        many=True, required=False, max_length=MOST_HOSTS, help_text="All further hosts; not given, they stay."
    )

    def typed(self, attrs: dict[str, Any]) -> TypedSide:
        """Make a TypedSide of what was read. Raises ValidationError for a host that is named twice."""
        named = {_host(attrs["base"])}
        places: dict[int, TypedHost] = {}
        faults: list[dict[str, str]] = []
        given = attrs.pop("further", None)
        for place, host in given or ():
            fault = {}
            if _host(host.base) in named:
                fault = {"base": "This host is named already. A host stands in a side once."}
            if place in places:
                fault = {"place": "Another host has this place already."}
            faults.append(fault)
            named.add(_host(host.base))
            places[place] = host
        if any(faults):
            raise serializers.ValidationError({"further": faults})
        return TypedSide(**attrs, further=None if given is None else places)


def _host(base: str) -> str:
    return addresses.bare_host(addresses.split(base).host)


class RuleField(serializers.CharField):
    """An address rule; what cannot be read is refused with its line."""

    def to_internal_value(self, data: Any) -> str:
        """Refuse a bad rule, naming the line and what is wrong with it."""
        text = super().to_internal_value(data)
        try:
            rule.read(text)
        except rule.RuleError as error:
            raise serializers.ValidationError(str(error)) from None
        return text


class MoveSerializer(serializers.Serializer[Move]):
    """A move with both sides. Without a rule, the two addresses make it."""

    id = serializers.IntegerField(read_only=True)
    name = serializers.CharField(max_length=120)
    kind = serializers.ChoiceField(choices=Move.Kind.choices, required=False)
    stage = serializers.ChoiceField(choices=Move.Stage.choices, required=False)
    rule = RuleField(max_length=RULE_LIMIT, required=False, allow_blank=False, trim_whitespace=False)
    source = SideSerializer()
    destination = SideSerializer()
    baseline = serializers.IntegerField(allow_null=True, required=False)
    baseline_reason = serializers.CharField(max_length=2_000, required=False, allow_blank=True, write_only=True)
    role = serializers.ChoiceField(choices=Membership.Role.choices, read_only=True)
    created_at = serializers.DateTimeField(read_only=True)


class MoveLineSerializer(serializers.Serializer[Move]):
    """A move in the list, with its standing sentence."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.CharField()
    stage = serializers.CharField()
    source = serializers.CharField()
    destination = serializers.CharField()
    sentence = serializers.CharField()
    blocks = serializers.BooleanField(allow_null=True)
    capturing = serializers.BooleanField()


class DeletionSerializer(serializers.Serializer[object]):
    """The name of the move, typed, so that nothing is deleted by mistake."""

    name = serializers.CharField(max_length=120)


class MemberSerializer(serializers.Serializer[object]):
    """A member of a move."""

    id = serializers.IntegerField(read_only=True)
    username = serializers.CharField(max_length=150)
    role = serializers.ChoiceField(choices=["owner", "member"], default="member")


def side_plain(move: Move, side: Side) -> dict[str, Any]:
    """Return a side as it is shown: everything but its secrets."""
    overridden = decisions.overrides(move, side.which)
    return {
        **_host_plain(side),
        "any_certificate": "certificate" in overridden,
        "ignore_robots": "robots" in overridden,
        "further": [{"place": one.place, **_host_plain(one)} for one in side.further.all()],
    }


def _host_plain(host: Host) -> dict[str, Any]:
    text, www = connect.written(host.base, host.connect_to)
    return {
        "base": host.base,
        "connect_to": text,
        "connect_www": www,
        "user_name": host.user_name,
        "sign_in": host.sign_in,
        "header_name": host.header_name,
        "secrets_to_www": host.secrets_to_www,
        **{f"has_{name}": bool(getattr(host, name)) for name in Host.SECRETS},
    }


def move_plain(move: Move, role: str) -> dict[str, Any]:
    """Return a move as it is shown."""
    return {
        "id": move.pk,
        "name": move.name,
        "kind": move.kind,
        "stage": move.stage,
        "rule": move.rule,
        "baseline": move.baseline_id,
        "role": role,
        "created_at": move.created_at,
        **{side.which: side_plain(move, side) for side in move.sides.all()},
    }
