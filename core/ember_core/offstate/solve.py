"""The off state of one gang: the entry point of this package."""

from __future__ import annotations

from ember_core.errors import InputError, SolverError
from ember_core.loop import Loop
from ember_core.offstate import blink, closed_form, measure, power
from ember_core.offstate.delivery import delivered_ratio
from ember_core.offstate.measure import Recording
from ember_core.offstate.meters import Of, Whole
from ember_core.offstate.network import Col, Network, build
from ember_core.offstate.results import ControlResult, LampResult, Numerics, OffState, Second
from ember_core.offstate.runner import settled_half_cycle
from ember_core.offstate.settle import Settled, just_off, other_level, settle, settle_from
from ember_core.offstate.states import (
    VISIBLE_STRING_CURRENT,
    LampState,
    over,
    standby_state,
    visible_filament_w,
)
from ember_core.parts import PtcBypass, SwitchingFeed, cold_filament_ohm

# Enough to settle on: over the ranges of the trade voltages agree with half the step within 0.2 %.
STEPS_PER_CYCLE = 400
# Short charging pulses want finer steps for their rms value; only the recorded cycle is marched with them.
FINE_RATIO = 3
FLASH_COUNT_WINDOW_S = 8.0
# Rounds to let a PTC bleeder's temperature and the loop's voltage agree.
MOST_PTC_ROUNDS = 12
PTC_AGREES_RATIO = 0.005


def solve(loop: Loop, *, steps_per_cycle: int = STEPS_PER_CYCLE, with_power: bool = True) -> OffState:
    """Off state of one gang.

    Parameters
    ----------
    loop : what is connected, nominal figures.
    steps_per_cycle : steps to settle with, even, 100 to 5000; the recorded cycle has `FINE_RATIO` times as many.
    with_power : also determine the power available to the control (several times the work).

    Raises
    ------
    InputError : bad `steps_per_cycle`, or a feed whose least voltage the supply cannot reach.
    SolverError : the loop neither settles nor blinks; `residual_v` says how far off it was.
    """
    if steps_per_cycle % 2 or not 100 <= steps_per_cycle <= 5000:
        raise InputError("bad_step_count", path="steps_per_cycle", value=steps_per_cycle)
    feed = loop.control.standby
    if isinstance(feed, SwitchingFeed) and feed.v_min_v >= loop.supply.v_peak:
        raise InputError(
            "feed_above_supply", path="control.standby.v_min_v", v_min_v=feed.v_min_v, v_peak_v=loop.supply.v_peak
        )
    ptc_v_rms = 0.0
    result = solve_at(loop, ptc_v_rms, steps_per_cycle, with_power)
    if not any(isinstance(part, PtcBypass) for part in loop.bypass):
        return result
    for _ in range(MOST_PTC_ROUNDS):
        moved = result.lamp_v_rms - ptc_v_rms
        if abs(moved) <= PTC_AGREES_RATIO * max(1.0, result.lamp_v_rms):
            return result
        ptc_v_rms += 0.6 * moved if ptc_v_rms else moved
        result = solve_at(loop, ptc_v_rms, steps_per_cycle, with_power)
    raise SolverError("ptc_not_settled", residual_v=abs(result.lamp_v_rms - ptc_v_rms))


def settled_state(loop: Loop, *, steps_per_cycle: int = STEPS_PER_CYCLE) -> Settled:
    """Only the settled state with waiting lamps, as fast as it goes; for sweeps and benchmarks."""
    network = build(loop)
    return settle(network, closed_form.evaluate(network), steps_per_cycle)


