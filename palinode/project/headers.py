"""Headers that every response carries."""

from collections.abc import Awaitable, Callable
from typing import Any

from asgiref.sync import iscoroutinefunction, markcoroutinefunction
from django.http import HttpRequest
from django.http.response import HttpResponseBase

POLICY = (
    "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; object-src 'none'; "
    "base-uri 'self'; form-action 'self'; frame-ancestors 'none'"
)


class ContentPolicy:
    """Nothing is loaded from elsewhere, and nobody frames us."""

    async_capable = sync_capable = True

    def __init__(self, get_response: Callable[[HttpRequest], Any]) -> None:
        self.get_response = get_response
        if iscoroutinefunction(get_response):
            markcoroutinefunction(self)

    def __call__(self, request: HttpRequest) -> HttpResponseBase | Awaitable[HttpResponseBase]:
        """Set the header unless the view has set a stricter one."""
        if iscoroutinefunction(self):
            return self._later(request)
        return self._set(self.get_response(request))

    async def _later(self, request: HttpRequest) -> HttpResponseBase:
        return self._set(await self.get_response(request))

    def _set(self, response: HttpResponseBase) -> HttpResponseBase:
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response
