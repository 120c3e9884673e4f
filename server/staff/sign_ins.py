"""Sessions as rows that stay: who is signed in where, ending one, and ending what is idle on a shared device."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.contrib.auth import logout
from django.contrib.sessions.backends.base import SessionBase
from django.contrib.sessions.models import Session
from django.core.cache import cache
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from accounts.api import SHARED
from accounts.models import SignIn, User
from audit import trail

# A device of several people is left lying about; what is not sent yet stays in its tray.
IDLE = timedelta(minutes=15)
# Seen is noted no finer than this.
NOTED = timedelta(minutes=1)
IDLE_HEADER = "HTTP_X_EMBER_IDLE"
SHARED_KEY = "is_shared"


def began(sender: Any, request: HttpRequest, user: User, **more: Any) -> None:
    """Somebody signed in."""
    session: SessionBase = request.session
    session[SHARED_KEY] = bool(request.META.get(SHARED))
    if session.session_key is None:
        session.save()
    SignIn.objects.create(
        person=user,
        session_key=session.session_key or "",
        device=request.META.get("HTTP_USER_AGENT", "")[:200],
        is_shared=bool(session.get(SHARED_KEY)),
    )
    trail.record(user, "signed_in", user)


def ended(sender: Any, request: HttpRequest, user: User | None, **more: Any) -> None:
    """Somebody signed out."""
    key = request.session.session_key
    if key:
        SignIn.objects.filter(session_key=key, ended_at=None).update(ended_at=timezone.now())
    if user is not None:
        trail.record(user, "signed_out", user)


def end(who: User, sign_in: SignIn) -> None:
    """End a session from elsewhere: its next request finds nobody signed in."""
    with transaction.atomic():
        Session.objects.filter(session_key=sign_in.session_key).delete()
        sign_in.ended_at = timezone.now()
        sign_in.save(update_fields=("ended_at",))
        trail.record(who, "sign_in_ended", sign_in.person, after={"device": sign_in.device, "at": sign_in.at})


def end_all(who: User, of: User, *, but: str | None = None) -> None:
    """End every session of a person, but the one with this key."""
    for sign_in in SignIn.objects.filter(person=of, ended_at=None).exclude(session_key=but or ""):
        end(who, sign_in)


def is_by_itself(request: HttpRequest) -> bool:
    """Whether a page asks that nobody has touched for longer than is noted: it looks again now and then by itself."""
    said = request.META.get(IDLE_HEADER, "")
    return said.isascii() and said.isdigit() and len(said) < 9 and int(said) > NOTED.total_seconds()


class IdleMiddleware:
    """Ends a session on a shared device that nobody has used for a while, and notes when others were last used."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        user = request.user
        if isinstance(user, User) and request.path.startswith("/api/"):
            # The session itself is never written here: a request beside it may be signing out.
            here = SignIn.objects.filter(session_key=request.session.session_key, ended_at=None)
            now = timezone.now()
            if request.session.get(SHARED_KEY) and here.filter(last_seen_at__lt=now - IDLE).exists():
                logout(request)
            elif not is_by_itself(request) and cache.add(
                f"seen-{request.session.session_key}", True, NOTED.total_seconds()
            ):
                here.update(last_seen_at=now)
        return self.get_response(request)
