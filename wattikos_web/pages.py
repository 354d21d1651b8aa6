"""The one HTML page; the desk in the browser does the rest."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie


@ensure_csrf_cookie
def desk(request: HttpRequest) -> HttpResponse:
    """The built index page, with the cookie that lets the desk write."""
    page = settings.DIST_DIR / "index.html"
    if not page.exists():
        return HttpResponse("The front end is not built: run `make build`.", status=503, content_type="text/plain")
    response = HttpResponse(page.read_bytes(), content_type="text/html")
    response.headers["Cache-Control"] = "no-cache"
    return response
