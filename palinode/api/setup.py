"""Who may make the first account: whoever has the setup token, or sits at the machine itself."""

import ipaddress
from hmac import compare_digest

from django.conf import settings
from django.http import HttpRequest
from django.http.request import split_domain_port

_OF_PROXIES = ("HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_HOST", "HTTP_X_REAL_IP", "HTTP_FORWARDED", "HTTP_VIA")
_HERE = frozenset({"localhost", "127.0.0.1", "[::1]"})


def is_local(request: HttpRequest) -> bool:
    """Whether a request comes from this machine, through no proxy.

    A proxy on this machine connects from loopback too. So none may be set up, none may have left its mark, and
    the name that is asked for must be this machine's own.
    """
    public = settings.CSRF_TRUSTED_ORIGINS or settings.SECURE_COOKIES or set(settings.ALLOWED_HOSTS) - _HERE
    if public or settings.REST_FRAMEWORK["NUM_PROXIES"] or any(request.META.get(one) for one in _OF_PROXIES):
        return False
    if _version(request).endswith("1.0"):
        # No browser speaks it any more, and proxies do unless they are told otherwise.
        return False
    origin = request.headers.get("Origin", "http://localhost").partition("://")[2]
    names = {split_domain_port(request.get_host())[0], split_domain_port(origin)[0]}
    try:
        peer = ipaddress.ip_address(request.META.get("REMOTE_ADDR", ""))
    except ValueError:
        return False
    return peer.is_loopback and names <= _HERE


def _version(request: HttpRequest) -> str:
    scope = getattr(request, "scope", None) or {}
    return str(scope.get("http_version") or request.META.get("SERVER_PROTOCOL", ""))


def may_begin(request: HttpRequest, token: str) -> bool:
    """Whether the person who asks may make the first account."""
    wanted = settings.PALINODE_SETUP_TOKEN
    return is_local(request) or bool(wanted and compare_digest(wanted.encode(), token.strip().encode()))
