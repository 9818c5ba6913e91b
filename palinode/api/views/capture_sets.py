"""Sets: what was recorded beside a capture of pages, and belongs to the same baseline or round."""

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.capture import NewSetMemberSerializer, SetMemberSerializer, members_plain
from palinode.records import capture_sets, captures
from palinode.records.models import Capture
from palinode.work.comparing import comparison_job


class CaptureSetView(APIView):
    """The set of a capture of pages."""

    @extend_schema(operation_id="capture_set", responses=SetMemberSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List what belongs to it besides the capture of pages itself."""
        return Response(members_plain(access.capture(request, pk)))

    @extend_schema(
        operation_id="add_to_set", request=NewSetMemberSerializer, responses={201: SetMemberSerializer(many=True)}
    )
    def post(self, request: Request, pk: int) -> Response:
        """Add a capture, in the place of the one of its kind and name; what is compared now is compared anew."""
        head = access.capture(request, pk)
        given = request_body.read(NewSetMemberSerializer, request)
        capture = head.move.captures.filter(pk=given["capture"]).first()
        if capture is None:
            raise ValidationError({"capture": "This move has no capture of that number."})
        with transaction.atomic():
            try:
                capture_sets.add(head, capture)
            except capture_sets.SetError as error:
                raise Conflict(str(error)) from None
            _compare(head)
        return Response(members_plain(head), status=201)


class CaptureSetMemberView(APIView):
    """A capture that belongs to a set."""

    @extend_schema(operation_id="remove_from_set", responses=SetMemberSerializer(many=True))
    def delete(self, request: Request, pk: int, number: int) -> Response:
        """Take it out of the set; the capture itself stays. What is compared now is compared anew."""
        head = access.capture(request, pk)
        with transaction.atomic():
            capture = head.move.captures.filter(pk=number).first()
            if capture is None or not capture_sets.remove(head, capture):
                raise Http404
            _compare(head)
        return Response(members_plain(head))


def _compare(head: Capture) -> None:
    """Order the comparison of the baseline with the latest round, if the set is one of them."""
    latest = captures.latest(head.move, "destination")
    if head.pk in (head.move.baseline_id, latest.pk if latest else None):
        comparison_job.order_latest(head.move)
