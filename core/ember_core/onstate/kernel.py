"""The compiled march of the on state: implicit Euler on the one unknown node, the switched live.

Every load is a monotone law i(v) with its own state eliminated, the control with the source behind it a straight one,
so the balance of the node is monotone: Newton inside a bracket. The step is a whole fraction of the half-cycle.
"""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from math import pi, sin, tanh

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]
# Rows of the table of loads: kind, how many, and up to six figures.
RESISTOR, SERIES_RC, RECTIFIER, STAGE, DROPPER, LINEAR, TRANSFORMER, BLEEDER = 0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0
COLUMNS = 8
LEADING, TRAILING, SELF_FIRED, WINDOW, RELAY = 0, 1, 2, 3, 4
# Two silicon junctions of a bridge at the currents of the on state [V].
V_TWO_JUNCTIONS = 1.6
MOST_ROUNDS = 200
# Places of what is measured.
(
    I_PEAK,
    T_PEAK,
    I2T,
    I_SQUARED,
    V_SQUARED,
    V_PEAK,
    DROP_OUT,
    FIRED,
    V_AT_CROSSING,
    T_DECAY,
    I_TURN_OFF,
    Q_SUPPLY,
    STEPS,
    HALF_CYCLES,
    E_SOURCE,
    E_SPENT,
) = range(16)
MEASURES = 16
DECAYED_TO_V = 30.0


@njit(cache=True, nogil=True)
def _law(row: Floats, state: Floats, v: float, h: float) -> tuple[float, float]:
    """Current and conductance of one load of the row at a node voltage."""
    kind = row[0]
    if kind == RESISTOR:
        return v / row[2], 1.0 / row[2]
    if kind == SERIES_RC:
        g = 1.0 / (row[2] + h / row[3])
        return g * (v - state[0]), g
    if kind in (RECTIFIER, STAGE):
        over = abs(v) - state[1] - V_TWO_JUNCTIONS
        if over <= 0.0:
            return 0.0, 0.0
        g = 1.0 / (row[2] + h / row[3])
        return (over if v > 0.0 else -over) * g, g
    if kind == DROPPER:
        across = v - state[0]
        over = abs(across) - state[1] - V_TWO_JUNCTIONS
        if over <= 0.0:
            return 0.0, 0.0
        g = 1.0 / (row[2] + h / row[3] + h / row[4])
        return (over if across > 0.0 else -over) * g, g
    if kind == LINEAR:
        over = abs(v) - row[3] - V_TWO_JUNCTIONS
        if over <= 0.0:
            return 0.0, 0.0
        i = over / row[2]
        if i >= row[4]:
            return (row[4] if v > 0.0 else -row[4]), 0.0
        return (i if v > 0.0 else -i), 1.0 / row[2]
    if kind == BLEEDER:
        # Open above its cut-off, which the step before tells: within a step the law stays monotone.
        if state[0] > 0.0:
            return 0.0, 0.0
        i = v / row[2]
        if abs(i) >= row[3]:
            return (row[3] if v > 0.0 else -row[3]), 0.0
        return i, 1.0 / row[2]
    y = 1.0 / row[5] + h / row[4]
    g = 1.0 / (row[2] + row[3] / h + 1.0 / y)
    return g * (v + row[3] / h * state[0] + state[1] / y), g


@njit(cache=True, nogil=True)
def _after(row: Floats, state: Floats, i: float, v_node: float, h: float) -> None:
    """The load's own state after a step with its current at a node voltage."""
    kind = row[0]
    if kind == SERIES_RC:
        state[0] += h / row[3] * i
    elif kind == RECTIFIER:
        # state[1] is what the next step will find with the load taken off.
        state[0] = state[1] + h / row[3] * abs(i)
        drawn = row[4] / state[0] if state[0] > row[5] else 0.0
        state[1] = state[0] - h / row[3] * drawn
    elif kind == STAGE:
        state[0] = state[1] + h / row[3] * abs(i)
        v = state[0]
        on = 0.5 * (1.0 + tanh((v - row[6]) / 2.0))
        drawn = max(on * (row[4] * v + row[5]), row[7] * min(v / 5.0, 1.0))
        state[1] = max(0.0, v - h / row[3] * drawn)
    elif kind == DROPPER:
        state[0] += h / row[3] * i
        v = state[1] + h / row[4] * abs(i)
        string = max(0.0, v - row[5]) / row[6]
        state[1] = v - h / row[4] * (string + v / row[7])
    elif kind == TRANSFORMER:
        y = 1.0 / row[5] + h / row[4]
        v_m = (i - state[1]) / y
        state[1] += h / row[4] * v_m
        state[0] = i
    elif kind == BLEEDER:
        state[0] = 1.0 if abs(v_node) > row[4] else 0.0


