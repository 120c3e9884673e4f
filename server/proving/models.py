"""What is on record of proving and of what went wrong. Rows are only added; the newest mark of an item counts."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from ember_core.proving.items import Outcome
from loops.models import Gang, Loop


class ProveMark(models.Model):
    """One item of a loop's list: what was found, excused and why, or open again."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    number = models.PositiveIntegerField(help_text="place in the order of its loop")
    loop = models.ForeignKey(Loop, related_name="prove_marks", on_delete=models.PROTECT)
    item = models.CharField(max_length=80)
    outcome = models.CharField(max_length=10, choices=[(o.value, o.value) for o in Outcome])
    result = models.CharField(max_length=20, blank=True)
    reason = models.CharField(max_length=300, blank=True, help_text="why it is excused or open again, or a note")
    detail = models.JSONField(default=dict, help_text="seconds watched, rhythm tapped, reading compared")
    basis = models.CharField(max_length=40, help_text="of the parts and the fitting that it was found on")
    made_at = models.DateTimeField(null=True, help_text="when it was made on the device")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("loop", "number"), name="one_prove_mark_a_number"),)

    def __str__(self) -> str:
        return f"{self.item} of {self.loop}: {self.outcome}"


class Heard(models.TextChoices):
    """How a complaint came."""

    TOLD = "told", "told by the customer"
    SEEN = "seen", "seen on site"


class Case(models.Model):
    """A complaint about a gang, until it is closed with what it was."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    number = models.PositiveIntegerField(help_text="place in the order of its loop")
    loop = models.ForeignKey(Loop, related_name="cases", on_delete=models.PROTECT)
    gang = models.ForeignKey(Gang, related_name="cases", on_delete=models.PROTECT)
    told = models.JSONField(help_text="symptoms by code, with the rhythm where one was told")
    heard = models.CharField(max_length=10, choices=Heard.choices, default=Heard.TOLD)
    since = models.CharField(max_length=120, blank=True)
    note = models.CharField(max_length=500, blank=True)
    is_open = models.BooleanField(default=True)
    cause = models.CharField(max_length=80, blank=True, help_text="what it was, of a case that is closed")
    made_at = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("loop", "number"), name="one_case_a_number"),)
        indexes = (models.Index(fields=("is_open", "cause")),)

    def __str__(self) -> str:
        return f"case {self.number} of {self.loop}"


class CaseEvidence(models.Model):
    """What a test found: never changed, struck out when it was wrong."""

    way_to_site = "case__loop__site"
    hidden_with = ("case__loop__", "case__loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    number = models.PositiveIntegerField(help_text="place in the order of its case")
    case = models.ForeignKey(Case, related_name="evidence", on_delete=models.PROTECT)
    data = models.JSONField(help_text="test, and its outcome or value")
    note = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    struck_reason = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("case", "number"), name="one_evidence_a_number"),)

    def __str__(self) -> str:
        return f"{self.data.get('test')} in {self.case}"


class CaseEvent(models.Model):
    """A case closed with what it was, or opened again and why."""

    way_to_site = "case__loop__site"
    hidden_with = ("case__loop__", "case__loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    case = models.ForeignKey(Case, related_name="events", on_delete=models.PROTECT)
    is_closing = models.BooleanField()
    cause = models.CharField(max_length=80, blank=True)
    remedy = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=500, blank=True)
    thought = models.JSONField(default=dict, help_text="share of each cause then")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"{self.case} {'closed' if self.is_closing else 'opened again'}"
