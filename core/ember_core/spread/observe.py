"""One sample, quickly: the settled loop with waiting lamps tells the states without marching from flash to flash.

A lamp that would reach its start threshold starts, and then runs on if the loop can hold its reservoir above
the stop threshold at running power, or else blinks. A control is marginal when it would starve at 1.25 times its
need, which says the same as the power available without sweeping the curve.

A look is a little coarser than the full solution. Where it lands within what that may make of an edge between two
states, and where more than one group would start, the full solution decides. So both always say the same.

Figures of a loop that blinks are those of the full solution, over whole flashes; only fewer flashes are watched.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from math import inf

import numpy as np

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate import blink, closed_form
from ember_core.offstate.delivery import delivered_ratio
from ember_core.offstate.measure import Readings, Recording
from ember_core.offstate.meters import Of, Whole
from ember_core.offstate.network import Col, Floats, Network, build
from ember_core.offstate.results import LampResult, OffState
from ember_core.offstate.runner import settled_half_cycle
from ember_core.offstate.settle import (
    FIRST,
    NEAR,
    Settled,
    first_guess,
    hold,
    just_off,
    settle,
    settle_each,
    settle_from,
)
from ember_core.offstate.shooting import Search
from ember_core.offstate.solve import STEPS_PER_CYCLE as SOLUTION_STEPS
from ember_core.offstate.solve import of_blinking, record_finely, solve_at
from ember_core.offstate.states import (
    FED_FROM_RATIO,
    FULL_DELIVERY_RATIO,
    VISIBLE_STRING_CURRENT,
    LampState,
    StandbyState,
    over,
    visible_filament_w,
)
from ember_core.parts import CapacitiveFeed, PtcBypass, StandbyFeed, cold_filament_ohm

# Half of what a solution takes: voltages agree with it within 1 %, far inside any range, in half the time.
STEPS_PER_CYCLE = 200
STEPS_OF_A_GLANCE = 150
_PTC_ROUNDS = 3


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


def observe(loop: Loop, *, with_shown: bool = True, near: Floats | None = None, is_exact: bool = True) -> Sample:
    """States and figures of one loop.

    Parameters
    ----------
    with_shown : of a loop that blinks, also what instruments show; it takes several times as long.
    near : settled state of a loop with the same parts, fed, to begin from; it saves a third of the time.
    is_exact : near an edge the solution is asked; where an edge is looked for, that would be nearly always.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    errors = COARSE if is_exact else AS_IT_LOOKS
    if not _has_ptc(loop):
        return _once(loop, 0.0, with_shown, _begin(loop, build(loop), near), errors)[0]
    # The warm resistance hangs on the voltage, so a PTC always asks what is shown.
    ptc_v_rms = 0.0
    sample, near = _once(loop, ptc_v_rms, True, _begin(loop, build(loop, ptc_v_rms=ptc_v_rms), near), errors)
    for _ in range(_PTC_ROUNDS):
        ptc_v_rms += 0.7 * ((0.0 if sample.shown is None else sample.shown.lamp_v_rms) - ptc_v_rms)
        begun = _begin(loop, build(loop, ptc_v_rms=ptc_v_rms), near)
        sample, near = _once(loop, ptc_v_rms, True, begun, errors)
    return sample


def _has_ptc(loop: Loop) -> bool:
    return any(isinstance(part, PtcBypass) for part in loop.bypass)


def observe_each(
    loops: Sequence[Loop], *, with_shown: bool = True, near: Floats | None = None, is_exact: bool = True
) -> list[Sample | None]:
    """`observe` of loops with the same parts, None for one that does not settle; so that threads do not wait for the
    interpreter, most of it is done for all of them in one go."""
    errors = COARSE if is_exact else AS_IT_LOOKS

    def attempt(loop: Loop, begun: _Begun | None) -> Sample | None:
        try:
            if begun is None:
                return observe(loop, with_shown=with_shown, near=near, is_exact=is_exact)
            return _once(loop, 0.0, with_shown, begun, errors)[0]
        except SolverError:
            return None

    return [attempt(loop, begun) for loop, begun in zip(loops, _begin_each(loops, near, errors), strict=True)]


def shown_by(loop: Loop) -> Shown:
    """Only what instruments show; of a loop that does not blink a third of the work of `observe`.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    if _has_ptc(loop):
        found = observe(loop).shown
        assert found is not None  # noqa: S101  (asked for)
        return found
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    waiting = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    seen = _seen_blinking(network, waiting)
    return _shown(loop, waiting) if seen is None else _shown_blinking(loop, network, seen)


def rhythm_s(loop: Loop) -> float | None:
    """From flash to flash of a loop that blinks, to about an eighth, in a third of the time; None without [s].

    Raises
    ------
    SolverError : see `blink.observe`.
    """
    network = build(loop)
    seen = blink.observe(network, closed_form.evaluate(network), STEPS_OF_A_GLANCE, blink.GLANCE)
    return min((period for period in seen.period_s if period is not None), default=None)


def cycle_of(loop: Loop) -> tuple[Floats, Floats]:
    """One cycle from the rising zero of the supply: lamp voltage [V] and line current [A], of a loop that blinks half
    way between two flashes.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    waiting = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    seen = _seen_blinking(network, waiting)
    recording = waiting.cycle() if seen is None else seen.middle
    return recording.v.copy(), recording.i_line.copy()


