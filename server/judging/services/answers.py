"""A judgement as the API gives it: data and words together."""

from __future__ import annotations

from typing import Any

from ember_core import CORE_VERSION, sheet
from ember_core.sheet import Sheet
from judging.services.judging import check_incomplete, judge_document, missing_parts, result_data
from judging.services.words import caution_words, finding_words, verdict_words

Json = dict[str, Any]
_FIGURES = (
    "lamp_v_rms",
    "lamp_v_peak",
    "line_i_rms_a",
    "lamps",
    "control",
    "shares",
    "closed_form",
    "numerics",
    "meter",
    "waveforms",
    "blink",
    "power_curve",
)


def judged(document: Json, region: str) -> Json:
    """Judge a sheet document; an incomplete one is unknown, a wrong one raises what the core raises."""
    missing = missing_parts(document)
    if missing:
        check_incomplete(document, missing)
        return {
            "verdict": "unknown",
            "words": verdict_words("unknown", is_switch=False),
            "core_version": CORE_VERSION,
            "missing": missing,
            "findings": [],
            "cautions": caution_words(["isolate_and_prove_dead", "no_borrowed_neutral", "local_code"], region),
            "figures": None,
        }
    given = sheet.read(document)
    return in_words(result_data(judge_document(document), drawn=True), given, region)


def in_words(data: Json, given: Sheet, region: str) -> Json:
    """Stored or fresh result data with its words."""
    return {
        "verdict": data["verdict"],
        "words": verdict_words(data["verdict"], is_switch=given.loop.control.standby is None),
        "core_version": data["core_version"],
        "missing": [],
        "findings": [finding_words(finding, given, region) for finding in data["findings"]],
        "cautions": caution_words(data["cautions"], region),
        "figures": {name: data[name] for name in _FIGURES if name in data},
    }
