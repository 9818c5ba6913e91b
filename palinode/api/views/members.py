"""Members: who sees a move."""

from typing import Any

from django.contrib.auth.models import User
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.move import MemberSerializer
from palinode.records.models import Membership, Move


class MembersView(APIView):
    """Who sees a move."""

    @extend_schema(operation_id="members", responses=MemberSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List them."""
        return Response(_members(access.move(request, pk)))

    @extend_schema(operation_id="add_member", request=MemberSerializer, responses=MemberSerializer(many=True))
    def post(self, request: Request, pk: int) -> Response:
        """Let another person in, or give one another role."""
        move = access.own_move(request, pk)
        given = request_body.read(MemberSerializer, request)
        user = User.objects.filter(username=given["username"]).first()
        if user is None:
            raise ValidationError({"username": "There is no account of this name."})
        if given["role"] != Membership.Role.OWNER:
            _keep_an_owner(move, user=user)
        Membership.objects.update_or_create(move=move, user=user, defaults={"role": given["role"]})
        return Response(_members(move))


class MemberView(APIView):
    """One member of a move."""

    @extend_schema(operation_id="remove_member", responses={204: None})
    def delete(self, request: Request, pk: int, member: int) -> Response:
        """Take a person out; one owner must remain."""
        move = access.own_move(request, pk)
        _keep_an_owner(move, pk=member)
        move.memberships.filter(pk=member).delete()
        return Response(status=204)


def _keep_an_owner(move: Move, **but: object) -> None:
    """Raise Conflict unless an owner besides this one remains."""
    if not move.memberships.filter(role=Membership.Role.OWNER).exclude(**but).exists():
        raise Conflict("A move keeps at least one owner.")


def _members(move: Move) -> list[dict[str, Any]]:
    return [
        {"id": one.pk, "username": one.user.get_username(), "role": one.role}
        for one in move.memberships.select_related("user")
    ]
