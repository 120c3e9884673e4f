"""What a gang does to its control: pulses, their peak, rms and crest, and how many lamps that allows.

For stress the supply is taken as stiff and 10 % high, and every figure is the worst over the firing angles.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import cos, exp, inf, pi, radians, sin, sqrt

import numpy as np

from ember_core.lit.loads import (
    HIGH_RATIO,
    R_CONTACT_OHM,
    R_TRIAC_OHM,
    capacitance_f,
    conductance_s,
    hot_filament_ohm,
    magnetising_s,
)
from ember_core.lit.ranges import LitFigures, source_figures
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.onstate.pulses import V_TWO_JUNCTIONS, closing_pulse, pulse_map
from ember_core.parts import (
    ActiveBypass,
    CapacitiveDropperLamp,
    CapacitorBypass,
    DimmableDriverLamp,
    ElectronicTransformerLamp,
    FilamentLamp,
    LinearLamp,
    RectifierLamp,
    rated_w,
)
from ember_core.spread.least_load import MOST_LAMPS

# Firing angles over which the worst is looked for.
FIRING_DEG = (75.0, 90.0, 105.0, 120.0, 135.0)
# The pulse into a reservoir grows past the crest until the reservoir outlasts a half-cycle, and falls at once from
# there: more angles, and some about the worst of them.
LATE_DEG = tuple(float(angle) for angle in range(108, 166, 3))
ABOUT_DEG = (-2.0, -1.0, 1.0, 2.0)
# What the switched live can still hold of the other polarity when it fires, over the peak of the mains: capacitor-input
# lamps clamp it at their reservoir, and nothing else bleeds it.
TRAPPED_RATIO = 0.85
# The rms of pulses from their I²t is up to 16 % low where the ring of a filter also fills the reservoirs, and high
# elsewhere: raised a little.
RMS_RAISED = 1.1
# Single pulses are up to 3 % low where reservoirs begin to fill under the pulse of the filters.
PEAK_RAISED = 1.03
# Pulses of filters and of reservoirs peak at different times: so much of the smaller one lies under the larger
# [assumption, from the march].
PULSES_MEET_RATIO = 0.5
# An iron core takes up to 5 % more than by its inductance alone, with the capacitance beside it.
IRON_RAISED = 1.1
_RUNNING_PLACES = 181
# Cable on the switched live has next to no resistance of its own.
R_LEAST_OHM = 0.1


@dataclass(frozen=True, slots=True, kw_only=True)
class Stress:
    """What the control bears.

    Parameters
    ----------
    i_peak_a, i_rms_a : largest of each over the firing angles. crest_ratio : of the two at the angle of the peak.
    peak_ratio, rms_ratio : to a filament of the same watts; None where the watts are not known.
    """

    i_peak_a: float
    i_rms_a: float
    crest_ratio: float
    peak_ratio: float | None
    rms_ratio: float | None


class Governs(StrEnum):
    """What ends a count of lamps."""

    PEAK = "peak"
    RMS = "rms"


def stiff(loop: Loop, figures: LitFigures) -> LitFigures:
    """The same figures on a stiff supply."""
    return figures.with_control(**source_figures(loop.supply.v_rms, "stiff"))


def weak(loop: Loop, figures: LitFigures) -> LitFigures:
    """The same figures on a weak supply."""
    return figures.with_control(**source_figures(loop.supply.v_rms, "weak"))


def filter_pulse(
    loop: Loop, figures: LitFigures, v_at_v: float, *, r_switch_ohm: float = R_TRIAC_OHM
) -> closed_form.Pulse:
    """The pulse into everything capacitive that is there at once: input filters, films, bypasses, cable.

    Parameters
    ----------
    v_at_v : the step: the mains where it fires, with what the switched live holds of the other polarity.
    """
    parts = [(loop.cable.c_switched_to_neutral_f, R_LEAST_OHM)]
    parts += [(p.c_f, max(p.r_series_ohm, R_LEAST_OHM)) for p in loop.bypass if isinstance(p, CapacitorBypass)]
    for lamp, own in zip(loop.lamps, figures.lamps, strict=True):
        if isinstance(lamp, DimmableDriverLamp):
            parts += [(lamp.c_x_f, own["r_damp_ohm"]), (own["c_film_f"], lamp.r_in_ohm)] * lamp.count
        elif isinstance(lamp, ElectronicTransformerLamp):
            parts += [(lamp.c_x_f, own["r_damp_ohm"]), (lamp.c_bulk_f, lamp.r_in_ohm)] * lamp.count
        elif isinstance(lamp, RectifierLamp | LinearLamp):
            parts += [(lamp.c_x_f, own["r_x_ohm"])] * lamp.count
    return pulse_into(parts, figures, v_at_v, r_switch_ohm=r_switch_ohm)


def pulse_into(
    parts: Sequence[tuple[float, float]], figures: LitFigures, v_at_v: float, *, r_switch_ohm: float = R_TRIAC_OHM
) -> closed_form.Pulse:
    """The pulse of a step into capacitors in parallel behind choke and supply, never less than it is.

    For the heat their series resistances count by the square of the charge that goes through each; for the peak in
    parallel, as at the moment of the step.

    Parameters
    ----------
    parts : capacitance [F] and series resistance [Ω] of each.
    """
    control = figures.control
    c = sum(part for part, _ in parts)
    if c <= 0.0:
        return closed_form.pulse(0.0, 1.0, 1.0, 1.0)
    r_line, l_line = r_switch_ohm + control["r_source_ohm"], control["l_choke_h"] + control["l_source_h"]
    by_charge = sum(ohm * part * part for part, ohm in parts) / (c * c)
    parallel = 1.0 / sum(1.0 / ohm for part, ohm in parts if part > 0.0)
    # No bridge stops them: they ring until the energy of the step is spent.
    return replace(
        closed_form.pulse(v_at_v, parallel + r_line, l_line, c),
        i2t_a2s=c * v_at_v**2 / (2.0 * (by_charge + r_line)),
    )


def trapped_v(loop: Loop, figures: LitFigures) -> float:
    """What the switched live still holds of the other polarity when a triac fires, at 10 % high mains [V].

    Capacitor-input lamps clamp it at their reservoir, linear ones at their string; a load like a resistor empties it
    by as much as it conducts, over the quarter of a cycle that there is at least. Beside an iron core it may ring.
    """
    held_v = TRAPPED_RATIO * HIGH_RATIO * loop.supply.v_peak
    c_f, g_s = capacitance_f(loop, figures, with_film=False), conductance_s(loop, figures)
    if magnetising_s(loop) > 0.0:
        return held_v
    if c_f <= 0.0:
        return 0.0 if g_s > 0.0 else held_v
    return held_v * exp(-g_s / (4.0 * loop.supply.f_hz * c_f))


def stress(loop: Loop, figures: LitFigures) -> Stress:
    """Peak, rms and crest on a leading edge at 10 % high mains, the worst over the firing angles.

    Peaks of several pulses come at different times, so the largest counts, with the current of the load beside it.
    """
    found = {angle: _at(loop, figures, radians(angle)) for angle in FIRING_DEG}
    if reservoirs(loop) is not None:
        found |= {angle: _at(loop, figures, radians(angle)) for angle in LATE_DEG}
        worst = max(found, key=lambda angle: found[angle])
        found |= {worst + more: _at(loop, figures, radians(worst + more)) for more in ABOUT_DEG}
    peak, at_peak = max(found.values())
    rms = max(one for _, one in found.values())
    watts = total_w(loop)
    like = None if not watts else watts / loop.supply.v_rms
    return Stress(
        i_peak_a=peak,
        i_rms_a=rms,
        crest_ratio=peak / at_peak if at_peak > 0.0 else inf,
        peak_ratio=None if like is None else peak / (sqrt(2.0) * like),
        rms_ratio=None if like is None else rms / like,
    )


def total_w(loop: Loop) -> float | None:
    """Watts of all lamps; None where some are not known."""
    each = [rated_w(lamp) for lamp in loop.lamps]
    if any(one is None for one in each):
        return None
    return sum(lamp.count * (one or 0.0) for lamp, one in zip(loop.lamps, each, strict=True))


@dataclass(frozen=True, slots=True, kw_only=True)
class Running:
    """What flows without pulses from a moment on: peak [A], rms over the half-cycle [A], I²t of this one [A²s]."""

    i_peak_a: float
    i_rms_a: float
    i2t_a2s: float


def running(loop: Loop, figures: LitFigures, alpha: float, *, g_cold_s: float = 0.0) -> Running:
    """Current of stages, filaments, linear lamps and iron cores at 10 % high mains, from a moment to its own zero.

    The flux of an iron core begins at nothing: what it takes lags, lasts beyond the zero crossing, and is up to twice
    that of the steady state. Saturation and remanence come on top; they are told in words.

    Parameters
    ----------
    alpha : firing or closing angle [rad]. g_cold_s : what filaments conduct more than hot while cold [S].
    """
    v_peak, w = HIGH_RATIO * loop.supply.v_peak, 2.0 * pi * loop.supply.f_hz
    theta = np.linspace(alpha, 2.0 * pi - alpha, _RUNNING_PLACES)
    g, iron = conductance_s(loop, figures) + g_cold_s, IRON_RAISED * magnetising_s(loop)
    current = v_peak * (g * np.sin(theta) + iron * (cos(alpha) - np.cos(theta)))
    for lamp, own in zip(loop.lamps, figures.lamps, strict=True):
        if isinstance(lamp, LinearLamp):
            over = np.maximum(0.0, v_peak * np.sin(theta) - lamp.v_string_v - V_TWO_JUNCTIONS)
            current += lamp.count * np.minimum(over / lamp.r_in_ohm, own["i_limit_a"])
    current += sum(part.i_limit_a for part in loop.bypass if isinstance(part, ActiveBypass))
    ended = np.flatnonzero((current <= 0.0) & (theta > 0.5 * pi))
    current[ended[0] if ended.size else len(current) :] = 0.0
    i2t = float(np.trapezoid(current * current, theta)) / w
    return Running(i_peak_a=float(current.max(initial=0.0)), i_rms_a=sqrt(2.0 * loop.supply.f_hz * i2t), i2t_a2s=i2t)


def cold_conductance_s(loop: Loop, figures: LitFigures) -> float:
    """What cold filaments conduct more than hot ones [S]."""
    return sum(
        lamp.count * (own["hot_to_cold_ratio"] - 1.0) / hot_filament_ohm(lamp, loop.supply.v_rms, own)
        for lamp, own in zip(loop.lamps, figures.lamps, strict=True)
        if isinstance(lamp, FilamentLamp)
    )


def _at(loop: Loop, figures: LitFigures, alpha: float) -> tuple[float, float]:
    """Peak and rms at a firing angle."""
    v_peak, f_hz = HIGH_RATIO * loop.supply.v_peak, loop.supply.f_hz
    control = figures.control
    v_at = v_peak * sin(alpha)
    flows = running(loop, figures, alpha)
    filters = filter_pulse(loop, figures, v_at + trapped_v(loop, figures))
    pulses = [(filters.i_peak_a, 2.0 * f_hz * filters.i2t_a2s)]
    bulk = reservoirs(loop)
    r_line, l_line = R_TRIAC_OHM + control["r_source_ohm"], control["l_choke_h"] + control["l_source_h"]
    if bulk is not None:
        peak, rms = pulse_map(v_peak, f_hz, alpha, r_line + bulk.r_in_ohm, l_line, bulk.c_f, bulk.p_w, bulk.v_stop_v)
        pulses.append((peak, rms * rms))
    for lamp in loop.lamps:
        if isinstance(lamp, CapacitiveDropperLamp):
            # Its series capacitor holds the other polarity, and what the choke drove beyond that: the step is twice
            # what is above the string, over 1 − k.
            c = lamp.count / (1.0 / lamp.c_series_f + 1.0 / lamp.c_smooth_f)
            r = r_line + lamp.r_in_ohm / lamp.count
            step = 2.0 * max(0.0, v_at - lamp.v_string_v - V_TWO_JUNCTIONS)
            step /= 1.0 - closed_form.overshoot_ratio(r, l_line, c)
            one = closed_form.pulse(step, r, l_line, c)
            pulses.append((one.i_peak_a, 2.0 * f_hz * one.i2t_a2s))
    squared = sum(one for _, one in pulses)
    raised = RMS_RAISED if filters.i2t_a2s * 2.0 * f_hz > 0.01 * squared else 1.0
    peak = max(one for one, _ in pulses)
    return PEAK_RAISED * peak + flows.i_peak_a, sqrt(squared * raised * raised + flows.i_rms_a**2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reservoirs:
    """Capacitor-input lamps together: resistance in front, reservoir, power, and where they stop drawing."""

    r_in_ohm: float
    c_f: float
    p_w: float
    v_stop_v: float


def reservoirs(loop: Loop) -> Reservoirs | None:
    """The reservoirs of a gang as one; None where there are none."""
    bulk = [lamp for lamp in loop.lamps if type(lamp) is RectifierLamp]
    if not bulk:
        return None
    return Reservoirs(
        r_in_ohm=1.0 / sum(lamp.count / lamp.r_in_ohm for lamp in bulk),
        c_f=sum(lamp.count * lamp.c_bulk_f for lamp in bulk),
        p_w=sum(lamp.count * lamp.p_run_w for lamp in bulk),
        v_stop_v=min(lamp.v_stop_v for lamp in bulk),
    )


def peak_allowed_a(loop: Loop, headroom_ratio: float) -> float | None:
    """Repetitive peak that the control stands [A]: headroom · √2 · P_filament / V; None if not rated."""
    watts = loop.control.p_max_filament_w
    return None if watts is None else headroom_ratio * sqrt(2.0) * watts / loop.supply.v_rms


def rms_allowed_a(loop: Loop) -> float | None:
    """Rms current of its filament rating [A]; None if not rated."""
    watts = loop.control.p_max_filament_w
    return None if watts is None else watts / loop.supply.v_rms


def with_count(loop: Loop, group: int, count: int) -> Loop:
    """The loop with another number of lamps in a group."""
    lamps = tuple(replace(lamp, count=count) if k == group else lamp for k, lamp in enumerate(loop.lamps))
    return replace(loop, lamps=lamps)


def largest_group(loop: Loop) -> int:
    """The group with most lamps: its count is what is asked for."""
    return max(range(len(loop.lamps)), key=lambda k: loop.lamps[k].count)


def most_on_dimmer(loop: Loop, figures: LitFigures, headroom_ratio: float) -> tuple[int, Governs] | None:
    """Most lamps of the largest group by peak and rms, and which of the two ends it; None where it is not rated."""
    peak_a, rms_a = peak_allowed_a(loop, headroom_ratio), rms_allowed_a(loop)
    if peak_a is None or rms_a is None:
        return None
    group, hard = largest_group(loop), stiff(loop, figures)
    low, high, governs = 0, MOST_LAMPS + 1, Governs.PEAK
    while high - low > 1:
        middle = (low + high) // 2
        found = stress(with_count(loop, group, middle), hard)
        if found.i_peak_a <= peak_a and found.i_rms_a <= rms_a:
            low = middle
        else:
            high, governs = middle, Governs.PEAK if found.i_peak_a > peak_a else Governs.RMS
    return low, governs


@dataclass(frozen=True, slots=True, kw_only=True)
class Inrush:
    """A contact that closes onto empty lamps: peak [A] and I²t [A²s]."""

    i_peak_a: float
    i2t_a2s: float


def inrush(loop: Loop, figures: LitFigures, *, off_crossing_s: float | None = None) -> Inrush:
    """What a closing contact bears at 10 % high mains, with the impedance of the supply in `figures`.

    Reservoirs and droppers by their pulses, with the source moving (0.5 %); input filters by theirs. They peak earlier:
    the larger counts, raised by what the smaller adds at most, and their I²t add. Filaments are cold: their
    current comes on top, and for I²t stays as it begins until the half-cycle ends.

    Parameters
    ----------
    off_crossing_s : time after the zero crossing at which it closes; None for the crest.
    """
    v_peak, f_hz = HIGH_RATIO * loop.supply.v_peak, loop.supply.f_hz
    phi = 0.5 * pi if off_crossing_s is None else 2.0 * pi * f_hz * off_crossing_s
    control = figures.control
    r_line, l_line = R_CONTACT_OHM + control["r_source_ohm"], control["l_source_h"]
    slow = [(0.0, 0.0)]
    bulk = reservoirs(loop)
    if bulk is not None:
        slow.append(closing_pulse(v_peak, f_hz, phi, r_line + bulk.r_in_ohm, l_line, bulk.c_f, bulk.p_w, bulk.v_stop_v))
    at_contact = figures.with_control(l_choke_h=0.0)
    filters = filter_pulse(loop, at_contact, v_peak * sin(phi), r_switch_ohm=R_CONTACT_OHM)
    for lamp in loop.lamps:
        if isinstance(lamp, CapacitiveDropperLamp):
            c = lamp.count / (1.0 / lamp.c_series_f + 1.0 / lamp.c_smooth_f)
            slow.append(closing_pulse(v_peak, f_hz, phi, r_line + lamp.r_in_ohm / lamp.count, l_line, c))
    flows = running(loop, figures, phi, g_cold_s=cold_conductance_s(loop, figures))
    peaks = sorted((sum(one for one, _ in slow), filters.i_peak_a))
    return Inrush(
        i_peak_a=peaks[1] + PULSES_MEET_RATIO * peaks[0] + flows.i_peak_a,
        i2t_a2s=sum(one for _, one in slow) + filters.i2t_a2s + flows.i2t_a2s,
    )


def most_on_contact(loop: Loop, figures: LitFigures, *, off_crossing_s: float | None = None) -> int:
    """Most lamps of the largest group that the contact's ratings stand, at a stiff supply and high mains."""
    rated_a, rated_a2s = loop.control.i_inrush_max_a or inf, loop.control.i2t_max_a2s or inf
    group, hard = largest_group(loop), stiff(loop, figures)
    low, high = 0, MOST_LAMPS + 1
    while high - low > 1:
        middle = (low + high) // 2
        one = inrush(with_count(loop, group, middle), hard, off_crossing_s=off_crossing_s)
        low, high = (middle, high) if one.i_peak_a <= rated_a and one.i2t_a2s <= rated_a2s else (low, middle)
    return low


@dataclass(frozen=True, slots=True, kw_only=True)
class HalfWave:
    """Direct current through an iron core when one half-wave is lost: volts, amperes, and over its magnetising peak."""

    v_dc_v: float
    i_dc_a: float
    over_magnetising_ratio: float


def lost_half_wave(v_peak: float, f_hz: float, alpha: float, r_ohm: float, l_h: float) -> HalfWave:
    """What a missing polarity drives: V = V̂·(1 + cos α)/(2π), I = V/R, against V̂/(ω·L)."""
    v_dc = v_peak * (1.0 + cos(alpha)) / (2.0 * pi)
    i_dc = v_dc / r_ohm
    return HalfWave(v_dc_v=v_dc, i_dc_a=i_dc, over_magnetising_ratio=i_dc * 2.0 * pi * f_hz * l_h / v_peak)
