"""What is found of a gang while on, each with its figures over the ranges of what nobody states."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import degrees, inf, pi, radians, sin, sqrt

import numpy as np

from ember_core.dimming import closed_form
from ember_core.dimming.lit_loads import (
    HIGH_RATIO,
    HOLDS_TO_DEG,
    LOW_RATIO,
    MOST_LAMPS,
    Figures,
    bleed_a,
    capacitance_f,
    conductance_s,
    firing_peak_a,
    most_on_contact,
)
from ember_core.dimming.on_ranges import typical
from ember_core.findings import Finding, Severity
from ember_core.loop import Loop
from ember_core.parts import (
    DimmableDriverLamp,
    RectifierLamp,
    SetUp,
    rated_w,
)

TURN_OFF_DEG = (60.0, 75.0, 90.0, 105.0, 120.0, 135.0, 150.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """5th, 50th and 95th percentile over the samples."""

    p05: float
    p50: float
    p95: float


def span_of(values: Sequence[float]) -> Span:
    low, middle, high = np.quantile(np.array(values), [0.05, 0.5, 0.95])
    return Span(p05=float(low), p50=float(middle), p95=float(high))


def over(tried: Sequence[Figures], work: Callable[[Figures], float]) -> list[float]:
    return [work(figures) for figures in tried]


def _only(loop: Loop, *classes: type[object]) -> bool:
    return all(type(lamp) in classes for lamp in loop.lamps)


def holding(loop: Loop, tried: Sequence[Figures]) -> Finding:
    """Angle at which the triac lets go, at low mains; capacitor-input lamps alone let go after their pulse."""
    g = conductance_s(loop)
    if g <= 0.0:
        return Finding(code="on_pulse_only", severity=Severity.STOP)
    w, v_peak = 2.0 * pi * loop.supply.f_hz, LOW_RATIO * loop.supply.v_peak
    only_drivers = _only(loop, DimmableDriverLamp)

    def drop_out(figures: Figures) -> float:
        v_min = figures["v_min_v"] if only_drivers else 0.0
        c = capacitance_f(loop, figures, with_film=True)
        return degrees(closed_form.drop_out_rad(v_peak, w, figures["i_hold_a"], g, c, v_min))

    angles = over(tried, drop_out)
    span = span_of(angles)
    share = sum(angle >= HOLDS_TO_DEG for angle in angles) / len(angles)
    params: dict[str, float | int | str] = {
        "low_deg": span.p05,
        "high_deg": span.p95,
        "share_ratio": share,
        "least_deg": HOLDS_TO_DEG,
    }
    if share >= 0.95:
        return Finding(code="on_holds", severity=Severity.GOOD, params=params)
    return Finding(code="on_lets_go_early", severity=Severity.WARN if share >= 0.05 else Severity.STOP, params=params)


def peak(loop: Loop, tried: Sequence[Figures], headroom: float) -> Finding:
    """Peak at firing against what the control is assumed to stand."""
    span = span_of(over(tried, lambda figures: firing_peak_a(loop, figures)))
    watts = loop.control.p_max_filament_w
    if watts is None:
        return Finding(code="on_peak_unknown", severity=Severity.WARN, params={"i_peak_a": span.p50})
    allowed = headroom * sqrt(2.0) * watts / loop.supply.v_rms
    params: dict[str, float | int | str] = {
        "low_a": span.p05,
        "high_a": span.p95,
        "most_a": allowed,
        "headroom_ratio": headroom,
    }
    if span.p95 <= allowed:
        return Finding(code="on_peak_borne", severity=Severity.GOOD, params=params)
    severity = Severity.WARN if span.p05 <= allowed else Severity.STOP
    return Finding(code="on_peak_too_high", severity=severity, params=params)


def count_allowed(loop: Loop, headroom: float) -> Finding:
    """Most lamps of the largest group that the peak rule allows, with typical figures: the derating as a count."""
    watts = loop.control.p_max_filament_w
    if watts is None:
        return Finding(code="on_count_unknown", severity=Severity.INFO)
    allowed = headroom * sqrt(2.0) * watts / loop.supply.v_rms
    figures = typical(loop.supply.v_rms)
    group = max(range(len(loop.lamps)), key=lambda k: loop.lamps[k].count)
    lamp = loop.lamps[group]
    most = 0
    for count in range(1, MOST_LAMPS + 1):
        lamps = tuple(replace(other, count=count) if k == group else other for k, other in enumerate(loop.lamps))
        if firing_peak_a(replace(loop, lamps=lamps), figures) > allowed:
            break
        most = count
    each = rated_w(lamp) or 0.0
    params: dict[str, float | int | str] = {
        "most_count": most,
        "group": group + 1,
        "headroom_ratio": headroom,
        "led_w": most * each,
        "filament_w": watts,
    }
    enough = most >= lamp.count
    return Finding(code="on_count", severity=Severity.GOOD if enough else Severity.STOP, params=params)


def ring(loop: Loop, tried: Sequence[Figures]) -> list[Finding]:
    """Whether the gate pulse outlasts the ring of the input filters; where it does not, chance decides."""
    g = conductance_s(loop)
    if g <= 0.0:
        return []
    v_peak = LOW_RATIO * loop.supply.v_peak

    def is_settled(figures: Figures) -> bool:
        c = capacitance_f(loop, figures, with_film=True)
        count = max(1, sum(lamp.count for lamp in loop.lamps))
        l_h = figures["l_choke_h"] + figures["l_source_h"]
        r = figures["r_damp_ohm"] / count + 1.0 + figures["r_source_ohm"]
        spare = g * v_peak - figures["i_hold_a"]
        return closed_form.ring_settles_s(v_peak, l_h, max(c, 1e-12), r, spare) <= figures["t_gate_s"]

    share = sum(is_settled(figures) for figures in tried) / len(tried)
    params: dict[str, float | int | str] = {"share_ratio": share}
    if share >= 0.95:
        return [Finding(code="on_ring_settles", severity=Severity.GOOD, params=params)]
    return [Finding(code="on_ring_may_misfire", severity=Severity.WARN, params=params)]


def supply_gap(loop: Loop, tried: Sequence[Figures]) -> Finding | None:
    """What a dimmer in series takes of each half-cycle for its own supply through a load like a resistor."""
    g = conductance_s(loop)
    if loop.control.standby is None or g <= 0.0:
        return None
    v_peak = LOW_RATIO * loop.supply.v_peak

    def gap_deg(figures: Figures) -> float:
        found = closed_form.resistive_gap_rad(
            v_peak, loop.supply.f_hz, figures["i_need_a"], figures["v_supply_v"], 1.0 / g, 10.0
        )
        return inf if found is None else degrees(found)

    gaps = over(tried, gap_deg)
    fed = [gap for gap in gaps if gap < inf]
    share = len(fed) / len(gaps)
    if share < 0.95:
        return Finding(code="on_gap_never", severity=Severity.WARN, params={"share_ratio": share})
    span = span_of(fed)
    return Finding(
        code="on_gap",
        severity=Severity.INFO,
        params={"low_deg": span.p05, "high_deg": span.p95, "left_ratio": closed_form.rms_ratio(radians(span.p95))},
    )


def set_up(loop: Loop) -> list[Finding]:
    """What the control asks for before use, as a step and a warning."""
    asked = loop.control.asks_for
    found = []
    if asked in (SetUp.LEARNS_LOAD, SetUp.BOTH_OF_THEM):
        found.append(Finding(code="on_learns_load", severity=Severity.WARN))
    if asked in (SetUp.TWO_WIRE_LINK, SetUp.BOTH_OF_THEM):
        found.append(Finding(code="on_two_wire_link", severity=Severity.WARN))
    return found


def decay(loop: Loop, tried: Sequence[Figures]) -> Finding:
    """Fall of the switched live after turn-off against the time there is, at low mains and over every level."""
    g = conductance_s(loop)
    v_peak = LOW_RATIO * loop.supply.v_peak
    f_hz = 1.01 * loop.supply.f_hz

    def left_s(figures: Figures) -> tuple[float, float]:
        """Time to spare at the worst level, and that level."""
        i = bleed_a(loop, figures)
        c = capacitance_f(loop, figures, with_film=True)
        worst, at = inf, TURN_OFF_DEG[0]
        for angle in TURN_OFF_DEG:
            there = max(0.0, (pi - radians(angle)) / (2.0 * pi * f_hz) - figures["detection_s"])
            needed = closed_form.decay_s(v_peak * sin(radians(angle)), closed_form.DECAYED_TO_V, c, g, i)
            spare = there - min(needed, 1.0)
            if spare < worst:
                worst, at = spare, angle
        return worst, at

    spares = [left_s(figures) for figures in tried]
    share = sum(spare >= 0.0 for spare, _ in spares) / len(spares)
    worst = min(spares)
    params: dict[str, float | int | str] = {"share_ratio": share, "turn_off_deg": worst[1]}
    if share >= 0.95:
        return Finding(code="on_decays", severity=Severity.GOOD, params=params)
    if worst[0] < -0.5:
        return Finding(code="on_never_decays", severity=Severity.STOP, params=params)
    return Finding(code="on_decays_late", severity=Severity.WARN if share >= 0.05 else Severity.STOP, params=params)


def inrush(loop: Loop, tried: Sequence[Figures]) -> Finding:
    """Pulse of a closing contact at the crest, at high mains: I²t of reservoirs together, and the peak."""
    bulk = [lamp for lamp in loop.lamps if isinstance(lamp, RectifierLamp) and not isinstance(lamp, DimmableDriverLamp)]
    if not bulk:
        return Finding(code="on_inrush_small", severity=Severity.INFO)
    r_in = 1.0 / sum(lamp.count / lamp.r_in_ohm for lamp in bulk)
    c = sum(lamp.count * lamp.c_bulk_f for lamp in bulk)

    def inrush(figures: Figures) -> closed_form.Pulse:
        dv = HIGH_RATIO * loop.supply.v_peak - 1.6
        return closed_form.pulse(dv, figures["r_source_ohm"] + 0.05 + r_in, figures["l_source_h"], c)

    found = [inrush(figures) for figures in tried]
    peak = span_of([one.i_peak_a for one in found])
    i2t = span_of([one.i2t_a2s for one in found])
    params: dict[str, float | int | str] = {"low_a": peak.p05, "high_a": peak.p95, "i2t_a2s": i2t.p95}
    rated_a, rated_a2s = loop.control.i_inrush_max_a, loop.control.i2t_max_a2s
    if rated_a is None and rated_a2s is None:
        return Finding(code="on_inrush", severity=Severity.WARN, params=params)
    params |= {"rated_a": rated_a or inf, "rated_a2s": rated_a2s or inf}
    borne = peak.p95 <= (rated_a or inf) and i2t.p95 <= (rated_a2s or inf)
    code = "on_inrush_borne" if borne else "on_inrush_too_high"
    params["most_count"] = most_on_contact(loop)
    return Finding(code=code, severity=Severity.GOOD if borne else Severity.STOP, params=params)


def supply_while_on(loop: Loop, tried: Sequence[Figures]) -> Finding:
    """Whether a control that lives in series is fed while on through the capacitance at the lamps."""
    if loop.control.standby is None:
        return Finding(code="on_supply_none", severity=Severity.INFO)
    v_peak, f_hz = LOW_RATIO * loop.supply.v_peak, loop.supply.f_hz
    if conductance_s(loop) > 0.0:
        return Finding(code="on_supply_by_load", severity=Severity.GOOD)

    def least_f(figures: Figures) -> float:
        gap = radians(figures["gap_deg"])
        return closed_form.supply_capacitance_f(figures["i_need_a"], f_hz, v_peak, gap, figures["v_supply_v"])

    there = capacitance_f(loop, typical(loop.supply.v_rms), with_film=False)
    needed = over(tried, least_f)
    span = span_of(needed)
    share = sum(c <= there for c in needed) / len(needed)
    params: dict[str, float | int | str] = {
        "low_f": span.p05,
        "high_f": span.p95,
        "there_f": there,
        "share_ratio": share,
    }
    if share >= 0.95:
        return Finding(code="on_supply_fed", severity=Severity.GOOD, params=params)
    return Finding(code="on_supply_unsure", severity=Severity.WARN, params=params)
