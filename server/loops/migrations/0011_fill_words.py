"""Loops of before are found by their parts and people too."""

from __future__ import annotations

from typing import Any

from django.db import migrations


def fill(apps: Any, schema_editor: Any) -> None:
    """One loop after the other."""
    loops = apps.get_model("loops", "Loop")._base_manager
    fits = [apps.get_model("loops", name) for name in ("FittedControl", "FittedBypass", "LampGroup")]
    for loop in loops.all().iterator():
        found = [loop.name, loop.note]
        for fit in fits:
            found += fit.objects.filter(gang__loop=loop).values_list("label", flat=True)
        loop.words = " ".join(dict.fromkeys(word for word in found if word))[:2000]
        loops.filter(pk=loop.pk).update(words=loop.words)


class Migration(migrations.Migration):
    """Data only."""

    dependencies = (("loops", "0010_loop_words"),)
    operations = (migrations.RunPython(fill, migrations.RunPython.noop),)
