"""Blinking: march a loop whose lamps start and stop until the rhythm is known."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ember_core.offstate.closed_form import ClosedForm
from ember_core.offstate.measure import Recording
from ember_core.offstate.network import Col, Floats, Network
from ember_core.offstate.results import BlinkStrip
from ember_core.offstate.runner import Runner
from ember_core.offstate.settle import first_guess

# The first flashes after switching off come from the charge left over, not from the rhythm.
FLASHES_LEFT_OUT = 3
FLASHES_WANTED = 10
# Marched with the true reservoirs for this long; slower rhythms are marched with small ones.
TRUE_MARCH_S = 10.0
# Charging time goes with the reservoirs' size, so small ones show a slow rhythm in a fraction of the time.
SMALL_RESERVOIR_RATIO = 1.0 / 20.0
LONGEST_S = 300.0
# A lamp that started and has not stopped for this long is lit for good.
LIT_AFTER_S = 3.0
CHUNK_CYCLES = 25
STRIP_PERIODS = 3.2
LONGEST_STRIP_S = 12.0
STRIP_POINTS = 900
# A control that has just switched off has its reservoir near this share of the supply's peak.
JUST_OFF_RATIO = 0.77


@dataclass(frozen=True, slots=True, kw_only=True)
class Blinking:
    """What a march with starting lamps showed.

    Parameters
    ----------
    period_s : for each branch row, time from flash to flash [s]; None where it does not repeat.
    lit : for each branch row, True where it runs on without stopping.
    flashes : for each branch row, how many starts were seen.
    recording : the last stretch, over whole flashes where they repeat.
    reservoir_ratio : size of the reservoirs marched over their true size [1]; times in `recording` are
        shorter by it.
    state : where the march ended.
    half_cycles : how many were marched.
    """

    period_s: tuple[float | None, ...]
    lit: tuple[bool, ...]
    flashes: tuple[int, ...]
    recording: Recording
    reservoir_ratio: float
    state: Floats
    half_cycles: int


def observe(network: Network, closed: ClosedForm, steps_per_cycle: int) -> Blinking:
    """March from the moment after switching off until every lamp that starts has shown its rhythm.

    Raises
    ------
    SolverError : `step_not_met`.
    """
    seen = _march(network, closed, steps_per_cycle, 1.0, TRUE_MARCH_S)
    if seen is not None:
        return seen
    small = with_reservoirs(network, SMALL_RESERVOIR_RATIO)
    longest_s = LONGEST_S * SMALL_RESERVOIR_RATIO
    seen = _march(small, closed, steps_per_cycle, SMALL_RESERVOIR_RATIO, longest_s, give_up=False)
    assert seen is not None  # noqa: S101  (give_up=False always returns)
    return seen


def with_reservoirs(network: Network, ratio: float) -> Network:
    """The same loop with every reservoir made smaller or larger by a ratio [1]."""
    branches = network.branches.copy()
    branches[:, Col.C_RES] *= ratio
    return replace(network, branches=branches)


def _march(
    network: Network,
    closed: ClosedForm,
    steps_per_cycle: int,
    ratio: float,
    longest_s: float,
    *,
    give_up: bool = True,
) -> Blinking | None:
    """March until the rhythm is known; None when it is not known in time and giving up is allowed."""
    runner = Runner(network, _just_off(network, closed), steps_per_cycle)
    rows = network.branches.shape[0]
    starts = np.zeros((rows, FLASHES_WANTED + FLASHES_LEFT_OUT + 2))
    waiting = [row for row in network.lamp_row if row >= 0 and network.branches[row, Col.V_START] > 0.0]
    known = False
    while not known and runner.step * runner.dt_s < longest_s:
        runner.go(CHUNK_CYCLES * steps_per_cycle, may_start=True, starts=starts)
        known = _known(waiting, starts, runner)
    if not known and give_up:
        return None
    lit = tuple(_is_lit(row, starts, runner) for row in range(rows))
    period = tuple(None if lit[row] else _period_s(starts[row], runner.dt_s) for row in range(rows))
    repeating = [p for p in period if p is not None]
    span_s = min(LONGEST_STRIP_S, STRIP_PERIODS * max(repeating)) if repeating else 1.0 / network.f_hz
    half_cycles = 2 * runner.step // steps_per_cycle
    cycles = max(1, round(span_s * network.f_hz))
    recording = runner.record(cycles * steps_per_cycle, may_start=True)
    return Blinking(
        period_s=tuple(None if p is None else p / ratio for p in period),
        lit=lit,
        flashes=tuple(int(starts[row, 0]) for row in range(rows)),
        recording=recording,
        reservoir_ratio=ratio,
        state=runner.state,
        half_cycles=half_cycles + 2 * cycles,
    )


def _just_off(network: Network, closed: ClosedForm) -> Floats:
    """The state right after switching off: control charged, lamps just stopped."""
    feed_v = None
    if network.has_feed and network.branches[0, Col.C_SERIES] == 0.0:
        feed_v = max(JUST_OFF_RATIO * network.v_peak, closed.standby_v_dc or 0.0)
    state = first_guess(network, closed, feed_v)
    base = 1 + network.bypass.shape[0]
    for row in network.lamp_row:
        if row >= 0 and network.branches[row, Col.V_START] > 0.0:
            state[base + 2 * row + 1] = 0.9 * network.branches[row, Col.V_STOP]
    return state


def _known(rows: list[int], starts: Floats, runner: Runner) -> bool:
    """True when each lamp that started has flashed often enough or is lit for good, and at least one started."""
    counts = [int(starts[row, 0]) for row in rows]
    for row, count in zip(rows, counts, strict=True):
        if 0 < count < FLASHES_WANTED + FLASHES_LEFT_OUT and not _is_lit(row, starts, runner):
            return False
    return any(counts)


def _is_lit(row: int, starts: Floats, runner: Runner) -> bool:
    """True when a lamp runs and has done so for long: it is lit for good."""
    count = int(starts[row, 0])
    if count == 0 or runner.running[row] == 0.0:
        return False
    return (runner.step - float(starts[row, count])) * runner.dt_s > LIT_AFTER_S


def _period_s(starts: Floats, dt_s: float) -> float | None:
    count = int(starts[0])
    if count < 2:
        return None
    first = min(1 + FLASHES_LEFT_OUT, count - 1)
    return float((starts[count] - starts[first]) / (count - first)) * dt_s


def strip(blinking: Blinking, network: Network) -> BlinkStrip:
    """The recorded stretch thinned out for drawing."""
    recording = blinking.recording
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


def mean_light_w(recording: Recording, row: int) -> float:
    """Average power that a running driver takes from its reservoir, of one lamp [W]."""
    return float(np.mean(recording.drawn(row) * recording.reservoir(row)))
