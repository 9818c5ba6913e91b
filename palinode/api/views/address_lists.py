"""Addresses that people bring in lists, for the next captures of a side."""

from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access
from palinode.api.serializers.address_lists import BringSerializer, BroughtSerializer, OutcomeSerializer
from palinode.core.documents.address_list import ColumnError
from palinode.gather.lists import ListError
from palinode.records import address_lists
from palinode.work.importing import address_lists as imports


class BroughtView(APIView):
    """What was brought for the sides of a move."""

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="brought", responses=BroughtSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Count it."""
        return Response(address_lists.count(access.move(request, pk)))

    @extend_schema(operation_id="bring", request=BringSerializer, responses={201: OutcomeSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Bring a list: all of it, or nothing with the reason."""
        move = access.move(request, pk)
        given = BringSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        file = given.validated_data["file"]
        try:
            outcome = imports.bring(
                move, given.validated_data["side"], file, file.name, request.user, given.validated_data["column"]
            )
        except ListError as error:
            raise ValidationError({"file": str(error)}) from None
        except ColumnError as error:
            raise ValidationError({"column": str(error)}) from None
        tally = outcome.tally
        return Response(
            {
                "new": outcome.new,
                "lines": tally.lines,
                "listed": tally.named["list"],
                "logged": tally.named["log"],
                "elsewhere": tally.elsewhere,
                "failed": tally.failed,
                "unread": tally.unread,
                "examples": tally.examples,
            },
            status=201,
        )


class BroughtSideView(APIView):
    """What was brought for one side."""

    @extend_schema(operation_id="forget_brought", responses={204: None})
    def delete(self, request: Request, pk: int, side: str) -> Response:
        """Let go of it; captures that asked for it stay as they are."""
        address_lists.forget(access.move(request, pk), side)
        return Response(status=204)
