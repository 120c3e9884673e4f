"""The working window of a bypass: from where on the lamps are dark and the control fed, and what limits it above.

The edge is found with typical figures, and again for samples drawn over the ranges, so that both are known: where it
turns if everything is as assumed, and from where on it does in nearly every case.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from math import ceil, exp, log, sqrt

import numpy as np

from ember_core.bypass.limits import Limit, LimitReason, capacitor_limits, heat_limit_a, least, resistance_limits
from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import ActiveBypass, Bypass, CapacitorBypass, ResistorBypass
from ember_core.sheet import Sheet
from ember_core.spread.judged import THREADS, each_abreast, is_well
from ember_core.spread.look import Sample
from ember_core.spread.observe import observe, observe_each
from ember_core.spread.variables import draw, loop_at, variables

# The discharge resistor that a bypass capacitor always has.
DISCHARGE_OHM = 1e6
LOWEST_F, HIGHEST_F = 1e-9, 1e-5
LOWEST_OHM, HIGHEST_OHM = 1e3, 1e7
LOWEST_A, HIGHEST_A = 5e-4, 0.1
# An electronic bleeder of no particular make [assumptions]: slope and cut-off, the latter over the peak of the mains.
ACTIVE_R_ON_OHM, ACTIVE_CUTOFF_RATIO = 800.0, 0.19
# Edges are found to this ratio; those of samples more coarsely, as their spread is far wider.
EDGE_RATIO = 0.01
_SAMPLE_EDGE_RATIO = 0.08
_GRID, _COARSE_GRID = 25, 11
EDGE_SAMPLES = 20
SURE_SHARE = 0.95
# The wanted margin to light [assumption]: see the reason of `close` in `offstate.states`.
WANTED_MARGIN_RATIO = 1.25


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone:
    """A stretch of values outside the window and why it fails there; `group` is the lamp group, if one does."""

    low: float
    high: float
    reason: str
    group: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """Values between which a bypass of one kind works.

    Parameters
    ----------
    low, high : F, Ω or A; None where the kind does not work at all. lower_reason, upper_reason : what ends it there:
        `none` (it works from the least value looked at), `starved`, `marginal`, `blink`, `glow`, `unsolved`, or a
        `LimitReason`.
    lower_group : lamp group that ends it, or None.
    wanted : value from which on (a resistor: down to which) the wanted margin to light is there too, or None.
    sure : the same over the ranges: where 95 of 100 samples work; None where fewer ever do, or not asked.
    zones : stretches looked at that fail, in order. limits : every limit, the least first.
    """

    low: float | None
    high: float | None
    lower_reason: str
    upper_reason: str
    lower_group: int | None = None
    wanted: float | None = None
    sure: float | None = None
    zones: tuple[Zone, ...] = ()
    limits: tuple[Limit, ...] = ()


def with_bypass(loop: Loop, bypass: Bypass | None) -> Loop:
    """The loop with only this bypass, or none."""
    return replace(loop, bypass=() if bypass is None else (bypass,))


def capacitor_of(c_f: float) -> CapacitorBypass:
    """A bypass capacitor with its discharge resistor."""
    return CapacitorBypass(c_f=c_f, r_parallel_ohm=DISCHARGE_OHM)


def resistor_of(r_ohm: float) -> ResistorBypass:
    """A resistor."""
    return ResistorBypass(r_ohm=r_ohm)


def active_of(loop: Loop, i_limit_a: float) -> ActiveBypass:
    """An electronic bleeder of no particular make."""
    return ActiveBypass(
        i_limit_a=i_limit_a, r_on_ohm=ACTIVE_R_ON_OHM, v_cutoff_v=ACTIVE_CUTOFF_RATIO * loop.supply.v_peak
    )


def look(loop: Loop) -> Sample | None:
    """The loop's states, as a look tells them; None where it does not settle."""
    try:
        return observe(loop, with_shown=False, is_exact=False)
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


def works(sample: Sample | None, margin_ratio: float = 1.0) -> bool:
    """Dark and fed, with a margin to light."""
    return sample is not None and is_well(sample) and min(sample.margins) >= margin_ratio


