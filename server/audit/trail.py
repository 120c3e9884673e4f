"""Writing the trail."""

from __future__ import annotations

from typing import Any

from django.db.models import Model

from accounts.models import User
from audit.models import Change


def record(who: User | None, action: str, subject: Model, *, before: Any = None, after: Any = None) -> Change:
    """Note a change; call it inside the transaction that makes it."""
    return Change.objects.create(
        who=who,
        action=action,
        subject_kind=subject._meta.model_name or "",
        subject_id=subject.pk,
        before=before,
        after=after,
    )
