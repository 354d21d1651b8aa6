"""Tokens by which a person's own programs use the API: made, shown once, revoked."""

from __future__ import annotations

import secrets
from datetime import timedelta
from hashlib import sha256

from django.contrib.auth.models import User
from django.http import HttpRequest
from django.utils import timezone
from ninja.security import HttpBearer

from wattikos_core.errors import CaseError, InputProblem
from wattikos_web.models import ApiToken

MOST_TOKENS = 20
_PREFIX = "wattikos_"
# When a token was used last is written no more often than this.
_NOTED_EVERY = timedelta(minutes=1)


def make(user: User, name: str) -> tuple[ApiToken, str]:
    """A new token, and what is shown of it once.

    Raises:
        CaseError: without a name, or with too many tokens.
    """
    if not name.strip():
        raise CaseError(InputProblem("name", "the token has no name", "say what it is for"))
    if user.api_tokens.count() >= MOST_TOKENS:
        raise CaseError(InputProblem("name", f"you have {MOST_TOKENS} tokens", "revoke one that is not used any more"))
    secret = _PREFIX + secrets.token_urlsafe(32)
    return ApiToken.objects.create(user=user, name=name.strip()[:80], digest=_digest(secret)), secret


def _digest(secret: str) -> str:
    return sha256(secret.encode()).hexdigest()


class Bearer(HttpBearer):
    """Lets a request with a token in as its user."""

    def authenticate(self, request: HttpRequest, token: str) -> User | None:
        """The user of a token; None where there is no such token."""
        found = ApiToken.objects.select_related("user").filter(digest=_digest(token), user__is_active=True).first()
        if found is None:
            return None
        now = timezone.now()
        if found.used is None or now - found.used > _NOTED_EVERY:
            ApiToken.objects.filter(pk=found.pk).update(used=now)
        request.user = found.user
        return found.user
