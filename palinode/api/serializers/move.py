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
from palinode.records.models import Membership, Move, Side
from palinode.work.move_setup import TypedSide


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


class SideSerializer(serializers.Serializer[Side]):
    """A side: its address and how it is reached."""

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
    any_certificate = serializers.BooleanField(default=False)
    ignore_robots = serializers.BooleanField(default=False)

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Read a side whole, also where a move is edited in part: what is not given has its default."""
        whole = {name: field.default for name, field in self.fields.items() if field.default is not empty}
        given = {**whole, "base": "", **data} if isinstance(data, dict) else data
        return super().to_internal_value(given)

    def validate(self, attrs: dict[str, Any]) -> Any:
        """Turn what was typed into a TypedSide."""
        try:
            attrs["connect_to"] = connect.lines(attrs["base"], attrs["connect_to"], attrs.pop("connect_www"))
        except ConnectError as error:
            raise serializers.ValidationError({"connect_to": str(error)}) from None
        if header.is_ours(attrs["header_name"]):
            raise serializers.ValidationError({"header_name": "Palinode sends this field itself."})
        return TypedSide(**attrs)


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
    text, www = connect.written(side.base, side.connect_to)
    overridden = decisions.overrides(move, side.which)
    return {
        "base": side.base,
        "connect_to": text,
        "connect_www": www,
        "user_name": side.user_name,
        "sign_in": side.sign_in,
        "header_name": side.header_name,
        "secrets_to_www": side.secrets_to_www,
        **{f"has_{name}": bool(getattr(side, name)) for name in Side.SECRETS},
        "any_certificate": "certificate" in overridden,
        "ignore_robots": "robots" in overridden,
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
