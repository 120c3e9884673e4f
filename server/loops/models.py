"""The object everything turns around."""

from __future__ import annotations

import uuid
from datetime import datetime

from django.conf import settings
from django.db import models

from audit.archiving import Archivable
from ember_core.routes.as_wired import Wired
from judging.verdicts import VerdictWord, WorksWord
from parts.models import Part
from sites.models import Circuit, Site


class NextStep(models.TextChoices):
    """What to do next at a loop."""

    SURVEY = "survey", "finish the survey"
    LAMPS = "lamps", "enter the lamps"
    CONTROL = "control", "choose the control"
    REMEDY = "remedy", "find a remedy"
    MEASURE = "measure", "measure what decides"
    LIGHT_ON = "light_on", "look at the light on"
    LOADS = "loads", "look at the load"
    ROUTE = "route", "choose the way"
    FIT = "fit", "fit it"
    PROVE = "prove", "prove it"
    CASE = "case", "find out what is wrong"
    SETUP = "setup", "let it join"
    HAND_OVER = "hand_over", "hand it over"
    CHECK = "check", "have the checker sign"
    DONE = "done", "nothing to do"
    SHEET = "sheet", "print the sheet"


class FitStatus(models.TextChoices):
    """Whether a part is there or only meant."""

    PLANNED = "planned", "planned"
    FITTED = "fitted", "fitted"


# Of a loop, what is computed anew from the rest of it.
COMPUTED = (
    "verdict",
    "works",
    "overall",
    "judged_on",
    "next_step",
    "stage",
    "load",
    "words",
    "plain_words",
    "changed_at",
)


