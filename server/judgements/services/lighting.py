"""A draft while the light is on: whether control and lamps go together, and a cycle of it; core in, words out."""

from __future__ import annotations

from typing import Any

from ember_core.dimming.compatibility import (
    DECLARATIONS,
    LoadClass,
    Rule,
    Together,
    class_of,
    declared_of,
    rule_for,
)
from ember_core.dimming.gang import LightCurve, WhileLit, while_lit
from ember_core.dimming.lit_findings import Span
from ember_core.dimming.simulate import OnState
from ember_core.dimming.trims import SiteTrims
from ember_core.parts import PhaseMode
from judgements.services.spreading import complete
from wording.texts import catalogue, fill, vocabulary_of

Json = dict[str, Any]
# Points of a drawn cycle.
MOST_POINTS = 360


def lit_answer(
    document: Json,
    region: str,
    edge: str,
    level_deg: float | None,
    headroom_ratio: float | None,
    trims: Json | None,
) -> Json:
    """The gang while on, in words, with its picture.

    Raises
    ------
    InputErrors, SolverError : see core; an incomplete draft raises `InputErrors` with `missing`.
    """
    given = complete(document)
    found = while_lit(
        given.loop,
        edge=PhaseMode(edge) if edge else None,
        level_deg=level_deg,
        headroom_ratio=headroom_ratio,
        site=SiteTrims(**trims) if trims else None,
    )
    texts = catalogue("dimming")
    members = [
        _member(group, class_of(lamp), declared_of(lamp), rule)
        for group, (lamp, rule) in enumerate(zip(given.loop.lamps, found.together.members, strict=True), 1)
    ]
    return {
        "mode": None if found.mode is None else found.mode.value,
        "mode_text": catalogue("choices")[found.mode.value] if found.mode else texts["mode_unknown"],
        "edge": found.edge.value,
        "verdict": found.verdict.value,
        "verdict_text": texts["verdicts"][found.verdict.value],
        "members": members,
        "mixed": _mixed(found.together),
        "findings": [
            {
                "severity": finding.severity.value,
                "text": fill(texts["findings"][finding.code], finding.params, vocabulary_of(region)),
            }
            for finding in found.findings
        ],
        "level_deg": found.level_deg,
        "headroom_ratio": found.headroom_ratio,
        "picture": None if found.picture is None else _picture(found.picture),
        "picture_text": _picture_words(found),
        "curve": None if found.curve is None else _curve(found.curve),
        "assumed": texts["assumed"],
    }


def matrix_rows() -> list[Json]:
    """The whole matrix: a row a load and declaration, a cell a mode."""
    texts = catalogue("dimming")
    rows = []
    for load in LoadClass:
        for declared in DECLARATIONS:
            cells = [rule_for(load, declared, mode) for mode in PhaseMode]
            rows.append(
                {
                    "load": texts["loads"][load.value],
                    "declared": texts["declared"][declared],
                    "cells": [
                        {
                            "mode": mode.value,
                            "mode_text": catalogue("choices")[mode.value],
                            "verdict": rule.verdict.value,
                            "verdict_text": texts["verdicts"][rule.verdict.value],
                            "text": _reason(rule),
                        }
                        for mode, rule in zip(PhaseMode, cells, strict=True)
                    ],
                }
            )
    return rows


def _reason(rule: Rule) -> str:
    texts = catalogue("dimming")
    test = "" if rule.test is None else f" {texts['tests'][rule.test]}"
    return f"{texts['reasons'][rule.reason]}{test}"


def _member(group: int, load: LoadClass, declared: str, rule: Rule) -> Json:
    texts = catalogue("dimming")
    return {
        "group": group,
        "load": texts["loads"][load.value],
        "declared": texts["declared"][declared],
        "verdict": rule.verdict.value,
        "verdict_text": texts["verdicts"][rule.verdict.value],
        "text": _reason(rule),
    }


def _mixed(found: Together) -> str:
    return "" if found.mixed is None else str(catalogue("dimming")["mixed"][found.mixed])


def _picture(found: OnState) -> Json:
    every = max(1, len(found.theta_deg) // MOST_POINTS)
    return {
        "theta_deg": found.theta_deg[::every].tolist(),
        "v_source_v": found.v_source_v[::every].tolist(),
        "v_lamp_v": found.v_lamp_v[::every].tolist(),
        "i_line_a": found.i_line_a[::every].tolist(),
        "i_peak_a": found.i_peak_a,
        "i_rms_a": found.i_rms_a,
        "lamp_v_rms": found.lamp_v_rms,
        "fired_deg": found.fired_deg,
        "drop_out_deg": found.drop_out_deg,
        "v_at_zero_crossing_v": found.v_at_zero_crossing_v,
        "i2t_a2s": found.i2t_a2s,
    }


def _picture_words(found: WhileLit) -> str:
    texts = catalogue("dimming")
    picture = found.picture
    if picture is None:
        return ""
    params: Json = {
        "level_deg": found.level_deg,
        "i_peak_a": picture.i_peak_a,
        "i_rms_a": picture.i_rms_a,
        "lamp_v": picture.lamp_v_rms,
        "drop_out_deg": picture.drop_out_deg or 0.0,
        "v_left_v": picture.v_at_zero_crossing_v or 0.0,
    }
    if found.edge is PhaseMode.LEADING:
        code = "picture_leading" if picture.drop_out_deg is not None else "picture_leading_holds"
    else:
        code = "picture_trailing" if found.edge is PhaseMode.TRAILING else "picture_closing"
    return fill(texts[code], params)


def _span(span: Span) -> Json:
    return {"p05": span.p05, "p50": span.p50, "p95": span.p95}


def _curve(curve: LightCurve) -> Json:
    return {
        "gamma_deg": list(curve.gamma_deg),
        "low": list(curve.low),
        "middle": list(curve.middle),
        "high": list(curve.high),
        "drop_out_deg": _span(curve.drop_out_deg),
        "pop_on_deg": _span(curve.pop_on_deg),
        "least_deg": curve.least_deg,
        "start_deg": curve.start_deg,
        "most_deg": curve.most_deg,
        "text": fill(
            catalogue("dimming")["curve"],
            {
                "least_deg": curve.least_deg,
                "start_deg": curve.start_deg,
                "most_deg": curve.most_deg,
                "out_low_deg": curve.drop_out_deg.p05,
                "out_high_deg": curve.drop_out_deg.p95,
                "on_low_deg": curve.pop_on_deg.p05,
                "on_high_deg": curve.pop_on_deg.p95,
            },
        ),
    }