def _seen_blinking(network: Network, waiting: Readings) -> blink.Blinking | None:
    """The march of a loop in which some lamp starts; None where none does, from the moment of switching off either."""
    closed = closed_form.evaluate(network)
    if not blink.would_start(network, waiting):
        begins = just_off(network, closed) if blink.may_go_on(network, waiting) else None
        if begins is None or not blink.goes_on(network, begins, STEPS_PER_CYCLE):
            return None
    seen = blink.observe(network, closed, STEPS_PER_CYCLE, blink.QUICK)
    return seen if any(seen.flashes) else None


def _shown(loop: Loop, reading: Readings) -> Shown:
    return Shown(
        lamp_v_rms=reading.whole(Whole.V_RMS),
        line_i_rms_a=reading.whole(Whole.LINE_RMS),
        lamp_i_rms_a=tuple(reading.lamp_i_rms_a(index) for index in range(len(loop.lamps))),
        period_s=None,
    )


def _shown_blinking(loop: Loop, network: Network, seen: blink.Blinking) -> Shown:
    periods = [period for row in network.lamp_row if row >= 0 and (period := seen.period_s[row]) is not None]
    shown = _shown(loop, seen.whole)
    return replace(shown, period_s=min(periods, default=None))


def fed_state(loop: Loop) -> Floats | None:
    """Settled state of a loop to begin others from; None where its control is not fed, or it does not settle."""
    try:
        network = build(loop)
        settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
        recording = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    except SolverError:
        return None
    return settled.state if _is_delivered(loop.control.standby, recording) else None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Begun:
    """A loop that has settled: its tables, its state, and what meters read over a half-cycle of it.

    Parameters
    ----------
    gets_more : whether the control would get `FED_FROM_RATIO` of its need and more, see `_more`; None: not looked at.
    """

    network: Network
    settled: Settled
    reading: Readings
    gets_more: bool | None = None


def _begin(loop: Loop, network: Network, near: Floats | None) -> _Begun:
    """Settle; from a state nearby if that leads to one that lasts and feeds the control. Raises `SolverError`."""
    if near is not None and not network.has_gate:
        try:
            found = settle_from(network, near, STEPS_PER_CYCLE)
            recording = settled_half_cycle(network, found.state, STEPS_PER_CYCLE)
            if found.lasts and _is_delivered(loop.control.standby, recording):
                return _Begun(network=network, settled=found, reading=recording)
        except SolverError:
            pass
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    recording = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    return _Begun(network=network, settled=settled, reading=recording)


def _begin_each(loops: Sequence[Loop], near: Floats | None, errors: Errors) -> list[_Begun | None]:
    """Settle loops with the same parts in one go, each as `_begin` does; None for one to be looked at alone."""
    found: list[_Begun | None] = [None] * len(loops)
    if not loops or any(map(_has_ptc, loops)):
        return found
    networks = [build(loop) for loop in loops]
    if networks[0].has_gate:
        return found

    def settle_those(which: list[int], begin: list[Floats], search: Search, is_near: bool) -> None:
        told = settle_each([networks[k] for k in which], begin, STEPS_PER_CYCLE, search)
        for k, one in zip(which, told, strict=True):
            if one is not None and one[0].lasts and (not is_near or _is_delivered(loops[k].control.standby, one[1])):
                found[k] = _Begun(network=networks[k], settled=one[0], reading=one[1])

    if near is not None:
        settle_those([*range(len(loops))], [near] * len(loops), NEAR, True)
    rest = [k for k, one in enumerate(found) if one is None]
    settle_those(rest, [first_guess(networks[k], closed_form.evaluate(networks[k])) for k in rest], FIRST, False)
    begun = {
        k: one
        for k, one in enumerate(found)
        if one is not None and one.network.has_feed and _is_delivered(loops[k].control.standby, one.reading)
    }
    times = _more(errors)
    loaded = [_loaded(one.network, times) for one in begun.values()]
    told = settle_each(loaded, [one.settled.state for one in begun.values()], STEPS_PER_CYCLE, NEAR)
    for (k, one), more in zip(begun.items(), told, strict=True):
        if more is not None:
            found[k] = replace(one, gets_more=_is_delivered(loops[k].control.standby, more[1], times))
    return found


def _is_delivered(feed: StandbyFeed | None, reading: Readings, times: float = 1.0) -> bool:
    """Whether so many times its need reaches the control's load; of a switch that needs nothing always."""
    return delivered_ratio(feed, reading, times) >= FULL_DELIVERY_RATIO.value


def _more(errors: Errors) -> float:
    """So many times its need a control gets that is fed, for sure [1]."""
    return FED_FROM_RATIO.value * (1.0 + errors.need)


