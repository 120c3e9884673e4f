"""Taking a record out of sight and bringing it back: it stays, with who did it and why."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.db import models, transaction
from django.db.models import Model, ProtectedError
from django.utils import timezone

from accounts.models import User
from audit import trail
from common.problems import Problem


class Present(models.Manager[Any]):
    """What is not archived."""

    def get_queryset(self) -> models.QuerySet[Any]:
        return super().get_queryset().filter(archived_at=None)


class Archivable(models.Model):
    """A record that can be taken out of sight."""

    archived_at = models.DateTimeField(null=True, blank=True)
    archived_reason = models.CharField(max_length=200, blank=True)
    archived_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.PROTECT, related_name="+"
    )

    objects = Present()
    everything = models.Manager()

    class Meta:
        abstract = True


def archive(who: User, model: Any, pk: Any, reason: str, check: Callable[[Any], None] | None = None) -> Any:
    """Take a record out of sight; the same twice is one.

    Parameters
    ----------
    check : raises what stands against it, with the row locked.
    """
    with transaction.atomic():
        row = model.everything.select_for_update().get(pk=pk)
        if row.archived_at is not None:
            return row
        if check is not None:
            check(row)
        row.archived_at, row.archived_reason, row.archived_by = timezone.now(), reason, who
        row.save(update_fields=("archived_at", "archived_reason", "archived_by"))
        trail.record(who, "archived", row, after={"name": str(row), "reason": reason})
    return row


def bring_back(who: User, model: Any, pk: Any, reason: str) -> Any:
    """Show an archived record again."""
    with transaction.atomic():
        row = model.everything.select_for_update().get(pk=pk)
        if row.archived_at is None:
            return row
        before = {"reason": row.archived_reason, "at": row.archived_at}
        row.archived_at, row.archived_reason, row.archived_by = None, "", None
        row.save(update_fields=("archived_at", "archived_reason", "archived_by"))
        trail.record(who, "brought_back", row, before=before, after={"name": str(row), "reason": reason})
    return row


def delete(who: User, row: Model, belongings: Callable[[], Any] | None = None) -> None:
    """Delete what holds no record.

    Parameters
    ----------
    belongings : deletes what is part of it and no record of its own.

    Raises
    ------
    Problem : `has_record`; it can be archived.
    """
    try:
        with transaction.atomic():
            trail.record(who, "deleted", row, before={"name": str(row)})
            if belongings is not None:
                belongings()
            row.delete()
    except ProtectedError as error:
        raise Problem(409, "has_record") from error
