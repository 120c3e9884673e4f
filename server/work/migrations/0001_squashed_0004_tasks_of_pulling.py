"""The tables as they are after 0004, made at once: what a new copy begins with."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("work", "0001_initial"),
        ("work", "0002_fitting_and_visits"),
        ("work", "0003_task_ranges"),
        ("work", "0004_tasks_of_pulling"),
    ]

    dependencies = [
        ("loops", "0001_squashed_0017_plain_words"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="RouteOrder",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("values", models.JSONField()),
                ("version", models.PositiveIntegerField(default=1)),
            ],
        ),
        migrations.CreateModel(
            name="CeilingPoint",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("seen", models.JSONField(default=dict, help_text="line, neutral, spare: words of the core")),
                ("version", models.PositiveIntegerField(default=1)),
                ("at", models.DateTimeField(auto_now=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "gang",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT, related_name="ceiling", to="loops.gang"
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="CheckedDrawing",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("name", models.CharField(max_length=120)),
                ("source", models.CharField(blank=True, help_text="where it is from", max_length=300)),
                ("document", models.JSONField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "corrects",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="corrections",
                        to="work.checkeddrawing",
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="drawings", to="loops.loop"
                    ),
                ),
            ],
            options={
                "ordering": ("-at", "id"),
            },
        ),
        migrations.CreateModel(
            name="RouteChoice",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("number", models.PositiveIntegerField(help_text="place in the order of its loop")),
                ("way", models.CharField(max_length=30)),
                (
                    "control",
                    models.CharField(
                        blank=True, help_text="key of the part; empty for a way without one", max_length=60
                    ),
                ),
                ("label", models.CharField(blank=True, max_length=160)),
                ("why", models.CharField(blank=True, max_length=300)),
                (
                    "favoured",
                    models.CharField(blank=True, help_text="what the comparison favoured then", max_length=30),
                ),
                ("order", models.JSONField(help_text="the order of values that it was compared by")),
                ("rated", models.JSONField(help_text="its row of the comparison, codes and figures")),
                ("wire_map", models.JSONField(help_text="found and wanted seats, sleeves, moves")),
                (
                    "basis",
                    models.JSONField(help_text="versions of the survey, gangs and ceiling points that it stands on"),
                ),
                ("core_version", models.CharField(max_length=20)),
                (
                    "begun_at",
                    models.DateTimeField(help_text="when its first step was marked: from then on it stands", null=True),
                ),
                ("done_at", models.DateTimeField(help_text="when its last step was marked", null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="routes", to="loops.loop"
                    ),
                ),
            ],
            options={
                "ordering": ("-number",),
            },
        ),
        migrations.CreateModel(
            name="TaskRange",
            fields=[
                ("id", models.BigAutoField(primary_key=True, serialize=False)),
                (
                    "task",
                    models.CharField(
                        choices=[
                            ("find_breaker", "find_breaker"),
                            ("find_proved_breaker", "find_proved_breaker"),
                            ("isolate", "isolate"),
                            ("open", "open"),
                            ("identify", "identify"),
                            ("fit", "fit"),
                            ("ceiling", "ceiling"),
                            ("second_box", "second_box"),
                            ("spacer", "spacer"),
                            ("deepen", "deepen"),
                            ("pull_cable", "pull_cable"),
                            ("pull_conduit", "pull_conduit"),
                            ("prove", "prove"),
                            ("pair", "pair"),
                            ("levels", "levels"),
                            ("hand_over", "hand_over"),
                        ],
                        max_length=30,
                        unique=True,
                    ),
                ),
                ("low", models.FloatField()),
                ("typical", models.FloatField()),
                ("high", models.FloatField()),
                ("version", models.PositiveIntegerField(default=1)),
                ("at", models.DateTimeField(auto_now=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="TaskRecord",
            fields=[
                ("id", models.BigAutoField(primary_key=True, serialize=False)),
                (
                    "task",
                    models.CharField(
                        choices=[
                            ("find_breaker", "find_breaker"),
                            ("find_proved_breaker", "find_proved_breaker"),
                            ("isolate", "isolate"),
                            ("open", "open"),
                            ("identify", "identify"),
                            ("fit", "fit"),
                            ("ceiling", "ceiling"),
                            ("second_box", "second_box"),
                            ("spacer", "spacer"),
                            ("deepen", "deepen"),
                            ("pull_cable", "pull_cable"),
                            ("pull_conduit", "pull_conduit"),
                            ("prove", "prove"),
                            ("pair", "pair"),
                            ("levels", "levels"),
                            ("hand_over", "hand_over"),
                        ],
                        max_length=30,
                    ),
                ),
                ("minutes", models.FloatField()),
                (
                    "count",
                    models.PositiveIntegerField(default=1, help_text="how often the task was done in these minutes"),
                ),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "choice",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to="work.routechoice"
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="task_records", to="loops.loop"
                    ),
                ),
            ],
            options={
                "ordering": ("at", "id"),
            },
        ),
        migrations.AddConstraint(
            model_name="routechoice",
            constraint=models.UniqueConstraint(fields=("loop", "number"), name="one_route_choice_a_number"),
        ),
        migrations.AddConstraint(
            model_name="taskrecord",
            constraint=models.UniqueConstraint(fields=("choice", "task"), name="one_task_record_a_choice"),
        ),
    ]
