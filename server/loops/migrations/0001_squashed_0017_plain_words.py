"""The tables as they are after 0017, made at once: what a new copy begins with."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("loops", "0001_initial"),
        ("loops", "0002_alter_loop_next_step"),
        ("loops", "0003_place"),
        ("loops", "0004_trims"),
        ("loops", "0005_loads"),
        ("loops", "0006_measured_value"),
        ("loops", "0007_overall"),
        ("loops", "0008_loop_loops_loop_changed_fefd51_idx"),
        ("loops", "0009_archive_protect"),
        ("loops", "0010_loop_words"),
        ("loops", "0011_fill_words"),
        ("loops", "0012_fitting_and_visits"),
        ("loops", "0013_alter_loop_next_step"),
        ("loops", "0014_stage"),
        ("loops", "0015_assigned"),
        ("loops", "0016_pages_from_an_index"),
        ("loops", "0017_plain_words"),
    ]

    dependencies = [
        ("parts", "0001_squashed_0003_archive_protect"),
        ("sites", "0001_squashed_0006_zone"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Gang",
            fields=[
                ("archived_at", models.DateTimeField(blank=True, null=True)),
                ("archived_reason", models.CharField(blank=True, max_length=200)),
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("position", models.PositiveSmallIntegerField()),
                ("name", models.CharField(blank=True, max_length=120)),
                ("cable", models.JSONField(default=dict)),
                (
                    "place",
                    models.JSONField(default=dict, help_text="where its bypass goes or is, as far as it was looked at"),
                ),
                ("trims", models.JSONField(default=dict, help_text="what was found and set of a dimmer on site")),
                (
                    "verdict",
                    models.CharField(
                        choices=[
                            ("unknown", "unknown"),
                            ("dark", "dark"),
                            ("close", "close"),
                            ("marginal", "marginal"),
                            ("glow", "glow"),
                            ("blink", "blink"),
                            ("starved", "starved"),
                        ],
                        default="unknown",
                        max_length=10,
                    ),
                ),
                (
                    "works",
                    models.CharField(
                        choices=[
                            ("unknown", "not judged"),
                            ("works", "works"),
                            ("probably", "probably works"),
                            ("not_sure", "not sure"),
                            ("does_not", "does not work"),
                        ],
                        default="unknown",
                        max_length=10,
                    ),
                ),
                (
                    "overall",
                    models.JSONField(default=dict, help_text="the one verdict as last judged: codes and counts"),
                ),
                (
                    "judged_on",
                    models.JSONField(default=dict, help_text="what its judgement stands on: supply, core, parts"),
                ),
                ("line_i_rms_a", models.FloatField(null=True)),
                (
                    "load",
                    models.JSONField(
                        default=dict, help_text="least and largest load as last judged, and the verdict while lit"
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
            ],
            options={
                "ordering": ("loop", "position"),
            },
        ),
        migrations.CreateModel(
            name="FittedControl",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("label", models.CharField(blank=True, max_length=160)),
                (
                    "status",
                    models.CharField(
                        choices=[("planned", "planned"), ("fitted", "fitted")], default="planned", max_length=10
                    ),
                ),
                ("figures", models.JSONField()),
                (
                    "part",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="parts.part",
                    ),
                ),
                (
                    "gang",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT, related_name="control", to="loops.gang"
                    ),
                ),
            ],
            options={
                "abstract": False,
            },
        ),
        migrations.CreateModel(
            name="FittedBypass",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("label", models.CharField(blank=True, max_length=160)),
                (
                    "status",
                    models.CharField(
                        choices=[("planned", "planned"), ("fitted", "fitted")], default="planned", max_length=10
                    ),
                ),
                ("figures", models.JSONField()),
                ("position", models.PositiveSmallIntegerField()),
                (
                    "part",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="parts.part",
                    ),
                ),
                (
                    "gang",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="bypasses", to="loops.gang"
                    ),
                ),
            ],
            options={
                "ordering": ("position",),
            },
        ),
        migrations.CreateModel(
            name="LampGroup",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("label", models.CharField(blank=True, max_length=160)),
                (
                    "status",
                    models.CharField(
                        choices=[("planned", "planned"), ("fitted", "fitted")], default="planned", max_length=10
                    ),
                ),
                ("figures", models.JSONField()),
                ("position", models.PositiveSmallIntegerField()),
                (
                    "gang",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="lamps", to="loops.gang"
                    ),
                ),
                (
                    "part",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="parts.part",
                    ),
                ),
            ],
            options={
                "ordering": ("position",),
            },
        ),
        migrations.CreateModel(
            name="Loop",
            fields=[
                ("archived_at", models.DateTimeField(blank=True, null=True)),
                ("archived_reason", models.CharField(blank=True, max_length=200)),
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("name", models.CharField(max_length=120)),
                ("note", models.CharField(blank=True, max_length=500)),
                ("due_on", models.DateField(blank=True, null=True)),
                (
                    "verdict",
                    models.CharField(
                        choices=[
                            ("unknown", "unknown"),
                            ("dark", "dark"),
                            ("close", "close"),
                            ("marginal", "marginal"),
                            ("glow", "glow"),
                            ("blink", "blink"),
                            ("starved", "starved"),
                        ],
                        default="unknown",
                        max_length=10,
                    ),
                ),
                (
                    "works",
                    models.CharField(
                        choices=[
                            ("unknown", "not judged"),
                            ("works", "works"),
                            ("probably", "probably works"),
                            ("not_sure", "not sure"),
                            ("does_not", "does not work"),
                        ],
                        default="unknown",
                        max_length=10,
                    ),
                ),
                ("overall", models.JSONField(default=dict, help_text="the one verdict, of its gang that fares worst")),
                (
                    "judged_on",
                    models.JSONField(
                        default=dict, help_text="what its judgements stand on, of a gang that is out of date"
                    ),
                ),
                (
                    "next_step",
                    models.CharField(
                        choices=[
                            ("survey", "finish the survey"),
                            ("lamps", "enter the lamps"),
                            ("control", "choose the control"),
                            ("remedy", "find a remedy"),
                            ("measure", "measure what decides"),
                            ("light_on", "look at the light on"),
                            ("loads", "look at the load"),
                            ("route", "choose the way"),
                            ("fit", "fit it"),
                            ("prove", "prove it"),
                            ("case", "find out what is wrong"),
                            ("setup", "let it join"),
                            ("hand_over", "hand it over"),
                            ("done", "nothing to do"),
                            ("sheet", "print the sheet"),
                        ],
                        default="lamps",
                        max_length=10,
                    ),
                ),
                (
                    "stage",
                    models.CharField(blank=True, help_text="where it stands: a stage of the core", max_length=12),
                ),
                (
                    "chosen",
                    models.JSONField(
                        default=dict, help_text="the way that was chosen: way, control, label, works, on_bench"
                    ),
                ),
                ("load", models.JSONField(default=dict, help_text="that of its gang that fares worst")),
                (
                    "words",
                    models.CharField(
                        blank=True, help_text="what it is searched by, beside site and breaker", max_length=2000
                    ),
                ),
                (
                    "plain_words",
                    models.CharField(
                        blank=True, db_collation="utf8mb4_bin", help_text="the same, plain", max_length=2000
                    ),
                ),
                ("changed_at", models.DateTimeField(auto_now=True)),
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
                (
                    "assigned",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="assigned_loops",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "circuit",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="loops",
                        to="sites.circuit",
                    ),
                ),
                (
                    "site",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="loops", to="sites.site"
                    ),
                ),
            ],
            options={
                "ordering": ("site__name", "name", "id"),
            },
        ),
        migrations.AddField(
            model_name="gang",
            name="loop",
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="gangs", to="loops.loop"),
        ),
        migrations.CreateModel(
            name="MeasuredValue",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                (
                    "occasion",
                    models.CharField(
                        choices=[
                            ("off_state", "off state as found or planned"),
                            ("after_fitting", "with the bypass in"),
                        ],
                        max_length=20,
                    ),
                ),
                ("data", models.JSONField(help_text="kind, value or what was seen, meter, lamp group")),
                ("meter", models.CharField(blank=True, help_text="which meter, as its owner calls it", max_length=80)),
                ("made_at", models.DateTimeField(null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("struck_reason", models.CharField(blank=True, max_length=200)),
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
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="measured", to="loops.gang"
                    ),
                ),
            ],
            options={
                "ordering": ("at", "id"),
            },
        ),
        migrations.AddIndex(
            model_name="loop",
            index=models.Index(fields=["verdict"], name="loops_loop_verdict_b1bc73_idx"),
        ),
        migrations.AddIndex(
            model_name="loop",
            index=models.Index(fields=["archived_at", "name", "id", "site"], name="loops_loop_archive_db6ae3_idx"),
        ),
        migrations.AddIndex(
            model_name="loop",
            index=models.Index(
                fields=["archived_at", "works", "name", "id", "site"], name="loops_loop_archive_4809f0_idx"
            ),
        ),
        migrations.AddIndex(
            model_name="loop",
            index=models.Index(
                fields=["archived_at", "next_step", "name", "id", "site"], name="loops_loop_archive_aa7f5f_idx"
            ),
        ),
        migrations.AddIndex(
            model_name="loop",
            index=models.Index(
                fields=["archived_at", "stage", "name", "id", "site"], name="loops_loop_archive_e1848e_idx"
            ),
        ),
        migrations.AddIndex(
            model_name="loop",
            index=models.Index(fields=["-changed_at", "id"], name="loops_loop_changed_fefd51_idx"),
        ),
        migrations.AddIndex(
            model_name="loop",
            index=models.Index(fields=["due_on"], name="loops_loop_due_on_d399aa_idx"),
        ),
        migrations.AddConstraint(
            model_name="loop",
            constraint=models.UniqueConstraint(fields=("site", "name"), name="one_loop_of_a_name_a_site"),
        ),
        migrations.AddConstraint(
            model_name="gang",
            constraint=models.UniqueConstraint(fields=("loop", "position"), name="one_gang_a_position"),
        ),
    ]
