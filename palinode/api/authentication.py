"""Tokens for scripts."""

from typing import Any

from rest_framework.authentication import BaseAuthentication, get_authorization_header
from rest_framework.exceptions import AuthenticationFailed
from rest_framework.request import Request

from palinode.records.models import Token


class TokenAuthentication(BaseAuthentication):
    """``Authorization: Bearer palinode_…`` (RFC 6750 section 2.1)."""

    def authenticate(self, request: Request) -> tuple[Any, Token] | None:
        """Return user and token; None when the header is not there."""
        words = get_authorization_header(request).split()
        if len(words) != 2 or words[0].lower() != b"bearer":
            return None
        digest = Token.digest_of(words[1].decode("ascii", "replace"))
        try:
            token = Token.objects.select_related("user").get(digest=digest, user__is_active=True)
        except Token.DoesNotExist:
            raise AuthenticationFailed("This token is not known. Make a new one on the account page.") from None
        return token.user, token

    def authenticate_header(self, request: Request) -> str:
        """Name the scheme, so that a missing sign-in answers 401."""
        return "Bearer"
