"""Signing in and out."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router

from wattikos_web.api.schemas import ProblemsOut, SessionOut, SignInBody

router = Router(tags=["session"])


@router.get("/session", response=SessionOut, auth=None)
def who(request: HttpRequest) -> dict[str, Any]:
    """Who is signed in; also hands out the cookie that writing needs."""
    get_token(request)
    return {"user": request.user.get_username() if request.user.is_authenticated else None}


@router.post("/session", response={200: SessionOut, 403: ProblemsOut}, auth=None)
def sign_in(request: HttpRequest, body: SignInBody) -> Any:
    """Sign in with name and password."""
    user = authenticate(request, username=body.username, password=body.password)
    if user is None:
        problem = {"field": "password", "problem": "name and password do not belong together", "remedy": "try again"}
        return 403, {"problems": [problem]}
    login(request, user)
    return {"user": user.get_username()}


@router.delete("/session", response=SessionOut)
def sign_out(request: HttpRequest) -> dict[str, Any]:
    """Sign out."""
    logout(request)
    return {"user": None}
