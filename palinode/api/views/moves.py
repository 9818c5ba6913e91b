"""Moves: list, describe, edit, delete; members; decisions."""

from typing import Any

from django.contrib.auth.models import User
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access
from palinode.api.errors import Conflict
from palinode.api.serializers.decision import DecisionSerializer
from palinode.api.serializers.move import (
    DeletionSerializer,
    MemberSerializer,
    MoveLineSerializer,
    MoveSerializer,
    move_plain,
)
from palinode.core import address as addresses
from palinode.core.address import AddressError
from palinode.records import decisions
from palinode.records.models import Capture, Comparison, Decision, Membership, Move
from palinode.work import describing, forgetting


class MovesView(APIView):
    """The moves of the person who asks."""

    @extend_schema(operation_id="moves", responses=MoveLineSerializer(many=True))
    def get(self, request: Request) -> Response:
        """List them, each with its standing sentence."""
        return Response([_line(move) for move in access.moves(request)])

    @extend_schema(operation_id="make_move", request=MoveSerializer, responses={201: MoveSerializer})
    def post(self, request: Request) -> Response:
        """Make a move; who makes it owns it."""
        given = MoveSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        move = describing.make(given.validated_data, request.user)
        return Response(_shown(request, move), status=201)


class MoveView(APIView):
    """One move."""

    @extend_schema(operation_id="move", responses=MoveSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show it."""
        return Response(_shown(request, access.move(request, pk)))

    @extend_schema(operation_id="edit_move", request=MoveSerializer, responses=MoveSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Edit it. What was captured and compared stays as it is; compare again to see the difference."""
        move = access.move(request, pk)
        given = MoveSerializer(data=request.data, partial=True)
        given.is_valid(raise_exception=True)
        try:
            describing.edit(move, given.validated_data, request.user)
        except describing.BaselineError as error:
            raise ValidationError({"baseline": str(error)}) from None
        return Response(_shown(request, access.move(request, pk)))

    @extend_schema(operation_id="delete_move", request=DeletionSerializer, responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Delete it with all its evidence, after its name is typed."""
        move = access.own_move(request, pk)
        given = DeletionSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        if given.validated_data["name"] != move.name:
            raise ValidationError({"name": f"Type the name as it stands: {move.name}"})
        if move.captures.filter(state=Capture.State.RUNNING).exists():
            raise Conflict("A capture of this move is running. Stop it first.")
        forgetting.forget(move)
        return Response(status=204)


class MembersView(APIView):
    """Who sees a move."""

    @extend_schema(operation_id="members", responses=MemberSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List them."""
        return Response(_members(access.move(request, pk)))

    @extend_schema(operation_id="add_member", request=MemberSerializer, responses=MemberSerializer(many=True))
    def post(self, request: Request, pk: int) -> Response:
        """Let another person in."""
        move = access.own_move(request, pk)
        given = MemberSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        user = User.objects.filter(username=given.validated_data["username"]).first()
        if user is None:
            raise ValidationError({"username": "There is no account of this name."})
        Membership.objects.update_or_create(move=move, user=user, defaults={"role": given.validated_data["role"]})
        return Response(_members(move))


class MemberView(APIView):
    """One member of a move."""

    @extend_schema(operation_id="remove_member", responses={204: None})
    def delete(self, request: Request, pk: int, member: int) -> Response:
        """Take a person out; one owner must remain."""
        move = access.own_move(request, pk)
        owners = move.memberships.filter(role=Membership.Role.OWNER)
        if not owners.exclude(pk=member).exists():
            raise Conflict("A move keeps at least one owner.")
        move.memberships.filter(pk=member).delete()
        return Response(status=204)


class DecisionsView(APIView):
    """What was decided about a move."""

    @extend_schema(operation_id="decisions", responses=DecisionSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List all decisions, those taken back too."""
        move = access.move(request, pk)
        holding = set(decisions.holding(move).values_list("pk", flat=True))
        found = move.decisions.filter(kind=Decision.Kind.RETIRE, withdrawn=False).select_related("author")
        return Response([_decision(one, one.pk in holding) for one in found])

    @extend_schema(operation_id="decide", request=DecisionSerializer, responses={201: DecisionSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Retire a page or a section; the next comparison reads it."""
        move = access.move(request, pk)
        given = DecisionSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        scope = _scope(given.validated_data)
        made = decisions.decide(move, Decision.Kind.RETIRE, scope, given.validated_data["reason"], request.user)
        return Response(_decision(made, True), status=201)


class DecisionView(APIView):
    """One decision."""

    @extend_schema(operation_id="withdraw_decision", responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Take it back; it stays on record."""
        found = Decision.objects.filter(move__memberships__user=request.user, pk=pk).first()
        if found is None:
            raise Http404
        if decisions.holding(found.move).filter(pk=found.pk).exists():
            decisions.withdraw(found, request.user)
        return Response(status=204)


def _shown(request: Request, move: Move) -> dict[str, Any]:
    return move_plain(move, move.memberships.get(user=request.user).role)


def _line(move: Move) -> dict[str, Any]:
    latest = move.comparisons.filter(state=Comparison.State.MADE).first()
    sentence = latest.standing["sentence"] if latest else _not_yet(move)
    return {
        "id": move.pk,
        "name": move.name,
        "kind": move.get_kind_display(),
        "stage": move.stage,
        "source": move.side("source").base,
        "destination": move.side("destination").base,
        "sentence": sentence,
        "blocks": latest.standing["blocks"] if latest else None,
        "capturing": move.captures.filter(state=Capture.State.RUNNING).exists(),
    }


def _not_yet(move: Move) -> str:
    if move.baseline_id is None:
        return "No baseline yet. Capture the source first."
    return "Baseline recorded. Capture the destination to compare."


def _members(move: Move) -> list[dict[str, Any]]:
    return [
        {"id": one.pk, "username": one.user.get_username(), "role": one.role}
        for one in move.memberships.select_related("user")
    ]


def _scope(data: dict[str, Any]) -> dict[str, str]:
    address, section = data.get("address", ""), data.get("section", "")
    if bool(address) == bool(section):
        raise ValidationError("Name either one address or one section.")
    if section:
        return {"section": section}
    try:
        return {"address": addresses.typed(address)}
    except AddressError as error:
        raise ValidationError({"address": str(error)}) from None


def _decision(one: Decision, holds: bool) -> dict[str, Any]:
    return {
        "id": one.pk,
        "kind": one.kind,
        "address": one.scope.get("address", ""),
        "section": one.scope.get("section", ""),
        "reason": one.reason,
        "author": one.author.get_username(),
        "made_at": one.made_at,
        "holds": holds,
    }
