"""Who may do what: one table, asked by every view."""

from __future__ import annotations

from typing import Any

from rest_framework.exceptions import NotAuthenticated
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from accounts.models import Role, User

READ = "read"
EDIT = "edit"  # sites, circuits, loops, gangs
JUDGE = "judge"  # compute without storing
RELEASE = "release"  # take another person's lock off an isolation

POLICY: dict[str, frozenset[str]] = {
    READ: frozenset(Role.values),
    JUDGE: frozenset(Role.values),
    # Who checks work does not change it.
    EDIT: frozenset({Role.TECHNICIAN, Role.ADMINISTRATOR}),
    # Whoever answers for the work, not the next technician who wants the power back.
    RELEASE: frozenset({Role.CHECKER, Role.ADMINISTRATOR}),
}


def may(role: str, action: str) -> bool:
    """True when a role may do an action."""
    return role in POLICY[action]


def person(request: Request) -> User:
    """Who asks; behind `Allowed` that is always somebody.

    Raises
    ------
    NotAuthenticated : nobody is signed in.
    """
    if not isinstance(request.user, User):
        raise NotAuthenticated
    return request.user


class Allowed(BasePermission):
    """Signed in, and the role may do what the view's method is: `edit` for writes unless the view says else."""

    def has_permission(self, request: Request, view: Any) -> bool:
        user = request.user
        if not user.is_authenticated:
            return False
        default = READ if request.method in ("GET", "HEAD", "OPTIONS") else EDIT
        return may(user.role, getattr(view, "action_name", default))
