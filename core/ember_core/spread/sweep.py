"""How the judgement moves as one figure goes over a span, the others drawn over their ranges."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from ember_core.errors import InputError
from ember_core.offstate.states import LampState, StandbyState
from ember_core.sheet import Sheet
from ember_core.spread.begun import fed_state
from ember_core.spread.judged import each_abreast, is_well
from ember_core.spread.look import Sample
from ember_core.spread.observe import observe_each
from ember_core.spread.variables import Variable, draw, loop_at, variables

POINTS = 13
SAMPLES = 16
# What is looked at beyond the range on either side, so that its ends are seen in context.
BEYOND_RATIO = 1.5


@dataclass(frozen=True, slots=True, kw_only=True)
class SweepPoint:
    """At one value: share of the samples in each outcome [1]; `well` is dark and fed, the others its failures."""

    value: float
    shares: dict[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Sweep:
    """A figure over a span.

    Parameters
    ----------
    low, typical, high : its range. points : rising values from below the range to above it.
    is_complete : up to there; nobody stopped it.
    """

    path: str
    low: float
    typical: float
    high: float
    points: tuple[SweepPoint, ...]
    is_complete: bool


def _go_on(done: int, of: int) -> bool:
    return True


def sweep(
    sheet: Sheet,
    path: str,
    *,
    points: int = POINTS,
    samples: int = SAMPLES,
    seed: int = 1,
    progress: Callable[[int, int], bool] = _go_on,
) -> Sweep:
    """Judge at values over the span of a figure; the same samples of the others at each.

    Parameters
    ----------
    progress : told how many values are done, of how many; False stops, and what is done is given.

    Raises
    ------
    InputError : the figure has no range.
    """
    found = variables(sheet)
    moving = next((v for v in found if v.path == path), None)
    if moving is None:
        raise InputError("no_range", path=path)
    others = tuple(v for v in found if v.path != path)
    drawn = draw(others, samples, seed)
    near = fed_state(sheet.loop)
    rows, is_complete = [], True
    for done, value in enumerate(_values(moving, points)):
        if not progress(done, points):
            is_complete = False
            break
        loops = []
        for row in drawn:
            try:
                loops.append(loop_at(sheet.loop, (moving, *others), (value, *row)))
            except InputError:
                continue
        if not loops:
            continue
        look = partial(observe_each, with_shown=False, near=near)
        seen = [s for s in each_abreast(loops, look) if s is not None]
        if seen:
            rows.append(SweepPoint(value=value, shares=_outcomes(seen)))
    return Sweep(
        path=path,
        low=moving.low,
        typical=moving.typical,
        high=moving.high,
        points=tuple(rows),
        is_complete=is_complete,
    )


def _values(moving: Variable, points: int) -> list[float]:
    if moving.is_log:
        span = np.geomspace(moving.low / BEYOND_RATIO, moving.high * BEYOND_RATIO, points)
    else:
        span = np.linspace(moving.low, moving.high, points)
    return [float(value) for value in span]


def _outcomes(seen: list[Sample]) -> dict[str, float]:
    counted = dict.fromkeys(("well", "marginal", "glow", "blink", "starved"), 0.0)
    for sample in seen:
        counted[_outcome(sample)] += 1.0 / len(seen)
    return counted


def _outcome(sample: Sample) -> str:
    """The worst that holds."""
    if is_well(sample):
        return "well"
    if sample.control is StandbyState.STARVED:
        return "starved"
    if LampState.BLINK in sample.lamps:
        return "blink"
    return "glow" if LampState.GLOW in sample.lamps else "marginal"
