"""The parts of a loop: frozen records in SI units with bounds and meaning on every field."""

from ember_core.parts.bypasses import ActiveBypass, Bypass, CapacitorBypass, PtcBypass, ResistorBypass
from ember_core.parts.controls import CapacitiveFeed, Control, StandbyFeed, SwitchingFeed
from ember_core.parts.lamps import (
    CapacitiveDropperLamp,
    DimmableDriverLamp,
    FilamentLamp,
    Lamp,
    LinearLamp,
    RectifierLamp,
)
from ember_core.parts.supply import Cable, Supply

__all__ = [
    "BYPASS_CLASSES",
    "FEED_CLASSES",
    "LAMP_CLASSES",
    "ActiveBypass",
    "Bypass",
    "Cable",
    "CapacitiveDropperLamp",
    "CapacitiveFeed",
    "CapacitorBypass",
    "Control",
    "DimmableDriverLamp",
    "FilamentLamp",
    "Lamp",
    "LinearLamp",
    "PtcBypass",
    "RectifierLamp",
    "ResistorBypass",
    "StandbyFeed",
    "Supply",
    "SwitchingFeed",
]

# By kind, in the order in which they are offered.
LAMP_CLASSES = (RectifierLamp, DimmableDriverLamp, CapacitiveDropperLamp, LinearLamp, FilamentLamp)
BYPASS_CLASSES = (CapacitorBypass, ResistorBypass, PtcBypass, ActiveBypass)
FEED_CLASSES = (SwitchingFeed, CapacitiveFeed)
