"""One sample, quickly: the settled loop with waiting lamps tells the states without marching from flash to flash.

A lamp that would reach its start threshold starts, and then runs on if the loop can hold its reservoir above
the stop threshold at running power, or else blinks. A control is marginal when it would starve at 1.25 times its
need, which says the same as the power available without sweeping the curve.

Figures of a loop that blinks are those of the full solution, over whole flashes; only fewer flashes are watched.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import inf

import numpy as np

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate import blink, closed_form
from ember_core.offstate.delivery import delivered_ratio
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
from ember_core.parts import PtcBypass, cold_filament_ohm

# Half of what a solution takes: voltages agree with it within 1 %, far inside any range, in half the time.
STEPS_PER_CYCLE = 200
_PTC_ROUNDS = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """What instruments show of one loop.

    Parameters
    ----------
    lamp_v_rms [V], line_i_rms_a [A], lamp_i_rms_a [A] : as a true-rms meter shows them; while lamps blink over whole
        flashes, see `blink.GATE_S`.
    period_s : of the group that blinks fastest; None where none does, or where it does not repeat.
    """

    lamp_v_rms: float
    line_i_rms_a: float
    lamp_i_rms_a: tuple[float, ...]
    period_s: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Sample:
    """What one drawn loop does.

    Parameters
    ----------
    lamps : state of each group. margins : for each group how far from light [1]: start threshold over reservoir
        voltage, visible over string current, visible over filament power; below 1 it shows.
    control : state, None for an ordinary switch. delivered_ratio : power delivered over needed [1].
    shown : what instruments show; None of a loop that blinks, where that was not asked for.
    """

    lamps: tuple[LampState, ...]
    margins: tuple[float, ...]
    control: StandbyState | None
    delivered_ratio: float
    shown: Shown | None


def observe(loop: Loop, *, with_shown: bool = True, near: Floats | None = None) -> Sample:
    """States and figures of one loop.

    Parameters
    ----------
    with_shown : of a loop that blinks, also what instruments show; it takes several times as long.
    near : settled state of a loop with the same parts, fed, to begin from; it saves a third of the time.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    if not any(isinstance(part, PtcBypass) for part in loop.bypass):
        return _once(loop, 0.0, with_shown, near)[0]
    # The warm resistance hangs on the voltage, so a PTC always asks what is shown.
    ptc_v_rms = 0.0
    sample, state = _once(loop, ptc_v_rms, True, near)
    for _ in range(_PTC_ROUNDS):
        ptc_v_rms += 0.7 * ((0.0 if sample.shown is None else sample.shown.lamp_v_rms) - ptc_v_rms)
        sample, state = _once(loop, ptc_v_rms, True, state)
    return sample


def shown_by(loop: Loop) -> Shown:
    """Only what instruments show; of a loop that does not blink a third of the work of `observe`.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    if any(isinstance(part, PtcBypass) for part in loop.bypass):
        found = observe(loop).shown
        assert found is not None  # noqa: S101  (asked for)
        return found
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    waiting = Runner(network, settled.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)
    seen = _seen_blinking(network, waiting)
    return _shown(loop, network, waiting) if seen is None else _shown_blinking(loop, network, seen)


def cycle_of(loop: Loop) -> tuple[Floats, Floats]:
    """One cycle from the rising zero of the supply: lamp voltage [V] and line current [A], of a loop that blinks half
    way between two flashes.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    waiting = Runner(network, settled.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE, may_start=False)
    seen = _seen_blinking(network, waiting)
    recording = waiting if seen is None else seen.middle
    return recording.v.copy(), recording.i_line.copy()


def _would_start(network: Network, waiting: Recording) -> bool:
    """Some lamp reaches its start threshold."""
    for row in (int(row) for row in network.lamp_row if row >= 0):
        v_start = float(network.branches[row, Col.V_START])
        if v_start > 0.0 and float(np.max(waiting.reservoir(row))) >= v_start:
            return True
    return False


def _seen_blinking(network: Network, waiting: Recording) -> blink.Blinking | None:
    """The march of a loop in which some lamp starts; None where none does, from the moment of switching off either."""
    if not _would_start(network, waiting):
        return None
    seen = blink.observe(network, closed_form.evaluate(network), STEPS_PER_CYCLE, blink.QUICK)
    return seen if any(seen.flashes) else None


