"""What is recorded at the box."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.db import models

from ember_core.survey import isolation as core_isolation
from loops.models import Loop
from sites.models import Circuit


def empty_box() -> dict[str, Any]:
    """A box of which nothing is known."""
    return {"gangs": ["one_way"], "circuits": 1, "conductors": []}


class Survey(models.Model):
    """Visit and box of one loop as documents; readings, isolations, steps and photographs hang on the loop."""

    loop = models.OneToOneField(Loop, related_name="survey", on_delete=models.CASCADE, primary_key=True)
    enquiry = models.JSONField(default=dict)
    box = models.JSONField(default=empty_box)
    practice = models.CharField(max_length=40, blank=True)
    control_body = models.JSONField(null=True)
    spacers_m = models.JSONField(default=list)
    other_circuits = models.ManyToManyField(Circuit, related_name="+", blank=True)
    is_known = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"survey of {self.loop}"


class Origin(models.TextChoices):
    """How a reading came in."""

    TYPED = "typed", "typed by hand"
    METER = "meter", "read by the meter"


class TakenReading(models.Model):
    """One reading; never changed, struck out when it was wrong."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="readings", on_delete=models.CASCADE)
    data = models.JSONField()
    origin = models.CharField(max_length=10, choices=Origin.choices, default=Origin.TYPED)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    struck_reason = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("at", "id")
        indexes = (models.Index(fields=("loop", "at")),)

    def __str__(self) -> str:
        return f"reading {self.pk}"


class Isolation(models.Model):
    """One time that power is cut for a loop, until it is put back."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="isolations", on_delete=models.CASCADE)
    scope = models.CharField(max_length=20, choices=[(s.value, s.value) for s in core_isolation.Scope])
    circuits = models.ManyToManyField(Circuit, related_name="isolations", blank=True)
    is_locked_off = models.BooleanField(default=False)
    is_tester_proved_before = models.BooleanField(default=False)
    is_tester_proved_after = models.BooleanField(default=False)
    has_electronic_control = models.BooleanField(default=False)
    is_discharged = models.BooleanField(default=False)
    tests = models.JSONField(default=list)
    opened_at = models.DateTimeField(auto_now_add=True)
    opened_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    closed_at = models.DateTimeField(null=True)
    closed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    closing_note = models.CharField(max_length=300, blank=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("-opened_at", "id")

    def __str__(self) -> str:
        return f"isolation of {self.loop}"


class StepMark(models.Model):
    """A step marked done, or the mark taken back: rows are only added, the newest counts."""

    id = models.BigAutoField(primary_key=True)
    loop = models.ForeignKey(Loop, related_name="step_marks", on_delete=models.CASCADE)
    step = models.CharField(max_length=20, choices=[(s.value, s.value) for s in core_isolation.Step])
    is_done = models.BooleanField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    isolation = models.ForeignKey(Isolation, null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.step} of {self.loop}"


class Moment(models.TextChoices):
    """When a photograph was taken."""

    BEFORE = "before", "before"
    DURING = "during", "during"
    AFTER = "after", "after"


class Photo(models.Model):
    """A photograph kept with the loop, re-encoded, without its metadata."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="photos", on_delete=models.CASCADE)
    moment = models.CharField(max_length=10, choices=Moment.choices)
    caption = models.CharField(max_length=200, blank=True)
    file = models.FileField(upload_to="photos")
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"photo of {self.loop}"
