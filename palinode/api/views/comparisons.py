"""Comparisons: make, read the ledger a page at a time, open a pair, take all rows away."""

from typing import Any

import orjson
from django.db.models import F
from django.http import Http404, HttpResponse, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, streaming
from palinode.api.errors import Conflict
from palinode.api.serializers.comparison import (
    FATES,
    ComparisonSerializer,
    LedgerPageSerializer,
    NewComparisonSerializer,
    PairSerializer,
)
from palinode.records import exports, ledgers
from palinode.records.models import Capture, Comparison, LedgerRow, Move
from palinode.work import comparing, facing

MOST_ROWS = 500
MOST_FOUND = 10_000
"""Rows that a search counts; more are said to be there."""


class ComparisonsView(APIView):
    """The comparisons of a move."""

    @extend_schema(operation_id="comparisons", responses=ComparisonSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List those of source and destination, the latest first."""
        found = access.move(request, pk).comparisons.select_related("left", "right", "move")
        found = found.exclude(left__which=F("right__which"))
        return Response([_plain(one) for one in found[:50]])

    @extend_schema(operation_id="compare", request=NewComparisonSerializer, responses={201: ComparisonSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Compare the baseline with the latest round, or two captures that are named."""
        move = access.move(request, pk)
        given = NewComparisonSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        left = _capture(move, given.validated_data.get("left"), "source")
        right = _capture(move, given.validated_data.get("right"), "destination")
        if left.access.get("base") != right.access.get("base") and left.which == right.which:
            raise Conflict("The side had another address when the first of them was made.")
        return Response(_plain(comparing.order(move, left, right)), status=201)


class ComparisonView(APIView):
    """One comparison."""

    @extend_schema(operation_id="comparison", responses=ComparisonSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show its standing, its sections and counts."""
        return Response(_plain(access.comparison(request, pk)))


class LedgerView(APIView):
    """The rows of a comparison."""

    @extend_schema(
        operation_id="pages",
        parameters=[
            OpenApiParameter("fate", enum=FATES, description="One fate; all without it."),
            OpenApiParameter("section", description="One section, as /journal."),
            OpenApiParameter("find", description="Part of a path or title."),
            OpenApiParameter("order", enum=["worst", "address"]),
            OpenApiParameter("first", OpenApiTypes.INT, description="First row, from 0, within the choice."),
            OpenApiParameter("rows", OpenApiTypes.INT, description=f"At most {MOST_ROWS}."),
        ],
        responses=LedgerPageSerializer,
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Return some rows of the choice, and the counts of every fate in its section."""
        comparison = access.counted(request, pk)
        query = request.query_params
        fate = FATES.index(query["fate"]) if query.get("fate") in FATES else None
        section = query.get("section") or None
        first, most = _number(query, "first", 0, 10**9), _number(query, "rows", 200, MOST_ROWS)
        # Within one fate, rows stand by section and address, so that both orders are the same there.
        by_address = query.get("order") == "address" and fate is None
        spans = ledgers.place_run(comparison, section) if by_address else ledgers.runs(comparison, fate, section, FATES)
        order = "place" if by_address else "rank"
        total, at_least = sum(length for _, length in spans), False
        if find := query.get("find", "").strip():
            found = ledgers.matching(comparison.pk, order, spans, find, MOST_FOUND + 1)
            at_least = len(found) > MOST_FOUND
            total = min(len(found), MOST_FOUND)
            rows = ledgers.rows_at(comparison, found[:total][first : first + most])
        else:
            rows = ledgers.page(comparison, order, _cut(spans, first, most))
        return HttpResponse(
            orjson.dumps(
                {
                    "total": total,
                    "at_least": at_least,
                    "first": first,
                    "counts": _counts(comparison, section),
                    "rows": [row_plain(row) for row in rows],
                }
            ),
            content_type="application/json",
        )


class PairView(APIView):
    """A row of the ledger, opened."""

    @extend_schema(operation_id="pair", responses=PairSerializer)
    def get(self, request: Request, pk: int, rank: int) -> HttpResponse:
        """Show both answers facing, with their head fields and texts."""
        comparison = access.comparison(request, pk)
        row = LedgerRow.objects.filter(comparison_id=comparison.pk, rank=rank).first()
        if row is None:
            raise Http404
        shown = row_plain(ledgers.rows_at(comparison, [rank])[0])
        return HttpResponse(
            orjson.dumps({"row": shown, **facing.pair(comparison, row)}), content_type="application/json"
        )


class ExportView(APIView):
    """All rows of a comparison, as a file."""

    @extend_schema(
        operation_id="export_pages",
        parameters=[OpenApiParameter("as", enum=["csv", "json"])],
        responses={(200, "text/csv"): OpenApiTypes.STR},
    )
    def get(self, request: Request, pk: int) -> StreamingHttpResponse:
        """Stream the rows as CSV (RFC 4180) or JSON."""
        comparison = access.comparison(request, pk)
        kind = "json" if request.query_params.get("as") == "json" else "csv"
        lines = exports.as_json(comparison) if kind == "json" else exports.as_csv(comparison)
        return StreamingHttpResponse(
            streaming.later(lines),
            content_type="application/json" if kind == "json" else "text/csv; charset=utf-8",
            headers={"Content-Disposition": f'attachment; filename="pages-{comparison.pk}.{kind}"'},
        )


def row_plain(row: tuple[Any, ...]) -> dict[str, Any]:
    """Return a row of the ledger as it is shown."""
    fate, section, rank, left, title, right, detail, content, left_status, right_status = row
    return {
        "rank": rank,
        "fate": fate,
        "section": section,
        "left_address": left,
        "left_title": title,
        "right_address": right,
        "detail": detail,
        "content_change": content,
        "left_status": left_status,
        "right_status": right_status,
    }


def _counts(comparison: Comparison, section: str | None) -> dict[str, int]:
    counts = dict.fromkeys(FATES, 0)
    for fate, name, number in comparison.counts:
        if section is None or name == section:
            counts[fate] += number
    return counts


def _cut(spans: list[tuple[int, int]], first: int, most: int) -> list[tuple[int, int]]:
    """Return the part of some spans that begins at the ``first`` row of them and has ``most`` rows."""
    cut = []
    for start, length in spans:
        skipped = min(first, length)
        taken = min(most, length - skipped)
        if taken > 0:
            cut.append((start + skipped, taken))
        first -= skipped
        most -= max(taken, 0)
    return cut


def _number(query: Any, name: str, default: int, most: int) -> int:
    text = query.get(name, "")
    if not text:
        return default
    if not text.isdigit():
        raise ValidationError({name: "Give a whole number."})
    return min(int(text), most)


def _capture(move: Move, pk: int | None, which: str) -> Capture:
    closed = move.captures.filter(state=Capture.State.CLOSED)
    if pk is not None:
        found = closed.filter(pk=pk).first()
        if found is None:
            raise ValidationError("This capture is not there, or not closed yet.")
        return found
    if which == "source":
        if move.baseline is None:
            raise Conflict("There is no baseline yet. Capture the source, then name the capture as baseline.")
        return move.baseline
    found = closed.filter(which=which).first()
    if found is None:
        raise Conflict("There is no closed capture of the destination yet.")
    return found


def _plain(one: Comparison) -> dict[str, Any]:
    return {
        "id": one.pk,
        "state": one.state,
        "why": one.why,
        "left": _head(one.left, one.move),
        "right": _head(one.right, one.move),
        "counts": [dict(zip(("fate", "section", "rows"), row, strict=True)) for row in one.counts],
        "sections": [dict(zip(("section", "rows"), row, strict=True)) for row in one.sections],
        "crossing": [dict(zip(("left", "right", "fate", "rows"), row, strict=True)) for row in one.crossing],
        "standing": one.standing or None,
        "created_at": one.created_at,
    }


def _head(capture: Capture, move: Move) -> dict[str, Any]:
    lines = capture.access.get("connect_to") or []
    return {
        "id": capture.pk,
        "side": capture.which,
        "base": capture.access.get("base") or move.side(capture.which).base,
        "round": capture.round,
        "pages": capture.pages,
        "complete": capture.complete,
        "reached": lines[0].partition(" to ")[2] if lines else "",
        "started_at": capture.started_at,
    }
