"""Typical figures of each input stage and mains, for a lamp of which nobody knows more: data with its reference.

The data is `class_defaults.json` beside this file. A figure scales with what is known of the lamp: `one` (not at
all, but volts with the mains within its class), `p_w` and `per_w` (with its watts), `v_peak` (with the peak of the
mains), `v2_per_w` (with V²/P).
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from ember_core.errors import InputError
from ember_core.parts import Supply
from ember_core.quantities import Figure, Source

# Mains below this are the 120 V class (100 to 127 V), above it the 230 V class (200 to 250 V).
REGION_BORDER_V = 160.0
WATTS_UNKNOWN = "nobody knows its watts: all that lamps of its class have"
_WATTS = "p_w"


@dataclass(frozen=True, slots=True, kw_only=True)
class DefaultFigure:
    """One figure of a class, before scaling, and where it is from."""

    field: str
    scale: str
    low: float
    typical: float
    high: float
    reference: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassDefault:
    """An input stage at a class of mains.

    Parameters
    ----------
    stage : its name. kind : the kind of lamp it is calculated as. region_v : 230 or 120, the class of mains [V].
    p_low_w, p_high_w : lamps for which this holds [W]. typical_p_w : where even the watts are not known.
    """

    stage: str
    kind: str
    region_v: float
    p_low_w: float
    p_high_w: float
    typical_p_w: float
    figures: tuple[DefaultFigure, ...]


@cache
def class_defaults() -> tuple[ClassDefault, ...]:
    """Every class, in the order in which they are offered."""
    given = json.loads(files(__package__).joinpath("class_defaults.json").read_text(encoding="utf-8"))
    return tuple(
        ClassDefault(
            stage=entry["stage"],
            kind=entry["kind"],
            region_v=float(entry["region_v"]),
            p_low_w=float(entry["p_w"][0]),
            p_high_w=float(entry["p_w"][1]),
            typical_p_w=float(entry["typical_p_w"]),
            figures=tuple(DefaultFigure(**figure) for figure in entry["figures"]),
        )
        for entry in given["defaults"]
    )


def region_of(v_rms: float) -> float:
    """Class of a mains voltage: 230 or 120 [V]."""
    return 120.0 if v_rms < REGION_BORDER_V else 230.0


def typical_lamp(stage: str, supply: Supply, p_w: float | None = None) -> tuple[str, dict[str, Figure]]:
    """Kind and figures of a lamp of which only the input stage, and perhaps the watts, are known.

    Watts that are given are those marked on it; else they, and all that goes with them, range over the whole class.

    Raises
    ------
    InputError : no such stage, or watts for which its figures do not hold.
    """
    region = region_of(supply.v_rms)
    found = next((entry for entry in class_defaults() if entry.stage == stage and entry.region_v == region), None)
    if found is None:
        known = ", ".join(entry.stage for entry in class_defaults() if entry.region_v == region)
        raise InputError("unknown_kind", path="stage", value=stage[:40], known=known)
    if p_w is None:
        watts = (found.p_low_w, found.typical_p_w, found.p_high_w)
    elif found.p_low_w <= p_w <= found.p_high_w:
        watts = (p_w, p_w, p_w)
    else:
        raise InputError("out_of_bounds", path="p_w", value=p_w, low=found.p_low_w, high=found.p_high_w, unit="W")
    return found.kind, {figure.field: _scaled(figure, supply, watts) for figure in found.figures}


def _scaled(figure: DefaultFigure, supply: Supply, watts: tuple[float, float, float]) -> Figure:
    """A figure over lamps of so many watts at least, typically and at most; of known watts all three are the same."""
    is_of_watts, is_known = figure.scale == _WATTS, watts[0] == watts[2]
    if is_of_watts and not is_known:
        return Figure(low=watts[0], typical=watts[1], high=watts[2], source=Source.ASSUMED, note=WATTS_UNKNOWN)
    low, typical, high = (_factor(figure, supply, p_w) for p_w in watts)
    return Figure(
        low=figure.low * min(low, high),
        typical=figure.typical * typical,
        high=figure.high * max(low, high),
        source=Source.DECLARED if is_of_watts else Source.ASSUMED,
        note=figure.reference,
    )


def _factor(figure: DefaultFigure, supply: Supply, p_w: float) -> float:
    if figure.scale == "one" and figure.field.endswith("_v"):
        # Strings and thresholds are made for the mains: at 100 V a string of the 120 V class would never conduct.
        return supply.v_rms / region_of(supply.v_rms)
    factors: dict[str, float] = {
        "one": 1.0,
        _WATTS: p_w,
        "per_w": p_w,
        "v_peak": supply.v_peak,
        "v2_per_w": supply.v_rms**2 / p_w,
    }
    return factors[figure.scale]


def typical_lamp_data(stage: str, supply: Supply, p_w: float | None = None) -> dict[str, Any]:
    """The same as a piece of a loop sheet, without count."""
    kind, figures = typical_lamp(stage, supply, p_w)
    return {
        "kind": kind,
        **{
            name: {
                "low": figure.low,
                "typical": figure.typical,
                "high": figure.high,
                "source": figure.source.value,
                "note": figure.note,
            }
            for name, figure in figures.items()
        },
    }
