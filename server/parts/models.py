"""Parts of the shelf, and what each source says of their figures."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class Category(models.TextChoices):
    """What a part is; the core's categories."""

    LAMP = "lamp", "Lamp"
    CONTROL = "control", "Control"
    BYPASS = "bypass", "Bypass"
    CABLE = "cable", "Cable"
    BOX = "box", "Box"
    SPACER = "spacer", "Spacer"


class Part(models.Model):
    """A part of the shelf; `figures` is its piece of a loop sheet, made of the claims that are in use."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    category = models.CharField(max_length=10, choices=Category.choices)
    kind = models.CharField(max_length=30)
    maker = models.CharField(max_length=120)
    name = models.CharField(max_length=120)
    note = models.CharField(max_length=300, blank=True)
    v_rms = models.FloatField(null=True, help_text="supply voltage it is made for [V]; none for boxes and cables")
    figures = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("category", "maker", "name")
        constraints = (models.UniqueConstraint(fields=("maker", "name"), name="one_part_of_a_name_a_maker"),)

    def __str__(self) -> str:
        return f"{self.maker} {self.name}"


class PartClaim(models.Model):
    """What one source says of one figure of a part."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    part = models.ForeignKey(Part, related_name="claims", on_delete=models.PROTECT)
    position = models.PositiveSmallIntegerField()
    field = models.CharField(max_length=60)
    low = models.FloatField()
    typical = models.FloatField()
    high = models.FloatField()
    source = models.CharField(max_length=10)
    where = models.CharField(max_length=300, blank=True)
    in_use = models.BooleanField(default=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ("position", "at", "id")

    def __str__(self) -> str:
        return f"{self.field} {self.typical:g} ({self.source})"
