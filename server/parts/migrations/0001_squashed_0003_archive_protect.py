"""The tables as they are after 0003, made at once: what a new copy begins with."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("parts", "0001_initial"),
        ("parts", "0002_claims"),
        ("parts", "0003_archive_protect"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Part",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                (
                    "category",
                    models.CharField(
                        choices=[
                            ("lamp", "Lamp"),
                            ("control", "Control"),
                            ("bypass", "Bypass"),
                            ("cable", "Cable"),
                            ("box", "Box"),
                            ("spacer", "Spacer"),
                        ],
                        max_length=10,
                    ),
                ),
                ("kind", models.CharField(max_length=30)),
                ("maker", models.CharField(max_length=120)),
                ("name", models.CharField(max_length=120)),
                ("note", models.CharField(blank=True, max_length=300)),
                (
                    "v_rms",
                    models.FloatField(
                        help_text="supply voltage it is made for [V]; none for boxes and cables", null=True
                    ),
                ),
                ("figures", models.JSONField()),
                ("version", models.PositiveIntegerField(default=1)),
            ],
            options={
                "ordering": ("category", "maker", "name"),
                "constraints": [models.UniqueConstraint(fields=("maker", "name"), name="one_part_of_a_name_a_maker")],
            },
        ),
        migrations.CreateModel(
            name="PartClaim",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("position", models.PositiveSmallIntegerField()),
                ("field", models.CharField(max_length=60)),
                ("low", models.FloatField()),
                ("typical", models.FloatField()),
                ("high", models.FloatField()),
                ("source", models.CharField(max_length=10)),
                ("where", models.CharField(blank=True, max_length=300)),
                ("in_use", models.BooleanField(default=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "part",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="claims", to="parts.part"
                    ),
                ),
            ],
            options={
                "ordering": ("position", "at", "id"),
            },
        ),
    ]
