"""The compiled laws of the closed forms: average currents at the node over a half-cycle, and where they balance."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from math import acos, pi, sqrt
from typing import NamedTuple

from ember_core.compiled import compiled
from ember_core.offstate.network import NO_STRING, V_BRIDGE, Col, Floats

COUNT, C_SERIES, R_IN, C_RES = int(Col.COUNT), int(Col.C_SERIES), int(Col.R_IN), int(Col.C_RES)
G_DRAIN, P_LOAD, V_START, V_STOP = int(Col.G_DRAIN), int(Col.P_LOAD), int(Col.V_START), int(Col.V_STOP)
V_STRING, R_STRING = int(Col.V_STRING), int(Col.R_STRING)

# Mean of |v| over its peak for a node that is held near the peak between pulses; between the
# 0.64 of a sine and the 1.0 of a square wave.
HELD_NODE_MEAN_RATIO = 0.8
# Points among which a root is looked for, and over which a lamp's charging is summed.
ROOT_POINTS = 160
CHARGING_POINTS = 400
# So little arrives nowhere: a node that nothing discharges stays at zero [A].
LEAST_A = 1e-12
# No voltage that is looked for is below zero.
NONE = -1.0
# Which loop is balanced: a reservoir feed at its reservoir's voltage, an ordinary switch and a shunt-regulated feed at
# the node's.
FEED, NO_FEED, DIVIDER = 0, 1, 2


class Node(NamedTuple):
    """What surrounds the switched live.

    Parameters
    ----------
    f_hz, v_peak : supply frequency [Hz] and peak [V].
    c_parallel_f, c_across_f : capacitance to neutral and across the control [F].
    g_node_s, g_leak_s : conductance to neutral and across the control [S].
    is_resistive : its conductance describes it better than its capacitance.
    """

    f_hz: float
    v_peak: float
    c_parallel_f: float
    c_across_f: float
    g_node_s: float
    g_leak_s: float
    is_resistive: bool


@compiled
def capacitive_current_a(node: Node, v_hold: float) -> float:
    """Average current through capacitance into a held voltage with its bridge [V], I = 4f[C_p·V̂ - (C_p + C_s)·V] [A].

    Negative where the control's own capacitance carries part of what lamps draw.
    """
    return 4.0 * node.f_hz * (node.c_parallel_f * node.v_peak - (node.c_parallel_f + node.c_across_f) * v_hold)


@compiled
def resistive_current_a(v_peak: float, r_ohm: float, v_hold: float) -> float:
    """Average rectified current through a resistance into a held voltage [A].

    I = (2V̂/πR)[√(1-a²) - a·acos a] with a = V/V̂: mean of (|V̂ sin| - V)/R over the part above V.
    """
    a = min(1.0, max(0.0, v_hold / v_peak))
    return 2.0 * v_peak / (pi * r_ohm) * (sqrt(1.0 - a * a) - a * acos(a))


@compiled
def waiting_current_a(row: Floats, f_hz: float, v_peak_node: float) -> float:
    """Average current that a waiting lamp group, a row of the branch table, takes at a peak of its voltage [V] [A]."""
    v = max(0.0, v_peak_node - V_BRIDGE)
    if row[C_RES] == 0.0:
        return row[COUNT] * max(0.0, v - row[V_STRING]) / max(row[R_IN] + row[R_STRING], 1.0)
    if row[C_SERIES] > 0.0:
        g_transfer = 4.0 * f_hz * row[C_SERIES]
        held = v * g_transfer / (g_transfer + row[G_DRAIN])
        if held > row[V_STRING]:
            return row[COUNT] * g_transfer * (v - row[V_STRING])
        return row[COUNT] * row[G_DRAIN] * held
    return row[COUNT] * row[G_DRAIN] * v


@compiled
def lamps_current_a(branches: Floats, first: int, f_hz: float, v_peak_node: float) -> float:
    """What all waiting lamp groups take, the rows from the first on, at a peak of the node [V], in [A]."""
    total = 0.0
    for k in range(first, branches.shape[0]):
        total += waiting_current_a(branches[k], f_hz, v_peak_node)
    return total


@compiled
def conductance_current_a(node: Node, v_node: float) -> float:
    """Average current through the node's conductance at a peak of the node [V], in [A]."""
    return HELD_NODE_MEAN_RATIO * node.g_node_s * v_node


