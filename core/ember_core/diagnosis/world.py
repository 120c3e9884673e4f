"""A loop as it may really be: its parts, its settings, its wiring as it is found, and its radio."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ember_core.lit.ranges import LitFigures
from ember_core.loop import Loop
from ember_core.parts import PhaseMode

# What was changed, where nothing was.
NOTHING = "nothing"


class BypassIs(StrEnum):
    """What is found where the bypass should be."""

    NONE = "none"  # none is recorded
    IN_PLACE = "in_place"
    MISSING = "missing"
    OTHER_GANG = "other_gang"
    ACROSS_CONTROL = "across_control"
    DAMAGED = "damaged"


class LampsAre(StrEnum):
    """What is found where the lamps are recorded."""

    AS_RECORDED = "as_recorded"
    OTHER = "other_lamps"
    SOME_DARK = "some_dark"
    SMART = "smart_lamp"
    OLD_GEAR = "old_gear"


class BoxIs(StrEnum):
    """What is found in the opened box, against its wire map."""

    AS_MAPPED = "as_mapped"
    LINE_LOAD = "line_load_exchanged"
    GANGS = "gangs_exchanged"
    TRAVELLERS = "travellers_mixed"
    LINK = "link_missing"
    EARTH = "earth_missing"
    LOOSE = "loose"
    SECOND_CONTROL = "second_control"
    LOCATOR = "locator_lamp"
    BORROWED = "borrowed_neutral"
    METAL = "metal"


class LuminaireIs(StrEnum):
    """What is found in the opened luminaire."""

    AS_RECORDED = "as_recorded"
    NEUTRAL_LOOSE = "neutral_loose"
    OLD_GEAR = "old_gear"
    BORROWED = "borrowed_neutral"


class ContactIs(StrEnum):
    """What the control's contact or triac does."""

    GOOD = "good"
    WELDED = "welded"
    HALF = "half"


class SettingsAre(StrEnum):
    """Which setting is not as wanted."""

    AS_WANTED = "as_wanted"
    EDGE = "edge"
    LEAST = "least"
    START = "start"
    TOP = "top"
    INPUT = "input"
    POWER_ON = "power_on"
    NOT_LEARNED = "not_learned"


class HubIs(StrEnum):
    """What the network says of the control."""

    FINE = "fine"
    FULL = "full"
    OTHER_BAND = "other_band"
    OTHER_NETWORK = "other_network"
    NOT_JOINED = "not_joined"
    NOT_LISTED = "not_listed"
    REMOTE = "remote_at_hub"
    THROUGH_END_DEVICE = "through_end_device"
    BUSY_CHANNEL = "busy_channel"


# Where the network does not let it in at all.
SHUT_OUT = frozenset({HubIs.FULL, HubIs.OTHER_BAND, HubIs.OTHER_NETWORK, HubIs.NOT_JOINED, HubIs.NOT_LISTED})


@dataclass(frozen=True, slots=True, kw_only=True)
class Air:
    """The radio of a control.

    Parameters
    ----------
    margin_db : signal above what the receiver needs, over the whole path [dB]. hub : what the network says.
    """

    margin_db: float
    hub: HubIs = HubIs.FINE


@dataclass(frozen=True, slots=True, kw_only=True)
class Dimming:
    """How a dimmer is set: its edge, and conduction at its least, start and top level [°]."""

    edge: PhaseMode
    least_deg: float
    start_deg: float
    top_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class World:
    """A loop as it may really be.

    Parameters
    ----------
    loop, lit : its parts with figures drawn from their ranges, off and on. dimming : None where it does not dim.
    step_ratio : rises of the mains' peak that other loads make here, over the peak [1].
    changed : what may have been changed before the complaint, as the customer would tell it.
    is_dark : no lamp of the gang can light.
    """

    loop: Loop
    lit: LitFigures
    dimming: Dimming | None
    air: Air
    step_ratio: float
    changed: tuple[str, ...] = (NOTHING,)
    bypass: BypassIs = BypassIs.NONE
    lamps: LampsAre = LampsAre.AS_RECORDED
    box: BoxIs = BoxIs.AS_MAPPED
    luminaire: LuminaireIs = LuminaireIs.AS_RECORDED
    contact: ContactIs = ContactIs.GOOD
    settings: SettingsAre = SettingsAre.AS_WANTED
    has_metal_plate: bool = False
    is_dark: bool = False