class Loop(Archivable):
    """A two-wire switch loop at one box."""

    way_to_site = "site"
    hidden_with = ("", "site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, related_name="loops", on_delete=models.PROTECT)
    circuit = models.ForeignKey(Circuit, related_name="loops", null=True, blank=True, on_delete=models.PROTECT)
    name = models.CharField(max_length=120)
    note = models.CharField(max_length=500, blank=True)
    assigned = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, blank=True, related_name="assigned_loops", on_delete=models.PROTECT
    )
    due_on = models.DateField(null=True, blank=True)
    verdict = models.CharField(max_length=10, choices=VerdictWord.choices, default=VerdictWord.UNKNOWN)
    works = models.CharField(max_length=10, choices=WorksWord.choices, default=WorksWord.UNKNOWN)
    overall = models.JSONField(default=dict, help_text="the one verdict, of its gang that fares worst")
    judged_on = models.JSONField(default=dict, help_text="what its judgements stand on, of a gang that is out of date")
    next_step = models.CharField(max_length=10, choices=NextStep.choices, default=NextStep.LAMPS)
    stage = models.CharField(max_length=12, blank=True, help_text="where it stands: a stage of the core")
    chosen = models.JSONField(default=dict, help_text="the way that was chosen: way, control, label, works, on_bench")
    load = models.JSONField(default=dict, help_text="that of its gang that fares worst")
    words = models.CharField(max_length=2000, blank=True, help_text="what it is searched by, beside site and breaker")
    # As they are compared (`common.plain`): ten thousand of them are read in half the time that accents would take.
    plain_words = models.CharField(max_length=2000, blank=True, db_collation="utf8mb4_bin", help_text="the same, plain")
    changed_at = models.DateTimeField(auto_now=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("site__name", "name", "id")
        constraints = (models.UniqueConstraint(fields=("site", "name"), name="one_loop_of_a_name_a_site"),)
        # A page of thousands, whole or of one word, is read from an index in its order, sites and all.
        indexes = (
            models.Index(fields=("verdict",)),
            models.Index(fields=("archived_at", "name", "id", "site")),
            models.Index(fields=("archived_at", "works", "name", "id", "site")),
            models.Index(fields=("archived_at", "next_step", "name", "id", "site")),
            models.Index(fields=("archived_at", "stage", "name", "id", "site")),
            models.Index(fields=("-changed_at", "id")),
            models.Index(fields=("due_on",)),
        )

    def __str__(self) -> str:
        return f"{self.site}: {self.name}"


class Gang(Archivable):
    """One switched circuit of a loop."""

    way_to_site = "loop__site"
    hidden_with = ("", "loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    loop = models.ForeignKey(Loop, related_name="gangs", on_delete=models.PROTECT)
    position = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=120, blank=True)
    cable = models.JSONField(default=dict)
    place = models.JSONField(default=dict, help_text="where its bypass goes or is, as far as it was looked at")
    trims = models.JSONField(default=dict, help_text="what was found and set of a dimmer on site")
    verdict = models.CharField(max_length=10, choices=VerdictWord.choices, default=VerdictWord.UNKNOWN)
    works = models.CharField(max_length=10, choices=WorksWord.choices, default=WorksWord.UNKNOWN)
    overall = models.JSONField(default=dict, help_text="the one verdict as last judged: codes and counts")
    judged_on = models.JSONField(default=dict, help_text="what its judgement stands on: supply, core, parts")
    line_i_rms_a = models.FloatField(null=True)
    load = models.JSONField(default=dict, help_text="least and largest load as last judged, and the verdict while lit")
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("loop_id", "position")
        constraints = (models.UniqueConstraint(fields=("loop", "position"), name="one_gang_a_position"),)

    def __str__(self) -> str:
        return f"{self.loop}, gang {self.position}"


class _Fit(models.Model):
    """A part on a gang: a copy of its figures, so that a later change on the shelf changes no record."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    part = models.ForeignKey(Part, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    label = models.CharField(max_length=160, blank=True)
    status = models.CharField(max_length=10, choices=FitStatus.choices, default=FitStatus.PLANNED)
    figures = models.JSONField()

    class Meta:
        abstract = True


class WiredWord(models.TextChoices):
    """How a control hangs in its loop; its figures stay those of one control fed through the lamps."""

    LOOP = Wired.LOOP.value, "two wires, fed through the lamps"
    STRAIGHT = Wired.STRAIGHT.value, "fed by a neutral of its own"
    PAIR = Wired.PAIR.value, "one at each of two places"


class FittedControl(_Fit):
    """The control (or ordinary switch) of a gang."""

    gang = models.OneToOneField(Gang, related_name="control", on_delete=models.PROTECT)
    wired = models.CharField(max_length=10, choices=WiredWord.choices, default=WiredWord.LOOP)


class FittedBypass(_Fit):
    """A bypass of a gang."""

    gang = models.ForeignKey(Gang, related_name="bypasses", on_delete=models.PROTECT)
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ("position",)


class LampGroup(_Fit):
    """Equal lamps of a gang; `figures` holds kind and count too."""

    gang = models.ForeignKey(Gang, related_name="lamps", on_delete=models.PROTECT)
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ("position",)


class Occasion(models.TextChoices):
    """When something was measured."""

    OFF_STATE = "off_state", "off state as found or planned"
    AFTER_FITTING = "after_fitting", "with the bypass in"


class MeasuredValue(models.Model):
    """What was read or seen of a gang, on site or bench: never changed, struck out when it was wrong."""

    way_to_site = "gang__loop__site"
    hidden_with = ("gang__", "gang__loop__", "gang__loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    gang = models.ForeignKey(Gang, related_name="measured", on_delete=models.PROTECT)
    occasion = models.CharField(max_length=20, choices=Occasion.choices)
    data = models.JSONField(help_text="kind, value or what was seen, meter, lamp group")
    meter = models.CharField(max_length=80, blank=True, help_text="which meter, as its owner calls it")
    hung = models.CharField(max_length=40, blank=True, help_text="which parts hung there; empty of a record of before")
    # When it was made on the device, where that is known; `at` is when it arrived.
    made_at = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    struck_reason = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("at", "id")

    @property
    def taken_at(self) -> datetime:
        """When it was taken: before it arrived where it waited on the device, and never after."""
        return self.at if self.made_at is None else min(self.made_at, self.at)

    def __str__(self) -> str:
        return f"measured at {self.gang}"
