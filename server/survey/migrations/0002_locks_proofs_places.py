"""Isolations move from loops to sites and persons; proofs become lists in order; boxes get a place.

What was recorded before is kept: an isolation's ticks become its opener's lock, its readings a proof that has
ended, since nothing tells in which order they were taken.
"""

import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import survey.models

ENDED_REASON = "order_not_recorded"


def carry_over(apps, schema_editor):
    OldSurvey = apps.get_model("survey", "OldSurvey")
    Survey = apps.get_model("survey", "Survey")
    for old in OldSurvey.objects.all():
        new = Survey.objects.create(
            id=uuid.uuid4(),
            loop_id=old.loop_id,
            place=1,
            # The tick said that somebody knew, not what: the question is open again.
            enquiry={name: value for name, value in old.enquiry.items() if name != "ways_known"},
            box=old.box,
            practice=old.practice,
            control_body=old.control_body,
            spacers_m=old.spacers_m,
            is_known=old.is_known,
            version=old.version,
        )
        new.other_circuits.set(old.other_circuits.all())
    Isolation = apps.get_model("survey", "Isolation")
    Lock = apps.get_model("survey", "Lock")
    Proof = apps.get_model("survey", "Proof")
    ProofEvent = apps.get_model("survey", "ProofEvent")
    for row in Isolation.objects.select_related("loop"):
        row.site_id = row.loop.site_id
        row.save(update_fields=["site"])
        if row.is_locked_off and row.opened_by_id:
            lock = Lock.objects.create(
                id=uuid.uuid4(),
                isolation=row,
                person_id=row.opened_by_id,
                loop_id=row.loop_id,
                off_at=row.closed_at,
                off_by_id=row.closed_by_id,
            )
            Lock.objects.filter(pk=lock.pk).update(put_at=row.opened_at)
        if not row.tests:
            continue
        proof = Proof.objects.create(
            id=uuid.uuid4(),
            loop_id=row.loop_id,
            conductors=sorted({test["a"] for test in row.tests}),
            points=[],
            by_id=row.opened_by_id,
            ended_at=row.closed_at or row.opened_at,
            ended_reason=ENDED_REASON,
        )
        Proof.objects.filter(pk=proof.pk).update(at=row.opened_at)
        proof.isolations.add(row)
        for number, test in enumerate(row.tests, 1):
            event = ProofEvent.objects.create(
                id=uuid.uuid4(),
                number=number,
                proof=proof,
                kind="reading",
                a=test["a"],
                b=test["b"],
                v=test["v"],
                by_id=row.opened_by_id,
            )
            ProofEvent.objects.filter(pk=event.pk).update(at=test.get("at") or row.opened_at)


def name_entries(apps, schema_editor):
    StepMark = apps.get_model("survey", "StepMark")
    for row in StepMark.objects.all():
        StepMark.objects.filter(pk=row.pk).update(entry=uuid.uuid4())


def user(**more):
    return models.ForeignKey(
        on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL, related_name="+", **more
    )


def key():
    return models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)


ORIGINS = [("typed", "typed by hand"), ("meter", "read by the meter"), ("simulated", "from the simulated meter")]
STEPS = [(s, s) for s in ("open", "photograph", "identify_dead", "disconnect", "fit")]