class _AtEdgeError(Exception):
    """The look is too near an edge to tell."""


def _once(loop: Loop, ptc_v_rms: float, with_shown: bool, begun: _Begun, errors: Errors) -> tuple[Sample, Floats]:
    """The sample of a loop that has settled, and its state. Raises `SolverError`."""
    network, state = begun.network, begun.settled.state
    try:
        return _look(loop, begun, with_shown, errors), state
    except _AtEdgeError:
        pass
    try:
        # With the steps of a solution what waits is told as the solution tells it.
        finely = settle_from(network, state, SOLUTION_STEPS)
        recording = record_finely(network, finely, SOLUTION_STEPS)
        return _look(loop, _Begun(network=network, settled=finely, reading=recording), with_shown, FINE), state
    except (_AtEdgeError, SolverError):
        return _by_solution(solve_at(loop, ptc_v_rms)), state


def _look(loop: Loop, begun: _Begun, with_shown: bool, errors: Errors) -> Sample:
    """The sample by its settled state; raises `_AtEdgeError` where that cannot tell."""
    network, reading = begun.network, begun.reading
    starts = blink.would_start(network, reading)
    if not starts and blink.may_go_on(network, reading):
        raise _AtEdgeError
    # A lamp beside one that blinks does not see what it would see beside one that waits, nor does a regulated feed.
    if starts and (len(loop.lamps) > 1 or isinstance(loop.control.standby, CapacitiveFeed)):
        return _by_march(loop, begun, errors)
    seen = [_lamp(loop, begun, index, errors) for index in range(len(loop.lamps))]
    lamps = tuple(state for state, _ in seen)
    control, delivered = _control(loop, begun, lamps, errors)
    shown: Shown | None = None
    if not starts:
        shown = _shown(loop, reading)
    elif with_shown:
        marched = _seen_blinking(network, reading)
        if marched is None:
            raise _AtEdgeError
        shown = _shown_blinking(loop, network, marched)
    return Sample(
        lamps=lamps,
        margins=tuple(margin for _, margin in seen),
        control=control,
        delivered_ratio=delivered,
        shown=shown,
    )


def _by_march(loop: Loop, begun: _Begun, errors: Errors) -> Sample:
    """The sample of a loop in which a lamp starts, by fewer flashes than a solution takes; else as `_look`."""
    network = begun.network
    marched = _seen_blinking(network, begun.reading)
    if marched is None:
        raise _AtEdgeError
    sample = _by_solution(of_blinking(loop, marched, begun.settled, 0.0))
    for margin, row in zip(sample.margins, network.lamp_row, strict=True):
        if row < 0 or network.branches[row, Col.V_START] <= 0.0:
            _sure(margin, errors.string)
    _sure(sample.delivered_ratio / FULL_DELIVERY_RATIO.value, errors.delivery)
    return sample


def _by_solution(off: OffState) -> Sample:
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
    """The ratio itself where the look can tell on which side of 1 it is; raises `_AtEdgeError` where it cannot."""
    if abs(ratio - 1.0) < error_ratio:
        raise _AtEdgeError
    return ratio


def _lamp(loop: Loop, begun: _Begun, index: int, errors: Errors) -> tuple[LampState, float]:
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
    loop: Loop, begun: _Begun, lamps: tuple[LampState, ...], errors: Errors
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
            raise _AtEdgeError
        return StandbyState.STARVED, delivered
    if blinks or (is_fed(_more(errors)) if begun.gets_more is None else begun.gets_more):
        return StandbyState.FED, delivered
    if need and (is_fed(FED_FROM_RATIO.value * (1.0 - need)) or not is_fed(1.0 + need)):
        raise _AtEdgeError
    return StandbyState.MARGINAL, delivered


def _is_fed(feed: StandbyFeed, network: Network, settled: Settled, times: float) -> bool:
    """Whether the control would get so many times its need."""
    loaded = _loaded(network, times)
    try:
        found = settle_from(loaded, settled.state, STEPS_PER_CYCLE)
    except SolverError:
        found = settle(loaded, closed_form.evaluate(loaded), STEPS_PER_CYCLE)
    again = settled_half_cycle(loaded, found.state, STEPS_PER_CYCLE)
    return _is_delivered(feed, again, times)


def _loaded(network: Network, times: float) -> Network:
    """The loop with a control that needs so many times as much."""
    more = network.branches.copy()
    more[0, Col.P_LOAD] *= times
    more[0, Col.I_LOAD] *= times
    return network.with_branches(more)


def _delivered_while_blinking(loop: Loop, network: Network, settled: Settled, lamps: tuple[LampState, ...]) -> float:
    """Delivered share with the reservoir of the first lamp that blinks held between its thresholds."""
    row = next(network.lamp_row[k] for k, state in enumerate(lamps) if state is LampState.BLINK)
    columns = network.branches[row]
    try:
        recording = _held(network, settled, {row: 0.5 * float(columns[Col.V_START] + columns[Col.V_STOP])})
    except SolverError:
        return 0.0
    return delivered_ratio(loop.control.standby, recording)
