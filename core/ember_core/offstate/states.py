"""Words for what was computed, and the thresholds between them, each with its reason."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import inf


class LampState(StrEnum):
    """What an observer sees of a lamp group while the control is off."""

    DARK = "dark"
    GLOW = "glow"
    BLINK = "blink"


class StandbyState(StrEnum):
    """Whether the control gets the power it needs while off."""

    FED = "fed"
    MARGINAL = "marginal"
    STARVED = "starved"


@dataclass(frozen=True, slots=True, kw_only=True)
class Threshold:
    """A limit used in a verdict.

    Parameters
    ----------
    value : the limit [unit].
    unit : SI unit, "1" for a ratio.
    reason : why this value; a code of the text catalogue.
    """

    value: float
    unit: str
    reason: str


# An eye used to the dark sees an LED string at 20 to 50 µA; the lower end, so that dark means dark.
VISIBLE_STRING_CURRENT = Threshold(value=20e-6, unit="A", reason="threshold_visible_string")
# A filament turns red at about 800 K, which takes about 3 % of its rated power.
VISIBLE_FILAMENT_RATIO = Threshold(value=0.03, unit="1", reason="threshold_visible_filament")
# Cold resistance of a filament is its hot one divided by 8 to 15; 12 is typical.
FILAMENT_HOT_TO_COLD_RATIO = 12.0
# Power goes with the square of the voltage: at 10 % low supply 0.81 of it is left, 1/0.81 = 1.23.
FED_FROM_RATIO = Threshold(value=1.25, unit="1", reason="threshold_fed")
# Less than this share of the needed power reaching the load: the converter is throttled by its least voltage.
FULL_DELIVERY_RATIO = Threshold(value=0.99, unit="1", reason="threshold_delivery")


# A mains rise of 10 % can lift a small lamp's reservoir by a tenth of the supply's peak within a cycle;
# with less than this between its reservoir and its start threshold it may flash.
CLOSE_BELOW_RATIO = Threshold(value=1.25, unit="1", reason="threshold_close")
# Near its knee the current of a string about doubles with 10 % more mains; the power of a filament grows by 1.21.
CLOSE_STRING_RATIO = Threshold(value=2.0, unit="1", reason="threshold_close_string")
CLOSE_FILAMENT_RATIO = Threshold(value=1.25, unit="1", reason="threshold_close_filament")

# What the words of a verdict hang on, for whoever asks why.
THRESHOLDS: dict[str, Threshold] = {
    "visible_string": VISIBLE_STRING_CURRENT,
    "visible_filament": VISIBLE_FILAMENT_RATIO,
    "fed": FED_FROM_RATIO,
    "delivery": FULL_DELIVERY_RATIO,
    "close": CLOSE_BELOW_RATIO,
    "close_string": CLOSE_STRING_RATIO,
    "close_filament": CLOSE_FILAMENT_RATIO,
}


def over(limit: float, value: float) -> float:
    """How many times a value would have to grow to reach its limit [1]; infinity for nothing at all."""
    return limit / value if value > 0.0 else inf


def visible_filament_w(v_rms: float, cold_ohm: float) -> float:
    """Power from which on a filament shows, on its mains [W]."""
    return VISIBLE_FILAMENT_RATIO.value * v_rms**2 / (FILAMENT_HOT_TO_COLD_RATIO * cold_ohm)


def standby_state(power_ratio: float | None, delivered_ratio: float) -> StandbyState:
    """State of a control from the power it could draw and the power it gets.

    Parameters
    ----------
    power_ratio : most power available over power needed [1]; None where not determined.
    delivered_ratio : power delivered over power needed [1].
    """
    if delivered_ratio < FULL_DELIVERY_RATIO.value or (power_ratio is not None and power_ratio < 1.0):
        return StandbyState.STARVED
    if power_ratio is not None and power_ratio < FED_FROM_RATIO.value:
        return StandbyState.MARGINAL
    return StandbyState.FED
