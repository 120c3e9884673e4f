"""Another load switches: the largest step of the mains that lights no lamp, and what a lost half-cycle does.

The control's reservoir holds its voltage, so a rise of the mains is shared between it and the lamps' reservoirs:
about ΔV · C_res / (C_res + n · C_bulk) lands on the lamps within one or two half-cycles, and fades over seconds.
"""

from __future__ import annotations

from dataclasses import dataclass

from ember_core.loop import Loop
from ember_core.offstate import closed_form
from ember_core.offstate.network import Col, Network, build
from ember_core.offstate.runner import Runner
from ember_core.offstate.settle import Settled, settle
from ember_core.offstate.solve import STEPS_PER_CYCLE

# Steps of 5 to 15 % within a millisecond are what other loads make; looked for up to twice that.
LARGEST_STEP_RATIO = 0.30
STEP_RESOLUTION_RATIO = 0.0025
# What lands on a lamp lands within a few half-cycles.
CYCLES_AFTER = 12
# What is left of a lost half-cycle; the march measures its tolerance by the peak, which must not be zero.
_LOST_RATIO = 0.01


@dataclass(frozen=True, slots=True, kw_only=True)
class Disturbance:
    """What the settled loop bears.

    Parameters
    ----------
    largest_dark_step_ratio : rise of the mains' peak, at its crest, over the peak [1] up to which every lamp stays
        dark; `LARGEST_STEP_RATIO` when even that lights none; None where a lamp does not wait undisturbed.
    flashes_first : index of the lamp group that starts first beyond it, or None.
    lands_v : rise of that group's reservoir (of the first waiting group where none starts) at a 10 % step [V].
    notch_flashes : a lost half-cycle and the return of the mains light a lamp.
    """

    largest_dark_step_ratio: float | None
    flashes_first: int | None
    lands_v: float | None
    notch_flashes: bool


def disturbance(loop: Loop) -> Disturbance:
    """Apply steps and a notch to the settled loop.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    rows = {k: row for k, row in enumerate(network.lamp_row) if row >= 0 and network.branches[row, Col.V_START] > 0.0}
    if not rows:
        return Disturbance(
            largest_dark_step_ratio=LARGEST_STEP_RATIO, flashes_first=None, lands_v=None, notch_flashes=False
        )
    at_rest = _highest(network, settled, rows, 0.0)
    if _started(network, rows, at_rest) is not None:
        return Disturbance(largest_dark_step_ratio=None, flashes_first=None, lands_v=None, notch_flashes=False)
    low, high = 0.0, LARGEST_STEP_RATIO
    first = _started(network, rows, _highest(network, settled, rows, high))
    if first is None:
        low = high
    while high - low > STEP_RESOLUTION_RATIO:
        middle = 0.5 * (low + high)
        started = _started(network, rows, _highest(network, settled, rows, middle))
        if started is None:
            low = middle
        else:
            high, first = middle, started
    group = first if first is not None else next(iter(rows))
    risen = _highest(network, settled, rows, 0.10)
    return Disturbance(
        largest_dark_step_ratio=low,
        flashes_first=first,
        lands_v=risen[group] - at_rest[group],
        notch_flashes=_started(network, rows, _after_notch(network, settled, rows)) is not None,
    )


def flashes_on(loop: Loop, step_ratio: float) -> bool:
    """Whether a rise of the mains by a share of its peak, at its crest, makes a lamp that waits flash.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    network = build(loop)
    rows = {k: row for k, row in enumerate(network.lamp_row) if row >= 0 and network.branches[row, Col.V_START] > 0.0}
    if not rows:
        return False
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    return _started(network, rows, _highest(network, settled, rows, step_ratio)) is not None


def _started(network: Network, rows: dict[int, int], highest: dict[int, float]) -> int | None:
    """The first group whose reservoir reached its start threshold."""
    for group, row in rows.items():
        if highest[group] >= network.branches[row, Col.V_START]:
            return group
    return None


def _highest(network: Network, settled: Settled, rows: dict[int, int], step_ratio: float) -> dict[int, float]:
    """Highest reservoir voltage of each group after the mains rises at its crest [V]."""
    before = Runner(network, settled.state, STEPS_PER_CYCLE)
    before.go(STEPS_PER_CYCLE // 4, may_start=False)
    return _watched(network.with_peak(network.v_peak * (1.0 + step_ratio)), before, rows)


def _after_notch(network: Network, settled: Settled, rows: dict[int, int]) -> dict[int, float]:
    """Highest reservoir voltage after one half-cycle of mains is missing [V]."""
    before = Runner(
        network.with_peak(_LOST_RATIO * network.v_peak),
        settled.state,
        STEPS_PER_CYCLE,
    )
    before.go(STEPS_PER_CYCLE // 2, may_start=False)
    return _watched(network, before, rows)


def _watched(network: Network, before: Runner, rows: dict[int, int]) -> dict[int, float]:
    """Go on from where a runner stands, in a changed network, in quarter-cycle looks."""
    after = Runner(network, before.state, STEPS_PER_CYCLE)
    after.step = before.step
    base = 1 + network.bypass.shape[0]
    highest = {group: float(after.state[base + 2 * row + 1]) for group, row in rows.items()}
    for _ in range(4 * CYCLES_AFTER):
        after.go(STEPS_PER_CYCLE // 4, may_start=False)
        for group, row in rows.items():
            highest[group] = max(highest[group], float(after.state[base + 2 * row + 1]))
    return highest
