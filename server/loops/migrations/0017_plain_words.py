"""What a loop is searched by, as it is compared; those of before get it from their words."""

from __future__ import annotations

from typing import Any

from django.db import migrations, models

from common.plain import plain


def fill(apps: Any, schema_editor: Any) -> None:
    """A thousand at a time."""
    loops = apps.get_model("loops", "Loop")._base_manager
    changed = []
    for loop in loops.only("words").iterator():
        loop.plain_words = plain(loop.words)[:2000]
        changed.append(loop)
    loops.bulk_update(changed, ["plain_words"], batch_size=1000)


class Migration(migrations.Migration):
    """A column and what stands in it."""

    dependencies = (("loops", "0016_pages_from_an_index"),)
    operations = (
        migrations.AddField(
            model_name="loop",
            name="plain_words",
            field=models.CharField(
                blank=True, db_collation="utf8mb4_bin", help_text="the same, plain", max_length=2000
            ),
        ),
        migrations.RunPython(fill, migrations.RunPython.noop),
    )