@njit(cache=True, nogil=True)
def march(
    mode: int,
    source: Floats,
    control: Floats,
    loads: Floats,
    state: Floats,
    n_half: int,
    steps: int,
    measured_from: int,
    every: int,
    record: Floats,
    out: Floats,
) -> int:
    """March from the zero crossing with everything open; measure from a step on.

    Parameters
    ----------
    mode : `LEADING` and so on. source : peak [V], frequency [Hz], resistance [Ω], inductance [H].
    control : r_on, l_choke, r_filter, c_filter, r_off, i_hold, t_gate, t_let_go, first angle [half-cycles], second
        angle, v_supply, c_supply, i_need, r_supply.
    loads : a row a load, see `_law`. state : (rows, 2), changed in place.
    n_half : steps a half-cycle. every : a column of the record each so many steps.
    record : (5, n) or empty: supply [V], switched live [V], line current [A], closed or not, supply reservoir [V].
    out : see the places above, changed in place.

    Returns
    -------
    0, or 1 where the balance of the node was not met.
    """
    v_peak, f_hz, r_s, l_s = source[0], source[1], source[2], source[3]
    r_on, l_choke, r_filter, c_filter, r_off = control[0], control[1], control[2], control[3], control[4]
    i_hold, t_gate, t_let_go = control[5], control[6], control[7]
    first, second = control[8], control[9]
    v_supply, c_supply, i_need, r_supply = control[10], control[11], control[12], control[13]
    h = 0.5 / (f_hz * n_half)
    w = 2.0 * pi * f_hz
    z_s = r_s + l_s / h
    n = loads.shape[0]
    has_supply = v_supply > 0.0
    g_on = 1.0 / (r_on + l_choke / h)
    g_filter = 1.0 / (r_filter + h / c_filter) if c_filter > 0.0 else 0.0
    r_reservoir = h / c_supply if c_supply > 0.0 else 0.0
    closed = False
    i_line = i_choke = v_filter = v = 0.0
    v_reservoir = v_supply
    low_for = gate_left = 0.0
    fired_at = -1.0
    turned_off_at = -1.0
    decayed = False
    has_fired = False
    for j in range(steps):
        t = (j + 1) * h
        half = (j + 1) // n_half
        at = ((j + 1) - half * n_half) / n_half
        measuring = j >= measured_from
        if at == 0.0:
            # A zero crossing.
            has_fired = False
            if measuring and turned_off_at >= 0.0:
                out[V_AT_CROSSING] = max(out[V_AT_CROSSING], abs(v))
            turned_off_at = -1.0
        # What the control does.
        was_closed = closed
        if mode in (LEADING, SELF_FIRED):
            is_due = at >= first if mode == LEADING else v_reservoir >= v_supply
            if not has_fired and not closed and is_due and at > 0.0:
                closed, has_fired, gate_left, low_for = True, True, t_gate, 0.0
                fired_at = t
                if measuring:
                    out[FIRED] = at
            elif closed:
                gate_left -= h
                low_for = low_for + h if abs(i_choke) < i_hold else 0.0
                if gate_left <= 0.0 and low_for >= t_let_go:
                    closed = False
                    if measuring:
                        # It lets go where the current last fell below, not when that has been seen.
                        out[DROP_OUT] = out[FIRED] + (t - low_for - fired_at) * 2.0 * f_hz
        elif mode == TRAILING:
            closed = at < first
        elif mode == WINDOW:
            closed = first <= at < second
        else:
            closed = closed or t >= first * 0.5 / f_hz
        if was_closed and not closed:
            if mode == TRAILING:
                turned_off_at, decayed = t, False
                if measuring:
                    out[I_TURN_OFF] = max(out[I_TURN_OFF], abs(i_line))
            i_choke = 0.0
        e = v_peak * sin(w * t)
        e0 = e + l_s / h * i_line
        # The control as a straight law: i = y·(v_A − v) + c.
        if closed:
            y, c = g_on, g_on * l_choke / h * i_choke
        else:
            y, c = 1.0 / r_off, 0.0
        y += g_filter
        c -= g_filter * v_filter
        i_fed = 0.0
        sign = 0.0
        balance_met = False
        for tried in range(3):
            # The supply's diodes: guessed blocking, then conducting the way the voltage across asks.
            y_all, c_all = y, c
            if sign != 0.0:
                g_fed = 1.0 / (r_supply + r_reservoir)
                y_all += g_fed
                c_all -= sign * g_fed * (v_reservoir + V_TWO_JUNCTIONS)
            d = 1.0 + y_all * z_s
            low, high = -1e7, 1e7
            for _ in range(MOST_ROUNDS):
                total, slope = 0.0, 0.0
                for k in range(n):
                    i_k, g_k = _law(loads[k], state[k], v, h)
                    total += loads[k, 1] * i_k
                    slope += loads[k, 1] * g_k
                balance = total - (y_all * (e0 - v) + c_all) / d
                slope += y_all / d
                if balance > 0.0:
                    high = v
                else:
                    low = v
                move = -balance / slope
                if abs(move) <= 1e-9 * (1.0 + abs(v)):
                    balance_met = True
                    v += move
                    break
                v += move
                if v <= low or v >= high:
                    v = 0.5 * (low + high)
                    if high - low < 1e-9 * (1.0 + abs(v)):
                        balance_met = True
                        break
            i = (y_all * (e0 - v) + c_all) / d
            across = e0 - z_s * i - v
            if not has_supply:
                break
            if sign == 0.0:
                if abs(across) > v_reservoir + V_TWO_JUNCTIONS and tried < 2:
                    sign = 1.0 if across > 0.0 else -1.0
                    continue
                break
            i_fed = (sign * across - v_reservoir - V_TWO_JUNCTIONS) / (r_supply + r_reservoir)
            if i_fed < 0.0 and tried < 2:
                sign, i_fed = 0.0, 0.0
                continue
            break
        if not balance_met:
            return 1
        # States.
        across = e0 - z_s * i - v
        if measuring:
            out[E_SOURCE] += e * i * h
            out[E_SPENT] += (r_s * i + across) * i * h
        for k in range(n):
            i_k, _ = _law(loads[k], state[k], v, h)
            _after(loads[k], state[k], i_k, v, h)
            if measuring:
                out[E_SPENT] += loads[k, 1] * i_k * v * h
        if closed:
            i_choke = g_on * across + g_on * l_choke / h * i_choke
        if c_filter > 0.0:
            v_filter += h / c_filter * g_filter * (across - v_filter)
        if c_supply > 0.0:
            v_reservoir += r_reservoir * (max(0.0, i_fed) - i_need)
        i_line = i
        if mode == TRAILING and turned_off_at >= 0.0 and not decayed and abs(v) < DECAYED_TO_V:
            decayed = True
            if measuring:
                out[T_DECAY] = max(out[T_DECAY], t - turned_off_at)
        if measuring:
            out[STEPS] += 1.0
            out[I_SQUARED] += i * i
            out[V_SQUARED] += v * v
            out[I2T] += i * i * h
            out[Q_SUPPLY] += max(0.0, i_fed) * h
            if abs(v) > out[V_PEAK]:
                out[V_PEAK] = abs(v)
            if abs(i) > out[I_PEAK]:
                out[I_PEAK] = abs(i)
                out[T_PEAK] = t
            column = (j - measured_from) // every
            if column < record.shape[1]:
                if (j - measured_from) % every == 0:
                    record[0, column], record[1, column], record[2, column] = e, v, i
                    record[3, column] = 1.0 if closed else 0.0
                    record[4, column] = v_reservoir
                elif abs(i) > abs(record[2, column]):
                    # A pulse shorter than a column still shows its height.
                    record[2, column] = i
    return 0


