"""One row for each change of a record."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.core.serializers.json import DjangoJSONEncoder
from django.db import models


class Change(models.Model):
    """Who did what to which record, with both states; written in the change's own transaction."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    at = models.DateTimeField(auto_now_add=True)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    action = models.CharField(max_length=40)
    subject_kind = models.CharField(max_length=40)
    subject_id = models.UUIDField()
    before = models.JSONField(null=True, encoder=DjangoJSONEncoder)
    after = models.JSONField(null=True, encoder=DjangoJSONEncoder)

    class Meta:
        ordering = ("-at", "id")
        indexes = (models.Index(fields=("subject_id", "-at")),)

    def __str__(self) -> str:
        return f"{self.action} {self.subject_kind} {self.subject_id}"