def capacitor_window(loop: Loop, *, room_f: float | None = None) -> Window:
    """From the smallest capacitance (with 1 MΩ across it) that works, to what limits it above.

    Parameters
    ----------
    room_f : largest that goes into the ceiling point, if that is known.
    """
    limits = capacitor_limits(loop, room_f=room_f)
    return _rising(loop, np.geomspace(LOWEST_F, HIGHEST_F, _GRID).tolist(), capacitor_of, limits)


def active_window(loop: Loop) -> Window:
    """From the smallest current of an electronic bleeder that works to its heat while on."""
    most = heat_limit_a(loop, ACTIVE_CUTOFF_RATIO * loop.supply.v_peak)
    limits = (Limit(reason=LimitReason.HEAT, value=most),)
    return _rising(loop, np.geomspace(LOWEST_A, HIGHEST_A, _COARSE_GRID).tolist(), partial(active_of, loop), limits)


def resistor_window(loop: Loop) -> Window:
    """From the least resistance that heat allows to the largest that works."""
    limits = resistance_limits(loop)
    least_ohm = limits[0].value or LOWEST_OHM
    scan = _scan(loop, np.geomspace(HIGHEST_OHM, LOWEST_OHM, _GRID).tolist(), resistor_of)
    heat = LimitReason.HEAT.value
    if scan.edge is None or scan.edge <= least_ohm:
        return Window(
            low=None,
            high=None,
            lower_reason=heat,
            upper_reason=scan.reason,
            lower_group=scan.group,
            zones=scan.zones,
            limits=limits,
        )
    wanted = _edge_with_margin(loop, scan.edge, least_ohm, resistor_of)
    return Window(
        low=least_ohm,
        high=scan.edge,
        lower_reason=heat,
        upper_reason=scan.reason,
        lower_group=scan.group,
        wanted=wanted,
        zones=scan.zones,
        limits=limits,
    )


def _rising(loop: Loop, grid: list[float], make: Callable[[float], Bypass], limits: tuple[Limit, ...]) -> Window:
    """A window whose values work from an edge upwards."""
    scan = _scan(loop, grid, make)
    governs = least(limits)
    most, upper = grid[-1], "none"
    if governs is not None and governs.value is not None and governs.value <= most:
        most, upper = governs.value, governs.reason.value
    if scan.edge is None or scan.edge >= most:
        return Window(
            low=None,
            high=None,
            lower_reason=scan.reason,
            upper_reason=scan.reason if scan.edge is None else upper,
            lower_group=scan.group,
            zones=scan.zones,
            limits=limits,
        )
    above, ends = _end_above(loop, scan.edge, most, make)
    return Window(
        low=scan.edge,
        high=above,
        lower_reason=scan.reason,
        upper_reason=ends or upper,
        lower_group=scan.group,
        wanted=_edge_with_margin(loop, scan.edge, above, make),
        zones=scan.zones,
        limits=limits,
    )


@dataclass(frozen=True, slots=True)
class _Scan:
    edge: float | None
    reason: str
    group: int | None
    zones: tuple[Zone, ...]


def _scan(loop: Loop, grid: Sequence[float], make: Callable[[float], Bypass]) -> _Scan:
    """First value along the grid that works, brought to the edge by bisection; what fails before it, in stretches."""
    zones: list[Zone] = []
    bad: float | None = None
    reason, group = "none", None
    for value in grid:
        found = failing(look(with_bypass(loop, make(value))))
        if found[0] == "none":
            break
        if bad is None or found != (reason, group):
            zones.append(Zone(low=value, high=value, reason=found[0], group=found[1]))
        else:
            zones[-1] = replace(zones[-1], high=value)
        bad, (reason, group) = value, found
    else:
        return _Scan(None, reason, group, _joined(zones))
    if bad is None:
        return _Scan(float(grid[0]), "none", None, ())
    good = value
    while abs(log(good / bad)) > 0.5 * EDGE_RATIO:
        middle = sqrt(good * bad)
        found = failing(look(with_bypass(loop, make(middle))))
        if found[0] == "none":
            good = middle
        else:
            bad = middle
            if found != (reason, group):
                zones.append(Zone(low=middle, high=middle, reason=found[0], group=found[1]))
            reason, group = found
    zones[-1] = replace(zones[-1], high=float(good))
    return _Scan(float(good), reason, group, _joined(zones))


