"""Old addresses of a dump replaced: a dry run, and the dump written anew."""

from dataclasses import asdict

from django.http import Http404, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, streaming
from palinode.api.errors import Conflict
from palinode.api.serializers.replacement import ColumnChangeSerializer
from palinode.api.throttling import Drafts
from palinode.records.models import Capture
from palinode.work import replacing
from palinode.work.importing import site_file_reading
from palinode.work.readers import Unreadable

_IDENTIFIERS = OpenApiParameter(
    "identifiers", bool, description="Columns of identifiers (guid) are changed as well; readers show old items as new."
)


class DryRunView(APIView):
    """What a replacement would change in a dump."""

    throttle_classes = [Drafts]

    @extend_schema(operation_id="dry_run", parameters=[_IDENTIFIERS], responses=ColumnChangeSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """Say by table and column how many cells would change, with samples; nothing is kept."""
        try:
            found = replacing.changes(_dump(request, pk), "identifiers" in request.query_params)
        except (Unreadable, FileNotFoundError, *site_file_reading.ERRORS) as error:
            raise Conflict(f"The dump cannot be read now: {error}.") from None
        return Response(ColumnChangeSerializer(map(asdict, found), many=True).data)


class ReplacedView(APIView):
    """A dump with its old addresses replaced."""

    throttle_classes = [Drafts]

    @extend_schema(
        operation_id="replaced",
        parameters=[_IDENTIFIERS],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int) -> StreamingHttpResponse:
        """Download it, packed as it came; what was imported stays as it is."""
        capture = _dump(request, pk)
        pieces = replacing.pieces(capture, "identifiers" in request.query_params)
        name = replacing.name(capture).replace('"', "")
        return StreamingHttpResponse(
            streaming.later(pieces),
            content_type="application/octet-stream",
            headers={"Content-Disposition": f'attachment; filename="{name}"'},
        )


class StatementsView(APIView):
    """A replacement as statements."""

    throttle_classes = [Drafts]

    @extend_schema(
        operation_id="replacement_statements",
        parameters=[_IDENTIFIERS],
        responses={(200, "application/sql"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int) -> StreamingHttpResponse:
        """Download a statement for each cell that changes, for a database that is live already."""
        capture = _dump(request, pk)
        pieces = replacing.statements(capture, "identifiers" in request.query_params)
        return StreamingHttpResponse(
            streaming.later(pieces),
            content_type="application/sql",
            headers={"Content-Disposition": 'attachment; filename="replace-addresses.sql"'},
        )


def _dump(request: Request, pk: int) -> Capture:
    capture = access.capture(request, pk)
    if capture.kind != Capture.Kind.DUMP:
        raise Http404
    return capture
