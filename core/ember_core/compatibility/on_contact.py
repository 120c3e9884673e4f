"""What is found of a gang on a relay contact: inrush, closing near the zero crossing, and its supply while on."""

from __future__ import annotations

from collections.abc import Sequence
from math import inf

from ember_core.compatibility.on_dimmer import Params
from ember_core.findings import Finding, Severity
from ember_core.lit.loads import capacitance_f
from ember_core.lit.ranges import LitFigures
from ember_core.lit.spans import over, share_of, span_of
from ember_core.lit.stress import inrush, most_on_contact, reservoirs, stiff, weak
from ember_core.lit.supply import fed_by_load, fed_while_on, supply_gets_a, supply_needs_f
from ember_core.loop import Loop
from ember_core.parts import CapacitiveDropperLamp, FilamentLamp, IronCoreTransformerLamp
from ember_core.spread.judged import SURE_RATIO


def closing(loop: Loop, tried: Sequence[LitFigures], typical: LitFigures) -> list[Finding]:
    """Pulse of a closing contact at high mains: at the crest on a stiff supply, and near the zero crossing."""
    has_iron = any(isinstance(lamp, IronCoreTransformerLamp) for lamp in loop.lamps)
    findings = [Finding(code="on_iron_inrush", severity=Severity.WARN)] if has_iron else []
    rated_a, rated_a2s = loop.control.i_inrush_max_a, loop.control.i2t_max_a2s
    is_rated = rated_a is not None or rated_a2s is not None
    takes_much = any(isinstance(lamp, CapacitiveDropperLamp | FilamentLamp) for lamp in loop.lamps)
    if reservoirs(loop) is None and not takes_much and not is_rated:
        return [*findings, Finding(code="on_inrush_small", severity=Severity.INFO)]
    hard = [inrush(loop, stiff(loop, figures)) for figures in tried]
    soft = [inrush(loop, weak(loop, figures)).i_peak_a for figures in tried]
    peak, i2t = span_of([one.i_peak_a for one in hard]), span_of([one.i2t_a2s for one in hard])
    params: Params = {"low_a": span_of(soft).p05, "high_a": peak.p95, "i2t_a2s": i2t.p95}
    if not is_rated:
        findings.append(Finding(code="on_inrush", severity=Severity.WARN, params=params))
    else:
        borne = peak.p95 <= (rated_a or inf) and i2t.p95 <= (rated_a2s or inf)
        params["most_count"] = most_on_contact(loop, typical)
        code = "on_inrush_borne" if borne else "on_inrush_too_high"
        findings.append(Finding(code=code, severity=Severity.GOOD if borne else Severity.STOP, params=params))
    return [*findings, _near_crossing(loop, tried, typical)]


def _near_crossing(loop: Loop, tried: Sequence[LitFigures], typical: LitFigures) -> Finding:
    """The same for a contact that closes at the zero crossing, as well as its timing allows."""
    near = [inrush(loop, stiff(loop, figures), off_crossing_s=figures.control["closing_error_s"]) for figures in tried]
    params: Params = {
        "high_a": span_of([one.i_peak_a for one in near]).p95,
        "i2t_a2s": span_of([one.i2t_a2s for one in near]).p95,
        "error_short_s": span_of([figures.control["closing_error_s"] for figures in tried]).p95,
    }
    code = "on_near_crossing"
    if loop.control.i_inrush_max_a is not None or loop.control.i2t_max_a2s is not None:
        error_s = float(params["error_short_s"])
        params["most_count"] = most_on_contact(loop, typical, off_crossing_s=error_s)
        code = "on_near_crossing_count"
    return Finding(code=code, severity=Severity.INFO, params=params)


def supply_while_on(loop: Loop, tried: Sequence[LitFigures], typical: LitFigures) -> Finding:
    """Whether a control that lives in series is fed while on through the capacitance at the lamps."""
    if loop.control.standby is None:
        return Finding(code="on_supply_none", severity=Severity.INFO)
    if share_of([fed_by_load(loop, figures) for figures in tried]) >= SURE_RATIO:
        return Finding(code="on_supply_by_load", severity=Severity.GOOD)
    there = capacitance_f(loop, typical, with_film=False)
    span = span_of(over(tried, lambda figures: supply_needs_f(loop, figures)))
    # The same as the limit of the load says.
    share = share_of([fed_while_on(loop, figures) for figures in tried])
    params: Params = {
        "low_f": span.p05,
        "high_f": span.p95,
        "there_f": there,
        "share_ratio": share,
        "i_need_a": typical.control["i_need_on_a"],
        "i_there_a": supply_gets_a(loop, typical),
    }
    if share >= SURE_RATIO:
        return Finding(code="on_supply_fed", severity=Severity.GOOD, params=params)
    return Finding(code="on_supply_unsure", severity=Severity.WARN, params=params)
