"""What each load of the on state does in a step: its law i(v), monotone, with its own states eliminated."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from math import tanh
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ember_core.compiled import FAR, compiled, safeguarded
from ember_core.onstate.pulses import V_TWO_JUNCTIONS

Floats = NDArray[np.float64]
# Rows of the table of loads: kind, how many, and up to six figures.
RESISTOR, SERIES_RC, RECTIFIER, STAGE, DROPPER, LINEAR, TRANSFORMER, BLEEDER = 0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0
COLUMNS = 8
MOST_ROUNDS = 80


class Feed(NamedTuple):
    """What feeds the node in a step: a source behind an impedance, and the control as a law i = y·(v_A − v) + c."""

    e_v: float
    z_ohm: float
    y_s: float
    c_a: float


@compiled
def law(loads: Floats, past: Floats, now: Floats, k: int, v: float, h: float) -> tuple[float, float, float, float]:
    """Current and conductance of one load at a node voltage, and between which voltages that law holds.

    Parameters
    ----------
    loads : a row a load, this one the k-th: its kind, how many, and its figures; (rows, 2) likewise what follows.
    past : where its states come from, two weights of what they were. now : what they are. h : weighted step [s].
    """
    kind = loads[k, 0]
    if kind == RESISTOR:
        return v / loads[k, 2], 1.0 / loads[k, 2], -FAR, FAR
    if kind == SERIES_RC:
        g = 1.0 / (loads[k, 2] + h / loads[k, 3])
        return g * (v - past[k, 0]), g, -FAR, FAR
    if kind == LINEAR:
        zero, held, g = 0.0, loads[k, 3], 1.0 / loads[k, 2]
    elif kind == RECTIFIER:
        zero, held = 0.0, past[k, 0] - h / loads[k, 3] * _rectifier_a(loads, k, now[k, 0])
        g = 1.0 / (loads[k, 2] + h / loads[k, 3])
    elif kind == STAGE:
        g_s, i_s = _stage_draws(loads, k, now[k, 0])
        share = 1.0 / (1.0 + h * g_s / loads[k, 3])
        zero, held = 0.0, share * (past[k, 0] - h / loads[k, 3] * i_s)
        g = 1.0 / (loads[k, 2] + share * h / loads[k, 3])
    elif kind == DROPPER:
        zero, held, g = past[k, 0], past[k, 1], 1.0 / (loads[k, 2] + h / loads[k, 3] + h / loads[k, 4])
    elif kind == BLEEDER:
        # Open above its cut-off, which the step before tells: within a step the law stays monotone.
        if now[k, 0] > 0.0:
            return 0.0, 0.0, -FAR, FAR
        most_v = loads[k, 2] * loads[k, 3]
        if v > most_v:
            return loads[k, 3], 0.0, most_v, FAR
        if v < -most_v:
            return -loads[k, 3], 0.0, -FAR, -most_v
        return v / loads[k, 2], 1.0 / loads[k, 2], -most_v, most_v
    else:
        y = 1.0 / loads[k, 5] + h / loads[k, 4]
        g = 1.0 / (loads[k, 2] + loads[k, 3] / h + 1.0 / y)
        return g * (v + loads[k, 3] / h * past[k, 0] + past[k, 1] / y), g, -FAR, FAR
    # Everything behind a bridge.
    begins = max(0.0, held) + V_TWO_JUNCTIONS
    over = abs(v - zero) - begins
    if over <= 0.0:
        return 0.0, 0.0, zero - begins, zero + begins
    i, most = over * g, FAR
    if kind == LINEAR:
        most = begins + loads[k, 4] / g
        if i >= loads[k, 4]:
            return (loads[k, 4], 0.0, zero + most, FAR) if v > zero else (-loads[k, 4], 0.0, -FAR, zero - most)
    return (i, g, zero + begins, zero + most) if v > zero else (-i, g, zero - most, zero - begins)


@compiled
def _rectifier_a(loads: Floats, k: int, v: float) -> float:
    """What a capacitor-input lamp takes from its reservoir [A]."""
    return loads[k, 4] / v if v > loads[k, 5] else 0.0


@compiled
def _stage_draws(loads: Floats, k: int, v: float) -> tuple[float, float]:
    """What the stage of a driver takes at a voltage: as a conductance [S] and a current [A]."""
    on = 0.5 * (1.0 + tanh((v - loads[k, 6]) / 2.0))
    if on * (loads[k, 4] * v + loads[k, 5]) >= loads[k, 7] * min(v / 5.0, 1.0):
        return on * loads[k, 4], on * loads[k, 5]
    return (loads[k, 7] / 5.0, 0.0) if v < 5.0 else (0.0, loads[k, 7])


@compiled
def after_step(loads: Floats, past: Floats, now: Floats, k: int, i: float, v: float, h: float) -> tuple[float, float]:
    """The load's states after a step with its current at a node voltage."""
    kind = loads[k, 0]
    if kind == SERIES_RC:
        return past[k, 0] + h / loads[k, 3] * i, 0.0
    if kind == RECTIFIER:
        return max(0.0, past[k, 0] + h / loads[k, 3] * (abs(i) - _rectifier_a(loads, k, now[k, 0]))), 0.0
    if kind == STAGE:
        g_s, i_s = _stage_draws(loads, k, now[k, 0])
        return max(0.0, (past[k, 0] + h / loads[k, 3] * (abs(i) - i_s)) / (1.0 + h * g_s / loads[k, 3])), 0.0
    if kind == DROPPER:
        smooth = (past[k, 1] + h / loads[k, 4] * abs(i)) / (1.0 + h / (loads[k, 4] * loads[k, 7]))
        if smooth > loads[k, 5]:
            g_s = 1.0 / loads[k, 7] + 1.0 / loads[k, 6]
            flows = abs(i) + loads[k, 5] / loads[k, 6]
            smooth = (past[k, 1] + h / loads[k, 4] * flows) / (1.0 + h / loads[k, 4] * g_s)
        return past[k, 0] + h / loads[k, 3] * i, smooth
    if kind == TRANSFORMER:
        y = 1.0 / loads[k, 5] + h / loads[k, 4]
        return i, past[k, 1] + h / loads[k, 4] * (i - past[k, 1]) / y
    if kind == BLEEDER:
        return (1.0 if abs(v) > loads[k, 4] else 0.0), 0.0
    return 0.0, 0.0


