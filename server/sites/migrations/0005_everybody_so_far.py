"""Everybody who has an account works at every site that there is, as before; a new site has its own people."""

from __future__ import annotations

from typing import Any

from django.db import migrations


def join(apps: Any, schema_editor: Any) -> None:
    """All of them."""
    people = list(apps.get_model("accounts", "User").objects.values_list("pk", flat=True))
    for site in apps.get_model("sites", "Site")._base_manager.all():
        site.members.add(*people)


class Migration(migrations.Migration):
    """Data only."""

    dependencies = (("sites", "0004_members_archive"), ("accounts", "0004_what_was_allowed"))
    operations = (migrations.RunPython(join, migrations.RunPython.noop),)
