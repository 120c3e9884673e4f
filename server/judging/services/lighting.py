"""A draft while the light is on: whether control and lamps go together, and a cycle of it; core in, words out."""

from __future__ import annotations

from typing import Any

from ember_core.compatibility.case_verdict import unsettled
from ember_core.compatibility.gang import LEVEL_DEG, EdgeVerdict, WhileLit, band_edge, while_lit
from ember_core.compatibility.matrix import (
    DECLARATIONS,
    LoadClass,
    Rule,
    Together,
    class_of,
    declared_of,
    rule_for,
)
from ember_core.compatibility.trims import SiteTrims
from ember_core.errors import SolverError
from ember_core.findings import Finding
from ember_core.lit.light import MARGIN_DEG, LightCurve, acts_at_deg
from ember_core.lit.pictures import View, band, view_of
from ember_core.lit.ranges import typical_of
from ember_core.lit.spans import Span
from ember_core.lit.stress import peak_allowed_a
from ember_core.onstate.simulate import OnState
from ember_core.parts import PhaseMode
from ember_core.sheet import Sheet
from judging.services.judging import finding_data
from judging.services.spreading import complete
from wording.texts import catalogue, fill, vocabulary_of

Json = dict[str, Any]
# Points of a drawn cycle.
MOST_POINTS = 360


def lit_answer(document: Json, region: str, asked: Json) -> Json:
    """The gang while on, in words, with its picture.

    Parameters
    ----------
    asked : `edge`, `level_deg`, `headroom_ratio`, `view`, `trims`; empty or None for what nobody chose.

    Raises
    ------
    InputErrors, SolverError : see core; an incomplete draft raises `InputErrors` with `missing`.
    """
    given = complete(document)
    trims = asked["trims"]
    found = while_lit(
        given,
        edge=PhaseMode(asked["edge"]) if asked["edge"] else None,
        level_deg=asked["level_deg"],
        headroom_ratio=asked["headroom_ratio"],
        site=SiteTrims(**trims) if trims else None,
        view=View(asked["view"]) if asked["view"] else None,
    )
    texts = catalogue("dimming")
    words = vocabulary_of(region)
    left = list(found.findings)
    members = []
    for group, (lamp, rule) in enumerate(zip(given.loop.lamps, found.together.members, strict=True), 1):
        behind = [finding for finding in left if finding.code.startswith(rule.figures)]
        left = [finding for finding in left if finding not in behind]
        members.append(
            {
                **_member(group, class_of(lamp), declared_of(lamp), rule),
                "figures": [_said(finding, words) for finding in behind],
            }
        )
    return {
        "mode": None if found.mode is None else found.mode.value,
        "mode_text": catalogue("choices")[found.mode.value] if found.mode else texts["mode_unknown"],
        "edge": found.edge.value,
        "edges": [_edge(one) for one in found.edges],
        "verdict": found.verdict.value,
        "verdict_text": texts["verdicts"][found.verdict.value],
        "members": members,
        "mixed": _mixed(found.together),
        "findings": [_said(finding, words) for finding in left],
        "level_deg": found.level_deg,
        "headroom_ratio": found.headroom_ratio,
        "view": found.view.value,
        "has_window": found.edge is PhaseMode.ON_OFF and given.loop.control.standby is not None,
        "picture": None if found.picture is None else _picture(given, found, found.picture),
        "picture_text": _picture_words(given, found),
        "curve": None if found.curve is None else _curve(found.curve),
        "assumed": texts["assumed"],
    }


