"""Decisions of people about a move."""

from typing import Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.decision import DecisionSerializer
from palinode.core import address as addresses
from palinode.core.address import AddressError
from palinode.core.expected import Expectation
from palinode.core.wording import number
from palinode.records import decisions, findings
from palinode.records.models import Decision, Move
from palinode.work.comparing import comparison_job
from palinode.work.deciding import judgement


class DecisionsView(APIView):
    """What was decided about a move."""

    @extend_schema(operation_id="decisions", responses=DecisionSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List all decisions, revoked ones too."""
        move = access.move(request, pk)
        holding = set(decisions.holding(move).values_list("pk", flat=True))
        found = move.decisions.filter(withdrawn=False).select_related("author")
        aside = findings.set_aside_by(findings.latest(move))
        return Response([_decision(one, one.pk in holding, aside.get(one.pk, 0)) for one in found])

    @extend_schema(operation_id="decide", request=DecisionSerializer, responses={201: DecisionSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Retire a page or a section, pair two pages or part them; a comparison follows."""
        move = access.move(request, pk)
        data = request_body.read(DecisionSerializer, request)
        kind = Decision.Kind(data["kind"])
        if kind == Decision.Kind.RETIRE:
            scope = _scope(data)
        elif kind in (Decision.Kind.PAIR, Decision.Kind.PART):
            scope = {name: _typed(name, data.get(name, "")) for name in ("left", "right")}
        else:
            raise ValidationError({"kind": "This is decided elsewhere: in the description, or on the findings."})
        with transaction.atomic():
            made = decisions.decide(move, str(kind), scope, data["reason"], request.user)
            comparison_job.order_latest(move)
        return Response(_decision(made, True), status=201)


class DecisionView(APIView):
    """One decision."""

    @extend_schema(operation_id="withdraw_decision", responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Revoke it; it stays on record. What follows from it is judged or compared anew."""
        found = Decision.objects.filter(move__memberships__user=request.user, pk=pk).first()
        if found is None:
            raise Http404
        with transaction.atomic():
            if decisions.holding(found.move).filter(pk=found.pk).exists():
                _renewed(found, decisions.withdraw(found, request.user))
        return Response(status=204)


class UndoView(APIView):
    """The last decision undone."""

    @extend_schema(operation_id="undo", request=None, responses={200: DecisionSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Take back what this person decided last about the move; what that superseded holds again."""
        move = access.move(request, pk)
        with transaction.atomic():
            Move.objects.select_for_update().get(pk=move.pk)
            found = decisions.last_of(move, request.user)
            if found is None:
                raise Conflict("There is nothing of yours to undo.")
            _renewed(found, decisions.undo(found, request.user))
        return Response(_decision(found, False))


def _renewed(decision: Decision, by: Decision) -> None:
    """Judge or compare anew after ``by`` changed a decision, whichever it takes."""
    if decisions.is_of_judgement(decision):
        judgement.renew_latest(decision.move, by)
    else:
        comparison_job.order_latest(decision.move)


def _scope(data: dict[str, Any]) -> dict[str, str]:
    address, section = data.get("address", ""), data.get("section", "")
    if bool(address) == bool(section):
        raise ValidationError("Name either one address or one section.")
    if section:
        return {"section": section}
    return {"address": _typed("address", address)}


def _typed(name: str, written: str) -> str:
    try:
        return addresses.typed(written)
    except AddressError as error:
        raise ValidationError({name: str(error)}) from None


def _says(one: Decision) -> str:
    if one.kind == Decision.Kind.ACCEPT and (where := decisions.where(one.scope)):
        return (
            f"on the pages of {where.section} alone"
            if where.section
            else f"on {number(len(where.pages), 'page')} alone"
        )
    if one.kind == Decision.Kind.EXPECT:
        return Expectation.read(one.scope).sentence
    return f"{one.scope['kind']}: {one.scope['weight']}" if one.scope.get("what") == "weight" else ""


def _decision(one: Decision, holds: bool, aside: int = 0) -> dict[str, Any]:
    return {
        "id": one.pk,
        "kind": one.kind,
        "address": one.scope.get("address", ""),
        "section": one.scope.get("section", ""),
        "side": one.scope.get("side", ""),
        "what": one.scope.get("what", ""),
        "left": one.scope.get("left", ""),
        "right": one.scope.get("right", ""),
        "findings": len(decisions.marks(one.scope)) or aside,
        "aside": aside,
        "says": _says(one),
        "ends_at": one.ends_at,
        "reason": one.reason,
        "author": one.author.get_username(),
        "made_at": one.made_at,
        "holds": holds,
    }
