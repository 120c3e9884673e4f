"""Loops drawn over the classes of the trade: every input stage, feed and bypass, on both mains."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from ember_core import sheet
from ember_core.catalogue.class_defaults import class_defaults, region_of, typical_lamp_data
from ember_core.catalogue.control_classes import control_classes, typical_control_data
from ember_core.parts import Supply
from ember_core.sheet import Sheet

SUPPLIES = ((230.0, 50.0), (120.0, 60.0))


def drawn_sheets(count: int, seed: int, *, stages: tuple[str, ...] = (), least_bypass: int = 0) -> Iterator[Sheet]:
    """So many gangs, the same for the same seed; their figures are points.

    Parameters
    ----------
    stages : input stages to draw from; empty for all. least_bypass : bypasses there are at least.
    """
    random = np.random.default_rng(seed)
    for _ in range(count):
        yield sheet.read(_document(random, stages, least_bypass))


def _document(random: np.random.Generator, stages: tuple[str, ...], least_bypass: int) -> dict[str, Any]:
    v_rms, f_hz = SUPPLIES[int(random.integers(2))]
    v_rms *= float(random.uniform(0.9, 1.1))
    supply = Supply(v_rms=v_rms, f_hz=f_hz)
    control = typical_control_data(str(random.choice([entry.name for entry in control_classes()])), v_rms)
    control.pop("phase", None)
    known = [entry for entry in class_defaults() if entry.region_v == region_of(v_rms)]
    known = [entry for entry in known if not stages or entry.stage in stages]
    lamps = []
    for _ in range(int(random.integers(1, 4))):
        entry = known[int(random.integers(len(known)))]
        watts = float(np.exp(random.uniform(np.log(max(entry.p_low_w, 1.0)), np.log(min(entry.p_high_w, 60.0)))))
        lamp = _point(typical_lamp_data(entry.stage, supply, watts), random)
        if "v_start_v" in lamp:
            lamp["v_stop_v"] = min(lamp["v_stop_v"], 0.9 * lamp["v_start_v"])
        lamps.append({**lamp, "count": int(random.integers(1, 9))})
    return {
        "name": "drawn",
        "supply": {"v_rms": v_rms, "f_hz": f_hz},
        "control": _point(control, random),
        "cable": {
            "c_line_to_switched_f": _even(random, 1e-10, 3e-9),
            "c_switched_to_neutral_f": _even(random, 1e-10, 3e-9),
        },
        "bypass": [_bypass(random, v_rms) for _ in range(int(random.integers(least_bypass, 3)))],
        "lamps": lamps,
    }


def _even(random: np.random.Generator, low: float, high: float) -> float:
    """Even in the logarithm."""
    return float(np.exp(random.uniform(np.log(low), np.log(high))))


def _point(part: Any, random: np.random.Generator) -> Any:
    """The part with a value drawn from each range."""
    if not isinstance(part, dict):
        return part
    if "typical" in part:
        return _even(random, part["low"], part["high"]) if part["low"] > 0.0 else part["typical"]
    return {name: _point(value, random) for name, value in part.items()}


def _bypass(random: np.random.Generator, v_rms: float) -> dict[str, Any]:
    match int(random.integers(4)):
        case 0:
            return {"kind": "capacitor", "c_f": _even(random, 2.2e-8, 1e-6), "r_parallel_ohm": 1e6}
        case 1:
            return {"kind": "resistor", "r_ohm": _even(random, 4.7e3, 4.7e5) * (v_rms / 230.0) ** 2}
        case 2:
            return {
                "kind": "ptc",
                "r_cold_ohm": _even(random, 1e3, 1e4),
                "t_switch_k": 373.15,
                "r_thermal_k_per_w": 60.0,
            }
    return {
        "kind": "active",
        "i_limit_a": _even(random, 3e-3, 3e-2),
        "r_on_ohm": _even(random, 300.0, 3e3),
        "v_cutoff_v": float(random.uniform(20.0, 150.0)) * v_rms / 230.0,
    }
