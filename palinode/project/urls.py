"""The root of all routes: the API, and the front end for everything else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.urls import include, path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie


@ensure_csrf_cookie
def front_end(request: HttpRequest) -> HttpResponseBase:
    """Answer every address of the interface with its one page."""
    page = settings.WEB_DIR / "index.html"
    if not page.exists():
        return HttpResponse("The front end is not built. Run: npm --prefix web run build", status=503)
    return HttpResponse(page.read_bytes(), headers={"Cache-Control": "no-cache"})


urlpatterns = [
    path("api/", include("palinode.api.urls")),
    re_path(r"^(?!api/|assets/).*$", front_end),
]
