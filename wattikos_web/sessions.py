"""Who is signed in where: kept when a session begins, forgotten when it ends."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib.auth.models import User
from django.contrib.auth.signals import user_logged_in, user_logged_out
from django.contrib.sessions.models import Session
from django.dispatch import receiver
from django.http import HttpRequest
from django.utils import timezone

from wattikos_web.models import SignedIn

# A session is said to be seen at most so often: every look would be a write.
_SEEN_EVERY = timedelta(minutes=5)


@receiver(user_logged_in)
def _begun(sender: Any, request: HttpRequest, user: User, **_: Any) -> None:
    key = request.session.session_key
    if key is not None:
        device = request.headers.get("User-Agent", "")[:200]
        SignedIn.objects.update_or_create(session=key, defaults={"user": user, "device": device})


@receiver(user_logged_out)
def _ended(sender: Any, request: HttpRequest, **_: Any) -> None:
    SignedIn.objects.filter(session=request.session.session_key or "").delete()


def seen(request: HttpRequest) -> None:
    """Note that a session is used."""
    SignedIn.objects.filter(session=request.session.session_key or "", seen__lt=timezone.now() - _SEEN_EVERY).update(
        seen=timezone.now()
    )


def sessions_of(user: User) -> list[SignedIn]:
    """The sessions of a user that have not ended, the last used first."""
    there = Session.objects.filter(expire_date__gt=timezone.now()).values_list("session_key", flat=True)
    return list(SignedIn.objects.filter(user=user, session__in=there))


def end(session: SignedIn) -> None:
    """End a session: whoever uses it is signed out."""
    Session.objects.filter(session_key=session.session).delete()
    session.delete()
