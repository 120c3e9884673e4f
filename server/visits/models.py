"""Plans of days at a site, and the van."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from loops.models import Loop
from sites.models import Site


class Plan(models.Model):
    """Loops of a site put into days.

    `windows` say of a breaker, by its circuit's identity, between which minutes of the day it may be off; `skills` of a
    person what they hold; both go on to the next plan of the site.
    """

    way_to_site = "site"
    hidden_with = ("site__",)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, related_name="plans", on_delete=models.PROTECT)
    name = models.CharField(max_length=80)
    first_day = models.DateField()
    begins_min = models.PositiveIntegerField(default=480, help_text="minute of the day at which a visit begins")
    visit_minutes = models.PositiveIntegerField(default=480)
    isolate_minutes = models.PositiveIntegerField(default=8)
    walk_minutes = models.PositiveIntegerField(default=2)
    people = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="+")
    skills = models.JSONField(default=dict)
    windows = models.JSONField(default=dict)
    is_by_hand = models.BooleanField(default=False, help_text="changed after it was computed")
    is_optimal = models.BooleanField(default=False)
    best = models.JSONField(default=dict, help_text="what the computed plan costs")
    bounds = models.JSONField(default=list, help_text="codes of what binds it")
    left_out = models.JSONField(default=list, help_text="loops that are in no visit, with the reason")
    version = models.PositiveIntegerField(default=1)
    at = models.DateTimeField(auto_now=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-first_day", "name", "id")

    def __str__(self) -> str:
        return self.name


class PlanJob(models.Model):
    """One loop of a plan, and what it asks for."""

    id = models.BigAutoField(primary_key=True)
    plan = models.ForeignKey(Plan, related_name="jobs", on_delete=models.CASCADE)
    loop = models.ForeignKey(Loop, related_name="plan_jobs", on_delete=models.PROTECT)
    minutes = models.PositiveIntegerField(null=True, help_text="by hand; else from the loop's own tasks")
    skill = models.CharField(max_length=60, blank=True)
    needs = models.JSONField(default=list, help_text="loops that come first")
    ready_on = models.DateField(null=True, help_text="when its part or key comes")
    # Where it stands: which visit of the plan, and its place in it.
    visit = models.PositiveIntegerField(null=True)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ("visit", "position", "id")
        constraints = (models.UniqueConstraint(fields=("plan", "loop"), name="one_job_a_loop_of_a_plan"),)

    def __str__(self) -> str:
        return f"{self.loop} in {self.plan}"


class PlanVisit(models.Model):
    """One person's day at the site."""

    id = models.BigAutoField(primary_key=True)
    plan = models.ForeignKey(Plan, related_name="visits", on_delete=models.CASCADE)
    number = models.PositiveIntegerField(help_text="from 0, in the order of the plan")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    day = models.PositiveIntegerField(default=0, help_text="working days after the first")

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("plan", "number"), name="one_visit_a_number"),)

    def __str__(self) -> str:
        return f"{self.person}, day {self.day + 1} of {self.plan}"


class VanItem(models.Model):
    """What is in the van of a kind of thing."""

    key = models.CharField(max_length=160, unique=True)
    count = models.FloatField(default=0.0)
    version = models.PositiveIntegerField(default=1)
    at = models.DateTimeField(auto_now=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return f"{self.key}: {self.count:g}"
