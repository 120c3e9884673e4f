"""Figures of the on state that nobody states for a loop: ranges as data, and samples drawn from them."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np
from scipy.stats import qmc

from ember_core.spread.variables import Floats, triangular

FILE = Path(__file__).with_name("on_ranges.json")
NOMINAL_V = 230.0


@dataclass(frozen=True, slots=True, kw_only=True)
class OnRange:
    """A figure with its range [SI, or degrees]; `scales` with the mains."""

    name: str
    low: float
    typical: float
    high: float
    scales: bool


@cache
def on_ranges() -> tuple[OnRange, ...]:
    """Every figure, in the order of the file."""
    given = json.loads(FILE.read_text(encoding="utf-8"))
    scales = set(given["scale_with_mains"])
    return tuple(
        OnRange(name=name, low=low, typical=typical, high=high, scales=name in scales)
        for name, (low, typical, high) in given["figures"].items()
    )


def typical(v_rms: float) -> dict[str, float]:
    """The typical figures on a supply."""
    return {one.name: one.typical * _scale(one, v_rms) for one in on_ranges()}


def samples(v_rms: float, count: int, seed: int) -> list[dict[str, float]]:
    """Figures drawn from their ranges, triangular in the logarithm; the same for the same seed."""
    found = on_ranges()
    u = qmc.LatinHypercube(d=len(found), rng=np.random.default_rng(seed)).random(count)
    columns: list[Floats] = [
        np.exp(triangular(u[:, k], *np.log([one.low, one.typical, one.high]))) * _scale(one, v_rms)
        for k, one in enumerate(found)
    ]
    return [{one.name: float(column[row]) for one, column in zip(found, columns, strict=True)} for row in range(count)]


def _scale(one: OnRange, v_rms: float) -> float:
    return v_rms / NOMINAL_V if one.scales else 1.0
