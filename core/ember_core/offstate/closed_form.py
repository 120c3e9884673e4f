"""Closed forms of the off state: to explain, to start the solver from, to stand beside its result.

Model: the feed's reservoir holds its voltage, so between its pulses the switched live floats on the
capacitances around it. Per half-cycle the feed passes the charge that swings the switched live from one
peak to the other, plus what lamps and resistors take there. Valid while lamps wait. Each result says
which form it used.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from math import pi

import numpy as np

from ember_core.offstate.network import NO_STRING, V_BRIDGE, BypassCol, Col, Floats, LinCol, Network

# Mean of |v| over its peak for a node that is held near the peak between pulses; between the
# 0.64 of a sine and the 1.0 of a square wave.
HELD_NODE_MEAN_RATIO = 0.8
# Above this ratio of conductance to susceptance at the node the resistive form describes it better.
RESISTIVE_FROM_RATIO = 1.0
# Points among which a root is looked for.
ROOT_GRID = 160
UNIT_GRID = np.linspace(0.0, 1.0, ROOT_GRID)


class Form(StrEnum):
    """Which closed form was used."""

    CAPACITIVE = "capacitive"  # I = 4f[C_p·V̂ - (C_p + C_s)·V_c]
    RESISTIVE = "resistive"  # I = (2V̂/πR)[√(1-a²) - a·acos a], a = V_c/V̂
    DIVIDER = "divider"  # shunt-regulated feed: its series capacitor against the node's capacitance
    NO_FEED = "no_feed"  # an ordinary switch: only stray capacitance and leak


@dataclass(frozen=True, slots=True, kw_only=True)
class ClosedForm:
    """What the closed form says.

    Parameters
    ----------
    form : see `Form`.
    c_parallel_f, c_across_f : capacitance at the node to neutral and across the control [F].
    standby_v_dc : reservoir voltage of the feed [V]; None with no feed.
    feed_i_avg_a : average current into the feed [A]; None with no feed.
    lamp_v_peak : peak at the lamp terminals [V].
    p_max_w : the most power a feed could draw, by capacitances alone, series capacitors of lamps counted
        as if they lay at the node [W]; None with no feed.
    operating_point : False where the feed has none: it is starved.
    """

    form: Form
    c_parallel_f: float
    c_across_f: float
    standby_v_dc: float | None
    feed_i_avg_a: float | None
    lamp_v_peak: float
    p_max_w: float | None
    operating_point: bool


def capacitive_current_a(
    f_hz: float, v_peak: float, c_parallel_f: float, c_across_f: float, v_hold: Floats | float
) -> Floats:
    """Average current through capacitance into a held voltage, I = 4f[C_p·V̂ - (C_p + C_s)·V] [A].

    Negative where the control's own capacitance carries part of what lamps draw.

    Parameters
    ----------
    v_hold : voltage held by the reservoir, with its bridge [V].
    """
    return np.asarray(4.0 * f_hz * (c_parallel_f * v_peak - (c_parallel_f + c_across_f) * v_hold))


def resistive_current_a(v_peak: float, r_ohm: float, v_hold: Floats | float) -> Floats:
    """Average rectified current through a resistance into a held voltage [A].

    I = (2V̂/πR)[√(1-a²) - a·acos a] with a = V/V̂: mean of (|V̂ sin| - V)/R over the part above V.
    """
    a = np.clip(np.asarray(v_hold) / v_peak, 0.0, 1.0)
    return 2.0 * v_peak / (pi * r_ohm) * (np.sqrt(1.0 - a * a) - a * np.arccos(a))


def largest_feed_power_w(f_hz: float, v_peak: float, c_parallel_f: float, c_across_f: float) -> float:
    """Most power a reservoir feed can draw, P = f·C_p²·V̂²/(C_p + C_s) [W]; at about half the peak."""
    total = c_parallel_f + c_across_f
    return f_hz * (c_parallel_f * v_peak) ** 2 / total if total > 0.0 else 0.0


def node_capacitance_f(network: Network) -> float:
    """All capacitance from the switched live to neutral: cable, input capacitors, bypass capacitors [F]."""
    rows = network.bypass.tolist()
    plain = sum(row[BypassCol.C] for row in rows if row[BypassCol.IS_ACTIVE] == 0.0)
    return float(network.linear[LinCol.C_DOWN]) + plain


def node_conductance_s(network: Network) -> float:
    """All conductance from the switched live to neutral, active bleeders at their slope [S]."""
    total = float(network.linear[LinCol.G_DOWN])
    for row in network.bypass.tolist():
        total += row[BypassCol.G_PARALLEL] if row[BypassCol.IS_ACTIVE] == 0.0 else 1.0 / row[BypassCol.R_ON]
    return total


def waiting_branch_current_a(row: Floats, f_hz: float, v_peak_node: Floats) -> Floats:
    """Average current that a waiting lamp group takes at given peaks of its terminals [V], in [A]."""
    v = np.maximum(0.0, v_peak_node - V_BRIDGE)
    count, v_string, g = float(row[Col.COUNT]), float(row[Col.V_STRING]), float(row[Col.G_DRAIN])
    if row[Col.C_RES] == 0.0:
        return count * np.maximum(0.0, v - v_string) / max(float(row[Col.R_IN] + row[Col.R_STRING]), 1.0)
    if row[Col.C_SERIES] > 0.0:
        g_transfer = 4.0 * f_hz * float(row[Col.C_SERIES])
        held = v * g_transfer / (g_transfer + g)
        return count * np.where(held > v_string, g_transfer * (v - v_string), g * held)
    return count * g * v


def upper_root(balance: Callable[[Floats], Floats], low: float, high: float) -> float | None:
    """Largest place where a function is zero that is negative at `high`, between grid points; None if none."""
    grid = low + (high - low) * UNIT_GRID
    values = balance(grid)
    reached = np.nonzero(values >= 0.0)[0]
    if reached.size == 0:
        return None
    k = int(reached[-1])
    if k == ROOT_GRID - 1:
        return high
    share = values[k] / (values[k] - values[k + 1])
    return float(grid[k] + share * (grid[k + 1] - grid[k]))


def evaluate(network: Network) -> ClosedForm:
    """The closed form that fits this loop."""
    f_hz, v_peak = network.f_hz, network.v_peak
    c_p = node_capacitance_f(network)
    c_s = float(network.linear[LinCol.C_ACROSS])
    g_node = node_conductance_s(network)
    lamps = [network.branches[row] for row in network.lamp_row if row >= 0]

    def lamps_a(v_node: Floats) -> Floats:
        return sum((waiting_branch_current_a(row, f_hz, v_node) for row in lamps), 0.0 * v_node)

    if not network.has_feed:
        return _no_feed(network, c_p, c_s, g_node, lamps_a)
    feed = network.branches[0]
    if feed[Col.C_SERIES] > 0.0:
        return _divider(network, feed, c_p, c_s, g_node, lamps_a)
    resistive = g_node > RESISTIVE_FROM_RATIO * 2.0 * pi * f_hz * c_p

    def feed_a(v_c: Floats) -> Floats:
        hold = v_c + V_BRIDGE
        v_node = np.maximum(0.0, v_peak - hold)
        if resistive:
            return resistive_current_a(v_peak, 1.0 / g_node, hold) + lamps_a(v_node)
        swing = capacitive_current_a(f_hz, v_peak, c_p, c_s, hold)
        return np.maximum(0.0, swing + lamps_a(v_node) + HELD_NODE_MEAN_RATIO * g_node * v_node)

    def balance(v_c: Floats) -> Floats:
        return feed_a(v_c) - float(feed[Col.P_LOAD]) / v_c - float(feed[Col.G_DRAIN]) * v_c

    v_min = float(feed[Col.V_KNEE])
    root = upper_root(balance, v_min, v_peak) if v_min < v_peak else None
    v_c = root if root is not None else min(v_min, 0.9 * v_peak)
    floating = v_peak * c_s / (c_s + c_p) if c_s + c_p > 0.0 and not resistive else 0.0
    return ClosedForm(
        form=Form.RESISTIVE if resistive else Form.CAPACITIVE,
        c_parallel_f=c_p,
        c_across_f=c_s,
        standby_v_dc=v_c,
        feed_i_avg_a=float(feed_a(np.array(v_c))),
        lamp_v_peak=max(v_peak - v_c - V_BRIDGE, floating),
        p_max_w=largest_feed_power_w(f_hz, v_peak, c_p + _series_capacitance_f(lamps), c_s),
        operating_point=root is not None,
    )


def _series_capacitance_f(lamps: list[Floats]) -> float:
    return sum(float(row[Col.COUNT] * row[Col.C_SERIES]) for row in lamps)


def _no_feed(
    network: Network, c_p: float, c_s: float, g_node: float, lamps_a: Callable[[Floats], Floats]
) -> ClosedForm:
    """Only stray capacitance and leak drive the lamps: the peak at which lamps take what arrives."""
    f_hz, v_peak = network.f_hz, network.v_peak
    g_leak = float(network.linear[LinCol.G_ACROSS])

    def balance(v_node: Floats) -> Floats:
        arrives = np.maximum(0.0, 4.0 * f_hz * (c_s * v_peak - (c_s + c_p) * v_node))
        if g_leak > 0.0:
            arrives = arrives + resistive_current_a(v_peak, 1.0 / g_leak, v_node)
        return arrives - lamps_a(v_node) - HELD_NODE_MEAN_RATIO * g_node * v_node - 1e-12

    v_node = upper_root(balance, 0.0, v_peak) or 0.0
    return ClosedForm(
        form=Form.NO_FEED,
        c_parallel_f=c_p,
        c_across_f=c_s,
        standby_v_dc=None,
        feed_i_avg_a=None,
        lamp_v_peak=v_node,
        p_max_w=None,
        operating_point=True,
    )


def _divider(
    network: Network, feed: Floats, c_p: float, c_s: float, g_node: float, lamps_a: Callable[[Floats], Floats]
) -> ClosedForm:
    """A shunt-regulated feed is nearly its series capacitor: it divides the supply with the node."""
    f_hz, v_peak = network.f_hz, network.v_peak
    c_f, v_shunt = float(feed[Col.C_SERIES]), float(feed[Col.V_STRING])

    def balance(v_node: Floats) -> Floats:
        arrives = 4.0 * f_hz * ((c_f + c_s) * (v_peak - v_node) - c_f * (v_shunt + V_BRIDGE))
        taken = 4.0 * f_hz * c_p * v_node + lamps_a(v_node) + HELD_NODE_MEAN_RATIO * g_node * v_node
        return arrives - taken

    v_node = upper_root(balance, 0.0, v_peak) or 0.0
    feed_a = max(0.0, 4.0 * f_hz * c_f * (v_peak - v_node - v_shunt - V_BRIDGE))
    enough = feed_a >= float(feed[Col.I_LOAD])
    return ClosedForm(
        form=Form.DIVIDER,
        c_parallel_f=c_p,
        c_across_f=c_s,
        standby_v_dc=v_shunt if enough else float(feed[Col.V_KNEE]),
        feed_i_avg_a=feed_a,
        lamp_v_peak=v_node,
        p_max_w=feed_a * v_shunt,
        operating_point=enough,
    )


def flash_period_s(network: Network, lamp: int) -> float | None:
    """Time from one flash of a waiting rectifier lamp to the next behind an ordinary switch [s].

    C_bulk·∫dV/(I(V) - V/r_start) from the stop to the start threshold, with all its lamps alike;
    None where the lamp never reaches its start threshold, or a feed or another group interferes.
    """
    row_index = network.lamp_row[lamp]
    if network.has_feed or row_index < 0 or sum(row >= 0 for row in network.lamp_row) > 1:
        return None
    row = network.branches[row_index]
    if row[Col.V_START] <= 0.0 or row[Col.V_STRING] < NO_STRING:
        return None
    c_p, c_s = node_capacitance_f(network), float(network.linear[LinCol.C_ACROSS])
    g_node = node_conductance_s(network)
    g_leak = float(network.linear[LinCol.G_ACROSS])
    v = np.linspace(float(row[Col.V_STOP]), float(row[Col.V_START]), 400)
    node = v + V_BRIDGE
    arrives = np.maximum(0.0, 4.0 * network.f_hz * (c_s * network.v_peak - (c_s + c_p) * node))
    if g_leak > 0.0:
        arrives = arrives + resistive_current_a(network.v_peak, 1.0 / g_leak, node)
    net = (arrives - HELD_NODE_MEAN_RATIO * g_node * node) / float(row[Col.COUNT]) - float(row[Col.G_DRAIN]) * v
    if np.any(net <= 0.0):
        return None
    return float(row[Col.C_RES]) * float(np.trapezoid(1.0 / net, v))
