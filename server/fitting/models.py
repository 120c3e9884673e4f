"""What is on record of fitting. Rows are only added: a tick is taken back by another row, and the newest counts."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from ember_core.fitting.gates import Outcome
from ember_core.fitting.leaving import Leaving
from loops.models import Loop
from survey.models import Proof
from work.models import RouteChoice


class FitMark(models.Model):
    """One step of a chosen way: done, not needed and why, trouble, or open again."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    number = models.PositiveIntegerField(help_text="place in the order of its loop")
    loop = models.ForeignKey(Loop, related_name="fit_marks", on_delete=models.PROTECT)
    choice = models.ForeignKey(RouteChoice, related_name="marks", on_delete=models.PROTECT)
    step = models.CharField(max_length=80)
    outcome = models.CharField(max_length=10, choices=[(o.value, o.value) for o in Outcome])
    reason = models.CharField(max_length=300, blank=True, help_text="why not needed, what the trouble is, why back")
    proof = models.ForeignKey(Proof, null=True, on_delete=models.PROTECT, help_text="that it rests on")
    made_at = models.DateTimeField(null=True, help_text="when it was made on the device")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("loop", "number"), name="one_fit_mark_a_number"),)

    def __str__(self) -> str:
        return f"{self.step} of {self.loop}: {self.outcome}"


class FitLeft(models.Model):
    """A loop left half done, in a state that is safe, by whom; it stands until work goes on."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="fit_left", on_delete=models.PROTECT)
    choice = models.ForeignKey(RouteChoice, related_name="+", on_delete=models.PROTECT)
    leaving = models.CharField(max_length=10, choices=[(one.value, one.value) for one in Leaving])
    caps = models.JSONField(default=list, help_text="ends that were capped")
    note = models.CharField(max_length=300, blank=True)
    after = models.PositiveIntegerField(help_text="number of the newest mark then")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-at", "id")

    def __str__(self) -> str:
        return f"{self.loop} left {self.leaving}"


class KitCheck(models.Model):
    """What a control's box should hold, and what was found in it; the newest of a part counts."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="kit_checks", on_delete=models.PROTECT)
    part = models.CharField(max_length=60, help_text="key of the part")
    found = models.JSONField(help_text="of each thing whether it was there")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-at", "id")

    def __str__(self) -> str:
        return f"kit for {self.loop}"
