"""Session sign-in, or the token of a program; a request without either is answered 401, not 403."""

from __future__ import annotations

import hashlib
from datetime import timedelta
from typing import Any

from django.utils import timezone
from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework import authentication
from rest_framework.request import Request

from accounts.models import Token
from common.problems import Problem

PERSON_HEADER = "HTTP_X_EMBER_PERSON"
# A use is noted no more often than this.
NOTED_EVERY = timedelta(minutes=1)


class SessionAuthentication(authentication.SessionAuthentication):
    """Django's session with CSRF protection.

    A write may say whose entry it is. Where somebody else has signed in meanwhile, in another tab or on the same
    tablet, it is refused: nothing is signed by a person who did not enter it.
    """

    def authenticate(self, request: Request) -> tuple[Any, Any] | None:
        """The session's user, unless the request names another."""
        found: tuple[Any, Any] | None = super().authenticate(request)
        named = request.META.get(PERSON_HEADER)
        if found is not None and named and named != str(found[0].pk):
            raise Problem(401, "another_person")
        return found

    def authenticate_header(self, request: Request) -> str:
        """Naming a scheme makes the framework answer 401."""
        return "Session"


class SessionAuthenticationScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """How the API document describes it."""

    target_class = "accounts.authentication.SessionAuthentication"
    name = "session"

    def get_security_definition(self, auto_schema: object) -> dict[str, str]:
        """A cookie."""
        return {"type": "apiKey", "in": "cookie", "name": "ember_session"}


def digest_of(token: str) -> str:
    """What is kept of a token: it has so many random bits that nothing slower is wanted."""
    return hashlib.sha256(token.encode()).hexdigest()


class TokenAuthentication(authentication.BaseAuthentication):
    """`Authorization: Bearer …`, for programs; it carries no session and no cookie."""

    def authenticate(self, request: Request) -> tuple[Any, Any] | None:
        """The token's own account and the token."""
        scheme, _, given = request.META.get("HTTP_AUTHORIZATION", "").partition(" ")
        if scheme.lower() != "bearer":
            return None
        now = timezone.now()
        token = Token.objects.select_related("account").filter(digest=digest_of(given.strip())).first()
        if token is None or not token.account.is_active:
            raise Problem(401, "token_unknown")
        if token.ended_at is not None or token.ends_at <= now:
            raise Problem(401, "token_ended")
        if token.last_used_at is None or now - token.last_used_at > NOTED_EVERY:
            Token.objects.filter(pk=token.pk).update(last_used_at=now)
        return token.account, token

    def authenticate_header(self, request: Request) -> str:
        """The scheme."""
        return "Bearer"


class TokenAuthenticationScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """How the API document describes it."""

    target_class = "accounts.authentication.TokenAuthentication"
    name = "token"

    def get_security_definition(self, auto_schema: object) -> dict[str, str]:
        """A header."""
        return {"type": "http", "scheme": "bearer"}
