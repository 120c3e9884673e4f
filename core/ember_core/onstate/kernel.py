"""The compiled march of the on state: second-order backward steps on the one unknown node, the switched live.

Every load is a monotone law i(v) with its own state eliminated, the control with the source behind it a straight one,
so the balance of the node is monotone: Newton inside a bracket. Steps are of any length: they begin short after a
switch or a kink and grow as far as their own error allows, and they end just where the control acts.
"""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from math import pi, sin, tanh
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ember_core.compiled import FAR, backward_weights, compiled, safeguarded
from ember_core.onstate.pulses import V_TWO_JUNCTIONS

Floats = NDArray[np.float64]
# Rows of the table of loads: kind, how many, and up to six figures.
RESISTOR, SERIES_RC, RECTIFIER, STAGE, DROPPER, LINEAR, TRANSFORMER, BLEEDER = 0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0
COLUMNS = 8
LEADING, TRAILING, SELF_FIRED, WINDOW, RELAY = 0, 1, 2, 3, 4
MOST_ROUNDS = 80
# Places of what is measured.
(
    I_PEAK,
    T_PEAK,
    I2T,
    V2T,
    V_PEAK,
    DROP_OUT,
    FIRED,
    V_AT_CROSSING,
    T_DECAY,
    I_TURN_OFF,
    Q_SUPPLY,
    MEASURED_S,
    E_SOURCE,
    E_SPENT,
    STEPS,
) = range(15)
MEASURES = 15
# Voltage to which the switched live must have fallen before the next zero crossing, so that a trailing-edge
# control still sees the crossing [assumption]; the time it takes to see it is a figure of the control.
DECAYED_TO_V = 30.0

# First step after a switch [s]; a ring of an input filter lasts tens of microseconds, a pulse into a filter less.
FIRST_STEP_S = 4e-8
LEAST_STEP_S = 1e-8
# More tries than this in one stretch: what is marched has no steps that are short enough.
MOST_TRIES = 300_000
MOST_GROWTH = 1.7
# The backward formula of second order errs by this share of what a parabola through three places before it misses.
ERROR_SHARE = 0.25
# What a voltage may err in a step, over the largest there is, and a current.
V_RATIO = 3e-5
I_RATIO = 1.5e-4
LEAST_I_A = 1e-3

# A supply that gains or loses a hundredth of what it gives counts as far apart as two cycles that differ by 2e-4.
UNBALANCED_SHARE = 0.02

# Places of the state of line and control.
I_LINE, I_CHOKE, V_FILTER, V_RESERVOIR, V_NODE = range(5)
CONTROL_STATES = 5
# Places of what the control remembers.
CLOSED, HAS_FIRED, GATE_LEFT, LOW_FOR, FIRED_AT, OFF_AT, HAS_DECAYED, I_MOST, V_MOST = range(9)
MEMORIES = 9


class Line(NamedTuple):
    """The mains: peak [V], frequency [Hz], resistance [Ω], inductance [H]."""

    v_peak: float
    f_hz: float
    r_ohm: float
    l_h: float


class Switch(NamedTuple):
    """The control; its angles in half-cycles. A supply of its own where `v_supply_v` is above 0."""

    mode: int
    first: float
    second: float
    r_on_ohm: float
    l_choke_h: float
    r_filter_ohm: float
    c_filter_f: float
    r_off_ohm: float
    i_hold_a: float
    t_gate_s: float
    t_let_go_s: float
    v_supply_v: float
    c_supply_f: float
    i_need_a: float
    r_supply_ohm: float


class Stretch(NamedTuple):
    """From when to when [s], the longest step [s], and what a step may err over what is usual [1]."""

    from_s: float
    to_s: float
    longest_s: float
    tolerance_ratio: float


