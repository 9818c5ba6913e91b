"""What a check of a comparison found, alike for all checks: rows by the page, groups, items, all as a file."""

from dataclasses import asdict
from typing import Any

import numpy as np
import orjson
from django.http import Http404, HttpResponse, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, streaming
from palinode.api.parameters import number
from palinode.api.serializers.check import GroupSerializer, ItemsSerializer, RowsPageSerializer
from palinode.core.checks import registry
from palinode.core.checks.check import Check
from palinode.records import exports, findings, grouping, outcome_items, outcome_rows, row_blocks
from palinode.records.models import CheckOutcome, ComparisonCheck
from palinode.records.outcome_rows import StoredRow

MOST_ROWS = 500
WANTS = "wanting"
"""Stands for all verdicts that want a person."""
MOST_FOUND = 10_000
"""Rows that a search counts; more are said to be there."""
TYPES = {"csv": "text/csv; charset=utf-8", "json": "application/json", "junit": "application/xml"}
ENDINGS = {"csv": "csv", "json": "json", "junit": "xml"}
_CHECK = OpenApiParameter("check", description="Name of the check.", location=OpenApiParameter.PATH)


class RowsView(APIView):
    """The rows of a check."""

    @extend_schema(
        operation_id="rows",
        parameters=[
            _CHECK,
            OpenApiParameter(
                "verdict",
                description=f"One verdict of the check, or {WANTS}: all that want a person.",
            ),
            OpenApiParameter("group", description="One group, of pages a section: /journal."),
            OpenApiParameter(
                "cause", OpenApiTypes.INT, description="Rows with findings of one of the standing's causes."
            ),
            OpenApiParameter("filter", description="An array of the check, and the number that it says: template:3."),
            OpenApiParameter("find", description="Part of what stands left or right, or of the title."),
            OpenApiParameter("order", enum=["worst", "address"]),
            OpenApiParameter("first", OpenApiTypes.INT, description="First row, from 0, within the choice."),
            OpenApiParameter("rows", OpenApiTypes.INT, description=f"At most {MOST_ROWS}."),
        ],
        responses=RowsPageSerializer,
    )
    def get(self, request: Request, pk: int, check: str) -> HttpResponse:
        """Return some rows of the choice, and the counts of every verdict in its group."""
        outcome = access.outcome(request, pk, check)
        words = [one.word for one in registry.BY_NAME[check].verdicts]
        query = request.query_params
        verdict = query["verdict"] if query.get("verdict") in (*words, WANTS) else None
        group = query.get("group") or None
        first, most = number(query, "first", 0, 10**9), number(query, "rows", 200, MOST_ROWS)
        # Within one verdict, rows stand by group and address, so that both orders are the same there.
        by_place = query.get("order") == "address" and verdict is None
        find = query.get("find", "").strip()
        chosen = _chosen(request, pk, outcome, query)
        if chosen is not None:
            return _of_ranks(outcome, chosen, verdict, group, by_place, find, first, most)
        spans = (
            outcome_rows.place_run(outcome, group)
            if by_place
            else outcome_rows.runs(outcome, _words(outcome, verdict), group)
        )
        order = "place" if by_place else "rank"
        total, at_least = sum(length for _, length in spans), False
        if find:
            found = outcome_rows.matching(outcome.pk, order, spans, find, MOST_FOUND + 1)
            at_least = len(found) > MOST_FOUND
            total = min(len(found), MOST_FOUND)
            rows = outcome_rows.rows_at(outcome, found[:total][first : first + most])
        else:
            rows = outcome_rows.page(outcome, order, _cut(spans, first, most))
        return _shown(outcome, rows, total, at_least, first, _counts(outcome, group))


class GroupsView(APIView):
    """The rows of a check in groups."""

    @extend_schema(
        operation_id="groups",
        parameters=[_CHECK, OpenApiParameter("by", description="group, cause, or a filter of the check.")],
        responses=GroupSerializer(many=True),
    )
    def get(self, request: Request, pk: int, check: str) -> Response:
        """Return the groups with how many rows of each verdict they have."""
        outcome = access.outcome(request, pk, check)
        by, filters = request.query_params.get("by", "group"), registry.BY_NAME[check].filters
        if by == "group":
            found = grouping.by_group(outcome)
        elif by == "cause":
            found = grouping.by_cause(access.comparison(request, pk), outcome)
        elif by in filters:
            found = grouping.by_filter(outcome, by)
        else:
            raise ValidationError({"by": f"Say one of: {', '.join(['group', 'cause', *filters])}."})
        return Response([asdict(one) for one in found])


class ItemsView(APIView):
    """What a row of a check stands for."""

    @extend_schema(
        operation_id="items",
        parameters=[_CHECK, OpenApiParameter("first", OpenApiTypes.INT), OpenApiParameter("rows", OpenApiTypes.INT)],
        responses=ItemsSerializer,
    )
    def get(self, request: Request, pk: int, check: str, rank: int) -> HttpResponse:
        """Return some of the items of a row, and how many there are."""
        outcome = access.outcome(request, pk, check)
        if rank >= outcome.rows:
            raise Http404
        query = request.query_params
        first, most = number(query, "first", 0, 10**9), number(query, "rows", 200, MOST_ROWS)
        return _json(items_plain(pk, outcome_items.of_row(outcome, rank, first, most), first))


