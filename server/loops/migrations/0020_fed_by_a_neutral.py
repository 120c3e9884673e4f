"""Controls whose leaflet demands a neutral were kept as fed by two wires, since nobody had asked."""

from __future__ import annotations

from typing import Any

from django.db import migrations

# A demand is kept as its place in: none, optional, required.
REQUIRED = 2.0


def ask(apps: Any, schema_editor: Any) -> None:
    """They hang there by their neutral; where their loops stand is worked out anew."""
    controls = apps.get_model("loops", "FittedControl").objects
    claims = apps.get_model("parts", "PartClaim").objects
    parts = set(claims.filter(field="wiring.neutral", in_use=True, typical=REQUIRED).values_list("part", flat=True))
    rows = list(controls.filter(part__in=parts, wired="loop"))
    controls.filter(pk__in=[row.pk for row in rows]).update(wired="straight")
    loops = apps.get_model("loops", "Loop")._base_manager
    gangs = apps.get_model("loops", "Gang")._base_manager.filter(pk__in=[row.gang_id for row in rows])
    loops.filter(pk__in=set(gangs.values_list("loop", flat=True))).update(stage="")


class Migration(migrations.Migration):
    """Data only."""

    dependencies = (
        ("loops", "0019_how_a_control_hangs"),
        ("parts", "0001_squashed_0003_archive_protect"),
    )
    operations = (migrations.RunPython(ask, migrations.RunPython.noop),)
