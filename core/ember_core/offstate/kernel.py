"""The compiled march of the off state: second-order backward steps on the one unknown node, the switched live.

Every branch is a monotone, piecewise-linear law i(v) with its own state eliminated, so the node's balance is monotone.
Newton's method is exact once no law leaves its piece, which each look tells. Reservoirs follow after the step.
The state of the loop is one flat vector, see `state_size`.
"""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from math import cos, pi, sin, tanh
from typing import NamedTuple

import numpy as np

from ember_core.compiled import FAR, backward_weights, compiled, safeguarded
from ember_core.offstate.network import BRIDGE, Col, Floats, Tables

ACROSS, COUNT, C_SERIES, G_SERIES = int(Col.ACROSS), int(Col.COUNT), int(Col.C_SERIES), int(Col.G_SERIES)
R_IN, C_RES, G_DRAIN = int(Col.R_IN), int(Col.C_RES), int(Col.G_DRAIN)
P_LOAD, I_LOAD, V_START, V_STOP = int(Col.P_LOAD), int(Col.I_LOAD), int(Col.V_START), int(Col.V_STOP)
V_KNEE, KNEE_WIDTH = int(Col.V_KNEE), int(Col.KNEE_WIDTH)
V_STRING, R_STRING, I_LIMIT = int(Col.V_STRING), int(Col.R_STRING), int(Col.I_LIMIT)

# Compiled code wants plain numbers.
BRIDGE_V1, BRIDGE_V2, BRIDGE_V3 = BRIDGE.v1, BRIDGE.v2, BRIDGE.v3
BRIDGE_R1, BRIDGE_R2, BRIDGE_R3 = BRIDGE.r1, BRIDGE.r2, BRIDGE.r3
BRIDGE_I1, BRIDGE_I2 = BRIDGE.i1, BRIDGE.i2

# Newton takes one or two rounds; halving the bracket instead, as at a current limit, at most about 40.
MOST_ROUNDS = 80
# Places agree within this share of the supply's peak.
MET_RATIO = 1e-9
# A converter at constant power draws no more than at these voltages (as it starts, behind its own
# current limit); it keeps P/V finite near zero.
LEAST_FEED_V = 5.0
LEAST_LAMP_V = 10.0
# The active bleeder opens within about this much around its cut-off.
CUTOFF_WIDTH_V = 2.0


class Pace(NamedTuple):
    """Which part of the cycle is marched, and how finely.

    Parameters
    ----------
    first_step, steps, steps_per_cycle : where in the cycle to begin, how far, and how finely.
    may_start : False holds start-stop loads waiting, whatever their reservoir.
    """

    first_step: int
    steps: int
    steps_per_cycle: int
    may_start: bool


@compiled
def state_size(tables: Tables) -> int:
    """Length of the state: [v | one per bypass capacitor | per branch: series capacitor, reservoir]."""
    return 1 + tables.bypass.shape[0] + 2 * tables.branches.shape[0]


