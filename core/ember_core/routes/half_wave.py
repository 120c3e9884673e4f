"""The half-wave experiment, computed for the bench: which lamps stand half waves, and what a detector's resistors bear.

Never for an installation: a home-made part on the mains, and a direct current on the loop.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from math import ceil, sqrt

from ember_core.parts import Supply
from ember_core.sheet import Sheet
from ember_core.spread.half_wave import HalfWave, on_half_wave
from ember_core.spread.variables import draw, loop_at, variables

SAMPLES = 64
# What the detector's lamp wants, rms, and how high mains are reckoned with [assumption].
DETECTOR_A = 1e-3
HIGH_RATIO = 1.1
# A common film resistor: its watts at 70 °C, of which half are used, and the peak that it stands [assumption].
EACH_W, USED_RATIO, EACH_V_PEAK = 0.25, 0.5, 250.0
_E12 = (1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2, 10.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class GroupOnHalfWave:
    """One lamp group on half waves: share of the drawn lamps in each state [1]."""

    group: int
    kind: str
    shares: Mapping[HalfWave, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Chain:
    """Resistors in series in front of a detector.

    Parameters
    ----------
    count, each_ohm : how many, and of what value. by_heat, by_voltage : how many heat alone and voltage alone would
        want. each_w, each_v_peak : what one of them bears at high mains.
    alone_w, alone_v_peak : what a single one of the whole value would bear.
    """

    count: int
    each_ohm: float
    by_heat: int
    by_voltage: int
    each_w: float
    each_v_peak: float
    alone_w: float
    alone_v_peak: float


def on_half_waves(sheet: Sheet, *, samples: int = SAMPLES, seed: int = 1) -> tuple[GroupOnHalfWave, ...]:
    """Each lamp group over the ranges of its figures."""
    found = variables(sheet)
    rows = draw(found, max(2, samples), seed)[: samples if found else 1]
    counts: list[Counter[HalfWave]] = [Counter() for _ in sheet.loop.lamps]
    for row in rows:
        loop = loop_at(sheet.loop, found, row) if found else sheet.loop
        for count, lamp in zip(counts, loop.lamps, strict=True):
            count[on_half_wave(lamp, loop.supply)] += 1
    return tuple(
        GroupOnHalfWave(
            group=k,
            kind=lamp.kind,
            shares={state: count / len(rows) for state, count in counts[k].items()},
        )
        for k, lamp in enumerate(sheet.loop.lamps)
    )


def detector_chain(supply: Supply) -> Chain:
    """Resistors of a detector by what each bears, rounded up to the next value of the series."""
    high_v = HIGH_RATIO * supply.v_rms
    whole_ohm = supply.v_rms / DETECTOR_A
    heat_w = high_v**2 / whole_ohm
    peak_v = sqrt(2.0) * high_v
    by_heat, by_voltage = ceil(heat_w / (USED_RATIO * EACH_W)), ceil(peak_v / EACH_V_PEAK)
    count = max(by_heat, by_voltage)
    each_ohm = _next_of_series(whole_ohm / count)
    return Chain(
        count=count,
        each_ohm=each_ohm,
        by_heat=by_heat,
        by_voltage=by_voltage,
        each_w=high_v**2 / (count * each_ohm) / count,
        each_v_peak=peak_v / count,
        alone_w=heat_w,
        alone_v_peak=peak_v,
    )


def _next_of_series(ohm: float) -> float:
    """The least value of the E12 series that is no smaller [Ω]."""
    decade = 1.0
    while ohm >= 10.0 * decade:
        decade *= 10.0
    return next(step * decade for step in _E12 if step * decade >= ohm * (1.0 - 1e-9))
