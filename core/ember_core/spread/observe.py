"""One sample, quickly: the settled loop with waiting lamps tells the states without marching from flash to flash.

A lamp that would reach its start threshold starts, and then runs on if the loop can hold its reservoir above
the stop threshold at running power, or else blinks. A control is marginal when it would starve at 1.25 times its
need, which says the same as the power available without sweeping the curve.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import inf

import numpy as np

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate import closed_form
from ember_core.offstate.measure import Recording, rms
from ember_core.offstate.network import Col, Floats, Network, build
from ember_core.offstate.runner import Runner
from ember_core.offstate.settle import MOST_GROWTH, Settled, settle, settle_from
from ember_core.offstate.states import (
    FED_FROM_RATIO,
    FILAMENT_HOT_TO_COLD_RATIO,
    FULL_DELIVERY_RATIO,
    VISIBLE_FILAMENT_RATIO,
    VISIBLE_STRING_CURRENT,
    LampState,
    StandbyState,
)
from ember_core.parts import PtcBypass, SwitchingFeed, cold_filament_ohm

# Half of what a solution takes: voltages agree with it within 1 %, far inside any range, in half the time.
STEPS_PER_CYCLE = 200
_PTC_ROUNDS = 3
_PERIOD_POINTS = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Sample:
    """What one drawn loop does.

    Parameters
    ----------
    lamps : state of each group. margins : for each group how far from light [1]: start threshold over reservoir
        voltage, visible over string current, visible over filament power; below 1 it shows.
    control : state, None for an ordinary switch. delivered_ratio : power delivered over needed [1].
    lamp_v_rms [V], line_i_rms_a [A] : as instruments show them, see `as_shown`. period_s : of the group that blinks
        fastest, or None.
    """

    lamps: tuple[LampState, ...]
    margins: tuple[float, ...]
    control: StandbyState | None
    delivered_ratio: float
    lamp_v_rms: float
    line_i_rms_a: float
    lamp_i_rms_a: tuple[float, ...]
    period_s: float | None


def observe(loop: Loop, *, with_period: bool = False, near: Floats | None = None) -> Sample:
    """States and figures of one loop.

    Parameters
    ----------
    with_period : also estimate the blink period.
    near : settled state of a loop with the same parts, fed, to begin from; it saves a third of the time.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    ptc_v_rms = 0.0
    sample, network, settled = _once(loop, ptc_v_rms, near)
    if any(isinstance(part, PtcBypass) for part in loop.bypass):
        for _ in range(_PTC_ROUNDS):
            ptc_v_rms += 0.7 * (sample.lamp_v_rms - ptc_v_rms)
            sample, network, settled = _once(loop, ptc_v_rms, settled.state)
    if with_period and LampState.BLINK in sample.lamps:
        rows = [network.lamp_row[k] for k, state in enumerate(sample.lamps) if state is LampState.BLINK]
        known = [period for row in rows if (period := _period_s(network, settled, row)) is not None]
        sample = replace(sample, period_s=min(known) if known else None)
    return sample


