"""Writing the trail."""

from __future__ import annotations

import uuid
from typing import Any

from django.db.models import Model

from accounts.models import User
from audit.models import Change

# Settings that have one row for the whole copy are no records with an identity of their own.
_SETTINGS = uuid.UUID("5e771465-0000-4000-8000-000000000000")


def record(who: User | None, action: str, subject: Model, *, before: Any = None, after: Any = None) -> Change:
    """Note a change; call it inside the transaction that makes it."""
    return Change.objects.create(
        who=who,
        action=action,
        subject_kind=subject._meta.model_name or "",
        subject_id=subject.pk if isinstance(subject.pk, uuid.UUID) else uuid.uuid5(_SETTINGS, str(subject.pk)),
        before=before,
        after=after,
    )
