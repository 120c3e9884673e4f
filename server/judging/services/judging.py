"""Judging a sheet document: core in, plain data out."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

import numpy as np

from ember_core import CORE_VERSION, sheet
from ember_core.errors import InputErrors
from ember_core.findings import Finding
from ember_core.judgement import Judgement, judge

Json = dict[str, Any]
# Figures for drawing need no more digits, and travel in a third of the bytes.
DRAWN_DIGITS = 4


def missing_parts(document: Json) -> list[str]:
    """What a sheet still lacks for a judgement, as paths."""
    missing = []
    if document.get("control") is None:
        missing.append("control")
    if not document.get("lamps"):
        missing.append("lamps")
    return missing


def check_incomplete(document: Json, missing: list[str]) -> None:
    """Check what is there of an incomplete sheet.

    Raises
    ------
    InputErrors : what is wrong apart from what is missing.
    """
    try:
        sheet.read(document)
    except InputErrors as errors:
        wrong = [error for error in errors.errors if error.path not in missing]
        if wrong:
            raise InputErrors(wrong) from errors


def judge_document(document: Json) -> Judgement:
    """Judge a complete sheet; raises what the core raises."""
    return judge(sheet.read(document))


def finding_data(finding: Finding) -> Json:
    """A finding as it is stored: code and parameters, no words."""
    return {
        "code": finding.code,
        "severity": finding.severity.value,
        "params": dict(finding.params),
        "refs": list(finding.refs),
    }


def result_data(judgement: Judgement, *, drawn: bool) -> Json:
    """A judgement as JSON data.

    Parameters
    ----------
    drawn : with the arrays for drawing; stored judgements go without them.
    """
    off = judgement.off_state
    data: Json = {
        "verdict": judgement.verdict.value,
        "core_version": CORE_VERSION,
        "findings": [finding_data(finding) for finding in judgement.findings],
        "cautions": list(judgement.cautions),
        "lamp_v_rms": off.lamp_v_rms,
        "lamp_v_peak": off.lamp_v_peak,
        "line_i_rms_a": off.line_i_rms_a,
        "lamps": [asdict(lamp) for lamp in off.lamps],
        "control": asdict(off.control),
        "shares": asdict(off.shares),
        "closed_form": asdict(off.closed_form),
        "numerics": asdict(off.numerics),
        "meter": [asdict(reading) for reading in judgement.meter],
    }
    if drawn:
        data["waveforms"] = asdict(off.waveforms)
        data["blink"] = None if off.blink is None else asdict(off.blink)
        data["power_curve"] = None if off.power_curve is None else asdict(off.power_curve)
    return _plain(data)


def _plain(value: Any) -> Any:
    """Arrays as lists of few digits; infinity, which JSON lacks, as null."""
    if isinstance(value, dict):
        return {key: _plain(entry) for key, entry in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(entry) for entry in value]
    if isinstance(value, np.ndarray):
        return [float(f"{entry:.{DRAWN_DIGITS}g}") for entry in value]
    if isinstance(value, float) and not math.isfinite(value):
        return None
    return value
