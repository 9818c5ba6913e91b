"""The ASGI application."""

import os
from typing import Any

import django
from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIHandler
from django.db import close_old_connections
from django.http import HttpRequest
from django.http.response import HttpResponseBase


class Handler(ASGIHandler):
    """Runs all middleware and the view in one thread.

    The views and half of the middleware are synchronous; left to itself, Django crosses between the
    event loop and a thread for each of them, which takes longer than a page of a ledger does.
    """

    async def __call__(self, scope: Any, receive: Any, send: Any) -> None:
        """Answer without a thread made for each request: the loop's own do."""
        if scope["type"] != "http":
            raise ValueError(f"Palinode speaks HTTP alone, not {scope['type']}.")
        await self.handle(scope, receive, send)

    def load_middleware(self, is_async: bool = False) -> None:
        """Build the chain for threads."""
        super().load_middleware(is_async=False)

    async def get_response_async(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request in one of the loop's threads."""
        return await sync_to_async(self._answer, thread_sensitive=False)(request)

    def _answer(self, request: HttpRequest) -> HttpResponseBase:
        try:
            return self.get_response(request)
        finally:
            close_old_connections()


os.environ.setdefault("DJANGO_SETTINGS_MODULE", "palinode.project.settings")
django.setup(set_prefix=False)
application = Handler()

from palinode.work import readers  # noqa: E402 (Django is set up by now)

readers.warm()
