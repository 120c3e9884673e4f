"""Session sign-in; a request without one is answered 401, not 403."""

from __future__ import annotations

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework import authentication
from rest_framework.request import Request


class SessionAuthentication(authentication.SessionAuthentication):
    """Django's session with CSRF protection."""

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
