"""Closed forms of the off state: to explain, to start the solver from, to stand beside its result.

Model: the feed's reservoir holds its voltage, so between its pulses the switched live floats on the
capacitances around it. Per half-cycle the feed passes the charge that swings the switched live from one
peak to the other, plus what lamps and resistors take there. Valid while lamps wait. Each result says
which form it used.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import pi

from ember_core.offstate.balances import (
    DIVIDER,
    FEED,
    NO_FEED,
    NONE,
    Node,
    charging_s,
    divided_current_a,
    feed_current_a,
    upper_root,
)
from ember_core.offstate.network import V_BRIDGE, BypassCol, Col, LinCol, Network

# Above this ratio of conductance to susceptance at the node the resistive form describes it better.
RESISTIVE_FROM_RATIO = 1.0


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


def node_of(network: Network) -> Node:
    """What surrounds the switched live of a loop."""
    c_p, g_node = node_capacitance_f(network), node_conductance_s(network)
    return Node(
        f_hz=network.f_hz,
        v_peak=network.v_peak,
        c_parallel_f=c_p,
        c_across_f=float(network.linear[LinCol.C_ACROSS]),
        g_node_s=g_node,
        g_leak_s=float(network.linear[LinCol.G_ACROSS]),
        is_resistive=g_node > RESISTIVE_FROM_RATIO * 2.0 * pi * network.f_hz * c_p,
    )


def evaluate(network: Network) -> ClosedForm:
    """The closed form that fits this loop."""
    node = node_of(network)
    if not network.has_feed:
        return _no_feed(network, node)
    feed = network.branches[0].tolist()
    if feed[Col.C_SERIES] > 0.0:
        return _divider(network, node, feed)
    v_peak, v_min = network.v_peak, feed[Col.V_KNEE]
    root = upper_root(FEED, node, network.branches, v_min, v_peak) if v_min < v_peak else NONE
    is_fed = root != NONE
    v_c = root if is_fed else min(v_min, 0.9 * v_peak)
    c_p, c_s = node.c_parallel_f, node.c_across_f
    floating = v_peak * c_s / (c_s + c_p) if c_s + c_p > 0.0 and not node.is_resistive else 0.0
    in_lamps = sum(row[Col.COUNT] * row[Col.C_SERIES] for row in network.branches[1:].tolist())
    return ClosedForm(
        form=Form.RESISTIVE if node.is_resistive else Form.CAPACITIVE,
        c_parallel_f=c_p,
        c_across_f=c_s,
        standby_v_dc=v_c,
        feed_i_avg_a=feed_current_a(node, network.branches, v_c),
        lamp_v_peak=max(v_peak - v_c - V_BRIDGE, floating),
        p_max_w=largest_feed_power_w(network.f_hz, v_peak, c_p + in_lamps, c_s),
        operating_point=is_fed,
    )


def _no_feed(network: Network, node: Node) -> ClosedForm:
    """Only stray capacitance and leak drive the lamps: the peak at which lamps take what arrives."""
    return ClosedForm(
        form=Form.NO_FEED,
        c_parallel_f=node.c_parallel_f,
        c_across_f=node.c_across_f,
        standby_v_dc=None,
        feed_i_avg_a=None,
        lamp_v_peak=max(0.0, upper_root(NO_FEED, node, network.branches, 0.0, network.v_peak)),
        p_max_w=None,
        operating_point=True,
    )


def _divider(network: Network, node: Node, feed: list[float]) -> ClosedForm:
    """A shunt-regulated feed is nearly its series capacitor: it divides the supply with the node."""
    v_node = max(0.0, upper_root(DIVIDER, node, network.branches, 0.0, network.v_peak))
    feed_a = max(0.0, divided_current_a(node, network.branches[0], v_node))
    v_shunt = feed[Col.V_STRING]
    enough = feed_a >= feed[Col.I_LOAD]
    return ClosedForm(
        form=Form.DIVIDER,
        c_parallel_f=node.c_parallel_f,
        c_across_f=node.c_across_f,
        standby_v_dc=v_shunt if enough else feed[Col.V_KNEE],
        feed_i_avg_a=feed_a,
        lamp_v_peak=v_node,
        p_max_w=feed_a * v_shunt,
        operating_point=enough,
    )


def flash_period_s(network: Network, lamp: int) -> float | None:
    """Time from one flash of a waiting rectifier lamp to the next behind an ordinary switch [s].

    See `charging_s`; None where the lamp never reaches its start threshold, or a feed or another group interferes.
    """
    row = network.lamp_row[lamp]
    if network.has_feed or row < 0 or sum(row >= 0 for row in network.lamp_row) > 1:
        return None
    found = float(charging_s(node_of(network), network.branches[row]))
    return None if found == NONE else found
