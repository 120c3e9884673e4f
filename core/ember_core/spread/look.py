"""What a settled loop tells of its lamps and its control, without marching from flash to flash.

A lamp that would reach its start threshold starts, and then runs on if the loop can hold its reservoir above
the stop threshold at running power, or else blinks. A control is marginal when it would starve at 1.25 times its
need, which says the same as the power available without sweeping the curve.

A look is a little coarser than the full solution. Where it lands within what that may make of an edge between two
states, and where more than one group would start, the full solution decides. So both always say the same.

Figures of a loop that blinks are those of the full solution, over whole flashes; only fewer flashes are watched.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import partial
from math import inf

import numpy as np

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate import blink, closed_form
from ember_core.offstate.delivery import delivered_ratio
from ember_core.offstate.measure import Recording
from ember_core.offstate.meters import Of, Whole
from ember_core.offstate.network import Col, Network
from ember_core.offstate.results import LampResult, OffState
from ember_core.offstate.runner import settled_half_cycle
from ember_core.offstate.settle import Settled, hold, settle, settle_from
from ember_core.offstate.solve import of_blinking
from ember_core.offstate.states import (
    FED_FROM_RATIO,
    FULL_DELIVERY_RATIO,
    VISIBLE_STRING_CURRENT,
    LampState,
    StandbyState,
    over,
    visible_filament_w,
)
from ember_core.parts import CapacitiveFeed, StandbyFeed, cold_filament_ohm
from ember_core.spread.begun import Begun, is_delivered, loaded_with
from ember_core.spread.shown import STEPS_PER_CYCLE, Shown, seen_blinking, shown_at, shown_blinking


@dataclass(frozen=True, slots=True, kw_only=True)
class Errors:
    """How far a look may be off, as shares [1]; nearer to an edge than that it does not tell. Held against the full
    solution in the tests.

    Parameters
    ----------
    voltage, power : of a reservoir, of a filament. string : current of a string that only just conducts.
    need : how much more a control could get (a look loads it, a solution holds its reservoir still).
    running : whether a started driver runs on, which is looked at in three places only. delivery : while lamps blink.
    """

    voltage: float = 0.0
    power: float = 0.0
    string: float = 0.0
    need: float = 0.0
    running: float = 0.0
    delivery: float = 0.0


COARSE = Errors(voltage=0.01, power=0.025, string=0.1, need=0.06, running=0.1, delivery=0.005)
# With the steps of a solution.
FINE = replace(COARSE, voltage=0.0, power=0.0, string=0.0)
# For who looks for an edge, which is known no nearer than a look tells.
AS_IT_LOOKS = Errors()


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


class AtEdgeError(Exception):
    """The look is too near an edge to tell."""


def surely_fed_ratio(errors: Errors) -> float:
    """So many times its need a control gets that is fed, for sure [1]."""
    return FED_FROM_RATIO.value * (1.0 + errors.need)


def look(loop: Loop, begun: Begun, with_shown: bool, errors: Errors) -> Sample:
    """The sample by its settled state; raises `AtEdgeError` where that cannot tell."""
    network, reading = begun.network, begun.reading
    starts = blink.would_start(network, reading)
    if not starts and blink.may_go_on(network, reading):
        raise AtEdgeError
    # A lamp beside one that blinks does not see what it would see beside one that waits, nor does a regulated feed.
    if starts and (len(loop.lamps) > 1 or isinstance(loop.control.standby, CapacitiveFeed)):
        return _by_march(loop, begun, errors)
    seen = [_lamp(loop, begun, index, errors) for index in range(len(loop.lamps))]
    lamps = tuple(state for state, _ in seen)
    control, delivered = _control(loop, begun, lamps, errors)
    shown: Shown | None = None
    if not starts:
        shown = shown_at(loop, reading)
    elif with_shown:
        marched = seen_blinking(network, reading)
        if marched is None:
            raise AtEdgeError
        shown = shown_blinking(loop, network, marched)
    return Sample(
        lamps=lamps,
        margins=tuple(margin for _, margin in seen),
        control=control,
        delivered_ratio=delivered,
        shown=shown,
    )


def _by_march(loop: Loop, begun: Begun, errors: Errors) -> Sample:
    """The sample of a loop in which a lamp starts, by fewer flashes than a solution takes; else as `look`."""
    network = begun.network
    marched = seen_blinking(network, begun.reading)
    if marched is None:
        raise AtEdgeError
    sample = by_solution(of_blinking(loop, marched, begun.settled, 0.0))
    for margin, row in zip(sample.margins, network.lamp_row, strict=True):
        if row < 0 or network.branches[row, Col.V_START] <= 0.0:
            _sure(margin, errors.string)
    _sure(sample.delivered_ratio / FULL_DELIVERY_RATIO.value, errors.delivery)
    return sample


def by_solution(off: OffState) -> Sample:
    """The sample of a full solution."""
    periods = [lamp.flash_period_s for lamp in off.lamps if lamp.flash_period_s is not None]
    return Sample(
        lamps=tuple(lamp.state for lamp in off.lamps),
        margins=tuple(_margin(lamp) for lamp in off.lamps),
        control=off.control.state,
        delivered_ratio=inf if off.control.delivered_ratio is None else off.control.delivered_ratio,
        shown=Shown(
            lamp_v_rms=off.lamp_v_rms,
            line_i_rms_a=off.line_i_rms_a,
            lamp_i_rms_a=tuple(lamp.i_rms_a for lamp in off.lamps),
            period_s=min(periods, default=None),
        ),
    )


def _margin(lamp: LampResult) -> float:
    """How far from light a group of a full solution is [1]."""
    found = lamp.glow_margin_ratio if lamp.start_margin_ratio is None else lamp.start_margin_ratio
    return inf if found is None else found


def _sure(ratio: float, error_ratio: float) -> float:
    """The ratio itself where the look can tell on which side of 1 it is; raises `AtEdgeError` where it cannot."""
    if abs(ratio - 1.0) < error_ratio:
        raise AtEdgeError
    return ratio


def _lamp(loop: Loop, begun: Begun, index: int, errors: Errors) -> tuple[LampState, float]:
    network, reading = begun.network, begun.reading
    lamp, row = loop.lamps[index], network.lamp_row[index]
    if row < 0:
        cold = cold_filament_ohm(lamp)
        if cold is None:
            return LampState.DARK, inf
        watts = reading.whole(Whole.V_RMS) ** 2 / cold
        margin = _sure(over(visible_filament_w(loop.supply.v_rms, cold), watts), errors.power)
        return (LampState.GLOW if margin < 1.0 else LampState.DARK), margin
    columns = network.branches[row]
    if columns[Col.V_START] > 0.0:
        margin = _sure(over(float(columns[Col.V_START]), reading.of(row, Of.HELD_MOST)), errors.voltage)
        if margin > 1.0:
            return LampState.DARK, margin
        return (LampState.GLOW if _runs_on(network, begun.settled, row, errors) else LampState.BLINK), margin
    margin = _sure(over(VISIBLE_STRING_CURRENT.value, reading.of(row, Of.STRING_MEAN)), errors.string)
    return (LampState.GLOW if margin < 1.0 else LampState.DARK), margin


def _held(network: Network, settled: Settled, at_v: Mapping[int, float]) -> Recording:
    """A settled half-cycle with some reservoirs, by row, held at a voltage and nothing drawn from them."""
    frozen, begin, held = hold(network, at_v, settled.state)
    found = settle_from(frozen, begin, STEPS_PER_CYCLE, held)
    return settled_half_cycle(frozen, found.state, STEPS_PER_CYCLE)


def _runs_on(network: Network, settled: Settled, row: int, errors: Errors) -> bool:
    """A started driver finds its running power at some reservoir voltage above its stop threshold."""
    columns = network.branches[row]
    most = 0.0
    for v in np.linspace(columns[Col.V_STOP], columns[Col.V_START], 3):
        try:
            recording = _held(network, settled, {row: float(v)})
        except SolverError:
            continue
        most = max(most, recording.of(row, Of.I_MEAN) * float(v))
    return _sure(most / float(columns[Col.P_LOAD]), errors.running) >= 1.0


def _control(
    loop: Loop, begun: Begun, lamps: tuple[LampState, ...], errors: Errors
) -> tuple[StandbyState | None, float]:
    feed, network, settled = loop.control.standby, begun.network, begun.settled
    if feed is None:
        return None, inf
    delivered = delivered_ratio(feed, begun.reading)
    if delivered < FULL_DELIVERY_RATIO.value and LampState.BLINK in lamps:
        # A lamp that blinks never rests where it waits: its reservoir goes to and fro between its thresholds.
        delivered = max(delivered, _delivered_while_blinking(loop, network, settled, lamps))
    is_fed = partial(_is_fed, feed, network, settled)
    need, blinks = errors.need, LampState.BLINK in lamps
    if delivered < FULL_DELIVERY_RATIO.value:
        if need and (blinks or is_fed(1.0 - need)):
            raise AtEdgeError
        return StandbyState.STARVED, delivered
    if blinks or (is_fed(surely_fed_ratio(errors)) if begun.gets_more is None else begun.gets_more):
        return StandbyState.FED, delivered
    if need and (is_fed(FED_FROM_RATIO.value * (1.0 - need)) or not is_fed(1.0 + need)):
        raise AtEdgeError
    return StandbyState.MARGINAL, delivered


def _is_fed(feed: StandbyFeed, network: Network, settled: Settled, times: float) -> bool:
    """Whether the control would get so many times its need."""
    loaded = loaded_with(network, times)
    try:
        found = settle_from(loaded, settled.state, STEPS_PER_CYCLE)
    except SolverError:
        found = settle(loaded, closed_form.evaluate(loaded), STEPS_PER_CYCLE)
    again = settled_half_cycle(loaded, found.state, STEPS_PER_CYCLE)
    return is_delivered(feed, again, times)


def _delivered_while_blinking(loop: Loop, network: Network, settled: Settled, lamps: tuple[LampState, ...]) -> float:
    """Delivered share with the reservoir of the first lamp that blinks held between its thresholds."""
    row = next(network.lamp_row[k] for k, state in enumerate(lamps) if state is LampState.BLINK)
    columns = network.branches[row]
    try:
        recording = _held(network, settled, {row: 0.5 * float(columns[Col.V_START] + columns[Col.V_STOP])})
    except SolverError:
        return 0.0
    return delivered_ratio(loop.control.standby, recording)
