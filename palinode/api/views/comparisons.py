"""Comparisons: made, and shown without their rows."""

from collections import defaultdict
from collections.abc import Sequence
from typing import Any

from django.db.models import F
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.comparison import ComparisonSerializer, NewComparisonSerializer
from palinode.api.views import checks
from palinode.core import address as addresses
from palinode.core.causes import cause_kind
from palinode.core.checks import registry
from palinode.records import captures
from palinode.records.models import Capture, CheckOutcome, Comparison, ComparisonCapture, ComparisonCheck, Move
from palinode.work.comparing import comparison_job


class ComparisonsView(APIView):
    """The comparisons of a move."""

    @extend_schema(operation_id="comparisons", responses=ComparisonSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List those of source and destination, the latest first."""
        found = access.move(request, pk).comparisons.select_related("left", "right", "move", "judgement")
        found = found.exclude(left__which=F("right__which"))
        return Response(_plain(found[:50]))

    @extend_schema(operation_id="compare", request=NewComparisonSerializer, responses={201: ComparisonSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Compare the baseline with the latest round, or two captures that are named."""
        move = access.move(request, pk)
        given = request_body.read(NewComparisonSerializer, request)
        left = _capture(move, given.get("left"), "source")
        right = _capture(move, given.get("right"), "destination")
        if left.bases[:1] != right.bases[:1] and left.which == right.which:
            raise Conflict("The side had another address when the first of them was made.")
        return Response(_plain([comparison_job.order(move, left, right)])[0], status=201)


class ComparisonView(APIView):
    """One comparison."""

    @extend_schema(operation_id="comparison", responses=ComparisonSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show its standing, its sections and counts."""
        return Response(_plain([access.comparison(request, pk)])[0])


def _capture(move: Move, pk: int | None, which: str) -> Capture:
    if pk is not None:
        found = captures.closed(move, pk=pk).first()
        if found is None:
            raise ValidationError("This capture is not there, not closed yet, or holds no pages.")
        return found
    if which == "source":
        if move.baseline is None:
            raise Conflict("There is no baseline yet. Capture the source, then name the capture as baseline.")
        return move.baseline
    found = captures.latest(move, which)
    if found is None:
        raise Conflict("There is no closed capture of the destination yet.")
    return found


def _plain(comparisons: Sequence[Comparison]) -> list[dict[str, Any]]:
    held: dict[int, list[CheckOutcome]] = defaultdict(list)
    rows = ComparisonCheck.objects.filter(comparison__in=[one.pk for one in comparisons], carried=False)
    for row in rows.select_related("outcome"):
        held[row.comparison_id].append(row.outcome)
    members = ComparisonCapture.objects.filter(comparison__in=[one.pk for one in comparisons], side="right")
    asked = dict(members.filter(capture__kind=Capture.Kind.ASKED).values_list("comparison_id", "capture__started_at"))
    return [
        {
            "id": one.pk,
            "state": one.state,
            "why": one.why,
            "left": _head(one.left, one.move),
            "right": _head(one.right, one.move),
            "checks": [checks.plain(outcome) for outcome in held[one.pk]],
            "crossing": [dict(zip(("left", "right", "fate", "rows"), row, strict=True)) for row in one.crossing],
            "findings": [
                {"state": state, "weight": weight, "kind": kind, "label": registry.KINDS[kind].label, "number": number}
                for state, weight, kind, number in one.counts
            ],
            "standing": _standing(one) if one.standing else None,
            "judgement": one.judgement_id,
            "asked_at": asked.get(one.pk),
            "created_at": one.created_at,
        }
        for one in comparisons
    ]


def _standing(one: Comparison) -> dict[str, Any]:
    return {**one.standing, "causes": [cause_kind.told(cause) for cause in one.standing.get("causes", [])]}


def _head(capture: Capture, move: Move) -> dict[str, Any]:
    lines = capture.access.get("connect_to") or []
    return {
        "id": capture.pk,
        "side": capture.which,
        "base": capture.access.get("base") or move.side(capture.which).base,
        "further": [addresses.split(base).host for base in capture.bases[1:]],
        "round": capture.round,
        "pages": capture.pages,
        "complete": capture.complete,
        "reached": lines[0].partition(" to ")[2] if lines else "",
        "started_at": capture.started_at,
    }