@compiled
def _law(row: Floats, past: Floats, now: Floats, v: float, h: float) -> tuple[float, float, float, float]:
    """Current and conductance of one load at a node voltage, and between which voltages that law holds.

    Parameters
    ----------
    past : where its states come from, two weights of what they were. now : what they are. h : weighted step [s].
    """
    kind = row[0]
    if kind == RESISTOR:
        return v / row[2], 1.0 / row[2], -FAR, FAR
    if kind == SERIES_RC:
        g = 1.0 / (row[2] + h / row[3])
        return g * (v - past[0]), g, -FAR, FAR
    if kind == LINEAR:
        zero, held, g = 0.0, row[3], 1.0 / row[2]
    elif kind == RECTIFIER:
        zero, held, g = 0.0, past[0] - h / row[3] * _rectifier_a(row, now[0]), 1.0 / (row[2] + h / row[3])
    elif kind == STAGE:
        g_s, i_s = _stage_draws(row, now[0])
        share = 1.0 / (1.0 + h * g_s / row[3])
        zero, held, g = 0.0, share * (past[0] - h / row[3] * i_s), 1.0 / (row[2] + share * h / row[3])
    elif kind == DROPPER:
        zero, held, g = past[0], past[1], 1.0 / (row[2] + h / row[3] + h / row[4])
    elif kind == BLEEDER:
        # Open above its cut-off, which the step before tells: within a step the law stays monotone.
        if now[0] > 0.0:
            return 0.0, 0.0, -FAR, FAR
        most_v = row[2] * row[3]
        if v > most_v:
            return row[3], 0.0, most_v, FAR
        if v < -most_v:
            return -row[3], 0.0, -FAR, -most_v
        return v / row[2], 1.0 / row[2], -most_v, most_v
    else:
        y = 1.0 / row[5] + h / row[4]
        g = 1.0 / (row[2] + row[3] / h + 1.0 / y)
        return g * (v + row[3] / h * past[0] + past[1] / y), g, -FAR, FAR
    # Everything behind a bridge.
    begins = max(0.0, held) + V_TWO_JUNCTIONS
    over = abs(v - zero) - begins
    if over <= 0.0:
        return 0.0, 0.0, zero - begins, zero + begins
    i, most = over * g, FAR
    if kind == LINEAR:
        most = begins + row[4] / g
        if i >= row[4]:
            return (row[4], 0.0, zero + most, FAR) if v > zero else (-row[4], 0.0, -FAR, zero - most)
    return (i, g, zero + begins, zero + most) if v > zero else (-i, g, zero - most, zero - begins)


@compiled
def _rectifier_a(row: Floats, v: float) -> float:
    """What a capacitor-input lamp takes from its reservoir [A]."""
    return row[4] / v if v > row[5] else 0.0


@compiled
def _stage_draws(row: Floats, v: float) -> tuple[float, float]:
    """What the stage of a driver takes at a voltage: as a conductance [S] and a current [A]."""
    on = 0.5 * (1.0 + tanh((v - row[6]) / 2.0))
    if on * (row[4] * v + row[5]) >= row[7] * min(v / 5.0, 1.0):
        return on * row[4], on * row[5]
    return (row[7] / 5.0, 0.0) if v < 5.0 else (0.0, row[7])


@compiled
def _after(row: Floats, past: Floats, now: Floats, i: float, v: float, h: float) -> tuple[float, float]:
    """The load's states after a step with its current at a node voltage."""
    kind = row[0]
    if kind == SERIES_RC:
        return past[0] + h / row[3] * i, 0.0
    if kind == RECTIFIER:
        return max(0.0, past[0] + h / row[3] * (abs(i) - _rectifier_a(row, now[0]))), 0.0
    if kind == STAGE:
        g_s, i_s = _stage_draws(row, now[0])
        return max(0.0, (past[0] + h / row[3] * (abs(i) - i_s)) / (1.0 + h * g_s / row[3])), 0.0
    if kind == DROPPER:
        smooth = (past[1] + h / row[4] * abs(i)) / (1.0 + h / (row[4] * row[7]))
        if smooth > row[5]:
            g_s = 1.0 / row[7] + 1.0 / row[6]
            smooth = (past[1] + h / row[4] * (abs(i) + row[5] / row[6])) / (1.0 + h / row[4] * g_s)
        return past[0] + h / row[3] * i, smooth
    if kind == TRANSFORMER:
        y = 1.0 / row[5] + h / row[4]
        return i, past[1] + h / row[4] * (i - past[1]) / y
    if kind == BLEEDER:
        return (1.0 if abs(v) > row[4] else 0.0), 0.0
    return 0.0, 0.0


