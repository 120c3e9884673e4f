"""The compiled march of the on state: second-order backward steps on the one unknown node, the switched live.

Every load is a monotone law i(v) with its own state eliminated, the control with the source behind it a straight one,
so the balance of the node is monotone: Newton inside a bracket. Steps are of any length: they begin short after a
switch or a kink and grow as far as their own error allows, and they end just where the control acts.
"""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from math import pi, sin
from typing import NamedTuple

import numpy as np

from ember_core.compiled import FAR, backward_weights, compiled
from ember_core.onstate.laws import TRANSFORMER, Feed, Floats, after_step, node_balanced
from ember_core.onstate.measures import E_SOURCE, E_SPENT, Step, draw, measure, measure_peak
from ember_core.onstate.pulses import V_TWO_JUNCTIONS
from ember_core.onstate.switching import (
    CLOSED,
    FIRED_AT,
    HAS_FIRED,
    I_MOST,
    LEADING,
    MEMORIES,
    OFF_AT,
    SELF_FIRED,
    TRAILING,
    V_MOST,
    Switch,
    act,
    crossed,
    longest_step_s,
    next_moment,
    watch_decay,
    watch_holding,
)

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


class Line(NamedTuple):
    """The mains: peak [V], frequency [Hz], resistance [Ω], inductance [H]."""

    v_peak: float
    f_hz: float
    r_ohm: float
    l_h: float


class Stretch(NamedTuple):
    """From when to when [s], the longest step [s], and what a step may err over what is usual [1]."""

    from_s: float
    to_s: float
    longest_s: float
    tolerance_ratio: float


@compiled
def _strays(known: int, h: float, t: float, x: float, t_at: Floats, x_at: Floats) -> float:
    """How far a figure at the end of a step is from the line or parabola through the places before, newest first."""
    expected = x_at[0] + (x_at[0] - x_at[1]) / (t_at[0] - t_at[1]) * h
    if known >= 3:
        bend = h * (t + h - t_at[1]) / (t_at[0] - t_at[2])
        expected += bend * ((x_at[0] - x_at[1]) / (t_at[0] - t_at[1]) - (x_at[1] - x_at[2]) / (t_at[1] - t_at[2]))
    return abs(x - expected)


@compiled
def _apart(
    line: Line,
    switch: Switch,
    loads: Floats,
    now: tuple[Floats, Floats],
    began: tuple[Floats, Floats],
    memory: Floats,
) -> float:
    """How far the end of a cycle is from its begin, over the peaks [1]; of each the states of loads and of control."""
    v_most, i_most = max(line.v_peak, memory[V_MOST]), max(LEAST_I_A, memory[I_MOST])
    apart = abs(now[1][I_LINE] - began[1][I_LINE]) / i_most
    for k in (V_FILTER, V_RESERVOIR, V_NODE):
        apart = max(apart, abs(now[1][k] - began[1][k]) / v_most)
    if switch.c_supply_f > 0.0 and switch.i_need_a > 0.0:
        # A large reservoir of its own moves little in a cycle, however far what it gets is from what it gives.
        gained = abs(now[1][V_RESERVOIR] - began[1][V_RESERVOIR]) * switch.c_supply_f
        apart = max(apart, UNBALANCED_SHARE * gained / (switch.i_need_a * (1.0 / line.f_hz)))
    for k in range(loads.shape[0]):
        of = i_most if loads[k, 0] == TRANSFORMER else v_most
        for j in range(2):
            apart = max(apart, abs(now[0][k, j] - began[0][k, j]) / of)
    return apart


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
    loads : a row a load, see `law`.
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
    is_triac = switch.mode == LEADING or switch.mode == SELF_FIRED
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
            crossed(memory, control[V_NODE], out)
        v_reservoir = control[V_RESERVOIR] if switch.c_supply_f > 0.0 else switch.v_supply_v
        if act(switch, memory, at, t, v_reservoir, control[I_LINE], out):
            if memory[CLOSED] == 0.0:
                control[I_CHOKE] = 0.0
            h, h_before, known = FIRST_STEP_S, 0.0, 0
        closed = memory[CLOSED] != 0.0
        ends = next_moment(switch, memory, half, half_s, t, stretch.to_s)
        h = min(h, longest_step_s(switch, memory, control[I_CHOKE], stretch.longest_s))
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
            i = across = i_fed = 0.0
            for tried in range(4):
                # The supply's diodes: as in the step before, until the voltage across says otherwise.
                y_all, c_all = y, c
                if sign != 0.0:
                    y_all += g_fed
                    c_all -= sign * g_fed * (v_reservoir + V_TWO_JUNCTIONS)
                met, v = node_balanced(loads, past, state, i_load, g_load, v, hb, Feed(e0, z_s, y_all, c_all))
                if not met:
                    return 1
                i = (y_all * (e0 - v) + c_all) / (1.0 + y_all * z_s)
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
                after[k, 0], after[k, 1] = after_step(loads, past, state, k, i_load[k], v, hb)
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
                most_v, most_i = max(line.v_peak, memory[V_MOST]), max(LEAST_I_A, memory[I_MOST])
                v_error = _strays(known, h, t, v, t_at, v_at) / (V_RATIO * most_v)
                error = max(v_error, _strays(known, h, t, i, t_at, i_at) / (I_RATIO * most_i))
                error *= ERROR_SHARE / stretch.tolerance_ratio
                if error > 1.0 and h > LEAST_STEP_S:
                    h = max(LEAST_STEP_S, h * max(0.25, 0.9 / error ** (1.0 / 3.0)))
                    continue
                if error > 0.0:
                    grown = min(MOST_GROWTH, 0.9 / error ** (1.0 / 3.0))
            break
        # The step stands.
        step = Step(t, h, control[V_NODE], v, control[I_LINE], i)
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
        t = ends if abs(t + h - ends) < 1e-12 else t + h
        h_before = h
        if is_triac and closed:
            watch_holding(switch, memory, step, t, half_s, i_choke_before, control[I_CHOKE], out)
        if switch.mode == TRAILING:
            watch_decay(memory, step, t, out)
        # Work, between the two ends of the step.
        spent_before = spent_power
        spent_power = (line.r_ohm * i + across) * i
        for k in range(n):
            spent_power += loads[k, 1] * i_load[k] * v
        out[E_SOURCE] += 0.5 * h * (e_power + e * i)
        out[E_SPENT] += 0.5 * h * (spent_before + spent_power)
        e_power = e * i
        measure(step, i_fed, out)
        measure_peak(step, t - stretch.from_s, stretch.from_s, known, t_at, i_at, out)
        memory[V_MOST] = max(memory[V_MOST], abs(v))
        memory[I_MOST] = max(memory[I_MOST], abs(i))
        # Columns that lie in the step; a pulse shorter than a column still shows its height.
        if column > 0 and abs(i) > abs(record[2, column - 1]):
            record[2, column - 1] = i
        while column < columns and stretch.from_s + (column + 1) * column_s <= t + 1e-12:
            t_column = stretch.from_s + (column + 1) * column_s
            v_source = line.v_peak * sin(w * t_column)
            draw(step, t_column, v_source, closed, control[V_RESERVOIR], column, record)
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
        crossed(memory, control[V_NODE], out)
        count += 1.0
        apart = _apart(line, switch, loads, (state, control), (began, began_control), memory)
    cycles[0], cycles[2] = count, apart
    return 0
