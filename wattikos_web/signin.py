"""One-time sign-in links."""

from __future__ import annotations

import hashlib
import secrets

from django.contrib.auth import login
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.utils import timezone

from wattikos_web.models import SignInLink


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def new_link(user: User) -> str:
    """A fresh path that signs `user` in once; only its digest is stored."""
    token = secrets.token_urlsafe(24)
    SignInLink.objects.create(user=user, digest=_digest(token))
    return f"/sign-in/{token}"


def sign_in(request: HttpRequest, token: str) -> HttpResponse:
    """Follow a one-time link: to the desk, or to the sign-in page when it has been used."""
    link = SignInLink.objects.filter(digest=_digest(token)).select_related("user").first()
    # The update decides: of two requests with one link only one is let in.
    fresh = link is not None and link.usable
    if not fresh or not SignInLink.objects.filter(pk=link.pk, used=None).update(used=timezone.now()):  # type: ignore[union-attr]
        return HttpResponseRedirect("/sign-in?used=1")
    login(request, link.user, backend="django.contrib.auth.backends.ModelBackend")  # type: ignore[union-attr]
    return HttpResponseRedirect("/")