@compiled
def _act(switch: Switch, memory: Floats, at: float, t: float, v_reservoir: float, i_line: float, out: Floats) -> bool:
    """What the control does at a moment of the half-cycle; True where it has just opened or closed.

    Parameters
    ----------
    at : place in the half-cycle [half-cycles]. t : time [s].
    """
    was = memory[CLOSED]
    mode = switch.mode
    if mode in (LEADING, SELF_FIRED):
        is_due = at >= switch.first - 1e-12 if mode == LEADING else v_reservoir >= switch.v_supply_v and at > 1e-9
        if was == 0.0 and memory[HAS_FIRED] == 0.0 and is_due:
            memory[CLOSED] = memory[HAS_FIRED] = 1.0
            memory[GATE_LEFT], memory[LOW_FOR], memory[FIRED_AT] = switch.t_gate_s, 0.0, t
            out[FIRED] = at
        elif was != 0.0 and memory[GATE_LEFT] <= 1e-12 and memory[LOW_FOR] >= switch.t_let_go_s:
            memory[CLOSED] = 0.0
    elif mode == TRAILING:
        memory[CLOSED] = 1.0 if at < switch.first - 1e-12 else 0.0
    elif mode == WINDOW:
        memory[CLOSED] = 1.0 if switch.first - 1e-12 <= at < switch.second - 1e-12 else 0.0
    else:
        memory[CLOSED] = 1.0
    if was != 0.0 and memory[CLOSED] == 0.0 and mode == TRAILING:
        memory[OFF_AT], memory[HAS_DECAYED] = t, 0.0
        out[I_TURN_OFF] = max(out[I_TURN_OFF], abs(i_line))
    return was != memory[CLOSED]


