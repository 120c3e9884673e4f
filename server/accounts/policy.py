"""Who may do what: one table, asked by every view."""

from __future__ import annotations

from typing import Any

from rest_framework.exceptions import NotAuthenticated
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from accounts.models import Role, Token, TokenScope, User
from common.problems import Problem

READ = "read"
EDIT = "edit"  # circuits, loops, gangs and what is recorded at them
JUDGE = "judge"  # compute without storing
RELEASE = "release"  # take another person's lock off an isolation
SIGN_OFF = "sign_off"  # sign what others did, or ask back
RULES = "rules"  # what the firm wants of a hand-over
ARCHIVE = "archive"  # take loops, gangs, photographs out of sight and bring them back
SITES = "sites"  # make sites, change their supply, say who works there
SHELF = "shelf"  # change parts
ACCOUNTS = "accounts"  # make, change and end accounts
TRAIL = "trail"  # read who changed what, everywhere

POLICY: dict[str, frozenset[str]] = {
    READ: frozenset(Role.values),
    JUDGE: frozenset(Role.values),
    # Who checks work does not change it.
    EDIT: frozenset({Role.TECHNICIAN, Role.ADMINISTRATOR}),
    # Whoever answers for the work, not the next technician who wants the power back.
    RELEASE: frozenset({Role.CHECKER, Role.ADMINISTRATOR}),
    SIGN_OFF: frozenset({Role.CHECKER, Role.ADMINISTRATOR}),
    RULES: frozenset({Role.ADMINISTRATOR}),
    ARCHIVE: frozenset({Role.TECHNICIAN, Role.ADMINISTRATOR}),
    SITES: frozenset({Role.ADMINISTRATOR}),
    SHELF: frozenset({Role.ADMINISTRATOR}),
    ACCOUNTS: frozenset({Role.ADMINISTRATOR}),
    TRAIL: frozenset({Role.CHECKER, Role.ADMINISTRATOR}),
}
# What an administrator can give to one technician beyond the role.
GIVEN = {SITES: "keeps_sites", SHELF: "keeps_shelf"}


def may(user: User, action: str) -> bool:
    """True when a person may do an action, by role or because it was given to them."""
    if user.role in POLICY[action]:
        return True
    return action in GIVEN and user.role in POLICY[EDIT] and bool(getattr(user, GIVEN[action]))


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
    """Signed in, and may do what the view's method is.

    That is `edit` for writes and `read` else, unless the view says `action_name` for all or `write_action` for writes.
    """

    def has_permission(self, request: Request, view: Any) -> bool:
        user = request.user
        if not user.is_authenticated:
            return False
        if user.must_change and not getattr(view, "is_before_change", False):
            raise Problem(403, "change_password_first")
        is_read = request.method in ("GET", "HEAD", "OPTIONS")
        default = READ if is_read else getattr(view, "write_action", EDIT)
        action = getattr(view, "action_name", default)
        if isinstance(request.auth, Token) and not (is_read or _may_program(request.auth, action, view)):
            raise Problem(403, "not_for_programs")
        return may(user, action)


def _may_program(token: Token, action: str, view: Any) -> bool:
    """Whether a program may write there.

    It computes; with the wider scope it enters what views say that programs may: never what somebody must have done or
    seen with their own hands and eyes, an isolation, a proof, a mark, a signature.
    """
    return action == JUDGE or (token.scope == TokenScope.WRITE and getattr(view, "takes_programs", False))
