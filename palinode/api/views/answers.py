"""The answers of a capture: read a page at a time while it runs and afterwards, exported whole."""

import orjson
from django.http import HttpResponse, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, streaming
from palinode.api.parameters import number
from palinode.api.serializers.check import AnswersPageSerializer, CaptureSectionSerializer
from palinode.api.views.checks import ENDINGS, MOST_ROWS, TYPES, verdicts_plain
from palinode.core.checks.answers import CHECK
from palinode.records import answer_rows, exports


class AnswersView(APIView):
    """What a capture asked, and what it gave."""

    @extend_schema(
        operation_id="answers",
        parameters=[
            OpenApiParameter("verdict", description="What it gave; all without it."),
            OpenApiParameter(
                "filter", description="pages, unlinked, status:404, recognised:4, by:4, reason:TEXT, header:NAME …"
            ),
            OpenApiParameter("find", description="Part of an address or a title."),
            OpenApiParameter("first", OpenApiTypes.INT, description="First row, from 0, within the choice."),
            OpenApiParameter("rows", OpenApiTypes.INT, description=f"At most {MOST_ROWS}."),
        ],
        responses=AnswersPageSerializer,
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Return some rows in order of address, and the counts of every verdict in the choice."""
        capture, query = access.capture(request, pk), request.query_params
        verdict = query.get("verdict", "") if query.get("verdict") in {one.word for one in CHECK.verdicts} else ""
        first, most = number(query, "first", 0, 10**9), number(query, "rows", 200, MOST_ROWS)
        chosen, find = query.get("filter", ""), query.get("find", "").strip()
        try:
            counts = answer_rows.counts(capture, chosen, find)
            rows = answer_rows.page(capture, verdict, chosen, find, first, most)
        except answer_rows.FilterError as error:
            raise ValidationError({"filter": str(error)}) from None
        found = {
            "total": counts[verdict] if verdict else sum(counts.values()),
            "at_least": False,
            "first": first,
            "counts": counts,
            "verdicts": verdicts_plain(CHECK, counts),
            "rows": [row._asdict() | {"rank": first + at, "group": ""} for at, row in enumerate(rows)],
        }
        return HttpResponse(orjson.dumps(found), content_type="application/json")


class SectionsView(APIView):
    """The sections of a capture."""

    @extend_schema(operation_id="capture_sections", responses=CaptureSectionSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """Count its pages by the first segment of their paths."""
        found = answer_rows.sections(access.capture(request, pk))
        return Response([dict(zip(("section", "pages", "recognised"), one, strict=True)) for one in found])


class AnswersExportView(APIView):
    """All answers of a capture, as a file."""

    @extend_schema(
        operation_id="export_answers",
        parameters=[OpenApiParameter("as", enum=["csv", "json"])],
        responses={(200, "text/csv"): OpenApiTypes.STR},
    )
    def get(self, request: Request, pk: int) -> StreamingHttpResponse:
        """Stream them as CSV (RFC 4180) or JSON."""
        capture = access.capture(request, pk)
        form = "json" if request.query_params.get("as") == "json" else "csv"
        return StreamingHttpResponse(
            streaming.later(exports.answers(capture, form)),
            content_type=TYPES[form],
            headers={"Content-Disposition": f'attachment; filename="answers-{pk}.{ENDINGS[form]}"'},
        )