@compiled
def node_balanced(
    loads: Floats,
    past: Floats,
    state: Floats,
    i_load: Floats,
    g_load: Floats,
    v: float,
    hb: float,
    feed: Feed,
) -> tuple[bool, float]:
    """Whether a voltage balances the node, and which [V]: Newton inside a bracket.

    Parameters
    ----------
    loads, past, state : a row a load, see `law`. i_load, g_load : what each draws there; changed in place.
    v : where to begin [V]. hb : weighted step [s].
    """
    n = loads.shape[0]
    d = 1.0 + feed.y_s * feed.z_ohm
    below, above, last = -FAR, FAR, FAR
    for _ in range(MOST_ROUNDS):
        balance = -(feed.y_s * (feed.e_v - v) + feed.c_a) / d
        slope = feed.y_s / d
        low, high = -FAR, FAR
        for k in range(n):
            i_load[k], g_load[k], from_v, to_v = law(loads, past, state, k, v, hb)
            balance += loads[k, 1] * i_load[k]
            slope += loads[k, 1] * g_load[k]
            low, high = max(low, from_v), min(high, to_v)
        moved = v - balance / slope
        if low <= moved <= high or abs(moved - v) <= 1e-9 * (1.0 + abs(v)):
            for k in range(n):
                i_load[k] += g_load[k] * (moved - v)
            return True, moved
        v, below, above, last = safeguarded(v, balance, slope, below, above, last)
    return False, v
