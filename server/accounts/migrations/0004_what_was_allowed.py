"""Whoever could change sites and shelf before still can; an administrator may take it back."""

from __future__ import annotations

from typing import Any

from django.db import migrations


def keep(apps: Any, schema_editor: Any) -> None:
    """Technicians had both."""
    apps.get_model("accounts", "User").objects.filter(role="technician").update(keeps_sites=True, keeps_shelf=True)


class Migration(migrations.Migration):
    """Data only."""

    dependencies = (("accounts", "0003_sign_ins"),)
    operations = (migrations.RunPython(keep, migrations.RunPython.noop),)
