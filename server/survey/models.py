"""What is recorded at the boxes of a loop, and who keeps the power off.

Rows of record are only added: a reading is struck out, a lock taken off, a proof ended, never rewritten.
"""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from django.conf import settings
from django.db import models

from audit.archiving import Archivable
from ember_core.survey import isolation as rules
from loops.models import Loop
from sites.models import Circuit, Site

# The boxes of one loop: a switch at either end and two between them.
MOST_BOXES = 4
# Luminaires of a loop are places of their own, where dead is proved by itself: the first gang's is this one.
FIRST_POINT = 11
# So are the junction boxes before them.
FIRST_JUNCTION = 21
MOST_PLACE = FIRST_JUNCTION + 2


def empty_box() -> dict[str, Any]:
    """A box of which nothing is known."""
    return {"gangs": ["one_way"], "circuits": 1, "conductors": []}


class Boxes(models.Manager["Survey"]):
    """The boxes of loops, without their luminaires."""

    def get_queryset(self) -> models.QuerySet[Survey]:
        return super().get_queryset().filter(place__lt=FIRST_POINT)


class Survey(models.Model):
    """Visit and one box of a loop as documents; readings, proofs, steps and photographs name loop and place."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="surveys", on_delete=models.PROTECT)
    place = models.PositiveSmallIntegerField(default=1, help_text="which box of the loop, from 1")
    name = models.CharField(max_length=80, blank=True, help_text="where this box is")
    enquiry = models.JSONField(default=dict)
    box = models.JSONField(default=empty_box)
    practice = models.CharField(max_length=40, blank=True)
    control_body = models.JSONField(null=True)
    spacers_m = models.JSONField(default=list)
    travellers_m = models.FloatField(null=True, help_text="length of the cable to the box before it [m]")
    other_circuits = models.ManyToManyField(Circuit, related_name="+", blank=True)
    is_known = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    objects = models.Manager()
    boxes = Boxes()

    class Meta:
        # By the key: a loop has an order of its own, which would be joined to every question.
        ordering = ("loop_id", "place")
        constraints = (models.UniqueConstraint(fields=("loop", "place"), name="one_survey_a_box"),)

    @property
    def is_box(self) -> bool:
        """A box, and not a luminaire."""
        return self.place < FIRST_POINT

    def __str__(self) -> str:
        return f"survey of {self.loop}, box {self.place}"


class Origin(models.TextChoices):
    """How a value came in."""

    TYPED = "typed", "typed by hand"
    METER = "meter", "read by the meter"
    SIMULATED = "simulated", "from the simulated meter"


class _Taken(models.Model):
    """Where a value came from, when and by whom."""

    origin = models.CharField(max_length=10, choices=Origin.choices, default=Origin.TYPED)
    meter_identity = models.CharField(max_length=160, blank=True)
    # When it was made on the device, where that is known; `at` is when it arrived.
    made_at = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True


class MeterValue(models.Model):
    """What a meter showed when it was asked: a record that claims a meter's value must name one of these."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="+", on_delete=models.PROTECT)
    asked = models.JSONField()
    shown = models.JSONField()
    identity = models.CharField(max_length=160)
    is_simulated = models.BooleanField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return f"value {self.pk}"


