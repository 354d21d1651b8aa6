"""Signing in and out, passwords, and the sessions of a user."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import get_object_or_404
from ninja import Router
from ninja.security import django_auth

from wattikos_core.errors import CaseError, InputProblem
from wattikos_web import sessions
from wattikos_web.api.access import user_of
from wattikos_web.api.schemas import PasswordBody, ProblemsOut, SessionLineOut, SessionOut, SignInBody
from wattikos_web.models import SignedIn

# A token gives no hold of sessions and passwords.
router = Router(tags=["session"], auth=django_auth)


@router.get("/session", response=SessionOut, auth=None)
def who(request: HttpRequest) -> dict[str, Any]:
    """Who is signed in; also hands out the cookie that writing needs."""
    get_token(request)
    if not request.user.is_authenticated:
        return {"user": None}
    sessions.seen(request)
    return {"user": request.user.get_username(), "password": request.user.has_usable_password()}


@router.post("/session", response={200: SessionOut, 403: ProblemsOut, 429: ProblemsOut}, auth=None)
def sign_in(request: HttpRequest, body: SignInBody) -> Any:
    """Sign in with name and password."""
    user = authenticate(request, username=body.username, password=body.password)
    if getattr(request, "axes_locked_out", False):
        problem = {"field": "password", "problem": "too many attempts have failed", "remedy": "wait ten minutes, then try again"}
        return 429, {"problems": [problem]}
    if user is None:
        problem = {"field": "password", "problem": "name and password do not belong together", "remedy": "try again"}
        return 403, {"problems": [problem]}
    login(request, user)
    return {"user": user.get_username(), "password": True}


@router.delete("/session", response=SessionOut)
def sign_out(request: HttpRequest) -> dict[str, Any]:
    """Sign out."""
    logout(request)
    return {"user": None}


@router.put("/session/password", response={200: SessionOut, 422: ProblemsOut})
def set_password(request: HttpRequest, body: PasswordBody) -> Any:
    """Set a password, or another one; all other sessions of the user end."""
    user = user_of(request)
    if user.has_usable_password() and not user.check_password(body.current):
        raise CaseError(InputProblem("current", "this is not the password you have now", "try again, or sign in by a link"))
    try:
        validate_password(body.new, user)
    except ValidationError as error:
        said = " ".join(error.messages).rstrip(".").lower()
        raise CaseError(InputProblem("new", said, "choose another: at least ten characters that nobody guesses")) from error
    user.set_password(body.new)
    user.save()
    former = request.session.session_key
    # It gives the session another key.
    update_session_auth_hash(request, user)
    SignedIn.objects.filter(session=former or "").update(session=request.session.session_key)
    for session in sessions.sessions_of(user):
        if session.session != request.session.session_key:
            sessions.end(session)
    return {"user": user.get_username(), "password": True}


@router.get("/sessions", response=list[SessionLineOut])
def list_sessions(request: HttpRequest) -> Any:
    """Where the user is signed in."""
    lines = sessions.sessions_of(user_of(request))
    own = request.session.session_key
    return [{"id": s.pk, "device": s.device, "since": s.since, "seen": s.seen, "own": s.session == own} for s in lines]


@router.delete("/sessions/{int:session}", response={204: None, 404: ProblemsOut})
def end_session(request: HttpRequest, session: int) -> Any:
    """Sign out somewhere else."""
    sessions.end(get_object_or_404(SignedIn, pk=session, user=user_of(request)))
    return 204, None


def signed_in_only(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """The description of the API is for those who may use it."""

    @wraps(view, assigned=())
    def guarded(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if not request.user.is_authenticated:
            problem = {"field": "", "problem": "nobody is signed in", "remedy": "sign in first", "at": None}
            return JsonResponse({"problems": [problem]}, status=401)
        return view(request, *args, **kwargs)

    return guarded
