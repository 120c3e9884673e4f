"""What is found of a gang on a dimmer, each with its figures over the ranges of what nobody states."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, inf, pi, radians, sin

from ember_core.findings import Finding, Severity
from ember_core.lit.decay import TURN_OFF_DEG, decay_spare_s
from ember_core.lit.holding import draws_after_crest, holds_to_deg, ring_settles, wanted_hold_deg
from ember_core.lit.loads import (
    R_UNLOADED_OHM,
    capacitance_f,
    conductance_s,
)
from ember_core.lit.ranges import LitFigures
from ember_core.lit.spans import over, share_of, span_of
from ember_core.lit.stress import (
    largest_group,
    lost_half_wave,
    most_on_dimmer,
    peak_allowed_a,
    rms_allowed_a,
    stiff,
    stress,
)
from ember_core.lit.supply import gap_deg
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.parts import IronCoreTransformerLamp, SetUp, rated_w
from ember_core.spread.judged import SURE_RATIO

# A triac lost for one half-wave is told at a middling level.
MIDDLE_DEG = 90.0
Params = dict[str, float | int | str]


def _severity(share: float) -> Severity:
    return Severity.WARN if share >= 1.0 - SURE_RATIO else Severity.STOP


def holding(loop: Loop, tried: Sequence[LitFigures]) -> Finding:
    """Angle at which the triac lets go, at low mains; capacitor-input lamps alone let go after their pulse."""
    if not draws_after_crest(loop, tried[0]):
        return Finding(code="on_pulse_only", severity=Severity.STOP)
    angles = over(tried, lambda figures: min(180.0, holds_to_deg(loop, figures)))
    wanted = wanted_hold_deg(loop)
    span, share = span_of(angles), share_of([angle >= wanted for angle in angles])
    params: Params = {
        "low_deg": span.p05,
        "high_deg": span.p95,
        "share_ratio": share,
        "least_deg": wanted,
    }
    if share >= SURE_RATIO:
        return Finding(code="on_holds", severity=Severity.GOOD, params=params)
    return Finding(code="on_lets_go_early", severity=_severity(share), params=params)


def stresses(loop: Loop, tried: Sequence[LitFigures], headroom_ratio: float) -> list[Finding]:
    """Peak and rms on a stiff supply against what the control stands; and both against a filament of the same watts."""
    found = [stress(loop, stiff(loop, figures)) for figures in tried]
    peak, rms = span_of([one.i_peak_a for one in found]), span_of([one.i_rms_a for one in found])
    crest = span_of([one.crest_ratio for one in found])
    findings = []
    if all(one.peak_ratio is not None and one.rms_ratio is not None for one in found):
        against = span_of([one.peak_ratio or 0.0 for one in found])
        over_rms = span_of([one.rms_ratio or 0.0 for one in found])
        params: Params = {
            "peak_low_ratio": against.p05,
            "peak_high_ratio": against.p95,
            "rms_low_ratio": over_rms.p05,
            "rms_high_ratio": over_rms.p95,
            "crest_ratio": crest.p50,
        }
        findings.append(Finding(code="on_against_filament", severity=Severity.INFO, params=params))
    most_a, most_rms_a = peak_allowed_a(loop, headroom_ratio), rms_allowed_a(loop)
    if most_a is None or most_rms_a is None:
        return [*findings, Finding(code="on_peak_unknown", severity=Severity.WARN, params={"i_peak_a": peak.p50})]
    for span, most, borne, too_high in (
        (peak, most_a, "on_peak_borne", "on_peak_too_high"),
        (rms, most_rms_a, "on_rms_borne", "on_rms_too_high"),
    ):
        of_span: Params = {
            "low_a": span.p05,
            "high_a": span.p95,
            "most_a": most,
            "headroom_ratio": headroom_ratio,
        }
        is_borne = span.p95 <= most
        severity = Severity.GOOD if is_borne else Severity.WARN if span.p05 <= most else Severity.STOP
        findings.append(Finding(code=borne if is_borne else too_high, severity=severity, params=of_span))
    return findings


def count_allowed(loop: Loop, typical: LitFigures, headroom_ratio: float) -> Finding:
    """Most lamps of the largest group by peak and rms, with typical figures: the derating as a count and in watts."""
    found = most_on_dimmer(loop, typical, headroom_ratio)
    watts = loop.control.p_max_filament_w
    if found is None or watts is None:
        return Finding(code="on_count_unknown", severity=Severity.INFO)
    most, governs = found
    group = largest_group(loop)
    lamp = loop.lamps[group]
    each = rated_w(lamp)
    params: Params = {
        "most_count": most,
        "group": group + 1,
        "headroom_ratio": headroom_ratio,
        "filament_w": watts,
    }
    severity = Severity.GOOD if most >= lamp.count else Severity.STOP
    if each is None:
        return Finding(code="on_count_lamps", severity=severity, params=params)
    params |= {"lamps_w": most * each, "derated_ratio": most * each / watts}
    return Finding(code=f"on_count_{governs.value}", severity=severity, params=params)


def ring(loop: Loop, tried: Sequence[LitFigures]) -> list[Finding]:
    """Whether the gate pulse outlasts the ring of the input filters; where it does not, chance decides."""
    if not draws_after_crest(loop, tried[0]):
        return []
    share = share_of([ring_settles(loop, figures) for figures in tried])
    params: Params = {"share_ratio": share}
    if share >= SURE_RATIO:
        return [Finding(code="on_ring_settles", severity=Severity.GOOD, params=params)]
    return [Finding(code="on_ring_may_misfire", severity=Severity.WARN, params=params)]


def supply_gap(loop: Loop, tried: Sequence[LitFigures]) -> Finding | None:
    """What a dimmer in series takes of each half-cycle for its own supply through a load like a resistor."""
    if loop.control.standby is None or conductance_s(loop, tried[0]) <= 0.0:
        return None
    gaps = over(tried, lambda figures: gap_deg(loop, figures))
    fed = [gap for gap in gaps if gap < inf]
    share = len(fed) / len(gaps)
    if share < SURE_RATIO:
        return Finding(code="on_gap_never", severity=Severity.WARN, params={"share_ratio": share})
    span = span_of(fed)
    left = closed_form.rms_ratio(radians(span.p95))
    return Finding(
        code="on_gap",
        severity=Severity.INFO,
        params={"low_deg": span.p05, "high_deg": span.p95, "left_ratio": left, "light_ratio": left**2},
    )


def half_wave(loop: Loop, typical: LitFigures) -> list[Finding]:
    """Direct current through an iron core when its dimmer loses one half-wave."""
    findings = []
    for k, lamp in enumerate(loop.lamps):
        if not isinstance(lamp, IronCoreTransformerLamp):
            continue
        r = lamp.r_winding_ohm + typical.control["r_source_ohm"]
        one = lost_half_wave(loop.supply.v_peak, loop.supply.f_hz, radians(MIDDLE_DEG), r, lamp.l_magnetising_h)
        params: Params = {
            "group": k + 1,
            "v_dc_v": one.v_dc_v,
            "i_dc_a": one.i_dc_a,
            "over_ratio": one.over_magnetising_ratio,
        }
        findings.append(Finding(code="on_half_wave_lost", severity=Severity.WARN, params=params))
    return findings


def spike(loop: Loop, typical: LitFigures) -> list[Finding]:
    """What an iron core drives across a trailing-edge control when it opens, the worst over its levels.

    Loaded, its magnetising current finds the load and the leakage inductance rings with what is there; unloaded, all of
    it rings.
    """
    findings = []
    c = max(capacitance_f(loop, typical, with_film=True) + loop.control.c_snubber_f, 1e-10)
    w, v_peak = 2.0 * pi * loop.supply.f_hz, loop.supply.v_peak
    for k, (lamp, own) in enumerate(zip(loop.lamps, typical.lamps, strict=True)):
        if not isinstance(lamp, IronCoreTransformerLamp):
            continue
        l_h, l_leak = lamp.l_magnetising_h / lamp.count, own["l_leakage_h"] / lamp.count
        unloaded = closed_form.inductive_spike_v(0.0, 2.0 * v_peak / (w * l_h), l_h, c, R_UNLOADED_OHM)
        watts = rated_w(lamp)
        loaded = unloaded
        if watts is not None:
            r = loop.supply.v_rms**2 / (watts * lamp.count)
            loaded = max(_loaded_spike_v(v_peak, w, beta, r, l_h, l_leak, c) for beta in map(radians, TURN_OFF_DEG))
        params: Params = {"group": k + 1, "v_spike_v": loaded, "v_unloaded_v": unloaded}
        findings.append(Finding(code="on_iron_spike", severity=Severity.STOP, params=params))
    return findings


def _loaded_spike_v(v_peak: float, w: float, beta: float, r: float, l_h: float, l_leak: float, c: float) -> float:
    v_at, i_magnetising = v_peak * sin(beta), v_peak * (1.0 - cos(beta)) / (w * l_h)
    leakage = closed_form.inductive_spike_v(v_at, i_magnetising + v_at / r, l_leak, c, R_UNLOADED_OHM)
    return max(i_magnetising * r, leakage)


def least_of_transformers(loop: Loop) -> list[Finding]:
    """Electronic transformers whose load is below what they start with."""
    findings = []
    for k, lamp in enumerate(loop.lamps):
        least, watts = getattr(lamp, "p_least_w", None), rated_w(lamp)
        if least is None or watts is None:
            continue
        params: Params = {"group": k + 1, "least_w": least, "there_w": watts}
        code = "on_transformer_loaded" if watts >= least else "on_transformer_light"
        severity = Severity.GOOD if watts >= least else Severity.STOP
        findings.append(Finding(code=code, severity=severity, params=params))
    return findings


def set_up(loop: Loop) -> list[Finding]:
    """What the control asks for before use, as a step and a warning."""
    asked = loop.control.asks_for
    found = []
    if asked in (SetUp.LEARNS_LOAD, SetUp.BOTH_OF_THEM):
        found.append(Finding(code="on_learns_load", severity=Severity.WARN))
    if asked in (SetUp.TWO_WIRE_LINK, SetUp.BOTH_OF_THEM):
        found.append(Finding(code="on_two_wire_link", severity=Severity.WARN))
    return found


def decay(loop: Loop, tried: Sequence[LitFigures]) -> Finding:
    """Fall of the switched live after turn-off against the time there is, at low mains and over every level."""
    worst = [min((decay_spare_s(loop, figures, angle), angle) for angle in TURN_OFF_DEG) for figures in tried]
    share = share_of([spare >= 0.0 for spare, _ in worst])
    least = min(worst)
    params: Params = {"share_ratio": share, "turn_off_deg": least[1]}
    if share >= SURE_RATIO:
        return Finding(code="on_decays", severity=Severity.GOOD, params=params)
    if least[0] < -0.5:
        return Finding(code="on_never_decays", severity=Severity.STOP, params=params)
    # Where it decays at the lowest level the top can be set so that it does: a condition, and no must not.
    at_least = share_of([decay_spare_s(loop, figures, TURN_OFF_DEG[0]) >= 0.0 for figures in tried])
    return Finding(code="on_decays_late", severity=_severity(at_least), params=params)
