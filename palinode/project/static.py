"""The built front end, served by WhiteNoise."""

from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.http import HttpRequest
from whitenoise.middleware import WhiteNoiseMiddleware


class FrontEnd(WhiteNoiseMiddleware):
    """Serves web/dist at the root; hashed files may be kept by browsers for good."""

    def __init__(self, get_response: Callable[[HttpRequest], Any]) -> None:
        super().__init__(get_response)
        if settings.WEB_DIR.exists():
            self.add_files(str(settings.WEB_DIR), prefix="/")

    def immutable_file_test(self, path: str, url: str) -> bool:
        """Vite puts a hash into the name of everything below assets/."""
        return url.startswith("/assets/")
