"""Evidence: what is kept of a move, verified, for how long, and all of it as one archive."""

import re
from typing import Any

from django.db import connection
from django.http import StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body, streaming
from palinode.api.errors import Conflict
from palinode.api.serializers.evidence import EvidenceSerializer, NewArchiveSerializer, RetentionSerializer
from palinode.api.serializers.move import MoveSerializer, move_plain
from palinode.records.models import Capture, Move
from palinode.work import evidence_check
from palinode.work.importing import archive_process, archives
from palinode.work.readers import Unreadable


class EvidenceView(APIView):
    """The evidence of a move."""

    @extend_schema(operation_id="evidence", responses=EvidenceSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show the kept files with their digests, and what was imported."""
        return Response(_plain(access.move(request, pk)))

    @extend_schema(operation_id="set_retention", request=RetentionSerializer, responses=EvidenceSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Say for how long the files of old captures are kept; facts stay for as long as the move."""
        move = access.own_move(request, pk)
        given = request_body.read(RetentionSerializer, request)
        move.keep_days = given["keep_days"]
        move.save(update_fields=["keep_days"])
        return Response(_plain(move))


class VerifyView(APIView):
    """Verifying the evidence of a move."""

    @extend_schema(operation_id="verify_evidence", request=None, responses={202: EvidenceSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Read every file again and check it, in the background."""
        move = access.move(request, pk)
        if not evidence_check.order(move):
            raise Conflict("The evidence is being verified already.")
        return Response(_plain(move), status=202)


class ArchiveView(APIView):
    """Everything of a move as one archive."""

    @extend_schema(operation_id="take_archive", responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> StreamingHttpResponse:
        """Stream it: a ZIP with the WARC files, the rows as text, and the digests of all."""
        move = access.move(request, pk)
        if move.captures.exclude(state=Capture.State.CLOSED).exists():
            raise Conflict("A capture of this move is not closed yet. Stop it, or wait for it.")
        name = re.sub(r"[^A-Za-z0-9.-]+", "-", move.name).strip("-") or "move"
        return StreamingHttpResponse(
            streaming.later(archives.export_move(move)),
            content_type="application/zip",
            headers={"Content-Disposition": f'attachment; filename="{name}.palinode.zip"'},
        )


class ArchivesView(APIView):
    """Archives of moves."""

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="import_archive", request=NewArchiveSerializer, responses={201: MoveSerializer})
    def post(self, request: Request) -> Response:
        """Make a move of it: all of it, or nothing with the reason."""
        given = request_body.read(NewArchiveSerializer, request)
        file = given["file"]
        try:
            number = archive_process.import_move(file, file.name, file.size, request.user.pk)
        except archives.ArchiveRefused as error:
            raise ValidationError({"file": str(error)}) from None
        except Unreadable as error:
            raise ValidationError({"file": f"{file.name} {error}. Nothing of it was kept."}) from None
        return Response(move_plain(access.move(request, number), "owner"), status=201)


def _plain(move: Move) -> dict[str, Any]:
    found = move.captures.prefetch_related("segments").select_related("file").defer("file__contents")
    captures = [_capture(one, move.baseline_id) for one in found]
    return dict(
        EvidenceSerializer(
            {
                "captures": captures,
                "imports": move.imports.select_related("author"),
                "bytes": sum(one["bytes"] for one in captures),
                "verifying": evidence_check.under_way(move),
                "keep_days": move.keep_days,
            }
        ).data
    )


def _capture(capture: Capture, baseline: int | None) -> dict[str, Any]:
    segments = list(capture.segments.all())
    file = capture.file if capture.kind in Capture.SITE_FILES else None
    return {
        "id": capture.pk,
        "side": capture.which,
        "round": capture.round,
        "baseline": capture.pk == baseline,
        "kind": capture.kind,
        "started_at": capture.started_at,
        "bytes": sum(one.bytes for one in segments if one.let_go_at is None) + (file.bytes if file else 0),
        "rests_on": _rests_on(capture) if capture.parent_id else [],
        "segments": segments,
        "file": file,
    }


def _rests_on(capture: Capture) -> list[int]:
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT DISTINCT s.capture_id FROM records_segment s WHERE s.id IN "
            "(SELECT DISTINCT segment_id FROM records_answer WHERE capture_id = %s) AND s.capture_id <> %s ORDER BY 1",
            [capture.pk, capture.pk],
        )
        return [row[0] for row in cursor.fetchall()]