@compiled
def march(tables: Tables, state: Floats, running: Floats, pace: Pace, record: Floats, starts: Floats) -> int:
    """March the loop by some steps, changing `state` and `running` in place.

    The voltage of the supply is zero and rising at step 0 of a cycle.

    Parameters
    ----------
    tables : see `network`.
    state : see `state_size`; voltages [V].
    running : one per branch; 1 while a start-stop load draws.
    record : (3 + 4 n_branches + n_bypass, steps) or empty, a row a quantity: supply voltage [V], node
        voltage [V], line current [A]; then for each branch, of one lamp, its current [A], its reservoir
        voltage after the step [V], the current its load draws [A] (drain and string not in it), the
        voltage of its series capacitor [V]; then the current of each bypass of the table [A].
    starts : (n_branches, m) or empty; step numbers at which a load started; entry 0 counts them.

    Returns
    -------
    0, or 1 when the node's balance could not be met (never seen with the laws used here).
    """
    linear, bypass, branches = tables.linear, tables.bypass, tables.branches
    v_peak, steps_per_cycle = tables.v_peak, pace.steps_per_cycle
    n_bypass = bypass.shape[0]
    n_branch = branches.shape[0]
    base = 1 + n_bypass
    recording = record.shape[1] > 0
    counting = starts.shape[0] > 0
    is_curved = False

    # Steps are of one length, the first of which has no step before: constants for it, and then for all others.
    h = 1.0 / (tables.f_hz * steps_per_cycle)
    past_1 = past_2 = g_line = g_node = g_fixed = 0.0
    g_bypass = np.zeros(n_bypass)
    g_store = np.zeros(n_bypass)
    e_factor = np.zeros(n_bypass)
    g_branch = np.zeros((n_branch, 3))
    # Where the second and the third piece of a branch's bridge begin, over its reservoir.
    turns = np.zeros((n_branch, 2))
    g_series = np.zeros(n_branch)
    s_factor = np.zeros(n_branch)
    g_reservoir = np.zeros(n_branch)
    r_drained = np.zeros(n_branch)
    r_string = np.zeros(n_branch)

    i_branch = np.zeros(n_branch)
    g_now = np.zeros(n_branch)
    e_series = np.zeros(n_branch)
    e_bypass = np.zeros(n_bypass)
    held = np.zeros(n_branch)
    gate = np.zeros(n_bypass)
    before = state.copy()
    history = state.copy()

    v = state[0]
    # The sine by turning a pointer: exact to 1e-15 a step, and much faster than asking for each.
    angle = 2.0 * pi / steps_per_cycle
    turn_cos, turn_sin = cos(angle), sin(angle)
    at_cos = cos(pace.first_step % steps_per_cycle * angle)
    at_sin = sin(pace.first_step % steps_per_cycle * angle)
    vs = v_peak * at_sin
    u_before = vs - v
    for step in range(pace.first_step, pace.first_step + pace.steps):
        if step <= pace.first_step + 1:
            past_1, past_2, share = backward_weights(h, 0.0 if step == pace.first_step else h)
            dt = share * h
            g_line = linear[0] / dt
            g_node = linear[2] / dt
            g_fixed = g_line + g_node + linear[1] + linear[3]
            for k in range(n_bypass):
                if bypass[k, 0] == 0.0:
                    g_store[k] = bypass[k, 1] / dt + bypass[k, 2]
                    g_bypass[k] = 1.0 / (bypass[k, 3] + 1.0 / g_store[k])
                    e_factor[k] = bypass[k, 1] / dt / g_store[k]
                    g_fixed += g_bypass[k]
                else:
                    is_curved = True
            for k in range(n_branch):
                r = branches[k, R_IN]
                if branches[k, C_SERIES] > 0.0:
                    g_series[k] = branches[k, C_SERIES] / dt + branches[k, G_SERIES]
                    s_factor[k] = branches[k, C_SERIES] / dt / g_series[k]
                    r += 1.0 / g_series[k]
                r += dt / branches[k, C_RES] if branches[k, C_RES] > 0.0 else branches[k, R_STRING]
                g_branch[k, 0] = 1.0 / (r + BRIDGE_R1)
                g_branch[k, 1] = 1.0 / (r + BRIDGE_R2)
                g_branch[k, 2] = 1.0 / (r + BRIDGE_R3)
                turns[k, 0] = BRIDGE_V1 + BRIDGE_I1 * (r + BRIDGE_R1)
                turns[k, 1] = BRIDGE_V2 + BRIDGE_I2 * (r + BRIDGE_R2)
                if branches[k, C_RES] > 0.0:
                    g_reservoir[k] = branches[k, C_RES] / dt
                    g_drained = g_reservoir[k] + branches[k, G_DRAIN]
                    r_drained[k] = 1.0 / g_drained
                    r_string[k] = 1.0 / (g_drained + 1.0 / branches[k, R_STRING])
        u_now = vs - v
        # Begin where the last two steps point to: nearly always the pieces are right at once.
        v_begin = v if step == pace.first_step else 2.0 * v - before[0]
        for k in range(state.shape[0]):
            history[k] = past_1 * state[k] + past_2 * before[k]
            before[k] = state[k]
        u_history = past_1 * u_now + past_2 * u_before
        u_before = u_now
        at_cos, at_sin = at_cos * turn_cos - at_sin * turn_sin, at_sin * turn_cos + at_cos * turn_sin
        vs = v_peak * at_sin
        fixed = g_node * history[0] + g_line * (vs - u_history) + linear[1] * vs
        for k in range(n_bypass):
            if bypass[k, 0] == 0.0:
                e_bypass[k] = e_factor[k] * history[1 + k]
                fixed += g_bypass[k] * e_bypass[k]
            else:
                # The cut-off follows the voltage one step later, which keeps each step monotone.
                gate[k] = 0.5 * (1.0 - tanh((abs(v) - bypass[k, 6]) / CUTOFF_WIDTH_V))
        for k in range(n_branch):
            if branches[k, C_SERIES] > 0.0:
                e_series[k] = s_factor[k] * history[base + 2 * k]
            held[k] = max(0.0, history[base + 2 * k + 1]) if branches[k, C_RES] > 0.0 else branches[k, V_STRING]
        v = v_begin

        met = False
        # The balance rises with v, so every look at it tells on which side the answer lies.
        below, above, last = -FAR, FAR, FAR
        for _round in range(MOST_ROUNDS):
            f = g_fixed * v - fixed
            slope = g_fixed
            # Between these no law leaves the piece it is on.
            low, high = -FAR, FAR
            if is_curved:
                for k in range(n_bypass):
                    if bypass[k, 0] != 0.0:
                        t = tanh(v / (bypass[k, 5] * bypass[k, 4]))
                        f += gate[k] * bypass[k, 4] * t
                        slope += gate[k] * (1.0 - t * t) / bypass[k, 5]
            for k in range(n_branch):
                across = branches[k, ACROSS] != 0.0
                zero = vs - e_series[k] if across else e_series[k]
                over = abs(v - zero) - held[k]
                if over <= BRIDGE_V1:
                    i_branch[k] = 0.0
                    g_now[k] = 0.0
                    low = max(low, zero - held[k] - BRIDGE_V1)
                    high = min(high, zero + held[k] + BRIDGE_V1)
                    continue
                if over <= turns[k, 0]:
                    g = g_branch[k, 0]
                    i = (over - BRIDGE_V1) * g
                    near, far = BRIDGE_V1, turns[k, 0]
                elif over <= turns[k, 1]:
                    g = g_branch[k, 1]
                    i = (over - BRIDGE_V2) * g
                    near, far = turns[k, 0], turns[k, 1]
                else:
                    g = g_branch[k, 2]
                    i = (over - BRIDGE_V3) * g
                    near, far = turns[k, 1], FAR
                limit = branches[k, I_LIMIT]
                if limit > 0.0:
                    turn = over - (i - limit) / g
                    if i > limit:
                        near, far = turn, FAR
                        i = limit
                        g = 0.0
                    else:
                        far = min(far, turn)
                slope += branches[k, COUNT] * g
                near, far = near + held[k], far + held[k]
                # Above its zero an ordinary branch conducts forward, one across the control backward.
                if v > zero:
                    low = max(low, zero + near)
                    high = min(high, zero + far)
                    f += branches[k, COUNT] * i
                    i_branch[k] = -i if across else i
                else:
                    low = max(low, zero - far)
                    high = min(high, zero - near)
                    f -= branches[k, COUNT] * i
                    i_branch[k] = i if across else -i
                g_now[k] = -g if across else g
            moved = v - f / slope
            if abs(moved - v) < MET_RATIO * v_peak or (not is_curved and low <= moved <= high):
                for k in range(n_branch):
                    i_branch[k] += g_now[k] * (moved - v)
                v = moved
                met = True
                break
            v, below, above, last = safeguarded(v, f, slope, below, above, last)
        if not met:
            return 1

        i_line = g_line * (vs - v - u_history) + linear[1] * (vs - v)
        for k in range(n_bypass):
            if bypass[k, 0] == 0.0:
                i = (v - e_bypass[k]) * g_bypass[k]
                state[1 + k] = e_bypass[k] + i / g_store[k]
            else:
                i = gate[k] * bypass[k, 4] * tanh(v / (bypass[k, 5] * bypass[k, 4]))
            if recording:
                record[3 + 4 * n_branch + k, step - pace.first_step] = i
        for k in range(n_branch):
            i = i_branch[k]
            if branches[k, ACROSS] != 0.0:
                i_line += branches[k, COUNT] * i
            if branches[k, C_SERIES] > 0.0:
                state[base + 2 * k] = e_series[k] + i / g_series[k]
            drawn = 0.0
            if branches[k, C_RES] > 0.0:
                reservoir = state[base + 2 * k + 1]
                if branches[k, V_START] > 0.0:
                    if running[k] == 0.0:
                        if pace.may_start and reservoir >= branches[k, V_START]:
                            running[k] = 1.0
                            if counting:
                                n = int(starts[k, 0])
                                if n + 1 < starts.shape[1]:
                                    starts[k, n + 1] = step + 1.0
                                    starts[k, 0] = n + 1.0
                    elif reservoir <= branches[k, V_STOP]:
                        running[k] = 0.0
                    if running[k] != 0.0:
                        drawn = branches[k, P_LOAD] / max(reservoir, LEAST_LAMP_V)
                elif branches[k, P_LOAD] > 0.0 or branches[k, I_LOAD] > 0.0:
                    x = (reservoir - branches[k, V_KNEE]) / branches[k, KNEE_WIDTH]
                    drawing = 1.0 if x > 9.0 else 0.5 * (1.0 + tanh(x))
                    drawn = drawing * (branches[k, P_LOAD] / max(reservoir, LEAST_FEED_V) + branches[k, I_LOAD])
                total = g_reservoir[k] * held[k] + abs(i) - drawn
                grown = total * r_drained[k]
                if grown > branches[k, V_STRING]:
                    grown = (total + branches[k, V_STRING] / branches[k, R_STRING]) * r_string[k]
                state[base + 2 * k + 1] = grown if grown > 0.0 else 0.0
            if recording:
                at = 3 + 4 * k
                record[at, step - pace.first_step] = i
                record[at + 1, step - pace.first_step] = state[base + 2 * k + 1]
                record[at + 2, step - pace.first_step] = drawn
                record[at + 3, step - pace.first_step] = state[base + 2 * k]
        if recording:
            record[0, step - pace.first_step] = vs
            record[1, step - pace.first_step] = v
            record[2, step - pace.first_step] = i_line
        state[0] = v
    return 0
