"""What an instrument will show, with its range: meter readings, and bands of one cycle of voltage and current."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ember_core.errors import SolverError
from ember_core.judgement import METERS_OHM
from ember_core.sheet import Sheet
from ember_core.spread.judged import Range, each_abreast, each_sample, quantiles
from ember_core.spread.observe import observe_each, shown_by
from ember_core.spread.shown import STEPS_PER_CYCLE, cycle_of
from ember_core.spread.variables import Floats, draw, loop_at, variables

SAMPLES = 48
# Points of the bands: enough for a picture.
BAND_POINTS = 100
# A meter of low impedance that shows less than this share of the other's reading tells a ghost.
GHOST_BELOW_RATIO = 0.7


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What a meter on the lamp terminals shows, the meter in the loop: its input resistance [Ω], rms range [V]."""

    r_ohm: float
    v_rms: Range


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """5th, 50th and 95th percentile at each point of a cycle."""

    low: Floats
    middle: Floats
    high: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class Predictions:
    """Over the ranges of the figures; of lamps that blink over whole flashes, see `observe.Shown`.

    Parameters
    ----------
    readings : high impedance first. is_ghost : the low one shows much less, so most of the high one is coupled.
    t_s : points of one cycle from the rising zero [s]. v_lamp_v, i_line_a : bands.
    period_s : from flash to flash where some sample blinks, else None. blinking : share that does [1].
    """

    samples: int
    readings: tuple[Reading, ...]
    is_ghost: bool
    t_s: Floats
    v_lamp_v: Band
    i_line_a: Band
    period_s: Range | None
    blinking: float


def predict(sheet: Sheet, *, samples: int = SAMPLES, seed: int = 1) -> Predictions:
    """Draw samples and see what instruments would show.

    Raises
    ------
    SolverError : no sample settles.
    """
    found = variables(sheet)
    drawn = draw(found, max(2, samples), seed)[: samples if found else 1]
    loops = [loop_at(sheet.loop, found, row) for row in drawn]
    cycles = [cycle for cycle in each_sample(loops, cycle_of) if cycle is not None]
    if not cycles:
        raise SolverError("no_sample_settles", samples=samples)
    readings = []
    for r_ohm in METERS_OHM.values():
        metered = [replace(loop, meter_r_ohm=r_ohm) for loop in loops]
        shown = np.array([s.lamp_v_rms for s in each_sample(metered, shown_by) if s is not None])
        if shown.size:
            readings.append(Reading(r_ohm=r_ohm, v_rms=_even(shown)))
    seen = [s for s in each_abreast(loops, observe_each) if s is not None]
    periods: Floats = np.array([s.shown.period_s for s in seen if s.shown and s.shown.period_s], dtype=np.float64)
    blinking = float(np.mean(["blink" in s.lamps for s in seen])) if seen else 0.0
    take = np.linspace(0, STEPS_PER_CYCLE - 1, BAND_POINTS).astype(int)
    return Predictions(
        samples=len(cycles),
        readings=tuple(readings),
        is_ghost=len(readings) == 2 and readings[1].v_rms.p50 < GHOST_BELOW_RATIO * readings[0].v_rms.p50,
        t_s=take / (STEPS_PER_CYCLE * sheet.loop.supply.f_hz),
        v_lamp_v=_band(np.array([v for v, _ in cycles])[:, take]),
        i_line_a=_band(np.array([i for _, i in cycles])[:, take]),
        period_s=_even(periods) if periods.size else None,
        blinking=blinking,
    )


def _even(values: Floats) -> Range:
    return quantiles(values, np.full(values.size, 1.0 / values.size))


def _band(rows: Floats) -> Band:
    low, middle, high = np.percentile(rows, [5.0, 50.0, 95.0], axis=0)
    return Band(low=low, middle=middle, high=high)
