"""What is told or seen of a loop that is complained of."""

from __future__ import annotations

from enum import StrEnum


class Symptom(StrEnum):
    """What is told or seen."""

    BLINK_OFF = "blink_off"
    GLOW_OFF = "glow_off"
    SINGLE_FLASH = "single_flash"
    CONTROL_RESTARTS = "control_restarts"
    NOTHING_LIGHTS = "nothing_lights"
    ONE_LAMP_DARK = "one_lamp_dark"
    WILL_NOT_SWITCH_OFF = "will_not_switch_off"
    FLICKER_LOW = "flicker_low"
    FLICKER_ON = "flicker_on"
    FLICKERS_ANY_TIME = "flickers_any_time"
    GOES_OUT_LOW = "goes_out_low"
    COMES_ON_LATE = "comes_on_late"
    NOT_FULL = "not_full"
    BUZZ = "buzz"
    GOES_OUT_LATER = "goes_out_later"
    OTHER_LAMP = "other_lamp"
    DEPENDS_ON_SWITCH = "depends_on_switch"
    NEEDS_TWO_PRESSES = "needs_two_presses"
    TRIPS = "trips"
    PLATE_TINGLES = "plate_tingles"
    LIGHTS_AFTER_OUTAGE = "lights_after_outage"
    WILL_NOT_PAIR = "will_not_pair"
    DROPS_OFF_NETWORK = "drops_off_network"
    ANSWERS_LATE = "answers_late"
    REMOTE_DOES_NOTHING = "remote_does_nothing"


# By where they come from: the loop while off, the radio, the loop while on; the rest are of hands and wiring.
OFF = frozenset({Symptom.BLINK_OFF, Symptom.GLOW_OFF, Symptom.SINGLE_FLASH, Symptom.CONTROL_RESTARTS})
AIR = frozenset({Symptom.WILL_NOT_PAIR, Symptom.DROPS_OFF_NETWORK, Symptom.ANSWERS_LATE, Symptom.REMOTE_DOES_NOTHING})
LIT = frozenset(
    {
        Symptom.FLICKER_LOW,
        Symptom.FLICKER_ON,
        Symptom.GOES_OUT_LOW,
        Symptom.COMES_ON_LATE,
        Symptom.NOT_FULL,
        Symptom.BUZZ,
        Symptom.GOES_OUT_LATER,
    }
)
