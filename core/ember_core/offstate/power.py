"""The most power a stand-by feed could draw from its loop: its reservoir held at one voltage after another."""

from __future__ import annotations

from dataclasses import dataclass
from math import atanh, sqrt

import numpy as np

from ember_core.errors import SolverError
from ember_core.offstate import shooting
from ember_core.offstate.network import Col, Floats, Network
from ember_core.offstate.results import PowerCurve
from ember_core.offstate.settle import NEAR, Settled, hold
from ember_core.offstate.states import FED_FROM_RATIO, FULL_DELIVERY_RATIO

POINTS = 8
# After the first of them two are the rule; more where the most lies at the lower end.
REFINED_POINTS = 6
CLOSE_ENOUGH_RATIO = 2e-3
# The power is a mean over half a cycle: half the steps give it within 0.2 %.
STEPS_RATIO = 0.5
# The upper end of the curve: a little below the peak, where no current is left.
HIGHEST_RATIO = 0.97
# Above its least voltage by so many times the width over which it throttles, a converter gets 0.99 of its power.
FULL_ABOVE_KNEE = atanh(2.0 * FULL_DELIVERY_RATIO.value - 1.0)
# Nearer to a known point than this share of the span a refinement would say nothing new.
RESOLUTION_RATIO = 2e-3


@dataclass(frozen=True, slots=True, kw_only=True)
class Power:
    """Power needed and available [W], and the curve behind it (None for a shunt-regulated feed)."""

    needed_w: float
    available_w: float
    curve: PowerCurve | None


def available(network: Network, settled: Settled, steps_per_cycle: int) -> Power:
    """Power available to the feed with all lamps waiting.

    A switching feed may run at any reservoir voltage at which it is not throttled: the largest power along them
    counts. A shunt-regulated one runs at its shunt voltage.

    Raises
    ------
    SolverError : when the loop does not settle with the reservoir held.
    """
    feed = network.branches[0]
    steps_per_cycle = 2 * round(0.5 * STEPS_RATIO * steps_per_cycle)
    if feed[Col.C_SERIES] > 0.0:
        v = float(feed[Col.V_STRING])
        i = _currents(network, settled.state, np.array([v]), steps_per_cycle)[0][0]
        if np.isnan(i):
            raise SolverError("power_curve_not_found", points=1)
        return Power(needed_w=float(feed[Col.I_LOAD]) * v, available_w=max(0.0, float(i)) * v, curve=None)
    low = least_mean_v(network)
    high = HIGHEST_RATIO * network.v_peak
    needed = float(feed[Col.P_LOAD])
    if low >= high:
        return Power(needed_w=needed, available_w=0.0, curve=None)
    voltages = np.linspace(low, high, POINTS)
    currents, states = _currents(network, settled.state, voltages, steps_per_cycle)
    # A point that does not settle is left out of the curve.
    found = ~np.isnan(currents)
    voltages, currents, states = voltages[found], currents[found], states[found]
    if voltages.size == 0:
        raise SolverError("power_curve_not_found", points=POINTS)
    powers = voltages * (currents - float(feed[Col.G_DRAIN]) * voltages)
    for _ in range(REFINED_POINTS):
        top = _vertex(voltages, powers)
        if top is None:
            break
        nearest = int(np.argmin(np.abs(voltages - top)))
        i, state = _currents(network, states[nearest], np.array([top]), steps_per_cycle)
        if np.isnan(i[0]):
            break
        at = int(np.searchsorted(voltages, top))
        voltages = np.insert(voltages, at, top)
        most = float(powers.max())
        powers = np.insert(powers, at, top * (i[0] - float(feed[Col.G_DRAIN]) * top))
        states = np.insert(states, at, state[0], axis=0)
        if most > 0.0 and abs(powers[at] / most - 1.0) < CLOSE_ENOUGH_RATIO:
            break
    curve = PowerCurve(standby_v=voltages, available_p_w=powers)
    return Power(needed_w=needed, available_w=max(0.0, float(powers.max())), curve=curve)


def least_mean_v(network: Network) -> float:
    """Mean voltage of the feed's reservoir from which on it is not throttled in the troughs between its pulses [V].

    Its ripple is P/(2·f·C·V) from crest to trough, taken at the power that counts as fed: V − P/(4·f·C·V) = V_least.
    """
    feed = network.branches[0]
    v_least = float(feed[Col.V_KNEE] + FULL_ABOVE_KNEE * feed[Col.KNEE_WIDTH])
    ripple_v2 = FED_FROM_RATIO.value * float(feed[Col.P_LOAD]) / (4.0 * network.f_hz * float(feed[Col.C_RES]))
    return 0.5 * v_least + sqrt(0.25 * v_least**2 + ripple_v2)


def _vertex(voltages: Floats, powers: Floats) -> float | None:
    """Where to look next for the most: the top of the parabola through the largest point and its neighbours, or between
    the lower end and the next where that end is the largest; None where nothing new would be found."""
    k = int(np.argmax(powers))
    if k == len(powers) - 1:
        return None
    if k == 0:
        top = float(0.7 * voltages[0] + 0.3 * voltages[1])
    else:
        x, y = voltages[k - 1 : k + 2], powers[k - 1 : k + 2]
        left, right = (y[1] - y[0]) / (x[1] - x[0]), (y[2] - y[1]) / (x[2] - x[1])
        bend = (right - left) / (x[2] - x[0])
        if bend >= 0.0:
            return None
        top = float(0.5 * (x[0] + x[1]) - left / (2.0 * bend))
    if np.min(np.abs(voltages - top)) < RESOLUTION_RATIO * (voltages[-1] - voltages[0]):
        return None
    return top


def _currents(network: Network, state: Floats, at_v: Floats, steps_per_cycle: int) -> tuple[Floats, Floats]:
    """Average current into the feed's reservoir held at voltages [A], nan where it does not settle, and the states."""
    frozen, begin, held = hold(network, {0: float(at_v[0])}, state)
    currents, states = shooting.currents_into_held(frozen.tables, begin, held, 0, at_v, steps_per_cycle, NEAR)
    return currents, states
