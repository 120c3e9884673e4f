"""What answers where no real device is named: loaded by the path in the settings, known by these interfaces alone."""

from __future__ import annotations

from collections.abc import Mapping
from importlib import import_module
from typing import Any, Protocol, cast

from django.conf import settings
from django.db.models import Model

from ember_core.pairing.job import Job
from ember_core.survey.box import Box
from ember_core.survey.readings import Position

Json = dict[str, Any]


class SimulatedMeter(Protocol):
    """A meter that answers over TCP, with a building behind it."""

    IDENTITY: str
    FAULTS: tuple[str, ...]
    # The net of earth.
    GROUND: str

    def address(self) -> tuple[str, int]:
        """Where it listens."""

    def fault(self) -> str:
        """How its fault switch stands."""

    def turn(self, fault: str) -> Model:
        """Turn the fault switch; the row that keeps it."""

    def draw(self, seed: str, box: Box, practice: str) -> tuple[Json, dict[str, list[str]]]:
        """Wiring of a box, and for each gang how its switches really work."""

    def closures(self, box: Box, hidden: Mapping[str, list[str]], switches: Mapping[str, Position]) -> list[list[str]]:
        """Pairs of nets that the switches join."""

    def net_of(self, end: str) -> str:
        """The net of a known point."""

    def solved_off_state(self, document: Json, meter_r_ohm: float) -> tuple[float, float] | None:
        """Lamp volts and line amperes, rms, with this meter on the lamps."""


class SimulatedHub(Protocol):
    """A hub that answers over HTTP, with devices and hands."""

    def address(self) -> tuple[str, int]:
        """Where it listens."""

    def job_data(self, job: Job) -> Json:
        """What is to be joined, as it takes it."""


def meter() -> SimulatedMeter:
    """The one of the settings."""
    return cast(SimulatedMeter, import_module(settings.STAND_INS["meter"]))


def hub() -> SimulatedHub:
    """The one of the settings."""
    return cast(SimulatedHub, import_module(settings.STAND_INS["hub"]))
