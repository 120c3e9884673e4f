"""What is decided of a loop before hands touch it. Choices and drawings are only added; the newest counts."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from ember_core.times.minutes import Task
from loops.models import Gang, Loop


class CeilingPoint(models.Model):
    """What was seen at the luminaire of a gang, as far as anybody looked."""

    way_to_site = "gang__loop__site"
    hidden_with = ("gang__", "gang__loop__", "gang__loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    gang = models.OneToOneField(Gang, related_name="ceiling", on_delete=models.PROTECT)
    seen = models.JSONField(default=dict, help_text="line, neutral, spare: words of the core")
    version = models.PositiveIntegerField(default=1)
    at = models.DateTimeField(auto_now=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return f"ceiling point of {self.gang}"


class RouteOrder(models.Model):
    """What the firm weighs first; one row."""

    values = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return " > ".join(self.values)


class RouteChoice(models.Model):
    """A way that somebody chose, with its wire map as it then was, and what it stood on."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="routes", on_delete=models.PROTECT)
    number = models.PositiveIntegerField(help_text="place in the order of its loop")
    way = models.CharField(max_length=30)
    control = models.CharField(max_length=60, blank=True, help_text="key of the part; empty for a way without one")
    label = models.CharField(max_length=160, blank=True)
    why = models.CharField(max_length=300, blank=True)
    favoured = models.CharField(max_length=30, blank=True, help_text="what the comparison favoured then")
    order = models.JSONField(help_text="the order of values that it was compared by")
    rated = models.JSONField(help_text="its row of the comparison, codes and figures")
    wire_map = models.JSONField(help_text="found and wanted seats, sleeves, moves")
    basis = models.JSONField(help_text="versions of the survey, gangs and ceiling points that it stands on")
    core_version = models.CharField(max_length=20)
    begun_at = models.DateTimeField(null=True, help_text="when its first step was marked: from then on it stands")
    done_at = models.DateTimeField(null=True, help_text="when its last step was marked")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("loop", "number"), name="one_route_choice_a_number"),)

    def __str__(self) -> str:
        return f"{self.way} for {self.loop}"


class CheckedDrawing(models.Model):
    """Connections as a leaflet or a person shows them: a source of its own, whatever it does."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="drawings", on_delete=models.PROTECT)
    name = models.CharField(max_length=120)
    source = models.CharField(max_length=300, blank=True, help_text="where it is from")
    document = models.JSONField()
    corrects = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="corrections")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-at", "id")

    def __str__(self) -> str:
        return self.name


class TaskRecord(models.Model):
    """Minutes that one task took at one loop, told from the marks when the work was finished."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.BigAutoField(primary_key=True)
    loop = models.ForeignKey(Loop, related_name="task_records", on_delete=models.PROTECT)
    choice = models.ForeignKey(RouteChoice, related_name="+", on_delete=models.PROTECT)
    task = models.CharField(max_length=30, choices=[(task.value, task.value) for task in Task])
    minutes = models.FloatField()
    count = models.PositiveIntegerField(default=1, help_text="how often the task was done in these minutes")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("at", "id")
        constraints = (models.UniqueConstraint(fields=("choice", "task"), name="one_task_record_a_choice"),)

    def __str__(self) -> str:
        return f"{self.task} of {self.loop}: {self.minutes:.0f} min"


class TaskRange(models.Model):
    """Low, typical and high minutes that the firm sets for a task in place of the trade's."""

    id = models.BigAutoField(primary_key=True)
    task = models.CharField(max_length=30, unique=True, choices=[(task.value, task.value) for task in Task])
    low = models.FloatField()
    typical = models.FloatField()
    high = models.FloatField()
    version = models.PositiveIntegerField(default=1)
    at = models.DateTimeField(auto_now=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return f"{self.task}: {self.low:g} to {self.high:g} min"
