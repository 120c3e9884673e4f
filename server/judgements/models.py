"""Stored judgements."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from judging.verdicts import VerdictWord
from loops.models import Gang


class Judgement(models.Model):
    """What was known when: inputs, core version and result, never changed afterwards."""

    way_to_site = "gang__loop__site"
    hidden_with = ("gang__", "gang__loop__", "gang__loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    gang = models.ForeignKey(Gang, related_name="judgements", on_delete=models.PROTECT)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    core_version = models.CharField(max_length=20)
    gang_version = models.PositiveIntegerField()
    verdict = models.CharField(max_length=10, choices=VerdictWord.choices)
    sheet = models.JSONField()
    result = models.JSONField()

    class Meta:
        ordering = ("-made_at", "id")
        indexes = (models.Index(fields=("gang", "-made_at")),)

    def __str__(self) -> str:
        return f"{self.gang} {self.made_at:%Y-%m-%d}: {self.verdict}"
