"""The tables as they are after 0006, made at once: what a new copy begins with."""

import django.core.validators
import django.db.models.deletion
import uuid
import wording.moments
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("sites", "0001_initial"),
        ("sites", "0002_circuit_label_now_labelcorrection"),
        ("sites", "0003_proof_lasts"),
        ("sites", "0004_members_archive"),
        ("sites", "0005_everybody_so_far"),
        ("sites", "0006_zone"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Circuit",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("breaker", models.CharField(max_length=20)),
                ("label_as_found", models.CharField(blank=True, max_length=120)),
                ("feeds", models.CharField(blank=True, max_length=200)),
                ("label_now", models.CharField(blank=True, max_length=120)),
                ("version", models.PositiveIntegerField(default=1)),
            ],
            options={
                "ordering": ("site", "breaker", "id"),
            },
        ),
        migrations.CreateModel(
            name="LabelCorrection",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("label_before", models.CharField(blank=True, max_length=120)),
                ("label", models.CharField(max_length=120)),
                ("feeds", models.CharField(blank=True, max_length=200)),
                ("how_found", models.CharField(blank=True, max_length=200)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "circuit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="corrections", to="sites.circuit"
                    ),
                ),
            ],
            options={
                "ordering": ("-at", "id"),
            },
        ),
        migrations.CreateModel(
            name="Site",
            fields=[
                ("archived_at", models.DateTimeField(blank=True, null=True)),
                ("archived_reason", models.CharField(blank=True, max_length=200)),
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("name", models.CharField(max_length=120, unique=True)),
                ("place", models.CharField(blank=True, max_length=200)),
                (
                    "region",
                    models.CharField(
                        choices=[("eu", "permanent live, switched live, earth"), ("na", "line, load wire, ground")],
                        default="eu",
                        max_length=2,
                    ),
                ),
                (
                    "v_rms",
                    models.FloatField(
                        validators=[
                            django.core.validators.MinValueValidator(80.0),
                            django.core.validators.MaxValueValidator(280.0),
                        ]
                    ),
                ),
                (
                    "f_hz",
                    models.FloatField(
                        validators=[
                            django.core.validators.MinValueValidator(40.0),
                            django.core.validators.MaxValueValidator(70.0),
                        ]
                    ),
                ),
                (
                    "tolerance_ratio",
                    models.FloatField(
                        default=0.1,
                        validators=[
                            django.core.validators.MinValueValidator(0.0),
                            django.core.validators.MaxValueValidator(0.2),
                        ],
                    ),
                ),
                (
                    "proof_lasts_s",
                    models.FloatField(
                        default=14400.0,
                        help_text="how long a proof of dead counts [s]",
                        validators=[
                            django.core.validators.MinValueValidator(300.0),
                            django.core.validators.MaxValueValidator(43200.0),
                        ],
                    ),
                ),
                (
                    "zone",
                    models.CharField(
                        blank=True,
                        help_text="IANA time zone of its papers; empty: UTC",
                        max_length=60,
                        validators=[wording.moments.known_zone],
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                (
                    "archived_by",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                ("members", models.ManyToManyField(blank=True, related_name="sites", to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ("name",),
            },
        ),
        migrations.AddField(
            model_name="circuit",
            name="site",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="circuits", to="sites.site"
            ),
        ),
        migrations.AddConstraint(
            model_name="circuit",
            constraint=models.UniqueConstraint(fields=("site", "breaker"), name="one_breaker_of_a_name_a_site"),
        ),
    ]
