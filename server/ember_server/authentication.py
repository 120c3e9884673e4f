"""Session sign-in; a request without one is answered 401, not 403."""

from __future__ import annotations

from typing import Any

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework import authentication
from rest_framework.request import Request

from ember_server.problems import Problem

PERSON_HEADER = "HTTP_X_EMBER_PERSON"


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

    target_class = "ember_server.authentication.SessionAuthentication"
    name = "session"

    def get_security_definition(self, auto_schema: object) -> dict[str, str]:
        """A cookie."""
        return {"type": "apiKey", "in": "cookie", "name": "ember_session"}
