"""Response headers beyond Django's own."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

# Everything ships with the application. Vuetify writes its theme into a style element.
POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; "
    "object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'"
)


class ContentSecurityPolicy:
    """Sends the content security policy with every response."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer with the policy."""
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response
