"""The one switch a stand-in has that outlives a connection."""

from __future__ import annotations

from django.db import models

from standins.meter_server import FAULTS


class MeterSwitch(models.Model):
    """The simulated meter's fault switch; one row, shared by all server processes."""

    id = models.PositiveSmallIntegerField(primary_key=True, default=1)
    fault = models.CharField(max_length=20, default="none", choices=[(name, name) for name in FAULTS])

    def __str__(self) -> str:
        return self.fault
