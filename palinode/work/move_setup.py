"""Moves described: what is given is written; kind and rule follow from the two sides unless they are given."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from palinode.core import address as addresses
from palinode.core import connect, move_kind, rule
from palinode.core.connect import Line
from palinode.records import captures, decisions
from palinode.records.models import Capture, Decision, Membership, Move, Side
from palinode.work import side_access

_OVERRIDES = {
    "any_certificate": ("certificate", "The certificate does not fit yet, go on."),
    "ignore_robots": ("robots", "Its robots rules shut everyone out, I own it, go on."),
}


class BaselineError(ValueError):
    """A capture that was named cannot be the baseline; the message is for a person."""


@dataclass(frozen=True)
class TypedSide:
    """A side as a person typed it, read."""

    base: str
    connect_to: list[Line]
    user_name: str = ""
    sign_in: str = str(Side.SignIn.BASIC)
    password: str | None = None
    """None keeps the one that is there, as long as its addressee stays; so it is for the other secrets."""
    cookie: str | None = None
    header_name: str = ""
    header_value: str | None = None
    secrets_to_www: bool = False
    any_certificate: bool = False
    ignore_robots: bool = False


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
    return make({"name": name, "source": source, "destination": destination, "rule": text}, owner)


def make(given: Mapping[str, Any], owner: User) -> Move:
    """Make a move from its name, its two sides (TypedSide), and what else is given; who makes it owns it."""
    with transaction.atomic():
        move = Move()
        _write(move, given, owner)
        Membership.objects.create(move=move, user=owner, role=Membership.Role.OWNER)
    return move


def edit(move: Move, given: Mapping[str, Any], user: User) -> None:
    """Write what is given (name, kind, stage, rule, baseline, sides); what is not given stays.

    A capture that does not stand is named as the baseline only with a ``baseline_reason``, which is recorded.
    Raises BaselineError if the capture named (its number, or None) cannot be the baseline.
    """
    with transaction.atomic():
        _write(move, given, user)


def _write(move: Move, given: Mapping[str, Any], user: User) -> None:
    sides = {side.which: side for side in move.sides.all()} if move.pk else {}
    regardless = {which: "certificate" in decisions.overrides(move, which) for which in sides}
    before = {
        which: (side_access.addressee(move, side, regardless[which]), side.header_name) for which, side in sides.items()
    }
    typed: dict[str, TypedSide] = {which: given[which] for which in Side.Which.values if which in given}
    for which, one in typed.items():
        _write_side(sides.setdefault(which, Side(which=which)), one)
        regardless[which] = one.any_certificate
    source, destination = sides["source"], sides["destination"]
    if not move.rule and not given.get("rule"):
        move.rule = rule.derive(source.base, destination.base)
    if typed:
        move.kind = move_kind.read(source.base, destination.base, bool(destination.connect_to))
    for name in ("name", "kind", "stage", "rule"):
        if name in given:
            setattr(move, name, given[name])
    if "baseline" in given:
        move.baseline = _baseline(move, given["baseline"], given.get("baseline_reason", "").strip(), user)
    move.save()
    for which, side in sides.items():
        side.move = move
        if which in before:
            addressee, header_name = before[which]
            elsewhere = side_access.addressee(move, side, regardless[which]) != addressee
            _forget_secrets(side, typed.get(which), Side.SECRETS if elsewhere else ())
            _forget_secrets(side, typed.get(which), ("header_value",) if side.header_name != header_name else ())
        side.save()
        if which in typed:
            _override(move, which, typed[which], user)


def _write_side(side: Side, typed: TypedSide) -> None:
    for name in ("base", "connect_to", "user_name", "sign_in", "header_name", "secrets_to_www"):
        setattr(side, name, getattr(typed, name))
    for name in Side.SECRETS:
        if (value := getattr(typed, name)) is not None:
            setattr(side, name, value)


def _forget_secrets(side: Side, typed: TypedSide | None, names: Sequence[str]) -> None:
    """Let go of secrets that were not typed now: they were typed to be sent elsewhere, or as another field."""
    for name in names:
        if typed is None or getattr(typed, name) is None:
            setattr(side, name, "")


def _baseline(move: Move, pk: int | None, reason: str, user: User) -> Capture | None:
    if pk is None:
        return None
    found = captures.closed(move, pk=pk, which="source").first()
    if found is None:
        raise BaselineError("Only a closed capture of the source can be the baseline.")
    if not found.pages:
        raise BaselineError("This capture holds no page. It cannot be the baseline.")
    if found.judgement and not found.judgement["stands"] and pk != move.baseline_id:
        if not reason:
            said = found.judgement["sentence"]
            raise BaselineError(f"{said} To name it all the same, say why; that is recorded with your name.")
        scope = {"what": "baseline", "capture": str(found.pk)}
        decisions.decide(move, str(Decision.Kind.OVERRIDE), scope, reason, user)
    return found


def _override(move: Move, which: str, typed: TypedSide, user: User) -> None:
    """Record who said that a side's certificate or robots rules do not matter, and who took it back."""
    current = decisions.overrides(move, which)
    for option, (what, reason) in _OVERRIDES.items():
        scope = {"side": which, "what": what}
        wanted = getattr(typed, option)
        if wanted and what not in current:
            decisions.decide(move, str(Decision.Kind.OVERRIDE), scope, reason, user)
        elif not wanted and what in current:
            for one in decisions.holding(move, str(Decision.Kind.OVERRIDE)).filter(scope=scope):
                decisions.withdraw(one, user)
