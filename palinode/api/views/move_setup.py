"""While a move is being described: the rule tried out, and who answers on both sides."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.serializers.rule import (
    AnsweredSchemeSerializer,
    SchemeSerializer,
    TriedRuleSerializer,
    TryRuleSerializer,
    WhoAnswersSerializer,
    WhoOfMoveSerializer,
    WhoSerializer,
)
from palinode.api.throttling import Outward
from palinode.core import address as addresses
from palinode.core import move_kind, rule
from palinode.core.address import AddressError
from palinode.core.connect import ConnectError
from palinode.core.host_probe import Answers, beside, scheme
from palinode.core.rule import Rule
from palinode.gather.access import Access
from palinode.records.models import Side
from palinode.work import scopes, side_access, side_probe
from palinode.work.move_setup import TypedSide, typed_side


class RuleView(APIView):
    """The address rule tried out; nothing is kept."""

    @extend_schema(operation_id="try_rule", request=TryRuleSerializer, responses=TriedRuleSerializer)
    def post(self, request: Request) -> Response:
        """Read the kind of move and the rule; work addresses through."""
        data = request_body.read(TryRuleSerializer, request)
        faults: dict[str, str] = {}
        bases: dict[str, str] = {}
        for which in ("source", "destination"):
            try:
                bases[which] = addresses.typed(data[which])
            except AddressError as error:
                if data[which]:
                    faults[which] = str(error)
        found_kind, derived, read = None, "", None
        if len(bases) == 2:
            found_kind = move_kind.read(bases["source"], bases["destination"], data["connects"])
            derived = rule.derive(bases["source"], bases["destination"])
        text = data["rule"] if data["rule"].strip() else derived
        added: list[str] = []
        try:
            added = rule.lines_of_hosts(text, _facing(data["further"])) if text else []
            read = rule.read(rule.joined(text, added)) if text else None
        except rule.RuleError as error:
            faults["rule"] = str(error)
        return Response(
            {
                "kind": found_kind,
                "sentence": move_kind.SENTENCES[found_kind] if found_kind else "",
                "derived": derived,
                "added": added,
                "lines": _lines(read),
                "worked": [_worked(read, bases.get("source"), text) for text in data["addresses"]],
                "faults": faults,
            }
        )


def _facing(further: Sequence[Mapping[str, str]]) -> list[tuple[str, str]]:
    """Return the further hosts of both sides that face each other, as far as they are typed."""
    found = []
    for one in further:
        try:
            found.append((addresses.typed(one["source"]), addresses.typed(one["destination"])))
        except AddressError:
            # It is said beside the field as it is saved.
            continue
    return found


class WhoView(APIView):
    """Who answers on both sides, asked once, without a capture."""

    throttle_classes = [Outward]

    @extend_schema(operation_id="who_answers", request=WhoSerializer, responses=WhoAnswersSerializer)
    def post(self, request: Request) -> Response:
        """Ask both sides at the same time."""
        data = request_body.read(WhoSerializer, request)
        sides = {}
        if data.get("move"):
            sides = {side.which: side for side in access.move(request, data["move"]).sides.all()}
        typed = {which: _accesses(data[which], sides.get(which)) for which in ("source", "destination")}
        asked = [(which, place) for which, hosts in typed.items() for place in hosts]
        answers = side_probe.each(*((typed[which][place], typed[which][place].base) for which, place in asked))
        found = dict(zip(asked, answers, strict=True))
        further = [
            {
                "place": place,
                **{which: asdict(found[which, place]) if (which, place) in found else None for which in typed},
            }
            for place in sorted({place for _, place in asked if place})
        ]
        return Response(_plain(found["source", 0], found["destination", 0]) | {"further": further})


class SchemeView(APIView):
    """The scheme of an address that was typed without one."""

    throttle_classes = [Outward]

    @extend_schema(operation_id="find_scheme", request=SchemeSerializer, responses=AnsweredSchemeSerializer)
    def post(self, request: Request) -> Response:
        """Ask it at https, then at http; what answers is taken. No secret is sent."""
        given = request_body.read(SchemeSerializer, request)
        written, line = given["address"].strip().lstrip("/"), given["connect_to"]
        https = _asked(f"https://{written}", line)
        return Response(asdict(scheme(https, None if https.status is not None else _asked(f"http://{written}", line))))


def _asked(written: str, connect_to: str) -> Answers:
    try:
        side = typed_side(written, connect_to)
    except AddressError as error:
        raise ValidationError({"address": str(error)}) from None
    except ConnectError as error:
        raise ValidationError({"connect_to": str(error)}) from None
    return side_probe.each((_accesses(side, None)[0], side.base))[0]


class WhoOfMoveView(APIView):
    """Who answers on both sides of a move for any address, asked once, without a capture."""

    throttle_classes = [Outward]

    @extend_schema(operation_id="who_answers_for", request=WhoOfMoveSerializer, responses=WhoAnswersSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Ask the source for an address, and the destination for the one that is expected of it."""
        move = access.move(request, pk)
        given = request_body.read(WhoOfMoveSerializer, request)
        scope = scopes.of_side(move, "source")
        address = addresses.normal(given["address"].strip(), scope.bases[0])
        if address is None or not scope.on_host(address):
            raise ValidationError({"address": f"Give a path, or an address of {' or '.join(scope.bases)}"})
        read = rule.read(move.rule)
        expected = read.reached(read.expect(address).address)
        source, destination = (side_access.side_of(move, which)[0] for which in ("source", "destination"))
        return Response(_plain(*side_probe.each((source, address), (destination, expected))))


def _accesses(typed: TypedSide, kept: Side | None) -> dict[int, Access]:
    """Return how each host of a side that is being described is reached, by its place."""
    return side_access.of_typed({0: typed, **(typed.further or {})}, kept, typed.any_certificate)


def _plain(source: Answers, destination: Answers) -> dict[str, Any]:
    remark = beside(source, destination)
    return {
        "source": asdict(source),
        "destination": asdict(destination),
        "remark": remark.text,
        "same_site": remark.same_site,
    }


def _lines(read: Rule | None) -> list[dict[str, Any]]:
    if read is None:
        return []
    return [
        {"number": line.number, "left": rule.line_address(line), "right": line.to.text, "only": line.only}
        for line in read.lines
    ]


def _worked(read: Rule | None, base: str | None, text: str) -> dict[str, Any]:
    worked: dict[str, Any] = {"typed": text, "address": None, "expected": None, "line": None}
    worked |= {"notes": [], "moves": False, "fault": ""}
    if read is None or not text.strip():
        return worked
    try:
        rooted = text.strip().startswith("/") and base
        address = addresses.normal(text.strip(), base) if rooted else addresses.typed(text)
    except AddressError as error:
        return worked | {"fault": str(error)}
    if address is None:
        return worked | {"fault": "This is not a valid address."}
    expected = read.expect(address)
    old, new = addresses.split(address), addresses.split(expected.address)
    return worked | {
        "address": address,
        "expected": expected.address,
        "line": expected.line,
        "notes": list(expected.notes),
        "moves": (old.path, old.query) != (new.path, new.query),
    }
