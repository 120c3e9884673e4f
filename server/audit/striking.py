"""Striking out what was written down: it stays on record with its reason."""

from __future__ import annotations

from typing import Any

from django.db.models import Model

from accounts.models import User
from audit import trail
from common.problems import Problem


def strike(who: User, row: Any, reason: str, subject: Model, kind: str) -> bool:
    """Strike a locked row out; False where it already was for the same reason.

    Parameters
    ----------
    row : a row with `struck_reason`, held by `select_for_update`.
    subject, kind : what the trail files it under, and what it calls the row.

    Raises
    ------
    Problem : `already_struck`, for another reason.
    """
    if row.struck_reason == reason:
        return False
    if row.struck_reason:
        raise Problem(409, "already_struck", path="reason")
    row.struck_reason = reason
    row.save(update_fields=("struck_reason",))
    trail.record(who, "struck", subject, after={kind: str(row.pk), "reason": reason})
    return True
