"""`ember judge`: a loop sheet judged over the ranges of its figures."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

from ember_cli.solving import each
from ember_core import CORE_VERSION, sheet
from ember_core.errors import SolverError
from ember_core.spread.disturbance import disturbance
from ember_core.spread.judged import Range, Spread, judge_spread
from ember_core.spread.variables import DEFAULT_SAMPLES


def range_data(found: Range) -> dict[str, float | None]:
    """Percentiles as JSON data; infinity, which JSON lacks, as null."""
    return {name: value if math.isfinite(value) else None for name, value in asdict(found).items()}


def spread_data(spread: Spread) -> dict[str, Any]:
    """A judgement over ranges as JSON data."""
    return {
        "samples": spread.samples,
        "seed": spread.seed,
        "failed": spread.failed,
        "all_well": spread.all_well,
        "lamps": [shares.by_state for shares in spread.lamps],
        "control": None if spread.control is None else spread.control.by_state,
        "margins": [range_data(margin) for margin in spread.margins],
        "lamp_v_rms": range_data(spread.lamp_v_rms),
        "line_i_rms_a": range_data(spread.line_i_rms_a),
        "deciding": [asdict(entry) for entry in spread.deciding],
        "worst": {
            variable.path: float(value)
            for variable, value in zip(spread.found, spread.values[spread.worst], strict=True)
        },
    }


def run(file: str, samples: int | None, seed: int) -> int:
    """Judge every sheet of a file; status 1 when one failed."""
    drawn = DEFAULT_SAMPLES if samples is None else samples

    def judged(document: Any) -> dict[str, Any]:
        given = sheet.read(document)
        answer = {"name": given.name, **spread_data(judge_spread(given, samples=drawn, seed=seed))}
        try:
            answer["disturbance"] = asdict(disturbance(given.loop))
        except SolverError:
            answer["disturbance"] = None
        return {**answer, "core_version": CORE_VERSION}

    return each(file, judged)
