"""What the off-state solution reports, in SI units."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ember_core.offstate.closed_form import ClosedForm
from ember_core.offstate.network import Floats
from ember_core.offstate.states import LampState, StandbyState


@dataclass(frozen=True, slots=True, kw_only=True)
class LampResult:
    """One lamp group.

    Parameters
    ----------
    kind : input stage.
    count : lamps in the group.
    state : see `LampState`.
    i_rms_a : current of the whole group, rms [A].
    v_dc, v_dc_max : mean and largest voltage of the reservoir or smoothing capacitor of one lamp [V]; None
        where the stage has none.
    string_i_avg_a : average current of one lamp's LED string [A]; None where a driver stands between.
    light_p_w : power of one lamp that makes light, heat of the string or filament included [W].
    v_start_v : start threshold [V]; None where the stage has none.
    start_margin_ratio : start threshold over largest reservoir voltage [1]; None where the stage has none.
    glow_margin_ratio : what shows over what flows: current of a string, power of a filament [1]; None where a driver
        stands between, infinity where nothing flows.
    flash_period_s : time from flash to flash [s]; None where it does not blink, or beyond what was simulated.
    flash_energy_j : energy of one flash of one lamp [J].
    flashes : flashes in 8 s.
    """

    kind: str
    count: int
    state: LampState
    i_rms_a: float
    v_dc: float | None
    v_dc_max: float | None
    string_i_avg_a: float | None
    light_p_w: float
    v_start_v: float | None
    start_margin_ratio: float | None
    glow_margin_ratio: float | None
    flash_period_s: float | None
    flash_energy_j: float | None
    flashes: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ControlResult:
    """The control's own supply.

    Parameters
    ----------
    state : None for an ordinary switch, which needs no supply.
    standby_v_dc, standby_v_min : reservoir voltage, mean and least over a cycle [V].
    p_needed_w : power needed while off [W].
    p_available_w : most power the feed could draw in this loop with the lamps waiting [W]; None where lamps blink.
    power_ratio : the two over each other [1].
    delivered_ratio : power that reaches the load over power needed [1].
    i_rms_a : current through the feed [A].
    """

    state: StandbyState | None
    standby_v_dc: float | None
    standby_v_min: float | None
    p_needed_w: float | None
    p_available_w: float | None
    power_ratio: float | None
    delivered_ratio: float | None
    i_rms_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Shares:
    """Rms currents of the branches that are no lamp group [A]; rms values do not add up.

    Parameters
    ----------
    across_a : snubber, leak and cable across the control.
    cable_a : cable from switched live to neutral.
    meter_a : a connected meter.
    bypass_a : one for each bypass, in the order of the sheet.
    """

    across_a: float
    cable_a: float
    meter_a: float
    bypass_a: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Waveforms:
    """One cycle from the rising zero of the supply; all arrays of the same length.

    Parameters
    ----------
    t_s : time [s].
    v_supply_v, v_lamp_v : voltages [V].
    i_line_a : current from the line into the loop [A].
    i_lamps_a : current of all lamp groups together [A].
    """

    t_s: Floats
    v_supply_v: Floats
    v_lamp_v: Floats
    i_line_a: Floats
    i_lamps_a: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class BlinkStrip:
    """Some blinks in a row; arrays of the same length.

    Parameters
    ----------
    t_s : time [s].
    v_reservoir_v : reservoir voltage of each lamp group that has one [V].
    lit : for each of them 1 while its driver runs.
    standby_v : reservoir voltage of the control [V]; empty for an ordinary switch.
    groups : index of the lamp group of each entry.
    """

    t_s: Floats
    v_reservoir_v: tuple[Floats, ...]
    lit: tuple[Floats, ...]
    standby_v: Floats
    groups: tuple[int, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class PowerCurve:
    """Power the feed can draw against the voltage of its reservoir; arrays [V], [W]."""

    standby_v: Floats
    available_p_w: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class Numerics:
    """How the solution was reached.

    Parameters
    ----------
    method : "newton" for a settled loop, "march" for a blinking one.
    steps_per_cycle, half_cycles : how finely, how much.
    residual_v : last correction of the settled state [V].
    energy_balance_ratio : (source work - heat - stand-by power)/source work over a settled cycle [1];
        None where lamps blink.
    """

    method: str
    steps_per_cycle: int
    half_cycles: int
    residual_v: float
    energy_balance_ratio: float | None


class Second(StrEnum):
    """What else a loop could settle to."""

    FLASHES = "flashes"  # it rests, but once something makes it flash it goes on
    LEVEL = "level"  # another voltage at the lamps, as with an electronic bleeder above its cut-off


@dataclass(frozen=True, slots=True, kw_only=True)
class OffState:
    """The off state of one gang, as reached from the moment of switching off; see the parts for their units.

    Parameters
    ----------
    second : another state that the loop would stay in if something brought it there; None where none was found.
    second_lamp_v_rms : voltage at the lamps in it [V]; None where it flashes.
    """

    lamp_v_rms: float
    lamp_v_peak: float
    line_i_rms_a: float
    lamps: tuple[LampResult, ...]
    control: ControlResult
    shares: Shares
    closed_form: ClosedForm
    waveforms: Waveforms
    blink: BlinkStrip | None
    power_curve: PowerCurve | None
    numerics: Numerics
    second: Second | None = None
    second_lamp_v_rms: float | None = None
