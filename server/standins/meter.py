"""The meter stand-in as the application finds it: the server, the building behind it, the fault switch."""

from __future__ import annotations

from standins.meter_server import FAULTS, IDENTITY, address
from standins.models import MeterSwitch
from standins.truth import GROUND, closures, draw, net_of, solved_off_state

__all__ = (
    "FAULTS",
    "GROUND",
    "IDENTITY",
    "address",
    "closures",
    "draw",
    "fault",
    "net_of",
    "solved_off_state",
    "turn",
)


def fault() -> str:
    """How the fault switch stands."""
    row = MeterSwitch.objects.first()
    return row.fault if row else "none"


def turn(fault: str) -> MeterSwitch:
    """Turn it; the row that keeps it for all processes of the server."""
    row, _ = MeterSwitch.objects.update_or_create(pk=1, defaults={"fault": fault})
    return row