@njit(cache=True, nogil=True)
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

    Each pulse is marched with the source moving; between pulses the reservoir gives its power away. Iterated until
    one half-cycle repeats the one before.

    Parameters
    ----------
    alpha : firing angle [rad]. r_ohm, l_h : all in front of the reservoirs. c_f, p_w : of all lamps together.
    v_stop : below it they draw nothing.
    """
    w = 2.0 * pi * f_hz
    h = 1e-6
    half_s = 0.5 / f_hz
    v_bulk = 0.9 * v_peak
    peak = squared = 0.0
    for _ in range(60):
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
        moved = abs(after - v_bulk)
        v_bulk += 0.7 * (after - v_bulk)
        if moved < 0.01:
            break
    return peak, (2.0 * f_hz * squared) ** 0.5


@njit(cache=True, nogil=True)
def closing_pulse(v_peak: float, f_hz: float, phi: float, r_ohm: float, l_h: float, c_f: float) -> tuple[float, float]:
    """Peak [A] and I²t [A²s] of a contact that closes onto an empty reservoir behind a bridge, the source moving.

    Parameters
    ----------
    phi : angle of closing [rad]. r_ohm, l_h : all in front of it. Within 0.5 %.
    """
    w = 2.0 * pi * f_hz
    # Fine against both time constants of the pulse, and against its resonance.
    h = min(1e-6, 0.02 * r_ohm * c_f, 0.02 * (l_h * c_f) ** 0.5 if l_h > 0.0 else 1e-6)
    i = v = t = peak = i2t = 0.0
    while phi + w * t < pi:
        e = abs(v_peak * sin(phi + w * t)) - V_TWO_JUNCTIONS
        if i <= 0.0 and e <= v and phi + w * t >= 0.5 * pi:
            break
        g = 1.0 / (r_ohm + l_h / h + h / c_f)
        i = max(0.0, g * (e - v + l_h / h * i))
        v += h / c_f * i
        i2t += i * i * h
        peak = max(peak, i)
        t += h
    return peak, i2t