def _shown(loop: Loop, network: Network, recording: Recording) -> Shown:
    return Shown(
        lamp_v_rms=rms(recording.v),
        line_i_rms_a=rms(recording.i_line),
        lamp_i_rms_a=tuple(rms(recording.lamp_current(index)) for index in range(len(loop.lamps))),
        period_s=None,
    )


def _shown_blinking(loop: Loop, network: Network, seen: blink.Blinking) -> Shown:
    periods = [period for row in network.lamp_row if row >= 0 and (period := seen.period_s[row]) is not None]
    shown = _shown(loop, network, seen.whole)
    return replace(shown, period_s=min(periods, default=None))


def fed_state(loop: Loop) -> Floats | None:
    """Settled state of a loop to begin others from; None where its control is not fed, or it does not settle."""
    try:
        network = build(loop)
        settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
        recording = Runner(network, settled.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)
    except SolverError:
        return None
    return settled.state if delivered_ratio(loop.control.standby, recording) >= FULL_DELIVERY_RATIO.value else None


def _settled(loop: Loop, network: Network, near: Floats | None) -> tuple[Settled, Recording]:
    """Settled state and a cycle of it; from a state nearby if that leads to one that lasts and feeds the control."""
    if near is not None:
        try:
            found = settle_from(network, near, np.zeros(network.branches.shape[0]), STEPS_PER_CYCLE)
            recording = Runner(network, found.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)
            if (
                found.growth <= MOST_GROWTH
                and delivered_ratio(loop.control.standby, recording) >= FULL_DELIVERY_RATIO.value
            ):
                return found, recording
        except SolverError:
            pass
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    return settled, Runner(network, settled.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)


def _once(loop: Loop, ptc_v_rms: float, with_shown: bool, near: Floats | None = None) -> tuple[Sample, Floats]:
    network = build(loop, ptc_v_rms=ptc_v_rms)
    settled, recording = _settled(loop, network, near)
    seen = [_lamp(loop, network, settled, recording, index) for index in range(len(loop.lamps))]
    lamps = tuple(state for state, _ in seen)
    control, delivered = _control(loop, network, settled, recording, lamps)
    shown: Shown | None
    if not _would_start(network, recording):
        shown = _shown(loop, network, recording)
    elif with_shown:
        marched = _seen_blinking(network, recording)
        shown = _shown(loop, network, recording) if marched is None else _shown_blinking(loop, network, marched)
    else:
        shown = None
    sample = Sample(
        lamps=lamps,
        margins=tuple(margin for _, margin in seen),
        control=control,
        delivered_ratio=delivered,
        shown=shown,
    )
    return sample, settled.state


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


def _held(network: Network, settled: Settled, at_v: Mapping[int, float]) -> Recording:
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
    return Runner(frozen, found.state, STEPS_PER_CYCLE).record(STEPS_PER_CYCLE // 2, may_start=False)


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


def _control(
    loop: Loop, network: Network, settled: Settled, recording: Recording, lamps: tuple[LampState, ...]
) -> tuple[StandbyState | None, float]:
    feed = loop.control.standby
    if feed is None:
        return None, inf
    delivered = delivered_ratio(loop.control.standby, recording)
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
    is_fed = delivered_ratio(feed, again, FED_FROM_RATIO.value) >= FULL_DELIVERY_RATIO.value
    return (StandbyState.FED if is_fed else StandbyState.MARGINAL), delivered


def _delivered_while_blinking(loop: Loop, network: Network, settled: Settled, lamps: tuple[LampState, ...]) -> float:
    """Delivered share with the reservoir of the first lamp that blinks held between its thresholds."""
    row = next(network.lamp_row[k] for k, state in enumerate(lamps) if state is LampState.BLINK)
    columns = network.branches[row]
    try:
        recording = _held(network, settled, {row: 0.5 * float(columns[Col.V_START] + columns[Col.V_STOP])})
    except SolverError:
        return 0.0
    return delivered_ratio(loop.control.standby, recording)
