"""Where the loops are."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from audit.archiving import Archivable
from ember_core.survey.isolation import LEAST_PROOF_LASTS_S, MOST_PROOF_LASTS_S, PROOF_LASTS_S
from wording.moments import known_zone


class Region(models.TextChoices):
    """Whose words are used."""

    EU = "eu", "permanent live, switched live, earth"
    NA = "na", "line, load wire, ground"


class Site(Archivable):
    """A building with one supply, and who works there: nobody else but an administrator sees it."""

    # Where a record's site is, and whose archiving hides it: read by `sites.access`.
    way_to_site = ""
    hidden_with = ("",)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120, unique=True)
    place = models.CharField(max_length=200, blank=True)
    region = models.CharField(max_length=2, choices=Region.choices, default=Region.EU)
    v_rms = models.FloatField(validators=[MinValueValidator(80.0), MaxValueValidator(280.0)])
    f_hz = models.FloatField(validators=[MinValueValidator(40.0), MaxValueValidator(70.0)])
    tolerance_ratio = models.FloatField(default=0.10, validators=[MinValueValidator(0.0), MaxValueValidator(0.2)])
    proof_lasts_s = models.FloatField(
        default=PROOF_LASTS_S,
        validators=[MinValueValidator(LEAST_PROOF_LASTS_S), MaxValueValidator(MOST_PROOF_LASTS_S)],
        help_text="how long a proof of dead counts [s]",
    )
    zone = models.CharField(
        max_length=60, blank=True, validators=[known_zone], help_text="IANA time zone of its papers; empty: UTC"
    )
    members = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="sites", blank=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name


class Circuit(models.Model):
    """A breaker and what hangs on it."""

    way_to_site = "site"
    hidden_with = ("site__",)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, related_name="circuits", on_delete=models.PROTECT)
    breaker = models.CharField(max_length=20)
    label_as_found = models.CharField(max_length=120, blank=True)
    feeds = models.CharField(max_length=200, blank=True)
    # What the label says since it was corrected; empty while the one found still hangs there.
    label_now = models.CharField(max_length=120, blank=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("site_id", "breaker", "id")
        constraints = (models.UniqueConstraint(fields=("site", "breaker"), name="one_breaker_of_a_name_a_site"),)

    def __str__(self) -> str:
        return f"{self.site}: {self.breaker}"


class LabelCorrection(models.Model):
    """A wrong label found and corrected for good: rows are only added."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    circuit = models.ForeignKey(Circuit, related_name="corrections", on_delete=models.PROTECT)
    label_before = models.CharField(max_length=120, blank=True)
    label = models.CharField(max_length=120)
    feeds = models.CharField(max_length=200, blank=True)
    how_found = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ("-at", "id")

    def __str__(self) -> str:
        return f"{self.circuit}: {self.label}"
