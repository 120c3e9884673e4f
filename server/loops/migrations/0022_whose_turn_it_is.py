"""What only a checker has still to sign is a next step of its own."""

from __future__ import annotations

from typing import Any

from django.db import migrations, models


def ask(apps: Any, schema_editor: Any) -> None:
    """What was to be handed over may wait for a checker only: it is worked out anew as the server starts."""
    apps.get_model("loops", "Loop")._base_manager.filter(next_step="hand_over").update(stage="")


class Migration(migrations.Migration):

    dependencies = [
        ('loops', '0021_what_hung_when_it_was_read'),
    ]

    operations = [
        migrations.AlterField(
            model_name='loop',
            name='next_step',
            field=models.CharField(choices=[('survey', 'finish the survey'), ('lamps', 'enter the lamps'), ('control', 'choose the control'), ('remedy', 'find a remedy'), ('measure', 'measure what decides'), ('light_on', 'look at the light on'), ('loads', 'look at the load'), ('route', 'choose the way'), ('fit', 'fit it'), ('prove', 'prove it'), ('case', 'find out what is wrong'), ('setup', 'let it join'), ('hand_over', 'hand it over'), ('check', 'have the checker sign'), ('done', 'nothing to do'), ('sheet', 'print the sheet')], default='lamps', max_length=10),
        ),
        migrations.RunPython(ask, migrations.RunPython.noop),
    ]