def _joined(zones: list[Zone]) -> tuple[Zone, ...]:
    """Stretches that touch: each begins where the one before ends, half way between the values looked at."""
    joined: list[Zone] = []
    for zone in zones:
        if joined:
            border = sqrt(joined[-1].high * zone.low)
            joined[-1] = replace(joined[-1], high=border)
            zone = replace(zone, low=border)
        joined.append(zone)
    return tuple(joined)


def _edge_with_margin(loop: Loop, edge: float, end: float, make: Callable[[float], Bypass]) -> float | None:
    """From the edge towards the other end: where the wanted margin to light begins; None where it does not by there."""

    def has_margin(value: float) -> bool:
        return works(look(with_bypass(loop, make(value))), WANTED_MARGIN_RATIO)

    if not has_margin(end):
        return None
    if has_margin(edge):
        return edge
    bad, good = edge, end
    while abs(log(good / bad)) > 2.0 * EDGE_RATIO:
        middle = sqrt(good * bad)
        if has_margin(middle):
            good = middle
        else:
            bad = middle
    return good


def _end_above(loop: Loop, low: float, high: float, make: Callable[[float], Bypass]) -> tuple[float, str | None]:
    """Where it stops working again below a limit, if it does, and why."""
    for value in np.geomspace(low, high, 5)[1:]:
        reason, _ = failing(look(with_bypass(loop, make(float(value)))))
        if reason != "none":
            return low, reason
        low = float(value)
    return high, None


def sure_from(
    sheet: Sheet,
    make: Callable[[float], Bypass],
    nominal: float,
    end: float,
    *,
    samples: int = EDGE_SAMPLES,
    seed: int = 1,
    threads: int = THREADS,
) -> float | None:
    """Value from which on 95 of 100 samples work, going from the nominal edge to the other end; None where fewer do.

    Parameters
    ----------
    sheet : with no bypass. nominal : edge with typical figures. end : where the kind works best and is still allowed.
    """
    found = variables(sheet)
    loops = [sheet.loop] if not found else [loop_at(sheet.loop, found, row) for row in draw(found, samples, seed)]

    def parted(loops: Sequence[Loop], value: float) -> tuple[list[Loop], list[Loop]]:
        """Those that work with a value, and those that do not."""

        def some(those: Sequence[Loop]) -> list[Sample | None]:
            return observe_each([with_bypass(loop, make(value)) for loop in those], with_shown=False, is_exact=False)

        do: list[Loop] = []
        fail: list[Loop] = []
        for loop, sample in zip(loops, each_abreast(loops, some, threads), strict=True):
            (do if works(sample) else fail).append(loop)
        return do, fail

    do, fail = parted(loops, end)
    # So many may still fail at the value that is looked for.
    spare = len(loops) - ceil(SURE_SHARE * len(loops)) - len(fail)
    if spare < 0:
        return None
    # An edge that typical figures have already passed is no better than theirs.
    do, fail = parted(do, nominal)
    if len(fail) <= spare:
        return nominal
    # Ways from the nominal edge, in the logarithm: the one looked for is mostly near.
    bad, good, stride = 0.0, abs(log(end / nominal)), _SAMPLE_EDGE_RATIO
    while good - bad > _SAMPLE_EDGE_RATIO:
        way = min(bad + stride, 0.5 * (bad + good))
        # A sample whose edge lies on the other side of where it goes on need not be looked at again.
        do, still = parted(fail, nominal * exp(way if end > nominal else -way))
        if len(still) <= spare:
            good, fail, spare = way, do, spare - len(still)
        else:
            bad, fail, stride = way, still, 2.0 * stride
    return float(nominal * exp(good if end > nominal else -good))
