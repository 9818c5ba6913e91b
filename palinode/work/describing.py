"""Moves described: kind and rule read from the two sides unless they are given."""

from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db import transaction

from palinode.core import address as addresses
from palinode.core import connect, kind, rule
from palinode.core.connect import Line
from palinode.records.models import Membership, Move, Side


@dataclass(frozen=True)
class TypedSide:
    """A side as a person typed it, read."""

    base: str
    lines: list[Line]


def typed_side(base: str, connect_to: str) -> TypedSide:
    """Read a side. Raises AddressError or ConnectError with a message for the person."""
    address = addresses.typed(base)
    return TypedSide(address, connect.lines(address, connect_to, www=True))


def describe(name: str, source: TypedSide, destination: TypedSide, lines: list[str], owner: User) -> Move:
    """Make a move with its two sides. ``lines`` are added to the derived rule.

    Raises RuleError for a line that cannot be read.
    """
    text = "\n".join([rule.derive(source.base, destination.base), *lines])
    rule.read(text)
    with transaction.atomic():
        move = Move.objects.create(
            name=name, rule=text, kind=kind.read(source.base, destination.base, bool(destination.lines))
        )
        for which, side in (("source", source), ("destination", destination)):
            Side.objects.create(move=move, which=which, base=side.base, connect_to=side.lines)
        Membership.objects.create(move=move, user=owner, role=Membership.Role.OWNER)
    return move
