"""The control in the switch box: what is connected across it while it is off."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar

from ember_core.quantities import defaulted, lit, optional, rating, required, word_of, worded


class SetUp(StrEnum):
    """What a control asks for before it can be used."""

    NOTHING = "nothing"
    LEARNS_LOAD = "learns_load"
    TWO_WIRE_LINK = "two_wire_link"
    BOTH_OF_THEM = "learns_load_and_link"


class PhaseMode(StrEnum):
    """What a control does to the half-cycle while on."""

    ON_OFF = "on_off"
    LEADING = "leading"
    TRAILING = "trailing"
    SELECTABLE = "selectable"
    AUTOMATIC = "automatic"


@dataclass(frozen=True, slots=True, kw_only=True)
class SwitchingFeed:
    """Stand-by feed of a control: rectifier, reservoir and a switching converter of constant power."""

    kind: ClassVar[str] = "switching"

    p_w: float = required("W", 1e-4, 5.0, "power the control needs while off")
    r_in_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of the rectifier", default=47.0)
    c_reservoir_f: float = required("F", 1e-8, 1e-2, "reservoir capacitor behind the rectifier")
    v_min_v: float = required("V", 1.0, 350.0, "reservoir voltage below which the converter stops")
    r_reservoir_ohm: float | None = optional("Ω", 1e3, 1e9, "drain across the reservoir")
    v0_v: float | None = optional("V", 0.0, 500.0, "start value for a transient run; not needed here")


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacitiveFeed:
    """Stand-by feed of a control: series capacitor, rectifier, reservoir and shunt regulator."""

    kind: ClassVar[str] = "capacitive"

    c_series_f: float = required("F", 1e-9, 1e-5, "series capacitor")
    r_discharge_ohm: float | None = optional("Ω", 1e3, 1e9, "discharge resistor across the series capacitor")
    r_in_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of the rectifier", default=100.0)
    c_reservoir_f: float = required("F", 1e-7, 1e-1, "reservoir capacitor behind the rectifier")
    i_a: float = required("A", 1e-6, 0.2, "current the control needs while off")
    v_shunt_v: float = required("V", 2.0, 60.0, "voltage that the shunt regulator holds")
    r_shunt_ohm: float = defaulted("Ω", 0.1, 1e4, "slope of the shunt regulator", default=10.0)
    v0_v: float | None = optional("V", 0.0, 500.0, "start value for a transient run; not needed here")


StandbyFeed = SwitchingFeed | CapacitiveFeed


@dataclass(frozen=True, slots=True, kw_only=True)
class Control:
    """What is across a control while off; with neither `standby` nor `has_neutral` an ordinary switch, lit or not.

    Parameters
    ----------
    standby : what feeds it through the lamps. has_neutral : a neutral of its own feeds it instead, so that nothing of
        its electronics lies in the loop.
    """

    c_snubber_f: float = defaulted("F", 0.0, 2e-6, "snubber or filter capacitance across the control", default=0.0)
    r_leak_ohm: float | None = optional("Ω", 1e3, 1e9, "leak across the control, e.g. of a locator lamp")
    standby: StandbyFeed | None = None
    has_neutral: bool = False
    p_min_w: float | None = rating("W", 0.1, 500.0, "declared least load")
    p_max_led_w: float | None = rating("W", 1.0, 5e3, "declared largest load of LED lamps")
    p_max_filament_w: float | None = rating("W", 1.0, 5e3, "declared largest load of filament lamps")
    s_max_transformer_va: float | None = rating("VA", 1.0, 5e3, "declared largest load of transformers")
    i_max_a: float | None = rating("A", 0.05, 40.0, "declared current, resistive load, rms")
    c_bypass_max_f: float | None = rating("F", 1e-9, 2e-5, "largest bypass capacitance its maker allows")
    i_inrush_max_a: float | None = rating("A", 1.0, 2000.0, "largest inrush peak its contact stands")
    i2t_max_a2s: float | None = rating("A²s", 0.01, 1e4, "largest I²t its contact stands")
    set_up: float | None = worded(SetUp, "what it asks for before use")
    phase: float | None = worded(PhaseMode, "what it does to the half-cycle while on")
    headroom_ratio: float | None = lit("1", 1.0, 10.0, "repetitive peak it stands over that of its filament rating")
    i_hold_a: float | None = lit("A", 1e-3, 0.5, "holding current of its triac")
    i_latch_a: float | None = lit("A", 1e-3, 1.0, "latching current of its triac")
    t_gate_s: float | None = lit("s", 1e-6, 0.01, "length of its gate pulse")
    l_choke_h: float | None = lit("H", 1e-6, 0.1, "choke in series")
    i_need_on_a: float | None = lit("A", 1e-5, 0.2, "current its own supply needs while on")
    v_supply_on_v: float | None = lit("V", 2.0, 60.0, "voltage of its own supply while on")
    gap_deg: float | None = lit("°", 5.0, 90.0, "longest it stays open in a half-cycle for its own supply")
    detection_s: float | None = lit("s", 1e-5, 2e-3, "time it takes to see a zero crossing")
    closing_error_s: float | None = lit("s", 0.0, 5e-3, "how far off the zero crossing its contact closes")
    setting_low_deg: float | None = lit("°", 1.0, 179.0, "conduction at the lowest setting of its scale")
    setting_high_deg: float | None = lit("°", 1.0, 180.0, "conduction at the highest setting of its scale")
    settings: float | None = lit("1", 2, 1000, "settings of its scale", integer=True)

    @property
    def has_electronics(self) -> bool:
        """Whether something in it waits for a word, however it is fed."""
        return self.standby is not None or self.has_neutral

    @property
    def is_dimmer(self) -> bool:
        """Whether it dims; one that nobody says so of does not."""
        return self.phase_mode not in (None, PhaseMode.ON_OFF)

    @property
    def asks_for(self) -> SetUp | None:
        """What it asks for before use; None where nobody says."""
        return word_of(SetUp, self.set_up)

    @property
    def phase_mode(self) -> PhaseMode | None:
        """Phase mode as a word; None where nobody says."""
        return word_of(PhaseMode, self.phase)