@compiled
def march(
    line: Line,
    switch: Switch,
    loads: Floats,
    state: Floats,
    control: Floats,
    memory: Floats,
    stretch: Stretch,
    record: Floats,
    out: Floats,
) -> int:
    """March a stretch that begins at a zero crossing, or at the closing of a relay, and measure it.

    Parameters
    ----------
    loads : a row a load, see `_law`.
    state : (rows, 2) states of the loads; control : of line and control, see `I_LINE` …; memory : what the control
        remembers, see `CLOSED` …; out : see the places above. All changed in place.
    record : (5, n): supply [V], switched live [V], line current [A], closed or not, supply reservoir [V], evenly over
        the stretch.

    Returns
    -------
    0, or 1 where the balance of the node was not met, or steps of no length met it.
    """
    n, columns = loads.shape[0], record.shape[1]
    w = 2.0 * pi * line.f_hz
    half_s = 0.5 / line.f_hz
    has_supply = switch.v_supply_v > 0.0
    drawn_out = switch.mode == LEADING or switch.mode == SELF_FIRED
    t = stretch.from_s
    column_s = (stretch.to_s - stretch.from_s) / columns
    column = 0
    h, h_before = FIRST_STEP_S, 0.0
    half = -1
    # Two steps back, for the formula; and three places of voltage and current, for its error.
    before, control_before = state.copy(), control.copy()
    past, control_past = state.copy(), control.copy()
    after, control_after = state.copy(), control.copy()
    t_at, v_at, i_at = np.zeros(3), np.zeros(3), np.zeros(3)
    known = tries = 0
    i_load = np.zeros(n)
    g_load = np.zeros(n)
    sign = 0.0
    e_power = line.v_peak * sin(w * t) * control[I_LINE]
    spent_power = 0.0
    while t < stretch.to_s - 1e-12:
        # Where in the half-cycle, and what the control does there.
        now_half = int((t + 1e-11) / half_s)
        at = (t - now_half * half_s) / half_s
        if now_half != half:
            half = now_half
            memory[HAS_FIRED] = 0.0
            if memory[OFF_AT] >= 0.0:
                out[V_AT_CROSSING] = max(out[V_AT_CROSSING], abs(control[V_NODE]))
            memory[OFF_AT] = -1.0
        v_reservoir = control[V_RESERVOIR] if switch.c_supply_f > 0.0 else switch.v_supply_v
        if _act(switch, memory, at, t, v_reservoir, control[I_LINE], out):
            if memory[CLOSED] == 0.0:
                control[I_CHOKE] = 0.0
            h, h_before, known = FIRST_STEP_S, 0.0, 0
        closed = memory[CLOSED] != 0.0
        # To the next moment that is known beforehand, and not beyond.
        ends = (half + 1) * half_s
        for angle in (switch.first, switch.second):
            moment = (half + angle) * half_s
            if switch.mode != RELAY and switch.mode != SELF_FIRED and t + 1e-11 < moment < ends:
                ends = moment
        ends = min(ends, stretch.to_s)
        longest = stretch.longest_s
        if drawn_out and closed:
            if memory[GATE_LEFT] > 1e-12:
                ends = min(ends, t + memory[GATE_LEFT])
            elif abs(control[I_CHOKE]) < switch.i_hold_a and switch.t_let_go_s > 0.0:
                longest = min(longest, 0.25 * switch.t_let_go_s)
        elif switch.mode == SELF_FIRED:
            longest = min(longest, 2e-6)
        h = min(h, longest)
        if t + 1.2 * h >= ends:
            h = ends - t
        elif t + 2.0 * h > ends:
            h = 0.5 * (ends - t)
        while True:
            tries += 1
            if tries > MOST_TRIES:
                return 1
            a1, a2, share = backward_weights(h, h_before)
            hb = share * h
            for k in range(n):
                past[k, 0] = a1 * state[k, 0] + a2 * before[k, 0]
                past[k, 1] = a1 * state[k, 1] + a2 * before[k, 1]
            for k in range(CONTROL_STATES):
                control_past[k] = a1 * control[k] + a2 * control_before[k]
            e = line.v_peak * sin(w * (t + h))
            z_s = line.r_ohm + line.l_h / hb
            e0 = e + line.l_h / hb * control_past[I_LINE]
            # The control as a straight law: i = y·(v_A − v) + c.
            g_on = 1.0 / (switch.r_on_ohm + switch.l_choke_h / hb)
            y, c = 1.0 / switch.r_off_ohm, 0.0
            if closed:
                y, c = g_on, g_on * switch.l_choke_h / hb * control_past[I_CHOKE]
            g_filter = 0.0
            if switch.c_filter_f > 0.0:
                g_filter = 1.0 / (switch.r_filter_ohm + hb / switch.c_filter_f)
                y += g_filter
                c -= g_filter * control_past[V_FILTER]
            r_reservoir = hb / switch.c_supply_f if switch.c_supply_f > 0.0 else 0.0
            if switch.c_supply_f > 0.0:
                v_reservoir = control_past[V_RESERVOIR] - r_reservoir * switch.i_need_a
            g_fed = 1.0 / (switch.r_supply_ohm + r_reservoir)
            v = control[V_NODE]
            if known >= 1 and h_before > 0.0:
                v += (v - control_before[V_NODE]) * h / h_before
            met = False
            i = across = i_fed = 0.0
            for tried in range(4):
                # The supply's diodes: as in the step before, until the voltage across says otherwise.
                y_all, c_all = y, c
                if sign != 0.0:
                    y_all += g_fed
                    c_all -= sign * g_fed * (v_reservoir + V_TWO_JUNCTIONS)
                d = 1.0 + y_all * z_s
                met = False
                below, above, last = -FAR, FAR, FAR
                for _ in range(MOST_ROUNDS):
                    balance = -(y_all * (e0 - v) + c_all) / d
                    slope = y_all / d
                    low, high = -FAR, FAR
                    for k in range(n):
                        i_load[k], g_load[k], from_v, to_v = _law(loads[k], past[k], state[k], v, hb)
                        balance += loads[k, 1] * i_load[k]
                        slope += loads[k, 1] * g_load[k]
                        low, high = max(low, from_v), min(high, to_v)
                    moved = v - balance / slope
                    if low <= moved <= high or abs(moved - v) <= 1e-9 * (1.0 + abs(v)):
                        for k in range(n):
                            i_load[k] += g_load[k] * (moved - v)
                        v = moved
                        met = True
                        break
                    v, below, above, last = safeguarded(v, balance, slope, below, above, last)
                if not met:
                    return 1
                i = (y_all * (e0 - v) + c_all) / d
                across = e0 - z_s * i - v
                i_fed = 0.0
                if not has_supply:
                    break
                wanted = 0.0
                if abs(across) > v_reservoir + V_TWO_JUNCTIONS:
                    wanted = 1.0 if across > 0.0 else -1.0
                if wanted == sign or tried == 3:
                    i_fed = max(0.0, (sign * across - v_reservoir - V_TWO_JUNCTIONS) * g_fed) if sign != 0.0 else 0.0
                    break
                sign = wanted
            for k in range(n):
                after[k, 0], after[k, 1] = _after(loads[k], past[k], state[k], i_load[k], v, hb)
            control_after[I_LINE] = i
            control_after[I_CHOKE] = g_on * across + c + g_filter * control_past[V_FILTER] if closed else 0.0
            control_after[V_FILTER] = control[V_FILTER]
            if switch.c_filter_f > 0.0:
                control_after[V_FILTER] = control_past[V_FILTER] + hb / switch.c_filter_f * g_filter * (
                    across - control_past[V_FILTER]
                )
            control_after[V_RESERVOIR] = v_reservoir + r_reservoir * i_fed if switch.c_supply_f > 0.0 else 0.0
            control_after[V_NODE] = v
            # What the step errs, by what a line or a parabola through the places before it misses.
            grown = MOST_GROWTH
            if known >= 2:
                v_line = v_at[0] + (v_at[0] - v_at[1]) / (t_at[0] - t_at[1]) * h
                i_line = i_at[0] + (i_at[0] - i_at[1]) / (t_at[0] - t_at[1]) * h
                if known >= 3:
                    bend = h * (t + h - t_at[1]) / (t_at[0] - t_at[2])
                    v_line += bend * (
                        (v_at[0] - v_at[1]) / (t_at[0] - t_at[1]) - (v_at[1] - v_at[2]) / (t_at[1] - t_at[2])
                    )
                    i_line += bend * (
                        (i_at[0] - i_at[1]) / (t_at[0] - t_at[1]) - (i_at[1] - i_at[2]) / (t_at[1] - t_at[2])
                    )
                most_v, most_i = max(line.v_peak, memory[V_MOST]), max(LEAST_I_A, memory[I_MOST])
                error = max(abs(v - v_line) / (V_RATIO * most_v), abs(i - i_line) / (I_RATIO * most_i))
                error *= ERROR_SHARE / stretch.tolerance_ratio
                if error > 1.0 and h > LEAST_STEP_S:
                    h = max(LEAST_STEP_S, h * max(0.25, 0.9 / error ** (1.0 / 3.0)))
                    continue
                if error > 0.0:
                    grown = min(MOST_GROWTH, 0.9 / error ** (1.0 / 3.0))
            break
        # The step stands.
        i_before, v_before = control[I_LINE], control[V_NODE]
        i_choke_before = control[I_CHOKE]
        for k in range(n):
            before[k, 0], before[k, 1] = state[k, 0], state[k, 1]
            state[k, 0], state[k, 1] = after[k, 0], after[k, 1]
        for k in range(CONTROL_STATES):
            control_before[k], control[k] = control[k], control_after[k]
        t_at[2], v_at[2], i_at[2] = t_at[1], v_at[1], i_at[1]
        t_at[1], v_at[1], i_at[1] = t_at[0], v_at[0], i_at[0]
        t_at[0], v_at[0], i_at[0] = t + h, v, i
        known = min(3, known + 1)
        t_before = t
        t = ends if abs(t + h - ends) < 1e-12 else t + h
        h_before = h
        if drawn_out and closed:
            memory[GATE_LEFT] -= h
            size, size_before = abs(control[I_CHOKE]), abs(i_choke_before)
            if size >= switch.i_hold_a:
                memory[LOW_FOR] = 0.0
            elif memory[LOW_FOR] > 0.0 or size_before <= size:
                memory[LOW_FOR] += h
            else:
                memory[LOW_FOR] = h * min(1.0, (switch.i_hold_a - size) / max(size_before - size, 1e-30))
            if memory[GATE_LEFT] <= 1e-12 and memory[LOW_FOR] >= switch.t_let_go_s:
                # It lets go where the current last fell below, not when that has been seen.
                out[DROP_OUT] = out[FIRED] + (t - memory[LOW_FOR] - memory[FIRED_AT]) / half_s
        if switch.mode == TRAILING and memory[OFF_AT] >= 0.0 and memory[HAS_DECAYED] == 0.0 and abs(v) < DECAYED_TO_V:
            memory[HAS_DECAYED] = 1.0
            late = h * (DECAYED_TO_V - abs(v)) / max(abs(v_before) - abs(v), 1e-30)
            out[T_DECAY] = max(out[T_DECAY], t - min(late, h) - memory[OFF_AT])
        # Measures, between the two ends of the step.
        spent_before = spent_power
        spent_power = (line.r_ohm * i + across) * i
        for k in range(n):
            spent_power += loads[k, 1] * i_load[k] * v
        out[E_SOURCE] += 0.5 * h * (e_power + e * i)
        out[E_SPENT] += 0.5 * h * (spent_before + spent_power)
        e_power = e * i
        out[MEASURED_S] += h
        out[STEPS] += 1.0
        out[I2T] += h * (i_before * i_before + i_before * i + i * i) / 3.0
        out[V2T] += h * (v_before * v_before + v_before * v + v * v) / 3.0
        out[Q_SUPPLY] += i_fed * h
        out[V_PEAK] = max(out[V_PEAK], abs(v))
        memory[V_MOST] = max(memory[V_MOST], abs(v))
        memory[I_MOST] = max(memory[I_MOST], abs(i))
        if abs(i) > out[I_PEAK]:
            out[I_PEAK], out[T_PEAK] = abs(i), t - stretch.from_s
        elif known == 3 and abs(i_before) == out[I_PEAK]:
            # The peak lies between three places, at the top of the parabola through them.
            rising = (i_at[1] - i_at[2]) / (t_at[1] - t_at[2])
            falling = (i_at[0] - i_at[1]) / (t_at[0] - t_at[1])
            if rising * falling < 0.0:
                bend = (falling - rising) / (t_at[0] - t_at[2])
                out[T_PEAK] = 0.5 * (t_at[2] + t_at[1]) - 0.5 * rising / bend - stretch.from_s
        # Columns that lie in the step; a pulse shorter than a column still shows its height.
        if column > 0 and abs(i) > abs(record[2, column - 1]):
            record[2, column - 1] = i
        while column < columns and stretch.from_s + (column + 1) * column_s <= t + 1e-12:
            t_column = stretch.from_s + (column + 1) * column_s
            part = (t_column - t_before) / h
            record[0, column] = line.v_peak * sin(w * t_column)
            record[1, column] = v_before + part * (v - v_before)
            record[2, column] = i_before + part * (i - i_before)
            record[3, column] = 1.0 if closed else 0.0
            record[4, column] = control[V_RESERVOIR]
            column += 1
        h = max(LEAST_STEP_S, h * grown)
    return 0


