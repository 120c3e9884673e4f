"""Which reading tells most of what is still open for a gang, and what the meter will show, itself in the loop."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import inf

import numpy as np

from ember_core.errors import SolverError
from ember_core.judgement import METERS_OHM
from ember_core.sheet import Sheet
from ember_core.spread.information import binned, information_bits
from ember_core.spread.judged import Range, each_abreast, each_sample, quantiles
from ember_core.spread.look import Sample
from ember_core.spread.narrow import ERRORS, Kind
from ember_core.spread.observe import observe_each, shown_by
from ember_core.spread.predictions import SAMPLES
from ember_core.spread.variables import Floats, draw, loop_at, variables

BINS = 8
# Margins to light are told apart in quarters; what is open is the state and the quarter.
MARGIN_QUARTERS = 4


class Read(StrEnum):
    """What can be read."""

    LAMP_V = "lamp_v"
    LAMP_V_LOW_Z = "lamp_v_low_z"
    LINE_I = "line_i"
    PERIOD = "period"


@dataclass(frozen=True, slots=True, kw_only=True)
class Worth:
    """A reading.

    Parameters
    ----------
    gain_bits : how much it tells of the state and of how far it is from light, on average [bit].
    expected : what will be read, the meter in the loop [V, A, s]. meter_r_ohm : of a voltage [Ω].
    blinking_ratio : share of the loops that blink, of a period [1].
    """

    read: Read
    gain_bits: float
    expected: Range
    meter_r_ohm: float | None = None
    blinking_ratio: float = 1.0


def worth(sheet: Sheet, *, samples: int = SAMPLES, seed: int = 1) -> tuple[Worth, ...]:
    """Readings of a gang, the one that tells most first.

    Raises
    ------
    SolverError : no sample settles.
    """
    found = variables(sheet)
    rows = draw(found, max(2, samples), seed)[: samples if found else 1]
    loops = [loop_at(sheet.loop, found, row) for row in rows]
    seen = list(each_abreast(loops, observe_each))
    kept = [k for k, sample in enumerate(seen) if sample is not None]
    if not kept:
        raise SolverError("no_sample_settles", samples=samples)
    open_ = _open([sample for sample in seen if sample is not None])
    made = []
    for read, r_ohm in ((Read.LAMP_V, METERS_OHM["high"]), (Read.LAMP_V_LOW_Z, METERS_OHM["low"])):
        metered = [replace(loops[k], meter_r_ohm=r_ohm) for k in kept]
        values = [None if shown is None else shown.lamp_v_rms for shown in each_sample(metered, shown_by)]
        made.append(_worth(read, Kind.LAMP_V, values, open_, r_ohm))
    shown = [sample.shown for sample in seen if sample is not None]
    made.append(
        _worth(Read.LINE_I, Kind.LINE_I, [None if one is None else one.line_i_rms_a for one in shown], open_, None)
    )
    made.append(_worth(Read.PERIOD, Kind.PERIOD, [None if one is None else one.period_s for one in shown], open_, None))
    return tuple(sorted((one for one in made if one is not None), key=lambda one: -one.gain_bits))


def _open(seen: Sequence[Sample]) -> list[tuple[object, ...]]:
    """What is open of each loop: the states, and in which quarter of all its least margin lies."""
    margins = np.array([min(sample.margins, default=inf) for sample in seen])
    finite = margins[np.isfinite(margins)]
    edges = np.quantile(finite, np.linspace(0.0, 1.0, MARGIN_QUARTERS + 1)[1:-1]) if finite.size else np.array([])
    quarters = np.searchsorted(edges, margins)
    return [(*sample.lamps, sample.control, int(quarter)) for sample, quarter in zip(seen, quarters, strict=True)]


def _worth(
    read: Read, kind: Kind, values: Sequence[float | None], open_: Sequence[object], r_ohm: float | None
) -> Worth | None:
    """None where no loop shows anything of the kind."""
    known: Floats = np.array([np.nan if one is None else one for one in values], dtype=np.float64)
    there = np.isfinite(known) & (known > 0.0)
    if not there.any():
        return None
    ratio, floor = ERRORS[kind]
    width = np.minimum(1.0, ratio + floor / np.where(there, known, 1.0))
    centre = np.where(there, np.log(np.where(there, known, 1.0)), np.nan)
    even = np.full(int(there.sum()), 1.0 / int(there.sum()))
    return Worth(
        read=read,
        gain_bits=information_bits(open_, binned(centre, width, BINS)),
        expected=quantiles(known[there], even),
        meter_r_ohm=r_ohm,
        blinking_ratio=float(there.mean()),
    )