def band_answer(document: Json, asked: Json) -> Json:
    """The band of the picture over what nobody states; raises what `lit_answer` raises."""
    given = complete(document)
    edge = band_edge(given, PhaseMode(asked["edge"]) if asked["edge"] else None)
    view = view_of(given, edge, View(asked["view"]) if asked["view"] else None)
    level = LEVEL_DEG if asked["level_deg"] is None else asked["level_deg"]
    found = band(given, edge, view, level)
    every = max(1, len(found.theta_deg) // MOST_POINTS)
    return {
        "theta_deg": found.theta_deg[::every].tolist(),
        "v_low_v": found.v_low_v[::every].tolist(),
        "v_high_v": found.v_high_v[::every].tolist(),
        "i_low_a": found.i_low_a[::every].tolist(),
        "i_high_a": found.i_high_a[::every].tolist(),
        "text": fill(catalogue("dimming")["band"], {"high_a": float(abs(found.i_high_a).max())}),
    }


def lit_kept(given: Sheet, trims: Json | None) -> Json:
    """What the record keeps of a gang while on: verdict and findings by code, no words; empty where not computed."""
    try:
        found = while_lit(given, site=SiteTrims(**trims) if trims else None, with_picture=False)
    except SolverError:
        return {}
    return {
        "mode": None if found.mode is None else found.mode.value,
        "edge": found.edge.value,
        "verdict": found.verdict.value,
        "members": [rule.id for rule in found.together.members],
        "mixed": found.together.mixed,
        "findings": [finding_data(finding) for finding in found.findings],
        "trims": None
        if found.curve is None
        else {name: getattr(found.curve, name) for name in ("least_deg", "start_deg", "most_deg")},
    }


def lit_words(kept: Json, region: str) -> Json:
    """A kept answer with its words, for paper."""
    texts = catalogue("dimming")
    words = vocabulary_of(region)
    return {
        "mode": catalogue("choices")[kept["mode"]] if kept["mode"] else texts["mode_unknown"],
        "verdict": texts["verdicts"][kept["verdict"]],
        "mixed": "" if kept["mixed"] is None else texts["mixed"][kept["mixed"]],
        "findings": [fill(texts["findings"][one["code"]], one["params"], words) for one in kept["findings"]],
        "trims": "" if kept["trims"] is None else fill(texts["trims_kept"], kept["trims"]),
    }


def _said(finding: Finding, words: Json) -> Json:
    return {
        "severity": finding.severity.value,
        "text": fill(catalogue("dimming")["findings"][finding.code], finding.params, words),
    }


def _edge(one: EdgeVerdict) -> Json:
    texts = catalogue("dimming")
    against = [fill(texts["findings"][finding.code], finding.params) for finding in one.against[:2]]
    return {
        "edge": one.edge.value,
        "edge_text": catalogue("choices")[one.edge.value],
        "verdict": one.verdict.value,
        "verdict_text": texts["verdicts"][one.verdict.value],
        "text": " ".join(against),
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


def _picture(given: Sheet, found: WhileLit, picture: OnState) -> Json:
    every = max(1, len(picture.theta_deg) // MOST_POINTS)
    said = {finding.code: finding.params for finding in found.findings}
    holds = said.get("on_holds") or said.get("on_lets_go_early")
    gap = said.get("on_gap")
    is_window = found.edge is PhaseMode.ON_OFF and found.view is View.RUNNING
    curve = found.curve
    trims = () if curve is None else (curve.least_deg, curve.start_deg, curve.most_deg)
    return {
        "theta_deg": picture.theta_deg[::every].tolist(),
        "v_source_v": picture.v_source_v[::every].tolist(),
        "v_lamp_v": picture.v_lamp_v[::every].tolist(),
        "i_line_a": picture.i_line_a[::every].tolist(),
        "i_peak_a": picture.i_peak_a,
        "i_rms_a": picture.i_rms_a,
        "lamp_v_rms": picture.lamp_v_rms,
        "fired_deg": picture.fired_deg,
        "drop_out_deg": picture.drop_out_deg,
        "v_at_zero_crossing_v": picture.v_at_zero_crossing_v,
        "i2t_a2s": picture.i2t_a2s,
        "gap": None if gap is None else _between(gap),
        "holds": None if holds is None else _between(holds),
        "window_deg": typical_of(given.loop, given.figures, found.edge).control["gap_deg"] if is_window else None,
        "peak_allowed_a": peak_allowed_a(given.loop, found.headroom_ratio)
        if found.edge is PhaseMode.LEADING
        else given.loop.control.i_inrush_max_a,
        "marks": [
            {"name": name, "theta_deg": acts_at_deg(found.edge, gamma)}
            for name, gamma in zip(("least", "start", "most"), trims, strict=False)
        ],
    }


def _between(params: Any) -> Json:
    low, high = float(params["low_deg"]), float(params["high_deg"])
    return {"p05": low, "p50": 0.5 * (low + high), "p95": high}


def _picture_words(given: Sheet, found: WhileLit) -> str:
    texts = catalogue("dimming")
    picture = found.picture
    if picture is None:
        return ""
    figures = typical_of(given.loop, given.figures, found.edge).control
    params: Json = {
        "level_deg": found.level_deg,
        "i_peak_a": picture.i_peak_a,
        "i_rms_a": picture.i_rms_a,
        "lamp_v": picture.lamp_v_rms,
        "drop_out_deg": picture.drop_out_deg or 0.0,
        "v_left_v": picture.v_at_zero_crossing_v or 0.0,
        "i_supply_a": picture.i_supply_avg_a or 0.0,
        "i_need_a": figures["i_need_on_a"],
        "window_deg": figures["gap_deg"],
    }
    if found.edge is PhaseMode.LEADING:
        code = "picture_leading" if picture.drop_out_deg is not None else "picture_leading_holds"
    elif found.edge is PhaseMode.TRAILING:
        code = "picture_trailing"
    else:
        code = "picture_closing" if found.view is View.CLOSING else "picture_window"
    return " ".join([fill(texts[code], params), *(_said(finding, {})["text"] for finding in unsettled(picture))])


def _span(span: Span) -> Json:
    return {"p05": span.p05, "p50": span.p50, "p95": span.p95}


def _curve(curve: LightCurve) -> Json:
    texts = catalogue("dimming")
    params = {
        "least_deg": curve.least_deg,
        "start_deg": curve.start_deg,
        "most_deg": curve.most_deg,
        "out_low_deg": curve.drop_out_deg.p05,
        "out_high_deg": curve.drop_out_deg.p95,
        "on_low_deg": curve.pop_on_deg.p05,
        "on_high_deg": curve.pop_on_deg.p95,
        "group": curve.groups[curve.worst].group,
        "low_light_ratio": curve.least_light,
        "high_light_ratio": curve.most_light,
    }
    goes_out = curve.drop_out_deg.p95 >= 1.0
    said = [fill(texts["curve" if goes_out else "curve_never_out"], params)]
    if len(curve.groups) > 1:
        said.append(fill(texts["curve_worst"], params))
    said.append(fill(texts["least_governs"][curve.least_governs], {"margin_deg": MARGIN_DEG}))
    if curve.most_governs is not None:
        said.append(texts["most_governs"][curve.most_governs])
    return {
        "gamma_deg": list(curve.gamma_deg),
        "groups": [
            {"group": one.group, "low": list(one.low), "middle": list(one.middle), "high": list(one.high)}
            for one in curve.groups
        ],
        "worst": curve.worst,
        "drop_out_deg": _span(curve.drop_out_deg),
        "pop_on_deg": _span(curve.pop_on_deg),
        "least_deg": curve.least_deg,
        "start_deg": curve.start_deg,
        "most_deg": curve.most_deg,
        "text": " ".join(said),
        "trims": _trims(curve),
    }


def _trims(curve: LightCurve) -> list[str]:
    """The proposed trims as angle, share of the scale and, where it is known, setting of the control."""
    texts = catalogue("dimming")
    said = []
    for k, name in enumerate(("least", "start", "most")):
        gamma = getattr(curve, f"{name}_deg")
        params: Json = {"trim_deg": gamma, "scale_share_ratio": gamma / 180.0}
        text = fill(texts["trims"][name], params)
        if curve.settings is not None:
            at = curve.settings[k]
            text = f"{text} {fill(texts['setting'], {'at': at.at, 'of': at.of})}"
        said.append(text)
    return said
