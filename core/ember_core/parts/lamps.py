"""Lamps by their input stage, as seen from the terminals while the control is off.

Values are of one lamp; `count` equal lamps share one state.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar

from ember_core.errors import InputError
from ember_core.quantities import defaulted, lit, optional, rating, required, word_of, worded


class Declared(StrEnum):
    """What a maker says of dimming a lamp."""

    NOT_DIMMABLE = "not_dimmable"
    LEADING = "leading"
    TRAILING = "trailing"
    BOTH = "both"
    OWN_INTERFACE = "own_interface"


_DIMMING = "what its maker says of dimming"


class _Dimmable:
    """What is said of dimming, as a word."""

    __slots__ = ()
    dimming: float | None

    @property
    def declared(self) -> Declared | None:
        """The declaration; None where nobody says."""
        return word_of(Declared, self.dimming)


_COUNT = "number of equal lamps"
_WATTS = "power marked on the lamp"


@dataclass(frozen=True, slots=True, kw_only=True)
class RectifierLamp(_Dimmable):
    """Rectifier with reservoir capacitor: most lamps that are not dimmable."""

    kind: ClassVar[str] = "rectifier"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    c_x_f: float = defaulted("F", 0.0, 2e-6, "capacitor across the input", default=0.0)
    r_in_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of the rectifier", default=22.0)
    c_bulk_f: float = required("F", 1e-8, 1e-2, "reservoir (bulk) capacitor behind the rectifier")
    r_start_ohm: float | None = optional("Ω", 1e3, 1e9, "start-up resistor, drains the reservoir")
    v_start_v: float = required("V", 5.0, 400.0, "reservoir voltage at which the driver starts")
    v_stop_v: float = required("V", 1.0, 400.0, "reservoir voltage at which a running driver stops")
    p_run_w: float = required("W", 0.01, 500.0, "power while running")
    v0_v: float | None = optional("V", 0.0, 500.0, "start value for a transient run; not needed here")
    dimming: float | None = worded(Declared, _DIMMING)

    def check_consistency(self, path: str) -> None:
        """The stop threshold lies below the start threshold, or the driver would chatter."""
        if self.v_stop_v >= self.v_start_v:
            raise InputError(
                "stop_not_below_start", path=f"{path}.v_stop_v", v_stop_v=self.v_stop_v, v_start_v=self.v_start_v
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class DimmableDriverLamp(RectifierLamp):
    """Dimmable or power-factor-corrected driver: off, a rectifier stage with a larger input capacitor."""

    kind: ClassVar[str] = "dimmable_driver"

    r_damp_ohm: float | None = lit("Ω", 1.0, 1e4, "resistance in series with its input capacitor")
    c_film_f: float | None = lit("F", 1e-10, 1e-5, "film capacitor behind its rectifier")
    v_stage_min_v: float | None = lit("V", 5.0, 200.0, "voltage below which its stage stops drawing")
    i_bleed_a: float | None = lit("A", 1e-5, 0.2, "current it draws at least")


@dataclass(frozen=True, slots=True, kw_only=True)
class ElectronicTransformerLamp(RectifierLamp):
    """Electronic transformer with what hangs on it: a rectifier with a small film capacitor and an oscillator.

    Off, it is a rectifier stage whose oscillator tries to start; `c_bulk_f` is its film capacitor, `p_run_w` its load.
    """

    kind: ClassVar[str] = "electronic_transformer"

    p_least_w: float | None = rating("W", 0.1, 500.0, "least load with which it starts")


@dataclass(frozen=True, slots=True, kw_only=True)
class IronCoreTransformerLamp(_Dimmable):
    """Iron-core transformer with what hangs on it, seen from its mains winding.

    Off, it is a low impedance: the voltage left across it is volts, whatever hangs on it.
    """

    kind: ClassVar[str] = "iron_core_transformer"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    r_winding_ohm: float = required("Ω", 0.1, 1e4, "resistance of the winding")
    l_magnetising_h: float = required("H", 1e-2, 1e3, "magnetising inductance")
    r_load_cold_ohm: float | None = optional("Ω", 0.5, 1e6, "its filaments while cold; none where they are LED lamps")
    p_rated_w: float | None = rating("W", 0.1, 1e3, "power of what hangs on it")
    l_leakage_h: float | None = lit("H", 1e-5, 10.0, "leakage inductance")
    dimming: float | None = worded(Declared, _DIMMING)


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacitiveDropperLamp(_Dimmable):
    """Series capacitor, rectifier, smoothing and a string of LEDs: cheap lamps."""

    kind: ClassVar[str] = "capacitive_dropper"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    c_series_f: float = required("F", 1e-9, 1e-5, "series (dropper) capacitor")
    r_discharge_ohm: float | None = optional("Ω", 1e3, 1e9, "discharge resistor across the series capacitor")
    r_in_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of the rectifier", default=47.0)
    v_string_v: float = required("V", 2.0, 380.0, "voltage at which the LED string begins to conduct")
    r_string_ohm: float = required("Ω", 0.5, 1e5, "slope of the LED string")
    r_string_parallel_ohm: float | None = optional("Ω", 1e3, 1e9, "resistor across the LED string")
    c_smooth_f: float = required("F", 1e-9, 1e-2, "smoothing capacitor across the LED string")
    v0_v: float | None = optional("V", 0.0, 500.0, "start value for a transient run; not needed here")
    p_rated_w: float | None = rating("W", 0.1, 500.0, _WATTS)
    dimming: float | None = worded(Declared, _DIMMING)


@dataclass(frozen=True, slots=True, kw_only=True)
class LinearLamp(_Dimmable):
    """LED string fed straight from the rectified mains, its current held by a resistor or a linear regulator."""

    kind: ClassVar[str] = "linear"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    c_x_f: float = defaulted("F", 0.0, 2e-6, "capacitor across the input", default=0.0)
    r_in_ohm: float = required("Ω", 0.1, 1e5, "resistance in series with the string")
    v_string_v: float = required("V", 2.0, 380.0, "voltage at which the LED string begins to conduct")
    i_limit_a: float | None = optional("A", 1e-4, 5.0, "current limit of the linear regulator")
    p_rated_w: float | None = rating("W", 0.1, 500.0, _WATTS)
    dimming: float | None = worded(Declared, _DIMMING)


@dataclass(frozen=True, slots=True, kw_only=True)
class FilamentLamp(_Dimmable):
    """Filament or halogen lamp: at these currents a cold resistor, V²/P divided by 10 to 15."""

    kind: ClassVar[str] = "filament"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    r_cold_ohm: float = required("Ω", 0.5, 1e5, "resistance while cold")
    p_rated_w: float | None = rating("W", 0.1, 500.0, _WATTS)
    dimming: float | None = worded(Declared, _DIMMING)


@dataclass(frozen=True, slots=True, kw_only=True)
class SmartLamp:
    """Smart lamp: always needs its own power, so it never stands behind a two-wire control; refused in a loop."""

    kind: ClassVar[str] = "smart"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    p_rated_w: float | None = rating("W", 0.1, 500.0, _WATTS)


Lamp = (
    RectifierLamp
    | DimmableDriverLamp
    | ElectronicTransformerLamp
    | CapacitiveDropperLamp
    | LinearLamp
    | FilamentLamp
    | IronCoreTransformerLamp
)


def watts_name(lamp: Lamp) -> str:
    """Name of the figure that says the power of one lamp while lit: its running power or its marking."""
    return "p_run_w" if isinstance(lamp, RectifierLamp) else "p_rated_w"


def rated_w(lamp: Lamp) -> float | None:
    """Power of one lamp while lit [W]; None where it is not known."""
    watts: float | None = getattr(lamp, watts_name(lamp))
    return watts


def is_led(lamp: Lamp) -> bool:
    """Anything but a filament or a transformer."""
    return not isinstance(lamp, FilamentLamp | IronCoreTransformerLamp | ElectronicTransformerLamp)


def is_transformer(lamp: Lamp) -> bool:
    """Of iron or electronic."""
    return isinstance(lamp, IronCoreTransformerLamp | ElectronicTransformerLamp)


def cold_filament_ohm(lamp: Lamp) -> float | None:
    """Filaments of one lamp while cold, seen from the mains [Ω]; None where there are none."""
    if isinstance(lamp, IronCoreTransformerLamp):
        return lamp.r_load_cold_ohm
    return lamp.r_cold_ohm if isinstance(lamp, FilamentLamp) else None
