"""Blinking: march a loop whose lamps start and stop until the rhythm is known."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ember_core.offstate.closed_form import ClosedForm
from ember_core.offstate.measure import Readings, Recording
from ember_core.offstate.meters import Of
from ember_core.offstate.network import Col, Floats, Network
from ember_core.offstate.results import BlinkStrip
from ember_core.offstate.runner import Runner
from ember_core.offstate.settle import just_off, with_reservoirs

IntArray = NDArray[np.int64]
# A true-rms meter shows the mean over about this long; what blinks is told over whole flashes, and at least this.
GATE_S = 1.0
# Flashes alternate between half-cycles, so the mean is taken over a few of them at least.
FEWEST_FLASHES = 3
# Charging time goes with the reservoirs' size, so small ones show a slow rhythm in a fraction of the time. They are
# taken only for rhythms so slow that many cycles still lie between two flashes: within 8 % of the true ones in tests.
RESERVOIR_RATIOS = (1.0, 1.0 / 3.0, 1.0 / 9.0, 1.0 / 27.0)
# A lamp that started and has not stopped for this long is lit for good.
LIT_AFTER_S = 3.0
CHUNK_CYCLES = 25
STRIP_PERIODS = 3.2
LONGEST_RECORD_S = 12.0
STRIP_POINTS = 900


@dataclass(frozen=True, slots=True, kw_only=True)
class Effort:
    """How long to look.

    Parameters
    ----------
    longest_s : marched at each size of the reservoirs before smaller ones are taken [s].
    left_out : first flashes that come from the charge left over, not from the rhythm. wanted : flashes after them.
    """

    longest_s: float
    left_out: int
    wanted: int


# So near to its start a lamp may still go on flashing where it would also rest, or be brought to by one flash.
NEAR_START_RATIO = 1.1
# Flashes that show that it goes on, and how long they are waited for at most [s].
GOES_ON_FLASHES = 5
LONGEST_WATCH_S = 12.0
# Nothing moves any more where a chunk of the march changes the state by less than this share of the peak.
STILL_RATIO = 2e-5
FULL = Effort(longest_s=40.0, left_out=3, wanted=10)
# For one of many drawn loops.
QUICK = Effort(longest_s=12.0, left_out=1, wanted=3)
# Where only the rhythm is asked for, to about an eighth; one in ten is two fifths off.
GLANCE = Effort(longest_s=4.0, left_out=1, wanted=3)


@dataclass(frozen=True, slots=True, kw_only=True)
class Blinking:
    """What a march with starting lamps showed.

    Parameters
    ----------
    period_s : for each branch row, time from flash to flash [s]; None where it does not repeat.
    lit : for each branch row, True where it runs on without stopping.
    flashes : for each branch row, how many starts were seen.
    recording : the last stretch, for drawing. whole : the part of it over whole flashes, for figures, see `GATE_S`.
    middle : one cycle half way between two flashes.
    reservoir_ratio : size of the reservoirs marched over their true size [1]; times in `recording` are
        shorter by it.
    state : where the march ended.
    half_cycles : how many were marched.
    """

    period_s: tuple[float | None, ...]
    lit: tuple[bool, ...]
    flashes: tuple[int, ...]
    recording: Recording
    whole: Recording
    middle: Recording
    reservoir_ratio: float
    state: Floats
    half_cycles: int


def observe(network: Network, closed: ClosedForm, steps_per_cycle: int, effort: Effort = FULL) -> Blinking:
    """March from the moment after switching off until every lamp that starts has shown its rhythm.

    Raises
    ------
    SolverError : `step_not_met`.
    """
    for ratio in RESERVOIR_RATIOS[:-1]:
        seen = _march(network, closed, steps_per_cycle, ratio, effort)
        if seen is not None:
            return seen
    seen = _march(network, closed, steps_per_cycle, RESERVOIR_RATIOS[-1], effort, give_up=False)
    assert seen is not None  # noqa: S101  (give_up=False always returns)
    return seen


def goes_on(network: Network, state: Floats, steps_per_cycle: int, *, kicked: bool = False) -> bool:
    """Whether lamps go on flashing from a state.

    Parameters
    ----------
    kicked : begin with every lamp just started, as after a flash that something else brought about.

    Raises
    ------
    SolverError : `step_not_met`.
    """
    runner = Runner(network, state, steps_per_cycle)
    if kicked:
        base = 1 + network.bypass.shape[0]
        for row in network.startable():
            runner.state[base + 2 * row + 1] = network.branches[row, Col.V_START]
            runner.running[row] = 1.0
    starts = np.zeros((network.branches.shape[0], GOES_ON_FLASHES + 1))
    while runner.step * runner.dt_s < LONGEST_WATCH_S:
        before = runner.state.copy()
        runner.go(CHUNK_CYCLES * steps_per_cycle, may_start=True, starts=starts)
        if starts[:, 0].max() >= GOES_ON_FLASHES:
            return True
        is_still = float(np.max(np.abs(runner.state - before))) < STILL_RATIO * network.v_peak
        if is_still and not runner.running.any():
            return False
    return False


def may_go_on(network: Network, waiting: Readings) -> bool:
    """Whether a loop that waits is so near to a start that its start state has to be looked at.

    Only a regulated feed or a bleeder with a cut-off takes up what a flash leaves in another way than it gave it; among
    hundreds of drawn loops with a converter none went on flashing that would also rest.
    """
    if not network.has_gate and not (network.has_feed and network.branches[0, Col.C_SERIES] > 0.0):
        return False
    return any(
        waiting.of(row, Of.HELD_MOST) * NEAR_START_RATIO >= float(network.branches[row, Col.V_START])
        for row in network.startable()
    )


def would_start(network: Network, waiting: Readings) -> bool:
    """Whether some lamp of a loop that waits reaches its start threshold."""
    return any(
        waiting.of(row, Of.HELD_MOST) >= float(network.branches[row, Col.V_START]) for row in network.startable()
    )


def _march(
    network: Network,
    closed: ClosedForm,
    steps_per_cycle: int,
    ratio: float,
    effort: Effort,
    *,
    give_up: bool = True,
) -> Blinking | None:
    """March until the rhythm is known; None when it is not known in time and giving up is allowed."""
    if ratio != 1.0:
        network = with_reservoirs(network, ratio)
    runner = Runner(network, just_off(network, closed), steps_per_cycle)
    rows = network.branches.shape[0]
    starts = np.zeros((rows, effort.wanted + effort.left_out + 2))
    waiting = network.startable()
    known = False
    while not known and runner.step * runner.dt_s < effort.longest_s:
        runner.go(CHUNK_CYCLES * steps_per_cycle, may_start=True, starts=starts)
        known = _known(waiting, starts, runner, effort)
    if not known and give_up:
        return None
    lit = tuple(_is_lit(row, starts, runner) for row in range(rows))
    period = tuple(None if lit[row] else _period_s(starts[row], runner.dt_s, effort) for row in range(rows))
    half_cycles = 2 * runner.step // steps_per_cycle
    cycles = _cycles_to_record(network, [p for p in period if p is not None])
    first = runner.step + steps_per_cycle // 2
    seen = np.zeros((rows, 2 + int(cycles)))
    recording = runner.record(cycles * steps_per_cycle, may_start=True, starts=seen)
    flashes = [np.maximum(seen[row, 1 : 1 + int(seen[row, 0])] - first, 0.0) for row in range(rows) if not lit[row]]
    fastest = max(flashes, key=len, default=np.zeros(0)).astype(int)
    return Blinking(
        period_s=tuple(None if p is None else p / ratio for p in period),
        lit=lit,
        flashes=tuple(int(starts[row, 0]) for row in range(rows)),
        recording=recording,
        whole=recording if fastest.size < 2 else recording.part(int(fastest[0]), int(fastest[-1])),
        middle=_middle(recording, fastest, steps_per_cycle),
        reservoir_ratio=ratio,
        state=runner.state,
        half_cycles=half_cycles + 2 * cycles,
    )


def _cycles_to_record(network: Network, periods: list[float]) -> int:
    """Enough for the strip, and for the figures over whole flashes."""
    if not periods:
        return max(1, round(GATE_S * network.f_hz))
    fastest = min(periods)
    for_figures = (max(FEWEST_FLASHES, GATE_S / fastest) + 1.5) * fastest
    span_s = max(for_figures, min(STRIP_PERIODS * max(periods), LONGEST_RECORD_S))
    return max(1, round(span_s * network.f_hz))


def _middle(recording: Recording, flashes: IntArray, steps_per_cycle: int) -> Recording:
    """One cycle half way between the last two flashes, or the last cycle where there are none."""
    last = recording.v.size // steps_per_cycle - 1
    if flashes.size >= 2:
        last = min(last, int(flashes[-2] + flashes[-1]) // 2 // steps_per_cycle)
    return recording.part(last * steps_per_cycle, (last + 1) * steps_per_cycle)


def _known(rows: Sequence[int], starts: Floats, runner: Runner, effort: Effort) -> bool:
    """True when each lamp that started has flashed often enough or is lit for good, and at least one started."""
    counts = [int(starts[row, 0]) for row in rows]
    for row, count in zip(rows, counts, strict=True):
        if 0 < count < effort.wanted + effort.left_out and not _is_lit(row, starts, runner):
            return False
    return any(counts)


def _is_lit(row: int, starts: Floats, runner: Runner) -> bool:
    """True when a lamp runs and has done so for long: it is lit for good."""
    count = int(starts[row, 0])
    if count == 0 or runner.running[row] == 0.0:
        return False
    return (runner.step - float(starts[row, count])) * runner.dt_s > LIT_AFTER_S


def _period_s(starts: Floats, dt_s: float, effort: Effort) -> float | None:
    count = int(starts[0])
    if count < 2:
        return None
    first = min(1 + effort.left_out, count - 1)
    return float((starts[count] - starts[first]) / (count - first)) * dt_s


def _last_periods(blinking: Blinking) -> Recording:
    """The end of the recording, as long as the slowest rhythm wants."""
    recording = blinking.recording
    periods = [period for period in blinking.period_s if period is not None]
    if not periods:
        return recording
    steps = round(STRIP_PERIODS * max(periods) * blinking.reservoir_ratio / recording.dt_s)
    return recording.part(max(0, recording.v.size - steps), recording.v.size)


def strip(blinking: Blinking, network: Network) -> BlinkStrip:
    """The recorded stretch thinned out for drawing."""
    recording = _last_periods(blinking)
    total = recording.v.size
    stride = max(1, total // STRIP_POINTS)
    groups = tuple(k for k, row in enumerate(network.lamp_row) if row >= 0 and network.branches[row, Col.C_RES] > 0.0)
    rows = [network.lamp_row[k] for k in groups]
    edges = np.arange(0, total - stride + 1, stride)
    return BlinkStrip(
        t_s=(edges + stride) * recording.dt_s / blinking.reservoir_ratio,
        v_reservoir_v=tuple(np.maximum.reduceat(recording.reservoir(row), edges) for row in rows),
        # A flash is shorter than a point of the strip: a point is lit when any moment in it is.
        lit=tuple((np.maximum.reduceat(recording.drawn(row), edges) > 0.0).astype(np.float64) for row in rows),
        standby_v=recording.reservoir(0)[edges].copy() if network.has_feed else np.zeros(0),
        groups=groups,
    )


def mean_light_w(recording: Readings, row: int) -> float:
    """Average power that a running driver takes from its reservoir, of one lamp [W]."""
    return recording.of(row, Of.DRAWN_W)
