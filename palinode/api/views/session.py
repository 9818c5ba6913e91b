"""Signing in and out, the owner's first visit, the account, tokens."""

from typing import Any

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import request_body, setup
from palinode.api.errors import Conflict
from palinode.api.serializers.session import (
    NewAccountSerializer,
    OwnerSerializer,
    PasswordSerializer,
    SessionSerializer,
    SignInSerializer,
    TokenSerializer,
)
from palinode.api.throttling import ByAccount, ByAddress
from palinode.records import accounts
from palinode.records.models import Token

_SETUP_REFUSED = (
    "This is not the setup token. bin/serve prints it as it starts; or make the account with: bin/palinode account add"
)


def _session(request: Request) -> Response:
    user = request.user if request.user.is_authenticated else None
    first = not accounts.any_there()
    return Response(
        {
            "user": {"id": user.pk, "username": user.get_username(), "owner": user.is_superuser} if user else None,
            "first_visit": first,
            "needs_token": first and not setup.is_local(request._request),
        }
    )


class SessionView(APIView):
    """The session of the browser."""

    permission_classes = [AllowAny]
    throttle_scope = "sign_in"

    def get_throttles(self) -> list[Any]:
        """Bound attempts to sign in, nothing else."""
        return [ByAddress(), ByAccount()] if self.request.method == "POST" else []

    @extend_schema(operation_id="session", responses=SessionSerializer)
    def get(self, request: Request) -> Response:
        """Say who is signed in."""
        return _session(request)

    @extend_schema(operation_id="sign_in", request=SignInSerializer, responses=SessionSerializer)
    def post(self, request: Request) -> Response:
        """Sign in."""
        given = request_body.read(SignInSerializer, request)
        user = authenticate(request, **given)
        if user is None:
            raise ValidationError("This name and password do not belong together.")
        login(request._request, user)
        request.user = user
        return _session(request)

    @extend_schema(operation_id="sign_out", request=None, responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        return Response(status=204)


class OwnerView(APIView):
    """The first visit makes the owner's account, and nobody after it."""

    permission_classes = [AllowAny]
    throttle_scope = "sign_in"
    throttle_classes = [ByAddress]

    @extend_schema(operation_id="make_owner", request=OwnerSerializer, responses=SessionSerializer)
    def post(self, request: Request) -> Response:
        """Make the account and sign in; needs the setup token, unless asked for on the machine itself."""
        if accounts.any_there():
            raise Conflict(str(accounts.OwnerThere()))
        given = request_body.read(OwnerSerializer, request)
        token = given.pop("setup_token")
        if not setup.may_begin(request._request, token):
            raise ValidationError({"setup_token": _SETUP_REFUSED})
        try:
            user = accounts.add_first(given["username"], given["password"])
        except accounts.OwnerThere as error:
            raise Conflict(str(error)) from None
        login(request._request, user)
        request.user = user
        return _session(request)


class AccountView(APIView):
    """One's own account."""

    throttle_classes = [ByAccount]

    @extend_schema(operation_id="change_password", request=PasswordSerializer, responses={204: None})
    def patch(self, request: Request) -> Response:
        """Change the password; other sessions of it end."""
        given = request_body.read(PasswordSerializer, request)
        user = request.user
        if not user.check_password(given["old"]):
            raise ValidationError({"old": "This is not the present password."})
        user.set_password(given["new"])
        user.save()
        update_session_auth_hash(request._request, user)
        return Response(status=204)


class UsersView(APIView):
    """Accounts; the owner of the installation makes them."""

    @extend_schema(operation_id="make_account", request=NewAccountSerializer, responses={204: None})
    def post(self, request: Request) -> Response:
        """Make an account for another person."""
        if not request.user.is_superuser:
            self.permission_denied(request, "Only the owner of this installation makes accounts.")
        given = request_body.read(NewAccountSerializer, request)
        try:
            accounts.add(given["username"], given["password"])
        except accounts.AccountError as error:
            raise ValidationError({error.field: str(error)}) from None
        return Response(status=204)


class TokensView(APIView):
    """One's own tokens."""

    @extend_schema(operation_id="tokens", responses=TokenSerializer(many=True))
    def get(self, request: Request) -> Response:
        """List them; their texts are not kept."""
        return Response(TokenSerializer(request.user.tokens.all(), many=True).data)

    @extend_schema(operation_id="make_token", request=TokenSerializer, responses={201: TokenSerializer})
    def post(self, request: Request) -> Response:
        """Make one; its text is told this once."""
        given = request_body.read(TokenSerializer, request)
        token, text = Token.issue(request.user, given["name"])
        token.text = text
        return Response(TokenSerializer(token).data, status=201)


class TokenView(APIView):
    """One token."""

    @extend_schema(operation_id="delete_token", responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Delete it; scripts that use it are refused from now on."""
        request.user.tokens.filter(pk=pk).delete()
        return Response(status=204)
