"""The tables as they are after 0002, made at once: what a new copy begins with."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("setup", "0001_radio_joining_programs"),
        ("setup", "0002_zone_of_the_site"),
    ]

    dependencies = [
        ("loops", "0001_squashed_0017_plain_words"),
        ("sites", "0001_squashed_0006_zone"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="House",
            fields=[
                (
                    "site",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT,
                        primary_key=True,
                        related_name="house",
                        serialize=False,
                        to="sites.site",
                    ),
                ),
                ("document", models.JSONField(default=dict)),
                ("version", models.PositiveIntegerField(default=1)),
            ],
        ),
        migrations.CreateModel(
            name="Programs",
            fields=[
                (
                    "gang",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT,
                        primary_key=True,
                        related_name="programs",
                        serialize=False,
                        to="loops.gang",
                    ),
                ),
                ("document", models.JSONField(default=dict)),
                ("version", models.PositiveIntegerField(default=1)),
            ],
        ),
        migrations.CreateModel(
            name="PairMark",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("number", models.PositiveIntegerField(help_text="place in the order of its site")),
                ("hub", models.CharField(max_length=80)),
                ("step", models.CharField(help_text="what was done, and of which device", max_length=200)),
                ("device", models.CharField(blank=True, max_length=80)),
                ("name", models.CharField(blank=True, help_text="under which it joined", max_length=80)),
                (
                    "came",
                    models.CharField(
                        choices=[("worked", "worked"), ("again", "again"), ("other", "something else")], max_length=10
                    ),
                ),
                ("note", models.CharField(blank=True, max_length=300)),
                ("made_at", models.DateTimeField(null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "site",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="pair_marks", to="sites.site"
                    ),
                ),
            ],
            options={
                "ordering": ("number",),
                "constraints": [models.UniqueConstraint(fields=("site", "number"), name="one_pair_mark_a_number")],
            },
        ),
    ]
