"""The working window of a bypass: from where on the lamps are dark and the control fed, and what limits it above.

Judged with the figures as they stand (typical); the spread is asked per part, see `choose`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import log, pi, sqrt

import numpy as np

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import Bypass, CapacitorBypass, ResistorBypass
from ember_core.spread.judged import is_well
from ember_core.spread.observe import Sample, observe

# The discharge resistor that a bypass capacitor always has.
DISCHARGE_OHM = 1e6
LOWEST_F, HIGHEST_F = 1e-9, 1e-5
LOWEST_OHM, HIGHEST_OHM = 1e3, 1e7
# Edges are found to this ratio.
EDGE_RATIO = 0.01
_GRID = 33
# Above these a bypass is not sensible at a luminaire [assumptions]: reactive current while on, and heat, at +10 %.
MOST_REACTIVE_A = 0.03
MOST_HEAT_W = 2.5
HIGH_SUPPLY_RATIO = 1.1
# Touch limits to which a capacitor must have discharged [V].
DISCHARGED_TO_V = (60.0, 34.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """Values between which a bypass of one kind works.

    Parameters
    ----------
    low, high : F or Ω; None where the kind does not work at all. lower_reason, upper_reason : what ends it there:
        `none` (it works from the least value looked at), `starved`, `marginal`, `blink`, `glow`, `unsolved`,
        `reactive_current`, `heat`.
    lower_group : lamp group that ends it, or None.
    """

    low: float | None
    high: float | None
    lower_reason: str
    upper_reason: str
    lower_group: int | None = None


def with_bypass(loop: Loop, bypass: Bypass | None) -> Loop:
    """The loop with only this bypass, or none."""
    return replace(loop, bypass=() if bypass is None else (bypass,))


def capacitor_of(c_f: float) -> CapacitorBypass:
    """A bypass capacitor with its discharge resistor."""
    return CapacitorBypass(c_f=c_f, r_parallel_ohm=DISCHARGE_OHM)


def look(loop: Loop) -> Sample | None:
    """The loop's states; None where it does not settle."""
    try:
        return observe(loop)
    except SolverError:
        return None


def failing(sample: Sample | None) -> tuple[str, int | None]:
    """Why a sample is not dark and fed, the control first; `none` when it is."""
    if sample is None:
        return "unsolved", None
    if sample.control is StandbyState.STARVED:
        return "starved", None
    for group, state in enumerate(sample.lamps):
        if state is not LampState.DARK:
            return state.value, group
    return ("marginal", None) if sample.control is StandbyState.MARGINAL else ("none", None)


def reactive_limit_f(loop: Loop) -> float:
    """Largest capacitance by current while on: C = I / (2π·f·1.1·V) [F]."""
    return MOST_REACTIVE_A / (2.0 * pi * loop.supply.f_hz * HIGH_SUPPLY_RATIO * loop.supply.v_rms)


def heat_limit_ohm(loop: Loop) -> float:
    """Least resistance by heat while on: R = (1.1·V)² / P [Ω]."""
    return float((HIGH_SUPPLY_RATIO * loop.supply.v_rms) ** 2 / MOST_HEAT_W)


def capacitor_window(loop: Loop) -> Window:
    """From the smallest capacitance (with 1 MΩ across it) that works, to what limits it above."""
    edge, reason, group = _edge(loop, list(np.geomspace(LOWEST_F, HIGHEST_F, _GRID)), capacitor_of)
    if edge is None:
        return Window(low=None, high=None, lower_reason=reason, upper_reason=reason, lower_group=group)
    most = reactive_limit_f(loop)
    if edge >= most:
        return Window(low=None, high=None, lower_reason=reason, upper_reason="reactive_current", lower_group=group)
    above, upper = _end_above(loop, edge, most, capacitor_of)
    return Window(
        low=edge, high=above, lower_reason=reason, upper_reason=upper or "reactive_current", lower_group=group
    )


def resistor_window(loop: Loop) -> Window:
    """From the least resistance that heat allows to the largest that works."""
    edge, reason, group = _edge(
        loop, list(np.geomspace(HIGHEST_OHM, LOWEST_OHM, _GRID)), lambda r_ohm: ResistorBypass(r_ohm=r_ohm)
    )
    least = heat_limit_ohm(loop)
    if edge is None or edge <= least:
        return Window(low=None, high=None, lower_reason="heat", upper_reason=reason, lower_group=group)
    return Window(low=least, high=edge, lower_reason="heat", upper_reason=reason, lower_group=group)


def _edge(loop: Loop, grid: list[float], make: Callable[[float], Bypass]) -> tuple[float | None, str, int | None]:
    """First value along the grid that works, brought to the edge by bisection; why the value before it does not."""
    bad: float | None = None
    reason, group = "none", None
    for value in grid:
        found = failing(look(with_bypass(loop, make(value))))
        if found[0] == "none":
            break
        bad, (reason, group) = value, found
    else:
        return None, reason, group
    if bad is None:
        return float(grid[0]), "none", None
    good = value
    while abs(log(good / bad)) > 0.5 * EDGE_RATIO:
        middle = sqrt(good * bad)
        found = failing(look(with_bypass(loop, make(middle))))
        if found[0] == "none":
            good = middle
        else:
            bad, (reason, group) = middle, found
    return float(good), reason, group


def _end_above(loop: Loop, low: float, high: float, make: Callable[[float], Bypass]) -> tuple[float, str | None]:
    """Where it stops working again below a limit, if it does, and why."""
    for value in np.geomspace(low, high, 9)[1:]:
        reason, _ = failing(look(with_bypass(loop, make(float(value)))))
        if reason != "none":
            return low, reason
        low = float(value)
    return high, None


def discharge_s(c_f: float, r_ohm: float, v_peak: float, v_end: float) -> float:
    """Time in which a capacitor has discharged [s]: t = R·C·ln(V̂ / V)."""
    return 0.0 if v_end >= v_peak else r_ohm * c_f * log(v_peak / v_end)


def works(sample: Sample | None) -> bool:
    """Dark and fed."""
    return sample is not None and is_well(sample)