def solve_at(loop: Loop, ptc_v_rms: float, steps_per_cycle: int = STEPS_PER_CYCLE, with_power: bool = True) -> OffState:
    """`solve` with a PTC bleeder as warm as a voltage [V] makes it, which need not be the one that is found."""
    network = build(loop, ptc_v_rms=ptc_v_rms)
    closed = closed_form.evaluate(network)
    settled = settle(network, closed, steps_per_cycle)
    recording = record_finely(network, settled, steps_per_cycle)
    second: Second | None = None
    if blink.would_start(network, recording):
        seen = blink.observe(network, closed, steps_per_cycle)
        if any(seen.flashes):
            return of_blinking(loop, seen, settled, ptc_v_rms)
        # Reached from the moment of switching off the loop stays dark; that state is the answer.
        settled, second = settle_from(network, seen.state, steps_per_cycle), Second.FLASHES
        recording = record_finely(network, settled, steps_per_cycle)
        if blink.would_start(network, recording):
            raise SolverError("no_start_seen", longest_s=blink.FULL.longest_s / blink.RESERVOIR_RATIOS[-1])
    elif blink.may_go_on(network, recording):
        if blink.goes_on(network, just_off(network, closed), steps_per_cycle):
            seen = blink.observe(network, closed, steps_per_cycle)
            return of_blinking(loop, seen, settled, ptc_v_rms)
        if blink.goes_on(network, settled.state, steps_per_cycle, kicked=True):
            second = Second.FLASHES
    other = None if second else other_level(network, closed, settled, steps_per_cycle)
    there = None if other is None else record_finely(network, other, steps_per_cycle)
    if there is not None:
        second = Second.FLASHES if blink.would_start(network, there) else Second.LEVEL
    found = _power(network, settled, steps_per_cycle) if with_power and network.has_feed else None
    return OffState(
        lamp_v_rms=recording.whole(Whole.V_RMS),
        lamp_v_peak=recording.whole(Whole.V_PEAK),
        line_i_rms_a=recording.whole(Whole.LINE_RMS),
        lamps=tuple(_lamp(loop, recording, k, None) for k in range(len(loop.lamps))),
        control=_control(loop, recording, found),
        shares=measure.shares(loop, recording, ptc_v_rms),
        closed_form=closed,
        waveforms=measure.waveforms(recording, is_half=True),
        blink=None,
        power_curve=found.curve if found else None,
        numerics=Numerics(
            method="newton",
            steps_per_cycle=steps_per_cycle,
            half_cycles=settled.half_cycles,
            residual_v=settled.residual_v,
            energy_balance_ratio=recording.energy_balance_ratio,
        ),
        second=second,
        second_lamp_v_rms=there.whole(Whole.V_RMS) if there is not None and second is Second.LEVEL else None,
    )


def record_finely(network: Network, settled: Settled, steps_per_cycle: int) -> Recording:
    """A settled half-cycle in the fine steps of a solution."""
    return settled_half_cycle(network, settled.state, FINE_RATIO * steps_per_cycle)


def _power(network: Network, settled: Settled, steps_per_cycle: int) -> power.Power | None:
    """Power available, or None (unknown) where the loop does not settle with the feed's reservoir held."""
    try:
        return power.available(network, settled, steps_per_cycle)
    except SolverError:
        return None


def of_blinking(loop: Loop, seen: blink.Blinking, settled: Settled, ptc_v_rms: float) -> OffState:
    """The off state of a loop that was watched blinking."""
    recording = seen.whole
    network = recording.network
    steps_per_cycle = round(1.0 / (network.f_hz * recording.dt_s))
    return OffState(
        lamp_v_rms=recording.whole(Whole.V_RMS),
        lamp_v_peak=recording.whole(Whole.V_PEAK),
        line_i_rms_a=recording.whole(Whole.LINE_RMS),
        lamps=tuple(_lamp(loop, recording, k, seen) for k in range(len(loop.lamps))),
        control=_control(loop, recording, None),
        shares=measure.shares(loop, recording, ptc_v_rms),
        closed_form=closed_form.evaluate(network),
        waveforms=measure.waveforms(seen.middle, is_half=False),
        blink=blink.strip(seen, network),
        power_curve=None,
        numerics=Numerics(
            method="march",
            steps_per_cycle=steps_per_cycle,
            half_cycles=settled.half_cycles + seen.half_cycles,
            residual_v=settled.residual_v,
            energy_balance_ratio=None,
        ),
    )


