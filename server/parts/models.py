"""Parts."""

from __future__ import annotations

import uuid

from django.db import models


class Category(models.TextChoices):
    """What a part is."""

    LAMP = "lamp", "Lamp"
    CONTROL = "control", "Control"
    BYPASS = "bypass", "Bypass"


class Part(models.Model):
    """A part of the shelf; `figures` is its piece of a loop sheet, numbers with range and source."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    category = models.CharField(max_length=10, choices=Category.choices)
    kind = models.CharField(max_length=30)
    maker = models.CharField(max_length=80)
    name = models.CharField(max_length=120)
    note = models.CharField(max_length=300, blank=True)
    v_rms = models.FloatField(help_text="supply voltage it is made for [V]")
    figures = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("category", "maker", "name")
        constraints = (models.UniqueConstraint(fields=("maker", "name"), name="one_part_of_a_name_a_maker"),)

    def __str__(self) -> str:
        return f"{self.maker} {self.name}"
