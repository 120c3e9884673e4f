"""What is on record of a site's radio, of joining, and of programs."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from loops.models import Gang
from sites.models import Site


class House(models.Model):
    """The radio of a site as far as somebody noted it; the document is core's."""

    way_to_site = "site"
    hidden_with = ("site__",)

    site = models.OneToOneField(Site, primary_key=True, related_name="house", on_delete=models.PROTECT)
    document = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"radio of {self.site}"


class Programs(models.Model):
    """What a gang's control is to do by itself, and how it takes a power cut; the document is core's."""

    way_to_site = "gang__loop__site"
    hidden_with = ("gang__", "gang__loop__", "gang__loop__site__")

    gang = models.OneToOneField(Gang, primary_key=True, related_name="programs", on_delete=models.PROTECT)
    document = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"programs of {self.gang}"


class Came(models.TextChoices):
    """What came of a step of joining."""

    WORKED = "worked", "worked"
    AGAIN = "again", "again"
    OTHER = "other", "something else"


class PairMark(models.Model):
    """One step of joining as somebody did it: rows are only added, the newest of a step counts."""

    way_to_site = "site"
    hidden_with = ("site__",)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    number = models.PositiveIntegerField(help_text="place in the order of its site")
    site = models.ForeignKey(Site, related_name="pair_marks", on_delete=models.PROTECT)
    hub = models.CharField(max_length=80)
    step = models.CharField(max_length=200, help_text="what was done, and of which device")
    device = models.CharField(max_length=80, blank=True)
    name = models.CharField(max_length=80, blank=True, help_text="under which it joined")
    came = models.CharField(max_length=10, choices=Came.choices)
    note = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("site", "number"), name="one_pair_mark_a_number"),)

    def __str__(self) -> str:
        return f"{self.step} at {self.site}: {self.came}"