@compiled
def settle(
    line: Line,
    switch: Switch,
    loads: Floats,
    state: Floats,
    control: Floats,
    longest_s: float,
    tolerance_ratio: float,
    cycles: Floats,
    record: Floats,
    out: Floats,
) -> int:
    """March mains cycles until one repeats the one before, and measure the last.

    Parameters
    ----------
    cycles : (3,): fewest and most to march, and how far states may still be apart over their peak [1]; changed in
        place to how many there were, the most, and how far they were.

    Returns
    -------
    0, or 1 where the balance of the node was not met.
    """
    fewest, most, apart_ratio = cycles[0], cycles[1], cycles[2]
    memory = np.zeros(MEMORIES)
    memory[OFF_AT] = -1.0
    began, began_control = state.copy(), control.copy()
    cycle_s = 1.0 / line.f_hz
    count = 0.0
    apart = FAR
    while count < most and (count < fewest or apart > apart_ratio):
        began[:] = state
        began_control[:] = control
        out[:] = 0.0
        stretch = Stretch(0.0, cycle_s, longest_s, tolerance_ratio)
        if march(line, switch, loads, state, control, memory, stretch, record, out) != 0:
            return 1
        # Moments are counted within the cycle.
        memory[FIRED_AT] -= cycle_s
        if memory[OFF_AT] >= 0.0:
            out[V_AT_CROSSING] = max(out[V_AT_CROSSING], abs(control[V_NODE]))
            memory[OFF_AT] = -1.0
        count += 1.0
        v_most, i_most = max(line.v_peak, memory[V_MOST]), max(LEAST_I_A, memory[I_MOST])
        apart = abs(control[I_LINE] - began_control[I_LINE]) / i_most
        for k in (V_FILTER, V_RESERVOIR, V_NODE):
            apart = max(apart, abs(control[k] - began_control[k]) / v_most)
        if switch.c_supply_f > 0.0 and switch.i_need_a > 0.0:
            # A large reservoir of its own moves little in a cycle, however far what it gets is from what it gives.
            gained = abs(control[V_RESERVOIR] - began_control[V_RESERVOIR]) * switch.c_supply_f
            apart = max(apart, UNBALANCED_SHARE * gained / (switch.i_need_a * cycle_s))
        for k in range(loads.shape[0]):
            for j in range(2):
                of = i_most if loads[k, 0] == TRANSFORMER else v_most
                apart = max(apart, abs(state[k, j] - began[k, j]) / of)
    cycles[0], cycles[2] = count, apart
    return 0
