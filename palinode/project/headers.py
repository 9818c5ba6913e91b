"""Headers that every response carries."""

from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase

POLICY = (
    "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; object-src 'none'; "
    "base-uri 'self'; form-action 'self'; frame-ancestors 'none'"
)


def content_policy(
    get_response: Callable[[HttpRequest], HttpResponseBase],
) -> Callable[[HttpRequest], HttpResponseBase]:
    """Middleware: nothing is loaded from elsewhere, and nobody frames us, unless a view is stricter."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        response = get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response

    return answer
