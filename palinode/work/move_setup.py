"""Moves described: what is given is written; kind and rule follow from the two sides unless they are given."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from palinode.core import address as addresses
from palinode.core import connect, move_kind, rule
from palinode.core.connect import ConnectError, Line
from palinode.records import captures, decisions
from palinode.records.models import Capture, Decision, FurtherHost, Host, Membership, Move, Side
from palinode.work import side_access
from palinode.work.side_access import Addressee

MOST_HOSTS = 50
"""Further hosts of a side."""
_OVERRIDES = {
    "any_certificate": ("certificate", "The certificate does not fit yet, go on."),
    "ignore_robots": ("robots", "Its robots rules shut everyone out, I own it, go on."),
}


class BaselineError(ValueError):
    """A capture that was named cannot be the baseline; the message is for a person."""


@dataclass(frozen=True)
class TypedHost:
    """A host of a side as a person typed it, read."""

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


@dataclass(frozen=True)
class TypedSide(TypedHost):
    """A side as a person typed it, read: its main host and what holds for all."""

    any_certificate: bool = False
    ignore_robots: bool = False
    further: Mapping[int, TypedHost] | None = None
    """Further hosts by their places, from 1 on; None keeps those that are there."""


def typed_side(base: str, connect_to: str) -> TypedSide:
    """Read a side. Raises AddressError or ConnectError with a message for the person."""
    address = addresses.typed(base)
    return TypedSide(address, connect.lines(address, connect_to, www=True))


def typed_hosts(pairs: Sequence[str], connects: Sequence[str]) -> tuple[dict[int, TypedHost], dict[int, TypedHost]]:
    """Read further hosts of source and destination by their places.

    ``pairs`` are written ``OLD -> NEW``, either side of which may be empty, ``connects`` ``NAME=ADDRESS:PORT``. Raises
    AddressError or ConnectError with a message for the person.
    """
    lines = dict(one.strip().split("=", 1) for one in connects if "=" in one)
    found: tuple[dict[int, TypedHost], dict[int, TypedHost]] = ({}, {})
    for place, pair in enumerate(pairs, 1):
        for side, written in zip(found, pair.split("->"), strict=False):
            if written.strip():
                base = addresses.typed(written)
                side[place] = TypedHost(base, connect.lines(base, lines.pop(connect.host_name(base), ""), www=True))
    if lines:
        raise ConnectError(f"{min(lines)} is no further host.")
    return found


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
    kept = {side.which: side for side in move.sides.all()} if move.pk else {}
    hosts = {which: _Hosts(move, kept.get(which, Side(which=which))) for which in Side.Which.values}
    typed: dict[str, TypedSide] = {which: given[which] for which in Side.Which.values if which in given}
    for which, one in typed.items():
        hosts[which].write(one)
    source, destination = hosts["source"].side, hosts["destination"].side
    if not move.rule and not given.get("rule"):
        move.rule = rule.derive(source.base, destination.base)
    if typed:
        move.kind = move_kind.read(source.base, destination.base, bool(destination.connect_to))
    for name in ("name", "kind", "stage", "rule"):
        if name in given:
            setattr(move, name, given[name])
    facing = hosts["source"].at.keys() & hosts["destination"].at.keys() - {0}
    added = rule.lines_of_hosts(
        move.rule, [(hosts["source"].at[one].base, hosts["destination"].at[one].base) for one in sorted(facing)]
    )
    move.rule = rule.joined(move.rule, added)
    if "baseline" in given:
        move.baseline = _baseline(move, given["baseline"], given.get("baseline_reason", "").strip(), user)
    move.save()
    for which, of_side in hosts.items():
        of_side.save()
        if which in typed:
            _override(move, which, typed[which], user)


class _Hosts:
    """The hosts of a side by their places, the main one at 0, while they are written."""

    def __init__(self, move: Move, side: Side) -> None:
        self.move, self.side = move, side
        self.at: dict[int, Host] = side.by_place() if side.pk else {0: side}
        self._typed: dict[int, TypedHost] = {}
        self._regardless = bool(move.pk) and "certificate" in decisions.overrides(move, side.which)
        self._before = self._addressees() if side.pk else {}

    def write(self, typed: TypedSide) -> None:
        """Write what was typed; further hosts that are not named any more go."""
        self._typed[0] = typed
        self._regardless = typed.any_certificate
        if typed.further is not None:
            self._typed |= typed.further
            self.at = {place: self.at.get(place) or FurtherHost(place=place) for place in sorted(self._typed)}
        for place, one in self._typed.items():
            _write_host(self.at[place], one)

    def save(self) -> None:
        """Save them, without the secrets that were typed to be sent elsewhere."""
        self.side.move = self.move
        for place, now in self._addressees().items():
            if place in self._before and now != self._before[place]:
                (addressee, header_name), (before, header_before) = now, self._before[place]
                self._forget(place, Host.SECRETS if addressee != before else ())
                self._forget(place, ("header_value",) if header_name != header_before else ())
        self.side.save()
        self.side.further.exclude(place__in=self.at).delete()
        for place in sorted(self.at.keys() - {0}):
            host = self.at[place]
            assert isinstance(host, FurtherHost)
            host.side = self.side
            host.save()

    def _addressees(self) -> dict[int, tuple[Addressee, str]]:
        """Return to whom the secrets of each host are sent, and in a field of which name."""
        found = side_access.addressees(self.move, self.side.which, self.at, self._regardless)
        return {place: (addressee, self.at[place].header_name) for place, addressee in found.items()}

    def _forget(self, place: int, names: Sequence[str]) -> None:
        """Let go of secrets that were not typed now: they were typed to be sent elsewhere, or as another field."""
        typed = self._typed.get(place)
        for name in names:
            if typed is None or getattr(typed, name) is None:
                setattr(self.at[place], name, "")


def _write_host(host: Host, typed: TypedHost) -> None:
    for name in ("base", "connect_to", "user_name", "sign_in", "header_name", "secrets_to_www"):
        setattr(host, name, getattr(typed, name))
    for name in Host.SECRETS:
        if (value := getattr(typed, name)) is not None:
            setattr(host, name, value)


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
