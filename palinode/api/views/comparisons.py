"""Comparisons: make, read the ledger a page at a time, take all rows away."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np
import orjson
from django.db.models import F
from django.http import HttpResponse, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, streaming
from palinode.api.errors import Conflict
from palinode.api.parameters import number
from palinode.api.serializers.comparison import (
    FATES,
    ComparisonSerializer,
    GroupSerializer,
    LedgerPageSerializer,
    NewComparisonSerializer,
)
from palinode.records import exports, grouping, ledgers
from palinode.records.models import Capture, Comparison, Move
from palinode.work.comparing import comparison_job

MOST_ROWS = 500
MOST_FOUND = 10_000
"""Rows that a search counts; more are said to be there."""


_GROUPINGS = {"section": grouping.by_section, "cause": grouping.by_cause, "template": grouping.by_template}


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
        return Response(_plain(comparison_job.order(move, left, right)), status=201)


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
            OpenApiParameter(
                "cause", OpenApiTypes.INT, description="Rows with findings of one of the standing's causes."
            ),
            OpenApiParameter("template", OpenApiTypes.INT, description="Rows whose pages stand in one template."),
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
        first, most = number(query, "first", 0, 10**9), number(query, "rows", 200, MOST_ROWS)
        # Within one fate, rows stand by section and address, so that both orders are the same there.
        by_address = query.get("order") == "address" and fate is None
        spans = ledgers.place_run(comparison, section) if by_address else ledgers.runs(comparison, fate, section, FATES)
        order = "place" if by_address else "rank"
        group = _group(comparison, query)
        if group is not None:
            return _of_group(comparison, group, fate, section, by_address, query.get("find", "").strip(), first, most)
        total, at_least = sum(length for _, length in spans), False
        if find := query.get("find", "").strip():
            found = ledgers.matching(comparison.pk, order, spans, find, MOST_FOUND + 1)
            at_least = len(found) > MOST_FOUND
            total = min(len(found), MOST_FOUND)
            rows = ledgers.rows_at(comparison, found[:total][first : first + most])
        else:
            rows = ledgers.page(comparison, order, _cut(spans, first, most))
        return _shown(rows, total, at_least, first, _counts(comparison, section))


class GroupsView(APIView):
    """The rows of a comparison in groups."""

    @extend_schema(
        operation_id="groups",
        parameters=[OpenApiParameter("by", enum=list(_GROUPINGS), required=True)],
        responses=GroupSerializer(many=True),
    )
    def get(self, request: Request, pk: int) -> Response:
        """Return the groups with how many rows of each fate they have."""
        comparison = access.counted(request, pk)
        groups = _GROUPINGS.get(request.query_params.get("by", "section"))
        if groups is None:
            raise ValidationError({"by": f"Say one of: {', '.join(_GROUPINGS)}."})
        return Response([asdict(group) for group in groups(comparison)])


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


def _group(comparison: Comparison, query: Mapping[str, str]) -> np.ndarray | None:
    """Return the ranks of the group that a question names; None if it names none."""
    if query.get("cause"):
        return grouping.of_cause(comparison, number(query, "cause", 0, 32_000))
    if query.get("template"):
        return grouping.of_template(comparison, number(query, "template", 0, 32_000))
    return None


def _of_group(
    comparison: Comparison,
    group: np.ndarray,
    fate: int | None,
    section: str | None,
    by_address: bool,
    find: str,
    first: int,
    most: int,
) -> HttpResponse:
    """Return some rows of a group."""
    here = grouping.within(group, ledgers.runs(comparison, None, section, FATES))
    ranks = grouping.within(here, ledgers.runs(comparison, fate, section, FATES)).tolist()
    if by_address:
        spans, chosen = ledgers.place_run(comparison, section), set(ranks)
        ranks = [rank for span in spans for rank in ledgers.ranks_by_address(comparison.pk, *span) if rank in chosen]
    if find:
        ranks = ledgers.matching_among(comparison.pk, ranks, find)
    rows = ledgers.rows_at(comparison, ranks[first : first + most])
    return _shown(rows, len(ranks), False, first, dict.fromkeys(FATES, 0) | grouping.fates(comparison, here))


def _shown(rows: list[tuple[Any, ...]], total: int, at_least: bool, first: int, counts: dict[str, int]) -> HttpResponse:
    plain = {"total": total, "at_least": at_least, "first": first, "counts": counts}
    return HttpResponse(
        orjson.dumps(plain | {"rows": [row_plain(row) for row in rows]}), content_type="application/json"
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
    for fate, name, rows in comparison.counts:
        if section is None or name == section:
            counts[fate] += rows
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
        "findings": [dict(zip(("state", "weight", "kind", "number"), row, strict=True)) for row in one.findings],
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