def lamp_volts(loop: Loop) -> float:
    """Lamp terminals as a meter shows them, rms [V]; a third of the work of `observe`.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    if any(isinstance(part, PtcBypass) for part in loop.bypass):
        return observe(loop).lamp_v_rms
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    recording = Runner(network, settled.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)
    return rms(as_shown(network, settled, recording).v)


def as_shown(network: Network, settled: Settled, waiting: Recording, steps: int = STEPS_PER_CYCLE // 2) -> Recording:
    """What instruments see: where no lamp would start, the loop as it waits.

    A lamp that would start never gets to where it would wait: its reservoir goes to and fro between its thresholds, so
    it is held half way, which is what a meter averages to.

    Parameters
    ----------
    waiting : a recording with lamps waiting. steps : of the recording that is given back, where one is made.
    """
    started = {}
    for row in (int(row) for row in network.lamp_row if row >= 0):
        columns = network.branches[row]
        if columns[Col.V_START] > 0.0 and float(np.max(waiting.reservoir(row))) >= float(columns[Col.V_START]):
            started[row] = 0.5 * float(columns[Col.V_START] + columns[Col.V_STOP])
    if not started:
        return waiting
    try:
        return _held(network, settled, started, steps)
    except SolverError:
        return waiting


def fed_state(loop: Loop) -> Floats | None:
    """Settled state of a loop to begin others from; None where its control is not fed, or it does not settle."""
    try:
        network = build(loop)
        settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
        recording = Runner(network, settled.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)
    except SolverError:
        return None
    return settled.state if _delivered(loop, recording) >= FULL_DELIVERY_RATIO.value else None


def _settled(loop: Loop, network: Network, near: Floats | None) -> tuple[Settled, Recording]:
    """Settled state and a cycle of it; from a state nearby if that leads to one that lasts and feeds the control."""
    if near is not None:
        try:
            found = settle_from(network, near, np.zeros(network.branches.shape[0]), STEPS_PER_CYCLE)
            recording = Runner(network, found.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)
            if found.growth <= MOST_GROWTH and _delivered(loop, recording) >= FULL_DELIVERY_RATIO.value:
                return found, recording
        except SolverError:
            pass
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    return settled, Runner(network, settled.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)


def _once(loop: Loop, ptc_v_rms: float, near: Floats | None = None) -> tuple[Sample, Network, Settled]:
    network = build(loop, ptc_v_rms=ptc_v_rms)
    settled, recording = _settled(loop, network, near)
    seen = [_lamp(loop, network, settled, recording, index) for index in range(len(loop.lamps))]
    lamps = tuple(state for state, _ in seen)
    control, delivered = _control(loop, network, settled, recording, lamps)
    shown = as_shown(network, settled, recording)
    sample = Sample(
        lamps=lamps,
        margins=tuple(margin for _, margin in seen),
        control=control,
        delivered_ratio=delivered,
        lamp_v_rms=rms(shown.v),
        line_i_rms_a=rms(shown.i_line),
        lamp_i_rms_a=tuple(rms(shown.lamp_current(index)) for index in range(len(loop.lamps))),
        period_s=None,
    )
    return sample, network, settled


def _lamp(loop: Loop, network: Network, settled: Settled, recording: Recording, index: int) -> tuple[LampState, float]:
    lamp, row = loop.lamps[index], network.lamp_row[index]
    if row < 0:
        cold = cold_filament_ohm(lamp)
        if cold is None:
            return LampState.DARK, inf
        watts = float(np.mean(recording.v**2)) / cold
        visible = VISIBLE_FILAMENT_RATIO.value * loop.supply.v_rms**2 / (FILAMENT_HOT_TO_COLD_RATIO * cold)
        margin = visible / watts if watts > 0.0 else inf
        return (LampState.GLOW if margin < 1.0 else LampState.DARK), margin
    columns = network.branches[row]
    if columns[Col.V_START] > 0.0:
        highest = float(np.max(recording.reservoir(row)))
        margin = float(columns[Col.V_START]) / highest if highest > 0.0 else inf
        if margin > 1.0:
            return LampState.DARK, margin
        return (LampState.GLOW if _runs_on(network, settled, row) else LampState.BLINK), margin
    current = float(np.mean(recording.string_current(row)))
    margin = VISIBLE_STRING_CURRENT.value / current if current > 0.0 else inf
    return (LampState.GLOW if margin < 1.0 else LampState.DARK), margin


def _held(
    network: Network, settled: Settled, at_v: Mapping[int, float], steps: int = STEPS_PER_CYCLE // 2
) -> Recording:
    """A settled half-cycle with some reservoirs, by row, held at a voltage and nothing drawn from them."""
    held = np.zeros(network.branches.shape[0])
    state = settled.state.copy()
    branches = network.branches.copy()
    for row, v in at_v.items():
        held[row] = 1.0
        state[1 + network.bypass.shape[0] + 2 * row + 1] = v
        branches[row, Col.C_RES] = 1.0
        branches[row, Col.G_DRAIN] = 0.0
        branches[row, Col.P_LOAD] = 0.0
    frozen = replace(network, branches=branches)
    found = settle_from(frozen, state, held, STEPS_PER_CYCLE)
    return Runner(frozen, found.state, STEPS_PER_CYCLE).record(steps, may_start=False)


def _runs_on(network: Network, settled: Settled, row: int) -> bool:
    """A started driver finds its running power at some reservoir voltage above its stop threshold."""
    columns = network.branches[row]
    for v in np.linspace(columns[Col.V_STOP], columns[Col.V_START], 3):
        try:
            recording = _held(network, settled, {row: float(v)})
        except SolverError:
            continue
        if float(np.mean(np.abs(recording.current(row)))) * v >= columns[Col.P_LOAD]:
            return True
    return False


def _period_s(network: Network, settled: Settled, row: int) -> float | None:
    """Time from flash to flash [s]: T = C_bulk · ∫ dV / (I(V) − V/r_start) from stop to start, I with V held.

    None where the current falls below the drain on the way.
    """
    columns = network.branches[row]
    voltages = np.linspace(columns[Col.V_STOP], columns[Col.V_START], _PERIOD_POINTS)
    slowness = []
    for v in voltages:
        try:
            recording = _held(network, settled, {row: float(v)})
        except SolverError:
            return None
        net = float(np.mean(np.abs(recording.current(row)))) - float(columns[Col.G_DRAIN]) * float(v)
        if net <= 0.0:
            return None
        slowness.append(float(columns[Col.C_RES]) / net)
    return float(np.trapezoid(slowness, voltages))


def _control(
    loop: Loop, network: Network, settled: Settled, recording: Recording, lamps: tuple[LampState, ...]
) -> tuple[StandbyState | None, float]:
    feed = loop.control.standby
    if feed is None:
        return None, inf
    delivered = _delivered(loop, recording)
    if delivered < FULL_DELIVERY_RATIO.value and LampState.BLINK in lamps:
        # A lamp that blinks never rests where it waits: its reservoir goes to and fro between its thresholds.
        delivered = max(delivered, _delivered_while_blinking(loop, network, settled, lamps))
    if delivered < FULL_DELIVERY_RATIO.value:
        return StandbyState.STARVED, delivered
    if LampState.BLINK in lamps:
        return StandbyState.FED, delivered
    more = network.branches.copy()
    more[0, Col.P_LOAD] *= FED_FROM_RATIO.value
    more[0, Col.I_LOAD] *= FED_FROM_RATIO.value
    loaded = replace(network, branches=more)
    try:
        found = settle_from(loaded, settled.state, np.zeros(more.shape[0]), STEPS_PER_CYCLE)
    except SolverError:
        found = settle(loaded, closed_form.evaluate(loaded), STEPS_PER_CYCLE)
    again = Runner(loaded, found.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)
    is_fed = _delivered(loop, again) >= FULL_DELIVERY_RATIO.value * FED_FROM_RATIO.value
    return (StandbyState.FED if is_fed else StandbyState.MARGINAL), delivered


def _delivered(loop: Loop, recording: Recording) -> float:
    """Power (or current and voltage) that reaches the control's load over what it needs."""
    feed = loop.control.standby
    if feed is None:
        return inf
    held, drawn = recording.reservoir(0), recording.drawn(0)
    if isinstance(feed, SwitchingFeed):
        return float(np.mean(drawn * held)) / feed.p_w
    return min(float(np.mean(drawn)) / feed.i_a, float(np.mean(held)) / feed.v_shunt_v)


def _delivered_while_blinking(loop: Loop, network: Network, settled: Settled, lamps: tuple[LampState, ...]) -> float:
    """Delivered share with the reservoir of the first lamp that blinks held between its thresholds."""
    row = next(network.lamp_row[k] for k, state in enumerate(lamps) if state is LampState.BLINK)
    columns = network.branches[row]
    try:
        recording = _held(network, settled, {row: 0.5 * float(columns[Col.V_START] + columns[Col.V_STOP])})
    except SolverError:
        return 0.0
    return _delivered(loop, recording)
