"""Answers that a browser keeps as a file."""

from __future__ import annotations

from django.http import HttpResponse


def download(content: bytes, kind: str, name: str) -> HttpResponse:
    """A file of a content type, with the name it is kept under."""
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
