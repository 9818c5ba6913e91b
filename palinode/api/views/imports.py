"""Files that become captures: WARC files made elsewhere, archives of static pages, site files."""

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.capture import CaptureSerializer, capture_plain
from palinode.api.serializers.imported import (
    GoneSerializer,
    ImportSerializer,
    NewApiCaptureSerializer,
    NewDatabaseCaptureSerializer,
    NewImportSerializer,
    NewNumbersSerializer,
)
from palinode.gather.databases.account import PORTS, Account, Server
from palinode.work.importing import address_baseline, import_job


class ImportsView(APIView):
    """The imported files of a move."""

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="imports", responses=ImportSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List them, the latest first."""
        found = access.move(request, pk).imports.select_related("author")
        return Response(ImportSerializer(found, many=True).data)

    @extend_schema(operation_id="import_capture", request=NewImportSerializer, responses={201: ImportSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Import a file that becomes a capture of a side; it is read in the background."""
        move = access.move(request, pk)
        given = request_body.read(NewImportSerializer, request)
        file = given["file"]
        try:
            side, listed = given["side"], given["listing"]
            imported = import_job.order(move, side, file, file.name, request.user, listed)
        except import_job.ImportRefused as error:
            raise ValidationError({"file": str(error)}) from None
        return Response(ImportSerializer(imported).data, status=201)


class ImportStopView(APIView):
    """An import that is to be given up."""

    @extend_schema(operation_id="stop_import", request=None, responses=ImportSerializer)
    def post(self, request: Request, pk: int, imported: int) -> Response:
        """Stop an import that waits or is being read; nothing of it is kept."""
        found = get_object_or_404(access.move(request, pk).imports, pk=imported)
        if not import_job.stop(found, request.user):
            raise Conflict("This import has ended already.")
        found.refresh_from_db()
        return Response(ImportSerializer(found).data)


class ApiCaptureView(APIView):
    """The public API of a side, to become a capture."""

    @extend_schema(operation_id="capture_api", request=NewApiCaptureSerializer, responses={201: ImportSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Ask the public API of a side's content platform in the background, and keep what it says."""
        move = access.move(request, pk)
        given = request_body.read(NewApiCaptureSerializer, request)
        try:
            imported = import_job.order_api(move, given["side"], request.user, given["user_name"], given["password"])
        except import_job.ImportRefused as error:
            raise Conflict(str(error)) from None
        return Response(ImportSerializer(imported).data, status=201)


class DatabaseCaptureView(APIView):
    """The live database of a side, to become a capture."""

    @extend_schema(
        operation_id="capture_database", request=NewDatabaseCaptureSerializer, responses={201: ImportSerializer}
    )
    def post(self, request: Request, pk: int) -> Response:
        """Read a live database in the background, within a transaction that cannot write, and keep it as a dump."""
        move = access.move(request, pk)
        given = request_body.read(NewDatabaseCaptureSerializer, request)
        server = Server(given["server"])
        account = Account(
            server,
            given["host"].strip(),
            given.get("port") or PORTS[server],
            *(given[name] for name in ("database", "user_name", "password", "certified")),
        )
        try:
            imported = import_job.order_database(move, given["side"], request.user, account)
        except import_job.ImportRefused as error:
            raise Conflict(str(error)) from None
        return Response(ImportSerializer(imported).data, status=201)


class NumbersView(APIView):
    """Numbers that a person types, to become a capture."""

    @extend_schema(operation_id="type_numbers", request=NewNumbersSerializer, responses={201: ImportSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Keep a small table: what is counted and how many there are, one a line."""
        move = access.move(request, pk)
        given = request_body.read(NewNumbersSerializer, request)
        try:
            imported = import_job.keep_numbers(move, given["side"], given["text"], request.user)
        except import_job.ImportRefused as error:
            raise ValidationError({"text": str(error)}) from None
        return Response(ImportSerializer(imported).data, status=201)


class AddressBaselineView(APIView):
    """A baseline of addresses alone, for a source that is gone."""

    @extend_schema(operation_id="addresses_as_baseline", request=GoneSerializer, responses={201: CaptureSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Make a capture of all addresses that the source's database, exports and lists name, and name it."""
        move = access.move(request, pk)
        given = request_body.read(GoneSerializer, request)
        try:
            made = address_baseline.make(move, given["reason"], request.user)
        except address_baseline.NoAddressesError as error:
            raise Conflict(str(error)) from None
        return Response(capture_plain(made, made.pk, []), status=201)
