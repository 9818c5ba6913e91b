"""The built front end, served by WhiteNoise."""

from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from whitenoise.middleware import WhiteNoiseMiddleware


class FrontEnd(WhiteNoiseMiddleware):
    """Serves web/dist at the root; hashed files may be kept by browsers for good."""

    def __init__(self, get_response: Callable[[HttpRequest], Any]) -> None:
        super().__init__(get_response)
        if settings.WEB_DIR.exists():
            self.add_files(str(settings.WEB_DIR), prefix="/")

    @staticmethod
    def serve(static_file: Any, request: HttpRequest) -> HttpResponse:
        """Return the file whole: it is small, and ASGI has no use for a file's blocking iterator."""
        found = static_file.get_response(request.method, request.META)
        body = found.file.read() if found.file is not None else b""
        response = HttpResponse(body, status=int(found.status))
        del response.headers["Content-Type"]
        for name, value in found.headers:
            response.headers[name] = value
        return response

    def immutable_file_test(self, path: str, url: str) -> bool:
        """Vite puts a hash into the name of everything below assets/."""
        return url.startswith("/assets/")
