"""A person's tokens; a token cannot make or revoke tokens."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema
from ninja.security import django_auth
from pydantic import Field

from wattikos_web.api.access import user_of
from wattikos_web.api.schemas import ProblemsOut
from wattikos_web.models import ApiToken
from wattikos_web.tokens import make

router = Router(tags=["tokens"], auth=django_auth)


class TokenBody(Schema):
    """What a token is for."""

    name: Annotated[str, Field(max_length=80)]


class TokenOut(Schema):
    """A token as a line of a list."""

    id: int
    name: str
    made: datetime
    used: datetime | None


class NewTokenOut(TokenOut):
    """A new token; `secret` is shown this once."""

    secret: str


@router.get("/tokens", response=list[TokenOut])
def tokens(request: HttpRequest) -> Any:
    """The tokens of the user, newest first."""
    return ApiToken.objects.filter(user=user_of(request))


@router.post("/tokens", response={201: NewTokenOut, 422: ProblemsOut})
def make_token(request: HttpRequest, body: TokenBody) -> Any:
    """Make a token."""
    token, secret = make(user_of(request), body.name)
    return 201, {"id": token.pk, "name": token.name, "made": token.made, "used": token.used, "secret": secret}


@router.delete("/tokens/{int:token}", response={204: None, 404: ProblemsOut})
def revoke(request: HttpRequest, token: int) -> Any:
    """Revoke a token: what shows it is let in no more."""
    get_object_or_404(ApiToken, pk=token, user=user_of(request)).delete()
    return 204, None
