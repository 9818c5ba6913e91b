"""Moves: list, describe, edit, delete."""

from typing import Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.move import DeletionSerializer, MoveLineSerializer, MoveSerializer, move_plain
from palinode.records.models import Capture, Comparison, Move
from palinode.work import move_deletion, move_setup
from palinode.work.comparing import comparison_job
from palinode.work.deciding import judgement


class MovesView(APIView):
    """The moves of the person who asks."""

    @extend_schema(operation_id="moves", responses=MoveLineSerializer(many=True))
    def get(self, request: Request) -> Response:
        """List them, each with its standing sentence."""
        return Response([_line(move) for move in access.moves(request)])

    @extend_schema(operation_id="make_move", request=MoveSerializer, responses={201: MoveSerializer})
    def post(self, request: Request) -> Response:
        """Make a move; who makes it owns it."""
        given = request_body.read(MoveSerializer, request)
        move = move_setup.make(given, request.user)
        return Response(_shown(request, move), status=201)


class MoveView(APIView):
    """One move."""

    @extend_schema(operation_id="move", responses=MoveSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show it."""
        return Response(_shown(request, access.move(request, pk)))

    @extend_schema(operation_id="edit_move", request=MoveSerializer, responses=MoveSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Edit it. What was captured and compared stays as it is; after a new rule or baseline a comparison follows."""
        move = access.move(request, pk)
        given = request_body.read(MoveSerializer, request, partial=True)
        try:
            with transaction.atomic():
                move_setup.edit(move, given, request.user)
                if {"rule", "baseline"} & set(given):
                    comparison_job.order_latest(move)
                elif "stage" in given:
                    judgement.renew_latest(move)
        except move_setup.BaselineError as error:
            raise ValidationError({"baseline": str(error)}) from None
        return Response(_shown(request, access.move(request, pk)))

    @extend_schema(operation_id="delete_move", request=DeletionSerializer, responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Delete it with all its evidence, after its name is typed."""
        move = access.own_move(request, pk)
        given = request_body.read(DeletionSerializer, request)
        if given["name"] != move.name:
            raise ValidationError({"name": f"Type the name as it stands: {move.name}"})
        if move.captures.filter(state=Capture.State.RUNNING).exists():
            raise Conflict("A capture of this move is running. Stop it first.")
        move_deletion.order(move)
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
