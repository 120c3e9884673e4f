"""The parts of a loop: frozen records in SI units with bounds and meaning on every field."""

from ember_core.parts.boxes import BoxType, CableType, SpacerType, cable_of
from ember_core.parts.bypasses import ActiveBypass, Bypass, CapacitorBypass, PtcBypass, ResistorBypass
from ember_core.parts.controls import CapacitiveFeed, Control, PhaseMode, SetUp, StandbyFeed, SwitchingFeed
from ember_core.parts.hardware import Hardware
from ember_core.parts.lamps import (
    CapacitiveDropperLamp,
    Declared,
    DimmableDriverLamp,
    ElectronicTransformerLamp,
    FilamentLamp,
    IronCoreTransformerLamp,
    Lamp,
    LinearLamp,
    RectifierLamp,
    SmartLamp,
    cold_filament_ohm,
    is_led,
    is_transformer,
    rated_w,
    watts_name,
)
from ember_core.parts.supply import Cable, Supply

__all__ = [
    "BYPASS_CLASSES",
    "FEED_CLASSES",
    "LAMP_CLASSES",
    "ActiveBypass",
    "BoxType",
    "Bypass",
    "Cable",
    "CableType",
    "CapacitiveDropperLamp",
    "CapacitiveFeed",
    "CapacitorBypass",
    "Control",
    "Declared",
    "DimmableDriverLamp",
    "ElectronicTransformerLamp",
    "FilamentLamp",
    "Hardware",
    "IronCoreTransformerLamp",
    "Lamp",
    "LinearLamp",
    "PhaseMode",
    "PtcBypass",
    "RectifierLamp",
    "ResistorBypass",
    "SetUp",
    "SmartLamp",
    "SpacerType",
    "StandbyFeed",
    "Supply",
    "SwitchingFeed",
    "cable_of",
    "cold_filament_ohm",
    "is_led",
    "is_transformer",
    "rated_w",
    "watts_name",
]

# By kind, in the order in which they are offered.
LAMP_CLASSES = (
    RectifierLamp,
    DimmableDriverLamp,
    CapacitiveDropperLamp,
    LinearLamp,
    FilamentLamp,
    IronCoreTransformerLamp,
    ElectronicTransformerLamp,
)
BYPASS_CLASSES = (CapacitorBypass, ResistorBypass, PtcBypass, ActiveBypass)
FEED_CLASSES = (SwitchingFeed, CapacitiveFeed)