class Migration(migrations.Migration):
    dependencies = [
        ("loops", "0002_alter_loop_next_step"),
        ("sites", "0002_circuit_label_now_labelcorrection"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("survey", "0001_initial"),
    ]
    operations = [
        migrations.RenameModel("Survey", "OldSurvey"),
        migrations.AlterField(
            "OldSurvey",
            "loop",
            models.OneToOneField(
                on_delete=django.db.models.deletion.CASCADE,
                primary_key=True,
                related_name="old_survey",
                serialize=False,
                to="loops.loop",
            ),
        ),
        migrations.CreateModel(
            name="Survey",
            fields=[
                ("id", key()),
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
                        on_delete=django.db.models.deletion.CASCADE, related_name="surveys", to="loops.loop"
                    ),
                ),
                ("other_circuits", models.ManyToManyField(blank=True, related_name="+", to="sites.circuit")),
            ],
            options={"ordering": ("loop", "place")},
        ),
        migrations.AddConstraint(
            "Survey", models.UniqueConstraint(fields=("loop", "place"), name="one_survey_a_box")
        ),
        migrations.AddField(
            "Isolation",
            "site",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="isolations", to="sites.site"
            ),
        ),
        migrations.AddField(
            "Isolation",
            "closing_entry",
            models.UUIDField(help_text="identity of the entry that closed it", null=True),
        ),
        migrations.CreateModel(
            name="Lock",
            fields=[
                ("id", key()),
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
                ("off_by", user(null=True)),
                ("person", user()),
            ],
            options={"ordering": ("put_at", "id")},
        ),
        migrations.CreateModel(
            name="Proof",
            fields=[
                ("id", key()),
                ("place", models.PositiveSmallIntegerField(default=1)),
                ("conductors", models.JSONField()),
                ("points", models.JSONField(help_text="lock points that were off and locked when it began")),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("ended_at", models.DateTimeField(null=True)),
                ("ended_reason", models.CharField(blank=True, max_length=40)),
                ("by", user(null=True)),
                ("isolations", models.ManyToManyField(related_name="proofs", to="survey.isolation")),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="proofs", to="loops.loop"
                    ),
                ),
            ],
            options={"ordering": ("-at", "id")},
        ),
        migrations.CreateModel(
            name="ProofEvent",
            fields=[
                ("origin", models.CharField(choices=ORIGINS, default="typed", max_length=10)),
                ("meter_identity", models.CharField(blank=True, max_length=160)),
                ("made_at", models.DateTimeField(null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("id", key()),
                ("number", models.PositiveIntegerField(help_text="place in the order of its proof")),
                (
                    "kind",
                    models.CharField(
                        choices=[(k, k) for k in ("tester_before", "reading", "tester_after", "charge")], max_length=20
                    ),
                ),
                ("a", models.CharField(blank=True, max_length=40)),
                ("b", models.CharField(blank=True, max_length=40)),
                ("v", models.FloatField(null=True)),
                (
                    "charge",
                    models.CharField(
                        blank=True, choices=[(c, c) for c in ("none_fitted", "discharged")], max_length=20
                    ),
                ),
                ("by", user(null=True)),
                (
                    "proof",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="events", to="survey.proof"
                    ),
                ),
            ],
            options={"ordering": ("number",)},
        ),
        migrations.AddConstraint(
            "ProofEvent", models.UniqueConstraint(fields=("proof", "number"), name="one_event_a_number")
        ),
        migrations.CreateModel(
            name="MeterValue",
            fields=[
                ("id", key()),
                ("asked", models.JSONField()),
                ("shown", models.JSONField()),
                ("identity", models.CharField(max_length=160)),
                ("is_simulated", models.BooleanField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("by", user()),
                (
                    "loop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="loops.loop"
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="Notice",
            fields=[
                ("id", key()),
                ("code", models.CharField(max_length=40)),
                ("params", models.JSONField(default=dict)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("seen_at", models.DateTimeField(null=True)),
                (
                    "person",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="notices",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={"ordering": ("at", "id")},
        ),
        migrations.RunPython(carry_over, migrations.RunPython.noop),
        migrations.DeleteModel("OldSurvey"),
        *(
            migrations.RemoveField("Isolation", name)
            for name in (
                "is_locked_off",
                "is_tester_proved_before",
                "is_tester_proved_after",
                "has_electronic_control",
                "is_discharged",
                "tests",
                "version",
            )
        ),
        migrations.AlterField(
            "Isolation",
            "site",
            models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="isolations", to="sites.site"
            ),
        ),
        migrations.AlterField(
            "Isolation",
            "loop",
            models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="isolations", to="loops.loop"
            ),
        ),
        migrations.AddIndex(
            "Isolation", models.Index(fields=["site", "closed_at"], name="survey_isol_site_id_open_idx")
        ),
        migrations.AddField("TakenReading", "place", models.PositiveSmallIntegerField(default=1)),
        migrations.AddField("TakenReading", "meter_identity", models.CharField(blank=True, max_length=160)),
        migrations.AddField("TakenReading", "made_at", models.DateTimeField(null=True)),
        migrations.AlterField(
            "TakenReading", "origin", models.CharField(choices=ORIGINS, default="typed", max_length=10)
        ),
        migrations.AlterField("TakenReading", "by", user(null=True)),
        migrations.AddField("Photo", "place", models.PositiveSmallIntegerField(default=1)),
        migrations.AddField("Photo", "digest", models.CharField(blank=True, max_length=64)),
        migrations.AddField("StepMark", "place", models.PositiveSmallIntegerField(default=1)),
        migrations.AddField("StepMark", "entry", models.UUIDField(null=True)),
        migrations.RunPython(name_entries, migrations.RunPython.noop),
        migrations.AlterField(
            "StepMark",
            "entry",
            models.UUIDField(
                default=uuid.uuid4, help_text="identity given by whoever entered it", unique=True
            ),
        ),
        migrations.AddField("StepMark", "override_reason", models.CharField(blank=True, max_length=300)),
        migrations.AddField(
            "StepMark",
            "overridden",
            models.JSONField(default=list, help_text="codes of the gates that stood against it"),
        ),
        migrations.AddField(
            "StepMark",
            "proof",
            models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, to="survey.proof"),
        ),
        migrations.RemoveField("StepMark", "isolation"),
        migrations.AlterField(
            "StepMark", "step", models.CharField(choices=STEPS, max_length=20)
        ),
    ]