class ExportView(APIView):
    """All rows of a check, as a file."""

    @extend_schema(
        operation_id="export_rows",
        parameters=[_CHECK, OpenApiParameter("as", enum=list(exports.FORMATS))],
        responses={(200, "text/csv"): OpenApiTypes.STR},
    )
    def get(self, request: Request, pk: int, check: str) -> StreamingHttpResponse:
        """Stream the rows as CSV (RFC 4180), JSON, or XML as build servers read test results."""
        outcome = access.outcome(request, pk, check)
        form = request.query_params.get("as", "csv")
        form = form if form in exports.FORMATS else "csv"
        return StreamingHttpResponse(
            streaming.later(exports.rows(outcome, form)),
            content_type=TYPES[form],
            headers={"Content-Disposition": f'attachment; filename="{check}-{pk}.{ENDINGS[form]}"'},
        )


def plain(outcome: CheckOutcome) -> dict[str, Any]:
    """Return what a check found, without its rows."""
    check = registry.BY_NAME[outcome.check_name]
    return {
        "name": check.name,
        "title": check.title,
        "view": check.view,
        "rows": outcome.rows,
        "verdicts": verdicts_plain(check, _counts(outcome, None)),
        "groups_label": check.groups_label,
        "group_headings": check.group_headings,
        "groups": [{"group": group, "rows": rows} for group, rows in outcome.groups],
        "filters": list(check.filters),
        "items": list(check.items),
        "unseen": outcome.unseen,
        "options": check.options is not None,
        "asks": check.asks is not None,
    }


def items_plain(comparison: int, listed: outcome_items.Listed, first: int) -> dict[str, Any]:
    """Return some of the items of a row or a finding."""
    pages: list[dict[str, Any]] = []
    if listed.of is not None:
        pages = rows_plain(listed.of, listed.pages)
        held = ComparisonCheck.objects.filter(comparison=comparison, outcome=listed.of, carried=False).exists()
        if not held:
            # Rows of a comparison before, whose ranks mean nothing in this one.
            pages = [page | {"rank": -1} for page in pages]
    return {"total": listed.total, "first": first, "rows": listed.rows, "pages": pages}


def verdicts_plain(check: Check, counts: dict[str, int]) -> list[dict[str, Any]]:
    """Return the verdicts of a check, with the number of rows of each."""
    return [
        {"word": one.word, "label": one.label, "thread": one.thread, "wants": one.wants, "rows": counts[one.word]}
        for one in check.verdicts
    ]


def rows_plain(outcome: CheckOutcome, rows: list[StoredRow]) -> list[dict[str, Any]]:
    """Return rows as they are shown, with the numbers that their check shows beside them."""
    names = list(registry.BY_NAME[outcome.check_name].shown)
    numbers = outcome_rows.numbers_of(outcome.pk, names, [row.rank for row in rows])
    return [row_plain(row, more) for row, more in zip(rows, numbers, strict=True)]


def row_plain(row: StoredRow, numbers: dict[str, Any]) -> dict[str, Any]:
    """Return a row as it is shown, with the numbers beside it."""
    return {**row._asdict(), "numbers": numbers}


def _words(outcome: CheckOutcome, verdict: str | None) -> set[str] | None:
    """Return the verdicts that a choice stands for; None for all."""
    if verdict != WANTS:
        return {verdict} if verdict else None
    return {one.word for one in registry.BY_NAME[outcome.check_name].verdicts if one.wants}


def _chosen(request: Request, pk: int, outcome: CheckOutcome, query: Any) -> np.ndarray | None:
    """Return the ranks that a cause or a filter names; None if a question names none."""
    if query.get("cause"):
        return findings.rows_of_cause(access.comparison(request, pk), outcome, number(query, "cause", 0, 32_000))
    if query.get("filter"):
        name, _, value = query["filter"].partition(":")
        if name not in registry.BY_NAME[outcome.check_name].filters:
            raise ValidationError({"filter": "This check has no such filter."})
        return grouping.of_filter(outcome, name, number({"filter": value}, "filter", 0, 32_000))
    return None


def _of_ranks(
    outcome: CheckOutcome,
    chosen: np.ndarray,
    verdict: str | None,
    group: str | None,
    by_place: bool,
    find: str,
    first: int,
    most: int,
) -> HttpResponse:
    """Return some of the rows with these ranks."""
    here = grouping.within(chosen, outcome_rows.runs(outcome, None, group))
    ranks = grouping.within(here, outcome_rows.runs(outcome, _words(outcome, verdict), group)).tolist()
    if by_place:
        spans, wanted = outcome_rows.place_run(outcome, group), set(ranks)
        ranks = [rank for span in spans for rank in outcome_rows.ranks_by_place(outcome.pk, *span) if rank in wanted]
    if find:
        ranks = row_blocks.matching_among(outcome.pk, ranks, find)
    rows = outcome_rows.rows_at(outcome, ranks[first : first + most])
    words = [one.word for one in registry.BY_NAME[outcome.check_name].verdicts]
    counts = dict.fromkeys(words, 0) | grouping.verdicts(outcome, here)
    return _shown(outcome, rows, len(ranks), False, first, counts)


def _shown(
    outcome: CheckOutcome, rows: list[StoredRow], total: int, at_least: bool, first: int, counts: dict[str, int]
) -> HttpResponse:
    found = {"total": total, "at_least": at_least, "first": first, "counts": counts}
    return _json(found | {"rows": rows_plain(outcome, rows)})


def _counts(outcome: CheckOutcome, group: str | None) -> dict[str, int]:
    counts = {one.word: 0 for one in registry.BY_NAME[outcome.check_name].verdicts}
    for verdict, name, rows in outcome.counts:
        if group is None or name == group:
            counts[verdict] += rows
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


def _json(found: Any) -> HttpResponse:
    return HttpResponse(orjson.dumps(found), content_type="application/json")
