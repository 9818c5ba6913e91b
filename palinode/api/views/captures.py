"""Captures: list, begin, pause, resume, stop, read again, take the WARC files away."""

from abc import abstractmethod
from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from django.http import FileResponse, Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema, extend_schema_view
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.capture import (
    CaptureSerializer,
    ContentsSerializer,
    CourseSerializer,
    LimitsSerializer,
    NamingSerializer,
    NewCaptureSerializer,
    PointSaidSerializer,
    SegmentSerializer,
    capture_plain,
)
from palinode.api.serializers.options import DescribedOptionSerializer
from palinode.core import fit, options
from palinode.core import rule as rules
from palinode.core.options import OptionError
from palinode.records import address_mentions, capture_stats, captures, frontier
from palinode.records.folder import Folder
from palinode.records.models import Capture, CaptureFile, Share
from palinode.work import tasks
from palinode.work.capturing import capture_end, capture_job
from palinode.work.capturing import recapture as going_on
from palinode.work.capturing.policy import Policy
from palinode.work.capturing.recapture import AgainError

_AGAIN = ("parent", "what", "section", "addresses")


class CapturesView(APIView):
    """The captures of a move."""

    @extend_schema(operation_id="captures", responses=CaptureSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List them, the latest first."""
        move = access.move(request, pk)
        # What a file holds is long, and nothing of it is listed.
        found = move.captures.select_related("file").defer("file__contents").prefetch_related("set_members__capture")
        return Response([_plain(capture, move.baseline_id) for capture in found])

    @extend_schema(operation_id="begin_capture", request=NewCaptureSerializer, responses={201: CaptureSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Begin a capture of one side."""
        move = access.move(request, pk)
        given = request_body.read(NewCaptureSerializer, request)
        side = given["side"]
        asked = given.get("again")
        try:
            policy = Policy.read(dict(given.get("options") or {}))
            again = going_on.read(move, side, *(asked[one] for one in _AGAIN)) if asked else None
            capture = capture_job.begin(move, side, policy, again)
        except OptionError as error:
            raise ValidationError({f"options.{error.option}": str(error)}) from None
        except AgainError as error:
            raise ValidationError({f"again.{error.field}": str(error)}) from None
        except capture_job.Busy:
            raise Conflict("This side is being captured already. Stop that capture, or wait for it.") from None
        return Response(_plain(capture, move.baseline_id), status=201)


class CaptureOptionsView(APIView):
    """The options of a capture."""

    @extend_schema(operation_id="capture_options", responses=DescribedOptionSerializer(many=True))
    def get(self, request: Request) -> Response:
        """List them, with what each means and its default."""
        return Response([asdict(one) for one in options.described(Policy)])


class CaptureView(APIView):
    """One capture."""

    @extend_schema(operation_id="capture", responses=CaptureSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show it with its files."""
        capture = access.capture(request, pk)
        return Response(_plain(capture, capture.move.baseline_id, whole=True))


class CourseView(APIView):
    """The course of a capture, live and afterwards."""

    @extend_schema(operation_id="course", responses=CourseSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show its answers over time, what answered, and how addresses became known."""
        found = capture_stats.of(access.capture(request, pk))
        return Response(
            {
                "step": found.step,
                "points": [asdict(one) for one in found.points],
                "answered": [{"what": what, "number": number} for what, number in found.answered.items()],
                "known": [
                    {"by": by, "bit": bit, "known": known, "answered": answered}
                    for by, bit, known, answered in found.known
                ],
                "unlinked": dict(
                    zip(("by", "bit", "known", "answered"), ("unlinked", 0, *found.unlinked), strict=True)
                ),
                "not_fetched": [{"what": what, "number": number} for what, number in found.not_fetched.items()],
                "left_out": [{"what": what, "number": number} for what, number in found.left_out.items()],
                "header_fields": [asdict(one) for one in found.header_fields],
            }
        )


def _changes(operation: str) -> Callable[[type], type]:
    """Describe a view that changes a capture's state."""
    return extend_schema_view(post=extend_schema(operation_id=operation, request=None, responses=CaptureSerializer))


class _Change(APIView):
    """A change of a capture's state."""

    refused = ""

    @abstractmethod
    def change(self, request: Request, capture: Capture) -> bool:
        """Do it; False if the present state does not allow it."""

    def post(self, request: Request, pk: int) -> Response:
        """Do it, or say why not."""
        capture = access.capture(request, pk)
        if not self.change(request, capture):
            raise Conflict(self.refused)
        capture.refresh_from_db()
        return Response(_plain(capture, capture.move.baseline_id))


@_changes("pause_capture")
class PauseView(_Change):
    """Pause a capture."""

    refused = "Only a running capture can be paused."

    def change(self, request: Request, capture: Capture) -> bool:
        """Pause; what is under way is finished and kept."""
        return captures.pause(capture, f"Paused by {request.user.get_username()}.")


@_changes("resume_capture")
class ResumeView(_Change):
    """Resume a capture."""

    refused = "Only a paused capture can be resumed."

    def change(self, request: Request, capture: Capture) -> bool:
        """Resume where it was."""
        return capture_job.resume(capture)


@_changes("stop_capture")
class StopView(_Change):
    """Stop a capture."""

    refused = "This capture is closed already."

    def change(self, request: Request, capture: Capture) -> bool:
        """Close it with what is there; what is under way is stored first."""
        return capture_end.end(capture, f"stopped by {request.user.get_username()}")


@_changes("read_again")
class ReadAgainView(_Change):
    """Read a capture again."""

    refused = "Only a closed capture can be read again."

    def change(self, request: Request, capture: Capture) -> bool:
        """Make the facts anew from the WARC files, in the background."""
        if capture.state != Capture.State.CLOSED:
            return False
        tasks.read_again.defer(capture_id=capture.pk)
        return True


class NamingView(APIView):
    """The pages of a copy that name its temporary or its final address."""

    @extend_schema(
        operation_id="pages_naming",
        parameters=[OpenApiParameter("form", enum=["temporary", "final"], required=True)],
        responses=NamingSerializer,
    )
    def get(self, request: Request, pk: int) -> Response:
        """List the pages in which the address stands written out, with its host."""
        capture = access.capture(request, pk)
        forms = rules.read(capture.move.rule).forms
        if forms is None or capture.which != "destination":
            raise Conflict("This move has no temporary address. Its rule names one as FINAL at TEMPORARY.")
        form = request.query_params.get("form")
        if form not in ("temporary", "final"):
            raise ValidationError({"form": "Say temporary or final."})
        folders = [one.temporary if form == "temporary" else one.final for one in forms.pairs]
        found = address_mentions.pages(capture, folders)
        rows = [asdict(one) for one in found[: address_mentions.MOST]]
        return Response({"folders": folders, "pages": rows, "more": len(found) > address_mentions.MOST})


class SegmentView(APIView):
    """One WARC file."""

    @extend_schema(operation_id="segment", responses={(200, "application/warc"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int, number: int) -> HttpResponse:
        """Download it; a segment is bounded, so it is sent whole."""
        segment = access.capture(request, pk).segments.filter(number=number, let_go_at=None).first()
        if segment is None:
            raise Http404
        with Folder(segment.capture.move_id).open(segment.name) as file:
            data = file.read()
        name = segment.name.rpartition("/")[2]
        return HttpResponse(
            data, content_type="application/warc", headers={"Content-Disposition": f'attachment; filename="{name}"'}
        )


class CaptureContentsView(APIView):
    """What a dump, an export or a list of files holds."""

    @extend_schema(operation_id="capture_contents", responses=ContentsSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show what was read of it."""
        file = _file(access.capture(request, pk))
        return Response(ContentsSerializer(file.contents | {"file": file.name, "bytes": file.bytes}).data)


class FitView(APIView):
    """Whether a dump fits a new host."""

    @extend_schema(operation_id="capture_fit", request=LimitsSerializer, responses=PointSaidSerializer(many=True))
    def post(self, request: Request, pk: int) -> Response:
        """Hold what the dump holds against the limits of a host; nothing is kept."""
        file = _file(access.capture(request, pk))
        given = request_body.read(LimitsSerializer, request)
        try:
            limits = options.read(fit.Limits, given["limits"])
        except OptionError as error:
            raise ValidationError({error.option: str(error)}) from None
        return Response([asdict(one) for one in fit.points(file.contents, file.bytes, limits)])

    @extend_schema(operation_id="fit_limits", responses=DescribedOptionSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List the limits that can be given."""
        access.capture(request, pk)
        return Response([asdict(one) for one in options.described(fit.Limits)])


class CaptureFileView(APIView):
    """The file that a capture was made of."""

    @extend_schema(operation_id="capture_file", responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> FileResponse:
        """Download it as it was imported."""
        file = _file(access.capture(request, pk))
        opened = Folder(file.capture.move_id).open(file.stored)
        return FileResponse(opened, as_attachment=True, filename=file.name, content_type="application/octet-stream")


def _file(capture: Capture) -> CaptureFile:
    found = CaptureFile.objects.filter(capture=capture).first()
    if found is None:
        raise Http404
    return found


def _plain(capture: Capture, baseline: int | None, whole: bool = False) -> dict[str, Any]:
    shares: list[dict[str, Any]] = []
    if capture.state in (Capture.State.RUNNING, Capture.State.ENDING):
        living = frontier.living_shares(capture)
        shares = list(Share.objects.filter(pk__in=living).order_by("pk").values_list("progress", flat=True))
    plain = capture_plain(capture, baseline, shares)
    if whole:
        plain["segments"] = SegmentSerializer(capture.segments.all(), many=True).data
    return plain
