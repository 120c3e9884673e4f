"""Closed forms of the on state: to explain, to bound, to sweep. Each states how far it was found off a simulation.

Angles are in radians from the rising zero crossing; errors in the docstrings are against an independent circuit
simulator over the loops of `tests/core/data`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import acos, acosh, asin, atan2, cos, exp, inf, log, pi, sin, sqrt

from ember_core.onstate.pulses import V_TWO_JUNCTIONS
from ember_core.onstate.switching import DECAYED_TO_V


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulse:
    """A capacitor charged through a resistance and an inductance.

    Parameters
    ----------
    i_peak_a : peak [A]. t_peak_s : when, from the start [s]. charge_c : moved in all [C]. i2t_a2s : ∫ i² dt [A²s].
    """

    i_peak_a: float
    t_peak_s: float
    charge_c: float
    i2t_a2s: float


def pulse(dv_v: float, r_ohm: float, l_h: float, c_f: float) -> Pulse:
    """The pulse of a step into a series circuit through a bridge, which stops it when it would turn back.

    With ζ = (R/2)·√(C/L): î = ΔV·√(C/L)·exp(−ζ·θ/s), θ = acos ζ or acosh ζ, s = √|1 − ζ²|; I²t from the balance of
    energy. Exact for a source that stands still; within 7 % for those of the on state.

    Parameters
    ----------
    dv_v : step [V], 0 or more. r_ohm, c_f : above 0. l_h : 0 or more.
    """
    if dv_v <= 0.0:
        return Pulse(i_peak_a=0.0, t_peak_s=0.0, charge_c=0.0, i2t_a2s=0.0)
    if l_h <= 0.0 or r_ohm * r_ohm * c_f > 1e8 * l_h:
        return Pulse(i_peak_a=dv_v / r_ohm, t_peak_s=0.0, charge_c=c_f * dv_v, i2t_a2s=c_f * dv_v**2 / (2.0 * r_ohm))
    zeta, w0 = 0.5 * r_ohm * sqrt(c_f / l_h), 1.0 / sqrt(l_h * c_f)
    if abs(zeta - 1.0) < 1e-6:
        zeta = 1.0 - 1e-6
    s = sqrt(abs(1.0 - zeta * zeta))
    theta = acos(zeta) if zeta < 1.0 else acosh(zeta)
    k = exp(-pi * zeta / s) if zeta < 1.0 else 0.0
    return Pulse(
        i_peak_a=dv_v * sqrt(c_f / l_h) * exp(-zeta * theta / s),
        t_peak_s=theta / (w0 * s),
        charge_c=c_f * dv_v * (1.0 + k),
        i2t_a2s=c_f * dv_v**2 * (1.0 - k * k) / (2.0 * r_ohm),
    )


def overshoot_ratio(r_ohm: float, l_h: float, c_f: float) -> float:
    """What a series circuit drives a capacitor beyond its step, as a share of it [1]: exp(−π·ζ/√(1 − ζ²)), or 0."""
    if l_h <= 0.0:
        return 0.0
    zeta = 0.5 * r_ohm * sqrt(c_f / l_h)
    return exp(-pi * zeta / sqrt(1.0 - zeta * zeta)) if zeta < 1.0 else 0.0


def drop_out_rad(v_peak: float, w_rad_s: float, i_hold_a: float, g_s: float, c_f: float, v_min_v: float = 0.0) -> float:
    """Angle at which a triac lets go of a load of conductance and capacitance [rad].

    θ = min(π − φ − asin(I_h/(V̂·A)), π − asin(v_min/V̂)), A = √(G² + B²), B = ω·C, φ = atan(B/G): after the crest
    the capacitive current opposes. 0 where it does not hold at all. Within 0.1 % for drivers and filaments.
    """
    b = w_rad_s * c_f
    a = sqrt(g_s * g_s + b * b)
    if i_hold_a >= v_peak * a:
        return 0.0
    held = pi - atan2(b, g_s) - asin(i_hold_a / (v_peak * a))
    return max(0.0, min(held, pi - asin(min(1.0, v_min_v / v_peak))))


def decay_s(v_from: float, v_to: float, c_f: float, g_s: float, i_a: float = 0.0) -> float:
    """Time in which a capacitance falls through a conductance and a constant current [s]; infinity without either.

    t = ∫ C dv / (G·v + I) = C/G · ln((G·V0 + I)/(G·V1 + I)).
    """
    if v_to >= v_from or c_f <= 0.0:
        return 0.0
    if g_s <= 0.0:
        return c_f * (v_from - v_to) / i_a if i_a > 0.0 else inf
    low = g_s * v_to + i_a
    return c_f / g_s * log((g_s * v_from + i_a) / low) if low > 0.0 else inf


@dataclass(frozen=True, slots=True, kw_only=True)
class Draw:
    """What one load takes out of a capacitance, over its voltage: the larger of a conductance and a least current.

    Parameters
    ----------
    g_s : conductance [S], down to `stops_v` [V]. i_a : taken at least, further down too [A].
    opens_v : above it the load is open [V].
    """

    g_s: float = 0.0
    i_a: float = 0.0
    stops_v: float = 0.0
    opens_v: float = inf


def fall_s(v_from: float, v_to: float, c_f: float, draws: Sequence[Draw]) -> float:
    """Time in which a capacitance falls through loads of a law each [s]; infinity where all stop before.

    Between the voltages at which a load changes its law the fall is that of `decay_s`: exact.
    """
    if v_to >= v_from or c_f <= 0.0:
        return 0.0
    turns = {v for one in draws for v in (one.stops_v, one.opens_v, one.i_a / one.g_s if one.g_s > 0.0 else inf)}
    steps = sorted({v_from, v_to, *(v for v in turns if v_to < v < v_from)}, reverse=True)
    total = 0.0
    for high, low in pairwise(steps):
        middle, g_s, i_a = 0.5 * (high + low), 0.0, 0.0
        for one in draws:
            if middle > one.opens_v:
                continue
            if middle > one.stops_v and one.g_s * middle > one.i_a:
                g_s += one.g_s
            else:
                i_a += one.i_a
        total += decay_s(high, low, c_f, g_s, i_a)
    return total


def available_s(turn_off_rad: float, f_hz: float, detection_s: float) -> float:
    """Time from turn-off to the next zero crossing less what it takes to see it [s]."""
    return max(0.0, (pi - turn_off_rad) / (2.0 * pi * f_hz) - detection_s)


def largest_capacitance_f(
    v_peak: float, f_hz: float, draws: Sequence[Draw], turn_offs_rad: Sequence[float], detection_s: float
) -> tuple[float, float]:
    """Most capacitance that decays in time at every turn-off angle: (capacitance [F], angle that governs [rad])."""
    worst, at = inf, turn_offs_rad[0]
    for angle in turn_offs_rad:
        v0 = v_peak * sin(angle)
        if v0 <= DECAYED_TO_V:
            continue
        one = fall_s(v0, DECAYED_TO_V, 1.0, draws)
        most = 0.0 if one == inf else available_s(angle, f_hz, detection_s) / one
        if most < worst:
            worst, at = most, angle
    return worst, at


def supply_capacitance_f(i_need_a: float, f_hz: float, v_peak: float, gap_rad: float, v_supply_v: float) -> float:
    """Least capacitance that feeds a control while on when its lamps block at the zero crossing [F].

    C = I / (2·f·(V̂·sin θ_g − u)), u = the supply and two junctions of 0.8 V; infinity where the gap is too short.
    Within 2 %.
    """
    swing = v_peak * sin(gap_rad) - v_supply_v - V_TWO_JUNCTIONS
    return i_need_a / (2.0 * f_hz * swing) if swing > 0.0 else inf


def supply_current_a(c_f: float, f_hz: float, v_peak: float, gap_rad: float, v_supply_v: float) -> float:
    """Current that a control gets through capacitance in its gap [A]: I = 2·f·C·(V̂·sin θ_g − u). Within 2 %."""
    return max(0.0, 2.0 * f_hz * c_f * (v_peak * sin(gap_rad) - v_supply_v - V_TWO_JUNCTIONS))


def gap_rad(
    v_peak: float, f_hz: float, i_need_a: float, v_supply_v: float, draws: Sequence[Draw], r_supply_ohm: float
) -> float | None:
    """Angle up to which a control in series must stay open to be fed through its loads [rad]; None if never.

    Each conductance takes current from where what is left of the mains, less the supply and its two junctions u, is
    above the voltage at which its load stops: Σ g/(1 + g·R_s)·[V̂·(cos t₀ − cos t₁) − u·(t₁ − t₀)] = I·ω·T/2 with
    sin t₀ = (u + v_stop)/V̂. Within 0.6 % for resistors; least currents and films are left out, which is the safe side.
    """
    u = v_supply_v + V_TWO_JUNCTIONS
    through = [
        (one.g_s / (1.0 + one.g_s * r_supply_ohm), asin((u + one.stops_v) / v_peak))
        for one in draws
        if one.g_s > 0.0 and one.opens_v == inf and u + one.stops_v < v_peak
    ]
    if not through:
        return None
    wanted = i_need_a * pi

    def charge(end: float) -> float:
        return sum(
            g_s * (v_peak * (cos(begin) - cos(end)) - u * (end - begin)) for g_s, begin in through if end > begin
        )

    first, last = min(begin for _, begin in through), min(pi - begin for _, begin in through)
    if charge(last) < wanted:
        return None
    # It takes a third of a second to load, and most commands ask for no such end.
    from scipy.optimize import brentq

    return float(brentq(lambda end: charge(end) - wanted, first, last))


def rms_ratio(gap_rad: float) -> float:
    """Rms of a sine that lacks the beginning of each half-cycle, over the whole one [1]: √(1 − (g − ½·sin 2g)/π)."""
    return sqrt(max(0.0, 1.0 - (gap_rad - 0.5 * sin(2.0 * gap_rad)) / pi))


def inductive_spike_v(v_at_v: float, i_at_a: float, l_h: float, c_f: float, r_parallel_ohm: float) -> float:
    """Peak when an inductive current is cut off into the capacitance that is there [V].

    √(V² + I²·L/C)·exp(−(π/2)·√(L/C)/(2·R)). Within 0.3 %.
    """
    z = sqrt(l_h / c_f)
    return sqrt(v_at_v**2 + (i_at_a * z) ** 2) * exp(-0.25 * pi * z / r_parallel_ohm)


def ring_settles_s(dv_v: float, l_h: float, c_f: float, r_ohm: float, i_spare_a: float) -> float:
    """Time after firing in which the ring of an input filter no longer crosses the holding current [s].

    t = (2·L/R)·ln(V·√(C/L)/(I_load − I_h)); infinity where the load alone does not hold. A gate pulse as long as that
    is enough; a shorter one may or may not misfire, which is a matter of chance.
    """
    if i_spare_a <= 0.0:
        return inf
    swing = dv_v * sqrt(c_f / l_h)
    return 0.0 if swing <= i_spare_a else 2.0 * l_h / r_ohm * log(swing / i_spare_a)
