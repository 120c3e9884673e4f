"""The tables as they are after 0004, made at once: what a new copy begins with."""

import django.db.models.deletion
import survey.models
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("survey", "0001_initial"),
        ("survey", "0002_locks_proofs_places"),
        ("survey", "0003_archive_protect"),
        ("survey", "0004_isolation_made_at"),
    ]

    dependencies = [
        ("loops", "0001_squashed_0017_plain_words"),
        ("sites", "0001_squashed_0006_zone"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Isolation",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                (
                    "scope",
                    models.CharField(
                        choices=[("breakers", "breakers"), ("whole_installation", "whole_installation")], max_length=20
                    ),
                ),
                ("opened_at", models.DateTimeField(auto_now_add=True)),
                ("opened_made_at", models.DateTimeField(help_text="when it was entered on the device", null=True)),
                ("closed_at", models.DateTimeField(null=True)),
                ("closed_made_at", models.DateTimeField(help_text="when its end was entered on the device", null=True)),
                ("closing_note", models.CharField(blank=True, max_length=300)),
                ("closing_entry", models.UUIDField(help_text="identity of the entry that closed it", null=True)),
                ("circuits", models.ManyToManyField(blank=True, related_name="isolations", to="sites.circuit")),
                (
                    "closed_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="isolations", to="loops.loop"
                    ),
                ),
                (
                    "opened_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "site",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="isolations", to="sites.site"
                    ),
                ),
            ],
            options={
                "ordering": ("-opened_at", "id"),
            },
        ),
        migrations.CreateModel(
            name="Lock",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("put_at", models.DateTimeField(auto_now_add=True)),
                ("off_at", models.DateTimeField(null=True)),
                ("off_reason", models.CharField(blank=True, max_length=300)),
                (
                    "isolation",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="locks", to="survey.isolation"
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(
                        help_text="where its owner works",
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="loops.loop",
                    ),
                ),
                (
                    "off_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "person",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ("put_at", "id"),
            },
        ),
        migrations.CreateModel(
            name="MeterValue",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("asked", models.JSONField()),
                ("shown", models.JSONField()),
                ("identity", models.CharField(max_length=160)),
                ("is_simulated", models.BooleanField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="+", to="loops.loop"),
                ),
            ],
        ),
        migrations.CreateModel(
            name="Notice",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("code", models.CharField(max_length=40)),
                ("params", models.JSONField(default=dict)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("seen_at", models.DateTimeField(null=True)),
                (
                    "person",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="notices", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ("at", "id"),
            },
        ),
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("archived_at", models.DateTimeField(blank=True, null=True)),
                ("archived_reason", models.CharField(blank=True, max_length=200)),
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("place", models.PositiveSmallIntegerField(default=1)),
                (
                    "moment",
                    models.CharField(
                        choices=[("before", "before"), ("during", "during"), ("after", "after")], max_length=10
                    ),
                ),
                ("caption", models.CharField(blank=True, max_length=200)),
                ("file", models.FileField(upload_to="photos")),
                ("digest", models.CharField(blank=True, max_length=64)),
                ("width_px", models.PositiveIntegerField()),
                ("height_px", models.PositiveIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
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
                    "by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="photos", to="loops.loop"
                    ),
                ),
            ],
            options={
                "ordering": ("at", "id"),
            },
        ),
        migrations.CreateModel(
            name="Proof",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("place", models.PositiveSmallIntegerField(default=1)),
                ("conductors", models.JSONField()),
                ("points", models.JSONField(help_text="lock points that were off and locked when it began")),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("ended_at", models.DateTimeField(null=True)),
                ("ended_reason", models.CharField(blank=True, max_length=40)),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                ("isolations", models.ManyToManyField(related_name="proofs", to="survey.isolation")),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="proofs", to="loops.loop"
                    ),
                ),
            ],
            options={
                "ordering": ("-at", "id"),
            },
        ),
        migrations.CreateModel(
            name="ProofEvent",
            fields=[
                (
                    "origin",
                    models.CharField(
                        choices=[
                            ("typed", "typed by hand"),
                            ("meter", "read by the meter"),
                            ("simulated", "from the simulated meter"),
                        ],
                        default="typed",
                        max_length=10,
                    ),
                ),
                ("meter_identity", models.CharField(blank=True, max_length=160)),
                ("made_at", models.DateTimeField(null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("number", models.PositiveIntegerField(help_text="place in the order of its proof")),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("tester_before", "tester_before"),
                            ("reading", "reading"),
                            ("tester_after", "tester_after"),
                            ("charge", "charge"),
                        ],
                        max_length=20,
                    ),
                ),
                ("a", models.CharField(blank=True, max_length=40)),
                ("b", models.CharField(blank=True, max_length=40)),
                ("v", models.FloatField(null=True)),
                (
                    "charge",
                    models.CharField(
                        blank=True,
                        choices=[("none_fitted", "none_fitted"), ("discharged", "discharged")],
                        max_length=20,
                    ),
                ),
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
                    "proof",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="events", to="survey.proof"
                    ),
                ),
            ],
            options={
                "ordering": ("number",),
            },
        ),
        migrations.CreateModel(
            name="StepMark",
            fields=[
                ("id", models.BigAutoField(primary_key=True, serialize=False)),
                (
                    "entry",
                    models.UUIDField(default=uuid.uuid4, help_text="identity given by whoever entered it", unique=True),
                ),
                ("place", models.PositiveSmallIntegerField(default=1)),
                (
                    "step",
                    models.CharField(
                        choices=[
                            ("open", "open"),
                            ("photograph", "photograph"),
                            ("identify_dead", "identify_dead"),
                            ("disconnect", "disconnect"),
                            ("fit", "fit"),
                        ],
                        max_length=20,
                    ),
                ),
                ("is_done", models.BooleanField()),
                ("override_reason", models.CharField(blank=True, max_length=300)),
                ("overridden", models.JSONField(default=list, help_text="codes of the gates that stood against it")),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="step_marks", to="loops.loop"
                    ),
                ),
                ("proof", models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, to="survey.proof")),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="Survey",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("place", models.PositiveSmallIntegerField(default=1, help_text="which box of the loop, from 1")),
                ("name", models.CharField(blank=True, help_text="where this box is", max_length=80)),
                ("enquiry", models.JSONField(default=dict)),
                ("box", models.JSONField(default=survey.models.empty_box)),
                ("practice", models.CharField(blank=True, max_length=40)),
                ("control_body", models.JSONField(null=True)),
                ("spacers_m", models.JSONField(default=list)),
                (
                    "travellers_m",
                    models.FloatField(help_text="length of the cable to the box before it [m]", null=True),
                ),
                ("is_known", models.BooleanField(default=False)),
                ("version", models.PositiveIntegerField(default=1)),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="surveys", to="loops.loop"
                    ),
                ),
                ("other_circuits", models.ManyToManyField(blank=True, related_name="+", to="sites.circuit")),
            ],
            options={
                "ordering": ("loop", "place"),
            },
        ),
        migrations.CreateModel(
            name="TakenReading",
            fields=[
                (
                    "origin",
                    models.CharField(
                        choices=[
                            ("typed", "typed by hand"),
                            ("meter", "read by the meter"),
                            ("simulated", "from the simulated meter"),
                        ],
                        default="typed",
                        max_length=10,
                    ),
                ),
                ("meter_identity", models.CharField(blank=True, max_length=160)),
                ("made_at", models.DateTimeField(null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("place", models.PositiveSmallIntegerField(default=1)),
                ("data", models.JSONField()),
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
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="readings", to="loops.loop"
                    ),
                ),
            ],
            options={
                "ordering": ("at", "id"),
            },
        ),
        migrations.AddIndex(
            model_name="isolation",
            index=models.Index(fields=["site", "closed_at"], name="survey_isol_site_id_open_idx"),
        ),
        migrations.AddConstraint(
            model_name="proofevent",
            constraint=models.UniqueConstraint(fields=("proof", "number"), name="one_event_a_number"),
        ),
        migrations.AddConstraint(
            model_name="survey",
            constraint=models.UniqueConstraint(fields=("loop", "place"), name="one_survey_a_box"),
        ),
        migrations.AddIndex(
            model_name="takenreading",
            index=models.Index(fields=["loop", "at"], name="survey_take_loop_id_4d0737_idx"),
        ),
    ]