class TakenReading(_Taken):
    """One reading; never changed, struck out when it was wrong."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="readings", on_delete=models.PROTECT)
    place = models.PositiveSmallIntegerField(default=1)
    data = models.JSONField()
    struck_reason = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("at", "id")
        indexes = (models.Index(fields=("loop", "at")),)

    def __str__(self) -> str:
        return f"reading {self.pk}"


class Isolation(models.Model):
    """One time that breakers, or a whole installation, are off, until the power is put back."""

    way_to_site = "site"
    hidden_with = ("site__",)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, related_name="isolations", on_delete=models.PROTECT)
    # The loop at which it was begun; everybody else's work under it is named by their locks.
    loop = models.ForeignKey(Loop, related_name="isolations", on_delete=models.PROTECT)
    scope = models.CharField(max_length=20, choices=[(s.value, s.value) for s in rules.Scope])
    circuits = models.ManyToManyField(Circuit, related_name="isolations", blank=True)
    opened_at = models.DateTimeField(auto_now_add=True)
    opened_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    opened_made_at = models.DateTimeField(null=True, help_text="when it was entered on the device")
    closed_at = models.DateTimeField(null=True)
    closed_made_at = models.DateTimeField(null=True, help_text="when its end was entered on the device")
    closed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    closing_note = models.CharField(max_length=300, blank=True)
    closing_entry = models.UUIDField(null=True, help_text="identity of the entry that closed it")

    class Meta:
        ordering = ("-opened_at", "id")
        indexes = (models.Index(fields=("site", "closed_at"), name="survey_isol_site_id_open_idx"),)

    def __str__(self) -> str:
        return f"isolation at {self.site}"

    def is_off_at(self, moment: datetime) -> bool:
        """Whether it kept the power off then, by when its two ends were entered, never later than they arrived."""
        begun = min(self.opened_made_at or self.opened_at, self.opened_at)
        if self.closed_at is None:
            return begun <= moment
        return begun <= moment < max(begun, min(self.closed_made_at or self.closed_at, self.closed_at))


class Lock(models.Model):
    """One person's lock on an isolation."""

    way_to_site = "isolation__site"
    hidden_with = ("isolation__site__",)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    isolation = models.ForeignKey(Isolation, related_name="locks", on_delete=models.PROTECT)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    loop = models.ForeignKey(Loop, related_name="+", on_delete=models.PROTECT, help_text="where its owner works")
    put_at = models.DateTimeField(auto_now_add=True)
    off_at = models.DateTimeField(null=True)
    off_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    off_reason = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ("put_at", "id")

    def __str__(self) -> str:
        return f"lock of {self.person}"


class Proof(models.Model):
    """Proving one box dead, once: what it is a proof of, its events, and why it ended."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="proofs", on_delete=models.PROTECT)
    place = models.PositiveSmallIntegerField(default=1)
    isolations = models.ManyToManyField(Isolation, related_name="proofs")
    conductors = models.JSONField()
    points = models.JSONField(help_text="lock points that were off and locked when it began")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    ended_at = models.DateTimeField(null=True)
    ended_reason = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ("-at", "id")

    def __str__(self) -> str:
        return f"proof of {self.loop}, box {self.place}"


class ProofEvent(_Taken):
    """One thing done while proving; the rows of a proof are its order."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    number = models.PositiveIntegerField(help_text="place in the order of its proof")
    proof = models.ForeignKey(Proof, related_name="events", on_delete=models.PROTECT)
    kind = models.CharField(max_length=20, choices=[(k.value, k.value) for k in rules.EventKind])
    a = models.CharField(max_length=40, blank=True)
    b = models.CharField(max_length=40, blank=True)
    v = models.FloatField(null=True)
    charge = models.CharField(max_length=20, blank=True, choices=[(c.value, c.value) for c in rules.Charge])

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("proof", "number"), name="one_event_a_number"),)

    def __str__(self) -> str:
        return f"{self.kind} of {self.proof}"


class StepMark(models.Model):
    """A step marked done, or the mark taken back: rows are only added, the newest counts."""

    id = models.BigAutoField(primary_key=True)
    entry = models.UUIDField(unique=True, default=uuid.uuid4, help_text="identity given by whoever entered it")
    loop = models.ForeignKey(Loop, related_name="step_marks", on_delete=models.PROTECT)
    place = models.PositiveSmallIntegerField(default=1)
    step = models.CharField(max_length=20, choices=[(s.value, s.value) for s in rules.Step])
    is_done = models.BooleanField()
    override_reason = models.CharField(max_length=300, blank=True)
    overridden = models.JSONField(default=list, help_text="codes of the gates that stood against it")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    proof = models.ForeignKey(Proof, null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.step} of {self.loop}"


class Moment(models.TextChoices):
    """When a photograph was taken."""

    BEFORE = "before", "before"
    DURING = "during", "during"
    AFTER = "after", "after"


class Photo(Archivable):
    """A photograph kept with the loop, re-encoded, without its metadata."""

    way_to_site = "loop__site"
    hidden_with = ("", "loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="photos", on_delete=models.PROTECT)
    place = models.PositiveSmallIntegerField(default=1)
    moment = models.CharField(max_length=10, choices=Moment.choices)
    caption = models.CharField(max_length=200, blank=True)
    file = models.FileField(upload_to="photos")
    # Of what was sent, not of what is kept: the same identity with another picture is refused.
    digest = models.CharField(max_length=64, blank=True)
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"photo of {self.loop}"


class Notice(models.Model):
    """Something a person must be told, whichever page they are on, until they say that they have seen it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="notices")
    code = models.CharField(max_length=40)
    params = models.JSONField(default=dict)
    at = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"{self.code} for {self.person}"
