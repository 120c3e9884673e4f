"""The most power a stand-by feed could draw from its loop: its reservoir held at one voltage after another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ember_core.errors import SolverError
from ember_core.offstate.network import Col, Floats, Network
from ember_core.offstate.results import PowerCurve
from ember_core.offstate.runner import Runner
from ember_core.offstate.settle import Settled, settle_from

POINTS = 9
REFINED_POINTS = 3
# The upper end of the curve: a little below the peak, where no current is left.
HIGHEST_RATIO = 0.97


@dataclass(frozen=True, slots=True, kw_only=True)
class Power:
    """Power needed and available [W], and the curve behind it (None for a shunt-regulated feed)."""

    needed_w: float
    available_w: float
    curve: PowerCurve | None


def available(network: Network, settled: Settled, steps_per_cycle: int) -> Power:
    """Power available to the feed with all lamps waiting.

    A switching feed may run at any reservoir voltage above its least one: the largest power along them
    counts. A shunt-regulated one runs at its shunt voltage.

    Raises
    ------
    SolverError : when the loop does not settle with the reservoir held.
    """
    feed = network.branches[0]
    if feed[Col.C_SERIES] > 0.0:
        v = float(feed[Col.V_STRING])
        i = _current_at(network, settled.state, v, steps_per_cycle)[0]
        return Power(needed_w=float(feed[Col.I_LOAD]) * v, available_w=max(0.0, i) * v, curve=None)
    low, high = float(feed[Col.V_KNEE]), HIGHEST_RATIO * network.v_peak
    needed = float(feed[Col.P_LOAD])
    if low >= high:
        return Power(needed_w=needed, available_w=0.0, curve=None)
    voltages = list(np.linspace(low, high, POINTS))
    powers: list[float] = []
    state = settled.state
    found: dict[float, Floats] = {}
    # Each point starts from its neighbour; one that does not settle is left out of the curve.
    for v in list(voltages):
        try:
            power, state = _power_at(network, state, v, steps_per_cycle)
        except SolverError:
            voltages.remove(v)
            continue
        powers.append(power)
        found[v] = state
    if not powers:
        raise SolverError("power_curve_not_found", points=POINTS)
    for _ in range(REFINED_POINTS):
        top = _vertex(voltages, powers)
        if top is None:
            break
        v = top
        nearest = min(found, key=lambda known: abs(known - v))
        try:
            power, found[v] = _power_at(network, found[nearest], v, steps_per_cycle)
        except SolverError:
            break
        at = int(np.searchsorted(voltages, v))
        voltages.insert(at, v)
        powers.insert(at, power)
    curve = PowerCurve(standby_v=np.array(voltages), available_p_w=np.array(powers))
    return Power(needed_w=needed, available_w=max(0.0, max(powers)), curve=curve)


def _vertex(voltages: list[float], powers: list[float]) -> float | None:
    """Top of the parabola through the largest point and its neighbours; None at an end or when already there."""
    k = int(np.argmax(powers))
    if k == 0 or k == len(powers) - 1:
        return None
    x, y = voltages[k - 1 : k + 2], powers[k - 1 : k + 2]
    left, right = (y[1] - y[0]) / (x[1] - x[0]), (y[2] - y[1]) / (x[2] - x[1])
    bend = (right - left) / (x[2] - x[0])
    if bend >= 0.0:
        return None
    top = 0.5 * (x[0] + x[1]) - left / (2.0 * bend)
    if min(abs(top - known) for known in voltages) < 1e-3 * (voltages[-1] - voltages[0]):
        return None
    return top


def _power_at(network: Network, state: Floats, v: float, steps_per_cycle: int) -> tuple[float, Floats]:
    i, settled = _current_at(network, state, v, steps_per_cycle)
    return v * (i - float(network.branches[0, Col.G_DRAIN]) * v), settled


def _current_at(network: Network, state: Floats, v: float, steps_per_cycle: int) -> tuple[float, Floats]:
    """Average current into the feed's reservoir held at a voltage [A], and the settled state."""
    held = np.zeros(network.branches.shape[0])
    held[0] = 1.0
    begin = state.copy()
    at = 1 + network.bypass.shape[0] + 1
    begin[at] = v
    frozen = _without_load(network)
    try:
        settled = settle_from(frozen, begin, held, steps_per_cycle)
    except SolverError:
        # Far from the neighbour: let the reservoirs find their way first.
        runner = Runner(frozen, begin, steps_per_cycle)
        runner.go(60 * steps_per_cycle, may_start=False)
        settled = settle_from(frozen, runner.state, held, steps_per_cycle)
    runner = Runner(frozen, settled.state, steps_per_cycle)
    recording = runner.record(steps_per_cycle // 2, may_start=False)
    return float(np.mean(np.abs(recording.current(0)))), settled.state


def _without_load(network: Network) -> Network:
    """The same loop with a feed reservoir so large that it holds its voltage, and nothing drawn from it."""
    branches = network.branches.copy()
    branches[0, Col.C_RES] = 1e3
    branches[0, Col.P_LOAD] = 0.0
    branches[0, Col.I_LOAD] = 0.0
    branches[0, Col.G_DRAIN] = 0.0
    branches[0, Col.V_STRING] = 1e12
    return Network(
        v_peak=network.v_peak,
        f_hz=network.f_hz,
        linear=network.linear,
        bypass=network.bypass,
        branches=branches,
        has_feed=True,
        lamp_row=network.lamp_row,
        lamp_g=network.lamp_g,
        lamp_c_x=network.lamp_c_x,
    )