@compiled
def feed_current_a(node: Node, branches: Floats, v_reservoir: float) -> float:
    """Average current into a reservoir feed, the first row, at its reservoir's voltage [V], in [A]."""
    hold = v_reservoir + V_BRIDGE
    v_node = max(0.0, node.v_peak - hold)
    lamps = lamps_current_a(branches, 1, node.f_hz, v_node)
    if node.is_resistive:
        return resistive_current_a(node.v_peak, 1.0 / node.g_node_s, hold) + lamps
    return max(0.0, capacitive_current_a(node, hold) + lamps + conductance_current_a(node, v_node))


@compiled
def stray_current_a(node: Node, v_node: float) -> float:
    """What arrives at a peak of the node [V] through an open switch: its capacitance and its leak [A]."""
    arrives = max(0.0, 4.0 * node.f_hz * (node.c_across_f * (node.v_peak - v_node) - node.c_parallel_f * v_node))
    if node.g_leak_s > 0.0:
        arrives += resistive_current_a(node.v_peak, 1.0 / node.g_leak_s, v_node)
    return arrives


@compiled
def divided_current_a(node: Node, feed: Floats, v_node: float) -> float:
    """Average current into a shunt-regulated feed at a peak of the node [V], in [A]; negative where none flows."""
    return 4.0 * node.f_hz * feed[C_SERIES] * (node.v_peak - v_node - feed[V_STRING] - V_BRIDGE)


@compiled
def balance_a(which: int, node: Node, branches: Floats, v: float) -> float:
    """What arrives less what is taken at a voltage [V], see `FEED`, in [A]; falls through zero where the loop is."""
    if which == FEED:
        feed = branches[0]
        return feed_current_a(node, branches, v) - feed[P_LOAD] / v - feed[G_DRAIN] * v
    if which == NO_FEED:
        arrives = stray_current_a(node, v) - LEAST_A
    else:
        beside = 4.0 * node.f_hz * (node.c_across_f * (node.v_peak - v) - node.c_parallel_f * v)
        arrives = divided_current_a(node, branches[0], v) + beside
    first = 0 if which == NO_FEED else 1
    return arrives - conductance_current_a(node, v) - lamps_current_a(branches, first, node.f_hz, v)


@compiled
def upper_root(which: int, node: Node, branches: Floats, low: float, high: float) -> float:
    """Largest voltage [V] from which on the balance is negative, between grid points; `NONE` if there is none.

    `high` itself where it is not negative there.
    """
    step = (high - low) / (ROOT_POINTS - 1)
    above = balance_a(which, node, branches, high)
    if above >= 0.0:
        return high
    for k in range(ROOT_POINTS - 2, -1, -1):
        here = balance_a(which, node, branches, low + k * step)
        if here >= 0.0:
            return low + (k + here / (here - above)) * step
        above = here
    return NONE


@compiled
def charging_s(node: Node, row: Floats) -> float:
    """Time that a lamp group alone behind an open switch takes from its stop to its start threshold [s].

    C_bulk·∫dV/(I(V) - V/r_start), with all its lamps alike; `NONE` where it does not get there, or draws otherwise.
    """
    if row[V_START] <= 0.0 or row[V_STRING] < NO_STRING:
        return NONE
    step = (row[V_START] - row[V_STOP]) / (CHARGING_POINTS - 1)
    total = 0.0
    for k in range(CHARGING_POINTS):
        v = row[V_STOP] + k * step
        at_node = v + V_BRIDGE
        arrives = stray_current_a(node, at_node) - conductance_current_a(node, at_node)
        gained = arrives / row[COUNT] - row[G_DRAIN] * v
        if gained <= 0.0:
            return NONE
        total += (0.5 if k in (0, CHARGING_POINTS - 1) else 1.0) / gained
    return row[C_RES] * total * step
