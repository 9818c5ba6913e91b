"""What checks want asked anew, on a person's word."""

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access
from palinode.api.errors import Conflict
from palinode.api.serializers.capture import CaptureSerializer, capture_plain
from palinode.api.throttling import Outward
from palinode.work.capturing import asking


class AskView(APIView):
    """Check now."""

    throttle_classes = [Outward]

    @extend_schema(operation_id="ask", request=None, responses={201: CaptureSerializer(many=True)})
    def post(self, request: Request, pk: int) -> Response:
        """Ask what the checks want of both sides; a comparison follows when it is answered."""
        move = access.move(request, pk)
        try:
            begun = asking.order(move)
        except asking.AskingError as error:
            raise Conflict(str(error)) from None
        return Response([capture_plain(one, move.baseline_id, []) for one in begun], status=201)
