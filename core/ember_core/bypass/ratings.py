"""Whether a part stands the place: class, voltage, pulse, heat, and what it does after the switch."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations_with_replacement
from math import log, pi, sqrt

from ember_core.bypass.limits import (
    LEADING,
    MOST_HEAT_W,
    MOST_REACTIVE_A,
    TRAILING,
    LimitReason,
    active_on_w,
    capacitor_limits,
    firing_spike,
)
from ember_core.findings import Finding, Severity
from ember_core.lit.loads import HIGH_RATIO, LOW_RATIO
from ember_core.loop import Loop
from ember_core.offstate.ptc import resistance_ohm, settled_resistance_ohm, settled_temperature_k
from ember_core.parts import ActiveBypass, Bypass, CapacitorBypass, PtcBypass, ResistorBypass

# Touch limits to which a capacitor must have discharged [V], and how long after isolation at most [s].
DISCHARGED_TO_V = (60.0, 34.0)
MOST_DISCHARGE_S = 1.0
# A resistor runs at half its rated power at most [assumption of good practice]; what may be touched by accident or lie
# beside insulation stays below this [K; assumption, 90 °C].
RESISTOR_LOAD_RATIO = 0.5
MOST_SURFACE_K = 363.15
# Warm air above a ceiling [K; assumption, 40 °C].
CEILING_K = 313.15
E24 = (10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91)
E6 = (10, 15, 22, 33, 47, 68)


@dataclass(frozen=True, slots=True, kw_only=True)
class WhileOn:
    """What a bypass does while the light is on.

    Parameters
    ----------
    heat_w : at +10 % [W], None where not known. nominal_w : at the nominal supply. reactive_va : at the nominal supply.
    reactive_a : rms at +10 % [A]. surface_k : at +10 % above a ceiling [K]; None where not known.
    """

    heat_w: float | None
    nominal_w: float | None
    reactive_va: float
    reactive_a: float
    surface_k: float | None


def while_on(loop: Loop, bypass: Bypass | None) -> WhileOn:
    """Watts, vars, current and surface of one bypass."""
    high = HIGH_RATIO * loop.supply.v_rms
    heat = heat_w(loop, bypass, HIGH_RATIO)
    current = reactive_a(loop, bypass)
    surface = None
    if isinstance(bypass, ResistorBypass) and bypass.r_thermal_k_per_w is not None and heat is not None:
        surface = CEILING_K + heat * bypass.r_thermal_k_per_w
    elif isinstance(bypass, PtcBypass):
        surface = settled_temperature_k(bypass, high)
    return WhileOn(
        heat_w=heat,
        nominal_w=heat_w(loop, bypass, 1.0),
        reactive_va=current / HIGH_RATIO * loop.supply.v_rms,
        reactive_a=current,
        surface_k=surface,
    )


def heat_w(loop: Loop, bypass: Bypass | None, supply_ratio: float = HIGH_RATIO) -> float | None:
    """Heat while on [W]: V²/R, of a capacitor that of its discharge resistor, of a PTC at its hot point.

    Of an electronic bleeder what it takes below its cut-off.
    """
    v = supply_ratio * loop.supply.v_rms
    match bypass:
        case None:
            return 0.0
        case ResistorBypass():
            return v**2 / bypass.r_ohm
        case CapacitorBypass():
            return 0.0 if bypass.r_parallel_ohm is None else v**2 / bypass.r_parallel_ohm
        case PtcBypass():
            return v**2 / settled_resistance_ohm(bypass, v)
        case ActiveBypass():
            return active_on_w(bypass.i_limit_a, bypass.v_cutoff_v, v)
    return None


def reactive_a(loop: Loop, bypass: Bypass | None) -> float:
    """Reactive current while on at +10 %, rms [A]: 2π·f·C·V."""
    if not isinstance(bypass, CapacitorBypass):
        return 0.0
    return 2.0 * pi * loop.supply.f_hz * bypass.c_f * HIGH_RATIO * loop.supply.v_rms


def discharge_s(c_f: float, r_ohm: float, v_peak: float, v_end: float) -> float:
    """Time in which a capacitor has discharged [s]: t = R·C·ln(V̂ / V)."""
    return 0.0 if v_end >= v_peak else r_ohm * c_f * log(v_peak / v_end)


def discharge_resistor_ohm(c_f: float, v_peak: float) -> float:
    """Largest E24 resistor that discharges it to the lower touch limit in time [Ω]."""
    most = MOST_DISCHARGE_S / (c_f * log(v_peak / DISCHARGED_TO_V[1]))
    return max(value for value in _e24_values() if value <= most)


def _e24_values() -> list[float]:
    return [value * 10.0**decade for decade in range(1, 7) for value in E24]


@dataclass(frozen=True, slots=True, kw_only=True)
class SeriesProposal:
    """Resistors of the E24 series, in series, in place of one that does not stand it.

    Parameters
    ----------
    values_ohm : each. total_ohm : of all [Ω]. p_each_w : most heat in one at +10 % [W]. v_each_v : most volts on one.
    """

    values_ohm: tuple[float, ...]
    total_ohm: float
    p_each_w: float
    v_each_v: float


def in_series(loop: Loop, r_ohm: float, p_rated_w: float, v_limit_v: float) -> SeriesProposal | None:
    """Two, else three E24 resistors that together come nearest and each stand half their power and their voltage.

    None where not even three do.
    """
    v = HIGH_RATIO * loop.supply.v_rms
    for count in (2, 3):
        share = r_ohm / count
        near = [value for value in _e24_values() if 0.5 * share <= value <= 2.0 * share]
        fits: list[tuple[float, float, SeriesProposal]] = []
        for values in combinations_with_replacement(near, count):
            total = sum(values)
            i = v / total
            heat, volts = i * i * max(values), i * max(values)
            if heat <= RESISTOR_LOAD_RATIO * p_rated_w and volts <= v_limit_v:
                off = abs(log(total / r_ohm))
                proposal = SeriesProposal(values_ohm=values, total_ohm=total, p_each_w=heat, v_each_v=volts)
                fits.append((round(off, 3), max(values) - min(values), proposal))
        if fits and min(fits, key=lambda fit: fit[:2])[0] <= 0.05:
            return min(fits, key=lambda fit: fit[:2])[2]
    return None


@dataclass(frozen=True, slots=True, kw_only=True)
class PtcCourse:
    """A PTC from cold to hot and back.

    Parameters
    ----------
    r_cold_ohm, r_hot_ohm : at the ends [Ω]. i_cold_a : first current at +10 %, peak [A]. p_cold_w : first heat [W].
    t_hot_k : where it settles at +10 % [K]. heats_s, cools_s : to its switching temperature and back [s]; None where
        its heat capacity is not known.
    """

    r_cold_ohm: float
    r_hot_ohm: float
    i_cold_a: float
    p_cold_w: float
    t_hot_k: float
    heats_s: float | None
    cools_s: float | None


def ptc_course(loop: Loop, part: PtcBypass) -> PtcCourse:
    """Cold at first, then self-limiting; after switching off it is hot, and bleeds little until it has cooled.

    Heating with V²/R_cold up to the switching temperature; cooling with τ = R_th · C_th:
    t = τ · ln((T_hot − T_amb)/(T_switch − T_amb)).
    """
    v = HIGH_RATIO * loop.supply.v_rms
    hot = settled_temperature_k(part, v)
    made = v * v / part.r_cold_ohm
    heats = cools = None
    if part.c_thermal_j_per_k is not None:
        tau = part.r_thermal_k_per_w * part.c_thermal_j_per_k
        end = made * part.r_thermal_k_per_w
        rise = part.t_switch_k - part.t_ambient_k
        heats = tau * log(end / (end - rise)) if end > rise else None
        cools = tau * log((hot - part.t_ambient_k) / rise) if hot - part.t_ambient_k > rise > 0.0 else 0.0
    return PtcCourse(
        r_cold_ohm=part.r_cold_ohm,
        r_hot_ohm=resistance_ohm(part, hot),
        i_cold_a=sqrt(2.0) * v / part.r_cold_ohm,
        p_cold_w=made,
        t_hot_k=hot,
        heats_s=heats,
        cools_s=cools,
    )


def findings(loop: Loop, bypass: Bypass | None) -> list[Finding]:
    """What its ratings and the on state say of a part; nothing where all is well and known."""
    match bypass:
        case CapacitorBypass():
            return _of_capacitor(loop, bypass)
        case ResistorBypass():
            return _of_resistor(loop, bypass)
        case PtcBypass():
            return _of_ptc(loop, bypass)
        case ActiveBypass():
            return _of_active(loop, bypass)
    return []


def _stop(code: str, **params: float | int | str) -> Finding:
    return Finding(code=code, severity=Severity.STOP, params=params)


def _warn(code: str, **params: float | int | str) -> Finding:
    return Finding(code=code, severity=Severity.WARN, params=params)


def _info(code: str, **params: float | int | str) -> Finding:
    return Finding(code=code, severity=Severity.INFO, params=params)


def _of_capacitor(loop: Loop, part: CapacitorBypass) -> list[Finding]:
    found: list[Finding] = []
    high = HIGH_RATIO * loop.supply.v_rms
    current = reactive_a(loop, part)
    if current > MOST_REACTIVE_A:
        found.append(_stop("bypass_too_much_current", reactive_a=current, most_a=MOST_REACTIVE_A))
    for limit in capacitor_limits(loop, r_series_ohm=part.r_series_ohm):
        if limit.reason is LimitReason.DECLARED and limit.value is not None and part.c_f > limit.value:
            found.append(_stop("bypass_above_declared", most_f=limit.value))
        elif limit.reason is LimitReason.TRAILING_DECAY and limit.value is not None and part.c_f > limit.value:
            found.append(_stop("bypass_decays_late", most_f=limit.value, turn_off_deg=limit.params["turn_off_deg"]))
        elif limit.reason is LimitReason.LEADING_SPIKE:
            found.append(_spike(loop, part, limit.params.get("most_a")))
    if loop.control.phase_mode in TRAILING and not any(f.code == "bypass_decays_late" for f in found):
        found.append(_info("bypass_decays_in_time"))
    if part.v_rated_v is None:
        found.append(_warn("bypass_voltage_unknown", v_least_v=high))
    elif part.v_rated_v < high:
        found.append(_stop("bypass_voltage_too_low", v_rated_v=part.v_rated_v, v_least_v=high))
    if part.r_parallel_ohm is None:
        needed = discharge_resistor_ohm(part.c_f, HIGH_RATIO * loop.supply.v_peak)
        found.append(_stop("bypass_keeps_charge", r_ohm=needed))
    else:
        v_peak = HIGH_RATIO * loop.supply.v_peak
        times = [discharge_s(part.c_f, part.r_parallel_ohm, v_peak, v) for v in DISCHARGED_TO_V]
        is_quick = times[1] <= MOST_DISCHARGE_S
        say = _info if is_quick else _warn
        found.append(say("bypass_discharges", to_60_s=times[0], to_34_s=times[1]))
        if not is_quick:
            found.append(_warn("bypass_discharge_resistor", r_ohm=discharge_resistor_ohm(part.c_f, v_peak)))
    return found


def _spike(loop: Loop, part: CapacitorBypass, allowed: float | None) -> Finding:
    """The pulse under a leading-edge control: against the control's peak, then against the part's own steepness."""
    spike = firing_spike(loop, part)
    steep = spike.i_peak_a / part.c_f
    if allowed is not None and spike.i_peak_a > allowed:
        return _stop("bypass_spike_too_high", i_peak_a=spike.i_peak_a, most_a=allowed)
    if part.dv_dt_max_v_per_s is not None and steep > part.dv_dt_max_v_per_s:
        return _stop("bypass_pulse_too_steep", steep_v_per_s=steep, most_v_per_s=part.dv_dt_max_v_per_s)
    if part.dv_dt_max_v_per_s is None or allowed is None:
        return _warn("bypass_spike_unknown", i_peak_a=spike.i_peak_a, steep_v_per_s=steep)
    return _warn("bypass_under_leading", i_peak_a=spike.i_peak_a, most_a=allowed)


def _warm(loop: Loop, bypass: Bypass) -> list[Finding]:
    on = while_on(loop, bypass)
    found = []
    if on.heat_w is not None and on.heat_w > MOST_HEAT_W:
        found.append(_stop("bypass_too_warm", heat_w=on.heat_w, most_w=MOST_HEAT_W))
    if on.surface_k is not None and on.surface_k > MOST_SURFACE_K and not isinstance(bypass, PtcBypass):
        found.append(_stop("bypass_surface_hot", surface_k=on.surface_k, most_k=MOST_SURFACE_K))
    elif on.surface_k is not None:
        found.append(_info("bypass_surface", surface_k=on.surface_k))
    return found


def _of_resistor(loop: Loop, part: ResistorBypass) -> list[Finding]:
    found = _warm(loop, part)
    high = HIGH_RATIO * loop.supply.v_rms
    heat = high * high / part.r_ohm
    is_short = False
    if part.p_rated_w is None or part.v_limit_v is None:
        found.append(_warn("bypass_rating_unknown", heat_w=heat, v_least_v=high))
    else:
        if heat > RESISTOR_LOAD_RATIO * part.p_rated_w:
            found.append(_stop("bypass_power_too_low", heat_w=heat, half_w=RESISTOR_LOAD_RATIO * part.p_rated_w))
            is_short = True
        if high > part.v_limit_v:
            found.append(_stop("bypass_limit_voltage", v_limit_v=part.v_limit_v, v_least_v=high))
            is_short = True
        if is_short:
            series = in_series(loop, part.r_ohm, part.p_rated_w, part.v_limit_v)
            if series is not None:
                values = {f"r_{k}_ohm": value for k, value in enumerate(series.values_ohm, 1)}
                code = "bypass_two_in_series" if len(values) == 2 else "bypass_three_in_series"
                found.append(_info(code, **values, heat_w=series.p_each_w, v_each_v=series.v_each_v))
    if loop.control.phase_mode in LEADING:
        found.append(_info("bypass_resistor_holds", i_a=LOW_RATIO * loop.supply.v_peak / part.r_ohm))
    return found


def _of_ptc(loop: Loop, part: PtcBypass) -> list[Finding]:
    course = ptc_course(loop, part)
    found = _warm(loop, part)
    found.append(_info("bypass_ptc_course", r_cold_ohm=course.r_cold_ohm, r_hot_ohm=course.r_hot_ohm))
    found.append(_info("bypass_ptc_first", i_peak_a=course.i_cold_a, heat_w=course.p_cold_w))
    if course.cools_s is None:
        found.append(_warn("bypass_ptc_cooling_unknown"))
    return found


def _of_active(loop: Loop, part: ActiveBypass) -> list[Finding]:
    found = _warm(loop, part)
    low, high = LOW_RATIO * loop.supply.v_rms, HIGH_RATIO * loop.supply.v_rms
    if part.v_supply_low_v is None or part.v_supply_high_v is None:
        found.append(_warn("bypass_range_unknown", low_v=low, high_v=high))
    # A declared range is a range of mains: 207 V stands for 230 V less 10 %.
    elif part.v_supply_low_v > 1.001 * low or part.v_supply_high_v < 0.999 * high:
        found.append(_stop("bypass_outside_range", low_v=part.v_supply_low_v, high_v=part.v_supply_high_v))
    return found
