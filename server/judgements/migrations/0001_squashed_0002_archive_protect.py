"""The tables as they are after 0002, made at once: what a new copy begins with."""

import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("judgements", "0001_initial"),
        ("judgements", "0002_archive_protect"),
    ]

    dependencies = [
        ("loops", "0001_squashed_0017_plain_words"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Judgement",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("core_version", models.CharField(max_length=20)),
                ("gang_version", models.PositiveIntegerField()),
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
                        max_length=10,
                    ),
                ),
                ("sheet", models.JSONField()),
                ("result", models.JSONField()),
                (
                    "gang",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="judgements", to="loops.gang"
                    ),
                ),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ("-made_at", "id"),
                "indexes": [models.Index(fields=["gang", "-made_at"], name="judgements__gang_id_0c1bac_idx")],
            },
        ),
    ]