def _lamp(loop: Loop, recording: Recording, index: int, seen: blink.Blinking | None) -> LampResult:
    lamp = loop.lamps[index]
    network = recording.network
    row = network.lamp_row[index]
    state = LampState.DARK
    v_dc = v_dc_max = string_i = v_start = margin = glow_margin = period = energy = None
    light_w = 0.0
    flashes = 0
    if row < 0:
        cold = cold_filament_ohm(lamp)
        if cold is not None:
            light_w = recording.whole(Whole.V_RMS) ** 2 / cold
            glow_margin = over(visible_filament_w(loop.supply.v_rms, cold), light_w)
            state = LampState.GLOW if glow_margin < 1.0 else LampState.DARK
    else:
        columns = network.branches[row]
        if columns[Col.C_RES] > 0.0:
            v_dc, v_dc_max = recording.of(row, Of.HELD_MEAN), recording.of(row, Of.HELD_MOST)
        if columns[Col.V_START] > 0.0:
            v_start = float(columns[Col.V_START])
            margin = over(v_start, v_dc_max or 0.0)
            if seen is not None:
                state, period, light_w = _flashing(seen, recording, row)
                margin = min(margin, 1.0) if state is not LampState.DARK else margin
            if state is LampState.BLINK:
                # Of the reservoir as it is, not of the small one that may have been marched with.
                c_res = float(columns[Col.C_RES]) / (1.0 if seen is None else seen.reservoir_ratio)
                energy = 0.5 * c_res * (v_start**2 - float(columns[Col.V_STOP]) ** 2)
                flashes = int(FLASH_COUNT_WINDOW_S / period) if period else 0
        else:
            string_i, light_w = recording.of(row, Of.STRING_MEAN), recording.of(row, Of.LIGHT_W)
            glow_margin = over(VISIBLE_STRING_CURRENT.value, string_i)
            state = LampState.GLOW if glow_margin < 1.0 else LampState.DARK
    return LampResult(
        kind=lamp.kind,
        count=lamp.count,
        state=state,
        i_rms_a=recording.lamp_i_rms_a(index),
        v_dc=v_dc,
        v_dc_max=v_dc_max,
        string_i_avg_a=string_i,
        light_p_w=light_w,
        v_start_v=v_start,
        start_margin_ratio=margin,
        glow_margin_ratio=glow_margin,
        flash_period_s=period,
        flash_energy_j=energy,
        flashes=flashes,
    )


def _flashing(seen: blink.Blinking, recording: Recording, row: int) -> tuple[LampState, float | None, float]:
    """State, period and average power of a start-stop stage in a loop that was watched."""
    if seen.lit[row]:
        return LampState.GLOW, None, blink.mean_light_w(recording, row)
    if seen.flashes[row] >= 1:
        return LampState.BLINK, seen.period_s[row], blink.mean_light_w(recording, row)
    return LampState.DARK, None, 0.0


def _control(loop: Loop, recording: Recording, found: power.Power | None) -> ControlResult:
    feed = loop.control.standby
    if feed is None:
        return ControlResult(
            state=None,
            standby_v_dc=None,
            standby_v_min=None,
            p_needed_w=None,
            p_available_w=None,
            power_ratio=None,
            delivered_ratio=None,
            i_rms_a=0.0,
        )
    needed = feed.p_w if isinstance(feed, SwitchingFeed) else feed.i_a * feed.v_shunt_v
    delivered = delivered_ratio(feed, recording)
    ratio = None if found is None else found.available_w / found.needed_w
    return ControlResult(
        state=standby_state(ratio, delivered),
        standby_v_dc=recording.of(0, Of.HELD_MEAN),
        standby_v_min=recording.of(0, Of.HELD_LEAST),
        p_needed_w=needed,
        p_available_w=None if found is None else found.available_w,
        power_ratio=ratio,
        delivered_ratio=min(1.0, delivered),
        i_rms_a=recording.of(0, Of.I_RMS),
    )
