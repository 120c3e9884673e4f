"""Single pulses into the reservoirs of capacitor-input lamps, marched with the source moving.

Without a control's own states and with steps of one length these cost a hundredth of the whole march.
"""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from math import pi, sin

from ember_core.compiled import compiled

# Two silicon junctions of a bridge at the currents of the on state [V].
V_TWO_JUNCTIONS = 1.6
# Half-cycles that are followed at most, and of which the last count where none repeats the one before.
_HALF_CYCLES, _LAST = 60, 8


@compiled
def pulse_map(
    v_peak: float,
    f_hz: float,
    alpha: float,
    r_ohm: float,
    l_h: float,
    c_f: float,
    p_w: float,
    v_stop: float = 1.0,
) -> tuple[float, float]:
    """Peak [A] and rms [A] of the pulses that capacitor-input lamps take each half-cycle from a firing angle on.

    Each pulse is marched with the source moving; between pulses the reservoir gives its power away. Followed until
    one half-cycle repeats the one before. Past the crest none may: a reservoir that outlasts the next half-cycle takes
    all from every other one. Then the largest pulse of the last ones counts, and their mean square.

    Parameters
    ----------
    alpha : firing angle [rad]. r_ohm, l_h : all in front of the reservoirs. c_f, p_w : of all lamps together.
    v_stop : below it they draw nothing.
    """
    w = 2.0 * pi * f_hz
    h = 1e-6
    half_s = 0.5 / f_hz
    v_bulk = 0.9 * v_peak
    most = mean = 0.0
    for k in range(_HALF_CYCLES):
        i, t, v = 0.0, 0.0, v_bulk
        peak = squared = 0.0
        while alpha + w * t < pi + 0.5:
            e = v_peak * sin(alpha + w * t) - V_TWO_JUNCTIONS
            if i <= 0.0 and e <= v:
                if alpha + w * t >= 0.5 * pi:
                    break
                t += h
                v -= h * p_w / (c_f * v) if v > v_stop else 0.0
                continue
            i = max(0.0, (i + h / l_h * (e - v)) / (1.0 + h / l_h * r_ohm))
            v += h / c_f * (i - (p_w / v if v > v_stop else 0.0))
            t += h
            peak = max(peak, i)
            squared += i * i * h
        left = v * v - 2.0 * p_w * max(0.0, half_s - t) / c_f
        after = max(left, min(v, v_stop) ** 2) ** 0.5
        if abs(after - v_bulk) < 0.01:
            return peak, (2.0 * f_hz * squared) ** 0.5
        v_bulk = after
        if k >= _HALF_CYCLES - _LAST:
            most = max(most, peak)
            mean += squared / _LAST
    return most, (2.0 * f_hz * mean) ** 0.5


@compiled
def closing_pulse(
    v_peak: float,
    f_hz: float,
    phi: float,
    r_ohm: float,
    l_h: float,
    c_f: float,
    p_w: float = 0.0,
    v_stop: float = 1.0,
) -> tuple[float, float]:
    """Peak [A] and I²t [A²s] of a contact that closes onto an empty reservoir behind a bridge, the source moving.

    Parameters
    ----------
    phi : angle of closing [rad]. r_ohm, l_h : all in front of it. p_w, v_stop : what is taken out of it, and the
        voltage below which nothing is. Within 0.5 %.
    """
    w = 2.0 * pi * f_hz
    # Fine against the fastest of rise, ring and fall, and growing with the time since: a pulse of nanoseconds costs no
    # more steps than one of milliseconds.
    fastest = min((l_h * c_f) ** 0.5, l_h / r_ohm) if l_h > 0.0 else r_ohm * c_f
    i = v = t = peak = i2t = 0.0
    while phi + w * t < pi:
        h = min(1e-6, 0.02 * (fastest + t))
        e = abs(v_peak * sin(phi + w * t)) - V_TWO_JUNCTIONS
        if i <= 0.0 and e <= v and phi + w * t >= 0.5 * pi:
            break
        g = 1.0 / (r_ohm + l_h / h + h / c_f)
        i = max(0.0, g * (e - v + l_h / h * i))
        v += h / c_f * (i - (p_w / v if v > v_stop else 0.0))
        i2t += i * i * h
        peak = max(peak, i)
        t += h
    return peak, i2t
