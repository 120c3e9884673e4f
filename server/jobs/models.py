"""What was asked for that takes long, and how far it is."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from parts.models import Part


class Kind(models.TextChoices):
    """What a job does to one gang after the other."""

    AGAIN = "again", "judge again what is out of date"
    SERVE = "serve", "take a part's figures over"


class State(models.TextChoices):
    """Where a job is."""

    WAITING = "waiting", "waits for its turn"
    RUNNING = "running", "under way"
    DONE = "done", "done"
    STOPPED = "stopped", "stopped"
    BROKEN = "broken", "broke off"


OPEN = (State.WAITING, State.RUNNING)


class Job(models.Model):
    """One piece of work over many gangs; each gang is kept by itself, so that what was done stays done."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    part = models.ForeignKey(Part, null=True, on_delete=models.PROTECT)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    is_stop_asked = models.BooleanField(default=False)
    task = models.CharField(max_length=36, help_text="its entry in the queue")
    tries = models.PositiveIntegerField(default=0, help_text="how often somebody began it since it last got on")
    done = models.PositiveIntegerField(default=0, help_text="gangs looked at")
    of = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    refused = models.JSONField(default=list, help_text="gangs that could not be kept: gang, code, path, params")

    class Meta:
        ordering = ("-at", "id")
        indexes = (models.Index(fields=("by", "state")),)

    def __str__(self) -> str:
        return f"{self.kind} by {self.by}: {self.done} of {self.of}"

    @property
    def lock(self) -> str:
        """The name of the lock of whoever works on it."""
        return f"job {self.pk}"
