"""A row of a ledger opened: both pages facing, what they refer to, and as they were stored."""

from typing import Any

import orjson
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import NotFound, ValidationError
from rest_framework.request import Request
from rest_framework.views import APIView

from palinode.api import access
from palinode.api.parameters import number
from palinode.api.serializers.comparison import (
    PairSerializer,
    ParagraphSerializer,
    ReferencesSerializer,
    SourceSerializer,
)
from palinode.api.views.checks import rows_plain
from palinode.records import outcome_rows, outcomes, page_rows
from palinode.records.models import Comparison
from palinode.records.page_rows import PageRow
from palinode.work import stored_page
from palinode.work.comparing import pair_view
from palinode.work.evidence import NotStored

MOST_PARAGRAPHS = 1_000
_SIDE = OpenApiParameter("side", enum=["left", "right"], default="left")


class PairView(APIView):
    """A row of the ledger, opened."""

    @extend_schema(operation_id="pair", responses=PairSerializer)
    def get(self, request: Request, pk: int, rank: int) -> HttpResponse:
        """Show both answers facing, with their head fields and texts."""
        comparison, row = _row(request, pk, rank)
        outcome = outcomes.of(comparison, page_rows.CHECK)
        assert outcome is not None
        (shown,) = rows_plain(outcome, outcome_rows.rows_at(outcome, [rank]))
        return _json({"row": shown, **pair_view.pair(comparison, row)})


class StretchView(APIView):
    """Paragraphs of a pair that are folded."""

    @extend_schema(
        operation_id="pair_stretch",
        parameters=[OpenApiParameter("first", int), OpenApiParameter("rows", int)],
        responses=ParagraphSerializer(many=True),
    )
    def get(self, request: Request, pk: int, rank: int) -> HttpResponse:
        """Show paragraphs that are the same on both sides, from a place of the left text on."""
        comparison, row = _row(request, pk, rank)
        first = number(request.query_params, "first", 0, 10**6)
        rows = number(request.query_params, "rows", MOST_PARAGRAPHS, MOST_PARAGRAPHS)
        return _json(pair_view.stretch(comparison, row, first, rows))


class ReferencesView(APIView):
    """Links, images and forms of a pair."""

    @extend_schema(operation_id="pair_references", responses=ReferencesSerializer)
    def get(self, request: Request, pk: int, rank: int) -> HttpResponse:
        """Show what both pages refer to, facing."""
        return _json(pair_view.references(*_row(request, pk, rank)))


class SourceView(APIView):
    """The stored markup of one page of a pair."""

    @extend_schema(operation_id="pair_source", parameters=[_SIDE], responses=SourceSerializer)
    def get(self, request: Request, pk: int, rank: int) -> HttpResponse:
        """Show it as text."""
        kept = pair_view.answer_of(*_row(request, pk, rank), _side(request))
        try:
            found = stored_page.source(kept.answer)
        except NotStored as error:
            raise NotFound(str(error)) from None
        return _json({"text": found.text, "length": found.length, "cut": found.cut})


class StoredPageView(APIView):
    """One page of a pair as it was stored, for a frame that runs nothing."""

    @extend_schema(
        operation_id="pair_stored_page", parameters=[_SIDE], responses={(200, "text/html"): OpenApiTypes.STR}
    )
    def get(self, request: Request, pk: int, rank: int) -> HttpResponse:
        """Send it under a policy that lets it do nothing and load nothing."""
        kept = pair_view.answer_of(*_row(request, pk, rank), _side(request))
        try:
            text = stored_page.alone(kept.answer, kept.address)
        except NotStored as error:
            raise NotFound(str(error)) from None
        return HttpResponse(
            text,
            content_type="text/html; charset=utf-8",
            headers={
                "Content-Security-Policy": stored_page.POLICY,
                "X-Frame-Options": "SAMEORIGIN",
                "X-Content-Type-Options": "nosniff",
                "Cache-Control": "no-store",
            },
        )


def _row(request: Request, pk: int, rank: int) -> tuple[Comparison, PageRow]:
    comparison = access.comparison(request, pk)
    row = page_rows.row(comparison, rank)
    if row is None:
        raise Http404
    return comparison, row


def _side(request: Request) -> str:
    side = request.query_params.get("side", "left")
    if side not in ("left", "right"):
        raise ValidationError({"side": "Say left or right."})
    return side


def _json(plain: Any) -> HttpResponse:
    return HttpResponse(orjson.dumps(plain), content_type="application/json")
