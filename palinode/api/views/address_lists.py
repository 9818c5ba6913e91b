"""Addresses that people import in lists, for the next captures of a side."""

from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.serializers.address_lists import AddressListsSerializer, NewAddressListSerializer, OutcomeSerializer
from palinode.core.documents.address_list import ColumnError
from palinode.gather.lists import ListError
from palinode.records import address_lists
from palinode.work.importing import address_lists as imports


class AddressListsView(APIView):
    """How many addresses were imported for the sides of a move."""

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="address_lists", responses=AddressListsSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Count it."""
        return Response(address_lists.count(access.move(request, pk)))

    @extend_schema(
        operation_id="import_addresses", request=NewAddressListSerializer, responses={201: OutcomeSerializer}
    )
    def post(self, request: Request, pk: int) -> Response:
        """Import a list: all of it, or nothing with the reason."""
        move = access.move(request, pk)
        given = request_body.read(NewAddressListSerializer, request)
        file = given["file"]
        try:
            outcome = imports.import_list(
                move,
                given["side"],
                file,
                file.name,
                request.user,
                given["column"],
                given["host"],
            )
        except ListError as error:
            raise ValidationError({"file": str(error)}) from None
        except ColumnError as error:
            raise ValidationError({"column": str(error)}) from None
        except imports.HostError as error:
            raise ValidationError({"host": str(error)}) from None
        tally = outcome.tally
        return Response(
            {
                "new": outcome.new,
                "lines": tally.lines,
                "listed": tally.named["list"],
                "logged": tally.named["log"],
                "visits": tally.visits,
                "elsewhere": tally.elsewhere,
                "failed": tally.failed,
                "unread": tally.unread,
                "examples": tally.examples,
            },
            status=201,
        )


class SideAddressListView(APIView):
    """How many addresses were imported for one side."""

    @extend_schema(operation_id="delete_addresses", responses={204: None})
    def delete(self, request: Request, pk: int, side: str) -> Response:
        """Let go of it; captures that asked for it stay as they are."""
        address_lists.forget(access.move(request, pk), side)
        return Response(status=204)
