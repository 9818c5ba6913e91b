"""JSON listings of a move: the mappings by which they are read, tried before they are saved."""

from dataclasses import asdict

from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.serializers.listings import (
    ListingsSerializer,
    NewListingsSerializer,
    TriedSerializer,
    TrySerializer,
)
from palinode.core import options
from palinode.core.exports import json_listing
from palinode.core.exports.json_listing import JsonMapping, MappingError
from palinode.core.options import OptionError
from palinode.gather.platform_api import ApiRefusedError
from palinode.records.models import Move
from palinode.work.importing import json_mappings

_SHOWN = 10
"""Entries that are shown of what was tried."""


class ListingsView(APIView):
    """The JSON listings of a move."""

    @extend_schema(operation_id="listings", responses=ListingsSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Show their mappings, and what a mapping says."""
        return Response(_plain(access.move(request, pk)))

    @extend_schema(operation_id="save_listings", request=NewListingsSerializer, responses=ListingsSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Save mappings in the place of those before."""
        move = access.move(request, pk)
        given = request_body.read(NewListingsSerializer, request)
        try:
            json_mappings.keep(move, [json_mappings.read(one) for one in given["listings"]])
        except OptionError as error:
            raise ValidationError({error.option: str(error)}) from None
        except MappingError as error:
            raise ValidationError({error.field: str(error)}) from None
        return Response(_plain(move))


class TryListingView(APIView):
    """A mapping, tried on a side."""

    @extend_schema(operation_id="try_listing", request=TrySerializer, responses=TriedSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Ask the first page of a listing, and show what the mapping gives of it; nothing is kept."""
        move = access.move(request, pk)
        given = request_body.read(TrySerializer, request)
        try:
            mapping = json_mappings.read(given["mapping"])
            found = json_mappings.attempt(move, given["side"], mapping)
        except OptionError as error:
            raise ValidationError({error.option: str(error)}) from None
        except MappingError as error:
            raise ValidationError({error.field: str(error)}) from None
        except ApiRefusedError as error:
            raise ValidationError({"address": str(error)}) from None
        return Response({"entries": found.entries[:_SHOWN], "number": len(found.entries), "more": found.more})


def _plain(move: Move) -> dict[str, object]:
    return {
        "listings": [json_listing.plain(one) for one in json_mappings.of(move)],
        "options": [asdict(one) for one in options.described(JsonMapping)],
    }
