"""Figures of the on state: ranges as data, replaced by what the sheet gives, and samples drawn from them.

The control with its supply has one set of figures, each lamp group its own.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from ember_core.loop import Loop
from ember_core.parts import PhaseMode
from ember_core.quantities import Figure
from ember_core.spread.variables import Floats, hypercube, triangular

FILE = Path(__file__).with_name("ranges.json")
NOMINAL_V = 230.0
# So many are drawn of the light on, wherever a share of them is told: a finding and a limit are of the same ones.
SAMPLES = 32
DIMMING = (PhaseMode.LEADING, PhaseMode.TRAILING)
Figures = dict[str, float]
_NOTHING: Mapping[str, Figure] = {}


@dataclass(frozen=True, slots=True, kw_only=True)
class OnRange:
    """A figure with its range [SI, or degrees], at 230 V.

    Parameters
    ----------
    of : `control`, `supply` or `lamp`, or `dimmer` for a range that goes before that of `control` on a dimmer.
    power : of the mains over 230 V with which it scales.
    """

    name: str
    of: str
    low: float
    typical: float
    high: float
    power: int

    def on(self, v_rms: float) -> OnRange:
        """The same on a supply."""
        factor = (v_rms / NOMINAL_V) ** self.power
        return replace(self, low=self.low * factor, typical=self.typical * factor, high=self.high * factor)


@dataclass(frozen=True, slots=True, kw_only=True)
class LitFigures:
    """One set of figures of a gang while on.

    Parameters
    ----------
    control : of the control and its supply. lamps : of each group, in the order of the loop.
    """

    control: Figures
    lamps: tuple[Figures, ...]

    def with_control(self, **changed: float) -> LitFigures:
        """The same with some figures of the control or its supply changed."""
        return replace(self, control=self.control | changed)


@cache
def on_ranges() -> tuple[OnRange, ...]:
    """Every range, in the order of the file."""
    given = json.loads(FILE.read_text(encoding="utf-8"))
    powers = given["scales_with_mains_to_the_power"]
    return tuple(
        OnRange(name=name, of=of, low=low, typical=typical, high=high, power=powers.get(name, 0))
        for of in ("control", "supply", "lamp", "dimmer")
        for name, (low, typical, high) in given[of].items()
    )


def ranges_of(
    loop: Loop, known: Mapping[str, Figure] = _NOTHING, edge: PhaseMode | None = None
) -> list[tuple[str, OnRange]]:
    """Each figure of a gang with its place (`control` or `lamps[0]` …) and range.

    Parameters
    ----------
    known : figures of its sheet, by path; they go before the value of the part, and that before the assumed range.
    edge : what the control does to the line; a dimmer has a supply of its own kind.
    """
    found = []
    on_dimmer = {one.name: one for one in on_ranges() if one.of == "dimmer"} if edge in DIMMING else {}
    for one in on_ranges():
        if one.of in ("control", "supply"):
            asked = on_dimmer.get(one.name, one).on(loop.supply.v_rms)
            found.append(("control", _known(asked, loop.control, f"control.{one.name}", known)))
    for k, lamp in enumerate(loop.lamps):
        for one in on_ranges():
            if one.of == "lamp":
                asked = one.on(loop.supply.v_rms)
                found.append((f"lamps[{k}]", _known(asked, lamp, f"lamps[{k}].{one.name}", known)))
    return found


def _known(one: OnRange, part: Any, path: str, known: Mapping[str, Figure]) -> OnRange:
    value = getattr(part, one.name, None)
    if value is None:
        return one
    figure = known.get(path) or Figure.point(float(value))
    return replace(one, low=figure.low, typical=figure.typical, high=figure.high)


def typical_of(
    loop: Loop, known: Mapping[str, Figure] = _NOTHING, edge: PhaseMode | None = None, *, source: str = "typical"
) -> LitFigures:
    """The typical figures of a gang.

    Parameters
    ----------
    source : `typical`, `stiff` (least impedance of the supply, for stress) or `weak` (most, for what may fail).
    """
    ranges = ranges_of(loop, known, edge)
    made = _figures(loop, ranges, [one.typical for _, one in ranges])
    return made if source == "typical" else made.with_control(**source_figures(loop.supply.v_rms, source))


def source_figures(v_rms: float, source: str) -> Figures:
    """Impedance of a stiff or a weak supply."""
    found = [one.on(v_rms) for one in on_ranges() if one.of == "supply"]
    return {one.name: one.low if source == "stiff" else one.high for one in found}


def samples_of(
    loop: Loop,
    count: int,
    seed: int,
    known: Mapping[str, Figure] = _NOTHING,
    edge: PhaseMode | None = None,
) -> list[LitFigures]:
    """Figures drawn from their ranges, triangular in the logarithm; the same for the same seed."""
    ranges = ranges_of(loop, known, edge)
    u = hypercube(count, len(ranges), seed)
    columns = [_drawn(one, u[:, k]) for k, (_, one) in enumerate(ranges)]
    return [_figures(loop, ranges, [float(column[row]) for column in columns]) for row in range(count)]


def _drawn(one: OnRange, u: Floats) -> Floats:
    if one.low >= one.high:
        return np.full(u.shape, one.typical)
    if one.low <= 0.0:
        return triangular(u, one.low, one.typical, one.high)
    logs = np.exp(triangular(u, *np.log([one.low, one.typical, one.high])))
    return np.asarray(logs, dtype=np.float64)


def _figures(loop: Loop, ranges: list[tuple[str, OnRange]], values: list[float]) -> LitFigures:
    places: dict[str, Figures] = {"control": {}}
    places |= {f"lamps[{k}]": {} for k in range(len(loop.lamps))}
    for (place, one), value in zip(ranges, values, strict=True):
        places[place][one.name] = value
    return LitFigures(control=places["control"], lamps=tuple(places[f"lamps[{k}]"] for k in range(len(loop.lamps))))
