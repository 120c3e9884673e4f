"""A gang while the light is on: does the control drive its lamps, over what range, and what governs.

What the loop sheet does not say of the on state is taken from the ranges of the trade (`on_ranges`) and drawn over
them; the closed forms run over all samples, the march draws one picture with typical figures.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import acos, degrees, inf, pi, radians, sin, sqrt

import numpy as np

from ember_core.dimming import closed_form
from ember_core.dimming.compatibility import Goes, Together, class_of, declared_of, together
from ember_core.dimming.kernel import pulse_map
from ember_core.dimming.on_case import (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    FilamentLoad,
    LinearLoad,
    Load,
    OnBypass,
    OnCapacitor,
    OnCase,
    OnControl,
    OnResistor,
    Question,
    Source,
)
from ember_core.dimming.on_ranges import samples as drawn
from ember_core.dimming.on_ranges import typical
from ember_core.dimming.simulate import OnState, simulate
from ember_core.findings import Finding, Severity
from ember_core.loop import Loop
from ember_core.offstate.ptc import settled_resistance_ohm
from ember_core.parts import (
    ActiveBypass,
    CapacitiveDropperLamp,
    CapacitorBypass,
    DimmableDriverLamp,
    FilamentLamp,
    Lamp,
    LinearLamp,
    PhaseMode,
    PtcBypass,
    RectifierLamp,
    ResistorBypass,
    rated_w,
)

SAMPLES = 32
# A triac that lets go before this angle cuts the light visibly [assumption].
HOLDS_TO_DEG = 150.0
# Where a picture is drawn when nobody says: a middling level.
LEVEL_DEG = {PhaseMode.LEADING: 90.0, PhaseMode.TRAILING: 90.0}
PICTURE_STEP_S = 1e-6
# Firing angles at which the pulse of a reservoir is looked for; the worst is past the crest.
FIRING_DEG = (75.0, 90.0, 105.0, 120.0, 135.0)
TURN_OFF_DEG = (60.0, 75.0, 90.0, 105.0, 120.0, 135.0, 150.0)
# Low mains for what may fail, high mains for what may be too much.
LOW_RATIO, HIGH_RATIO = 0.9, 1.1
CURVE_POINTS = 41
Figures = dict[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """5th, 50th and 95th percentile over the samples."""

    p05: float
    p50: float
    p95: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LightCurve:
    """Light over conduction, typical and band: angles [deg], shares of full light [1].

    Parameters
    ----------
    drop_out_deg : conduction at which lamps go out from above. pop_on_deg : at which they come on from dark.
    least_deg, start_deg, most_deg : proposed trims: minimum, start level, top; least is what the worst sample needs.
    """

    gamma_deg: tuple[float, ...]
    low: tuple[float, ...]
    middle: tuple[float, ...]
    high: tuple[float, ...]
    drop_out_deg: Span
    pop_on_deg: Span
    least_deg: float
    start_deg: float
    most_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WhileLit:
    """A gang while on.

    Parameters
    ----------
    mode : what the control does; None where nobody says. edge : the edge looked at. together : by the matrix.
    verdict : the matrix and the figures together. findings : with the figures; worst first.
    picture : a settled cycle at a level [deg], or None where there is nothing to draw.
    """

    mode: PhaseMode | None
    edge: PhaseMode
    together: Together
    verdict: Goes
    findings: tuple[Finding, ...]
    level_deg: float
    picture: OnState | None
    curve: LightCurve | None


def while_lit(
    loop: Loop,
    *,
    edge: PhaseMode | None = None,
    level_deg: float | None = None,
    samples: int = SAMPLES,
    seed: int = 1,
    with_picture: bool = True,
) -> WhileLit:
    """Judge a gang while on.

    Parameters
    ----------
    edge : which edge to look at, of a control that can do both or of which nobody says. level_deg : firing angle of a
        leading edge, turn-off angle of a trailing one, for the picture.

    Raises
    ------
    SolverError : the picture could not be computed.
    """
    mode = loop.control.phase_mode
    looked = mode if mode in (PhaseMode.ON_OFF, PhaseMode.LEADING, PhaseMode.TRAILING) else edge
    looked = looked or PhaseMode.ON_OFF
    loads = [(class_of(lamp), declared_of(lamp)) for lamp in loop.lamps]
    by_matrix = together(loads, mode or looked)
    if mode in (PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC) and edge is not None:
        set_to = together(loads, edge)
        by_matrix = replace(set_to, mode=edge) if mode is PhaseMode.SELECTABLE else by_matrix
    tried = drawn(loop.supply.v_rms, samples, seed)
    findings: list[Finding] = []
    curve = None
    if looked is PhaseMode.LEADING:
        findings += [_holding(loop, tried), _peak(loop, tried)]
        curve = _light(loop, looked, tried)
    elif looked is PhaseMode.TRAILING:
        findings.append(_decay(loop, tried))
        curve = _light(loop, looked, tried)
    else:
        findings += [_inrush(loop, tried), _supply(loop, tried)]
    verdict = by_matrix.verdict
    if verdict in (Goes.GOES, Goes.GOES_IF):
        if any(finding.severity is Severity.STOP for finding in findings):
            verdict = Goes.MUST_NOT
        elif any(finding.severity is Severity.WARN for finding in findings):
            verdict = Goes.GOES_IF
    level = level_deg if level_deg is not None else LEVEL_DEG.get(looked, 90.0)
    order = list(Severity)
    return WhileLit(
        mode=mode,
        edge=looked,
        together=by_matrix,
        verdict=verdict,
        findings=tuple(sorted(findings, key=lambda finding: order.index(finding.severity))),
        level_deg=level,
        picture=_picture(loop, looked, level) if with_picture else None,
        curve=curve,
    )


def on_case(loop: Loop, edge: PhaseMode, level_deg: float, figures: Figures) -> OnCase:
    """The gang as a case of the on state, with these figures for what the sheet does not say."""
    v = loop.supply.v_rms
    source = Source(
        v_rms=v, f_hz=loop.supply.f_hz, r_source_ohm=figures["r_source_ohm"], l_source_h=figures["l_source_h"]
    )
    loads = tuple(_load(lamp, v, figures) for lamp in loop.lamps)
    bypass = tuple(made for part in loop.bypass if (made := _bypass(part, v)) is not None)
    if edge is PhaseMode.TRAILING:
        question, control = Question.TRAILING, OnControl(r_on_ohm=0.5, turn_off_deg=level_deg)
    elif edge is PhaseMode.LEADING:
        question = Question.LEADING
        control = OnControl(
            l_choke_h=figures["l_choke_h"], i_hold_a=figures["i_hold_a"], t_gate_s=2e-4, firing_deg=level_deg
        )
    else:
        question = Question.RELAY_INRUSH
        control = OnControl(r_on_ohm=0.05, closing_deg=level_deg)
    return OnCase(question=question, source=source, control=control, loads=loads, bypass=bypass)


def _load(lamp: Lamp, v: float, figures: Figures) -> Load:
    watts = rated_w(lamp)
    match lamp:
        case DimmableDriverLamp():
            return DriverLoad(
                count=lamp.count,
                c_x_f=lamp.c_x_f,
                r_damp_ohm=figures["r_damp_ohm"],
                c_film_f=figures["c_film_f"],
                g_s=(watts or 0.0) / v**2,
                v_min_v=figures["v_min_v"],
                i_bleed_a=figures["i_bleed_a"],
            )
        case RectifierLamp():
            return CapacitorInputLoad(
                count=lamp.count,
                r_in_ohm=lamp.r_in_ohm,
                c_x_f=lamp.c_x_f,
                r_x_ohm=figures["r_x_ohm"],
                c_bulk_f=lamp.c_bulk_f,
                p_run_w=lamp.p_run_w,
            )
        case CapacitiveDropperLamp():
            return DropperLoad(
                count=lamp.count,
                r_in_ohm=lamp.r_in_ohm,
                c_series_f=lamp.c_series_f,
                c_smooth_f=lamp.c_smooth_f,
                v_string_v=lamp.v_string_v,
                r_string_ohm=lamp.r_string_ohm,
                r_string_parallel_ohm=lamp.r_string_parallel_ohm or 1e9,
            )
        case LinearLamp():
            return LinearLoad(
                count=lamp.count,
                r_in_ohm=lamp.r_in_ohm,
                v_string_v=lamp.v_string_v,
                i_limit_a=lamp.i_limit_a or figures["i_limit_a"],
            )
        case FilamentLamp():
            hot = v**2 / watts if watts else lamp.r_cold_ohm * figures["hot_to_cold_ratio"]
            return FilamentLoad(count=lamp.count, r_hot_ohm=hot)


def _bypass(part: object, v: float) -> OnBypass | None:
    match part:
        case CapacitorBypass():
            return OnCapacitor(count=1, c_f=part.c_f, r_series_ohm=max(part.r_series_ohm, 0.1))
        case ResistorBypass():
            return OnResistor(count=1, r_ohm=part.r_ohm)
        case PtcBypass():
            return OnResistor(count=1, r_ohm=settled_resistance_ohm(part, v))
    return None


def conductance_s(loop: Loop) -> float:
    """What draws like a resistor on the switched live while on [S]: drivers, hot filaments, bleeders."""
    v = loop.supply.v_rms
    g = 0.0
    for lamp in loop.lamps:
        watts = rated_w(lamp)
        if isinstance(lamp, DimmableDriverLamp | FilamentLamp) and watts is not None:
            g += lamp.count * watts / v**2
    for part in loop.bypass:
        made = _bypass(part, v)
        if isinstance(made, OnResistor):
            g += 1.0 / made.r_ohm
    return g


def capacitance_f(loop: Loop, figures: Figures, *, with_film: bool) -> float:
    """Capacitance on the switched live while on [F]: input filters, bypasses, cable; with the film behind bridges."""
    c = loop.cable.c_switched_to_neutral_f
    for lamp in loop.lamps:
        if isinstance(lamp, RectifierLamp | LinearLamp):
            c += lamp.count * lamp.c_x_f
        if isinstance(lamp, DimmableDriverLamp) and with_film:
            c += lamp.count * figures["c_film_f"]
    return c + sum(part.c_f for part in loop.bypass if isinstance(part, CapacitorBypass))


def _span(values: Sequence[float]) -> Span:
    low, middle, high = np.quantile(np.array(values), [0.05, 0.5, 0.95])
    return Span(p05=float(low), p50=float(middle), p95=float(high))


def _over(tried: Sequence[Figures], work: Callable[[Figures], float]) -> list[float]:
    return [work(figures) for figures in tried]


def _only(loop: Loop, *classes: type[object]) -> bool:
    return all(type(lamp) in classes for lamp in loop.lamps)


def _holding(loop: Loop, tried: Sequence[Figures]) -> Finding:
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

    angles = _over(tried, drop_out)
    span = _span(angles)
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


def least_watts(loop: Loop, i_hold_a: float) -> float:
    """Watts that draw like a resistor for holding to `HOLDS_TO_DEG` [W]: I_h·V/(√2·sin(π − θ))."""
    return i_hold_a * loop.supply.v_rms / (sqrt(2.0) * sin(pi - radians(HOLDS_TO_DEG)))


def _peak(loop: Loop, tried: Sequence[Figures]) -> Finding:
    """Peak at firing against what the control is assumed to stand, at high mains."""

    def peak(figures: Figures) -> float:
        v_peak = HIGH_RATIO * loop.supply.v_peak
        l_h = figures["l_choke_h"] + figures["l_source_h"]
        r = figures["r_source_ohm"] + 1.0
        c = capacitance_f(loop, figures, with_film=True)
        trapped = 0.85 * v_peak if conductance_s(loop) <= 0.0 else 0.0
        count = max(1, sum(lamp.count for lamp in loop.lamps))
        best = closed_form.pulse(v_peak + trapped, r + figures["r_damp_ohm"] / count, l_h, max(c, 1e-12)).i_peak_a
        bulk = [lamp for lamp in loop.lamps if type(lamp) is RectifierLamp]
        if bulk:
            r_in = 1.0 / sum(lamp.count / lamp.r_in_ohm for lamp in bulk)
            c_bulk = sum(lamp.count * lamp.c_bulk_f for lamp in bulk)
            watts = sum(lamp.count * lamp.p_run_w for lamp in bulk)
            f_hz = loop.supply.f_hz
            best = max(
                best, *(pulse_map(v_peak, f_hz, radians(a), r + r_in, l_h, c_bulk, watts)[0] for a in FIRING_DEG)
            )
        droppers = [lamp for lamp in loop.lamps if isinstance(lamp, CapacitiveDropperLamp)]
        if droppers:
            # Its series capacitor holds the other polarity: the step is twice what is above the string.
            step = 2.0 * max(0.0, v_peak - droppers[0].v_string_v - 1.6)
            r_in = 1.0 / sum(lamp.count / lamp.r_in_ohm for lamp in droppers)
            c_series = sum(lamp.count / (1.0 / lamp.c_series_f + 1.0 / lamp.c_smooth_f) for lamp in droppers)
            best = max(best, closed_form.pulse(step, r + r_in, l_h, c_series).i_peak_a)
        return best + conductance_s(loop) * v_peak

    span = _span(_over(tried, peak))
    watts = loop.control.p_max_filament_w
    if watts is None:
        return Finding(code="on_peak_unknown", severity=Severity.WARN, params={"i_peak_a": span.p50})
    headroom = typical(loop.supply.v_rms)["headroom_ratio"]
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


def _decay(loop: Loop, tried: Sequence[Figures]) -> Finding:
    """Fall of the switched live after turn-off against the time there is, at low mains and over every level."""
    g = conductance_s(loop)
    i_fixed = sum(part.i_limit_a for part in loop.bypass if isinstance(part, ActiveBypass))
    v_peak = LOW_RATIO * loop.supply.v_peak
    f_hz = 1.01 * loop.supply.f_hz

    def left_s(figures: Figures) -> tuple[float, float]:
        """Time to spare at the worst level, and that level."""
        i = i_fixed + sum(
            lamp.count * figures["i_bleed_a"] for lamp in loop.lamps if isinstance(lamp, DimmableDriverLamp)
        )
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


def _inrush(loop: Loop, tried: Sequence[Figures]) -> Finding:
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
    peak = _span([one.i_peak_a for one in found])
    i2t = _span([one.i2t_a2s for one in found])
    return Finding(
        code="on_inrush",
        severity=Severity.WARN,
        params={"low_a": peak.p05, "high_a": peak.p95, "i2t_a2s": i2t.p95},
    )


def _supply(loop: Loop, tried: Sequence[Figures]) -> Finding:
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
    needed = _over(tried, least_f)
    span = _span(needed)
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


def _light(loop: Loop, edge: PhaseMode, tried: Sequence[Figures]) -> LightCurve | None:
    """Light of drivers over conduction, and the trims that follow; None without a driver."""
    if not any(isinstance(lamp, DimmableDriverLamp) for lamp in loop.lamps):
        return None
    gammas = np.linspace(0.0, 180.0, CURVE_POINTS)

    def light(figures: Figures) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
        dark, full = figures["gamma_dark_deg"], figures["gamma_full_deg"]
        return np.clip((gammas - dark) / (full - dark), 0.0, 1.0) ** figures["light_exponent"]

    def off(figures: Figures) -> float:
        """Conduction below which the stage no longer feeds itself, at low mains: acos(1 − 2r/k)."""
        return degrees(acos(max(-1.0, 1.0 - 2.0 * figures["aux_ratio"] / LOW_RATIO)))

    curves = np.array([light(figures) for figures in tried])
    low, middle, high = np.quantile(curves, [0.05, 0.5, 0.95], axis=0)
    drops = _over(tried, off)
    pops = [drop + figures["pop_on_above_deg"] for drop, figures in zip(drops, tried, strict=True)]
    margin_deg = 5.0
    gap = typical(loop.supply.v_rms)["gap_deg"] if loop.control.standby is not None else 0.0
    return LightCurve(
        gamma_deg=tuple(gammas.tolist()),
        low=tuple(low.tolist()),
        middle=tuple(middle.tolist()),
        high=tuple(high.tolist()),
        drop_out_deg=_span(drops),
        pop_on_deg=_span(pops),
        least_deg=float(np.quantile(drops, 0.95)) + margin_deg,
        start_deg=float(np.quantile(pops, 0.95)) + margin_deg,
        most_deg=180.0 - gap,
    )


def _picture(loop: Loop, edge: PhaseMode, level_deg: float) -> OnState:
    """A settled cycle, of a relay the time after it closed, with typical figures."""
    case = on_case(loop, edge, level_deg, typical(loop.supply.v_rms))
    step = None if edge is PhaseMode.ON_OFF else PICTURE_STEP_S
    return simulate(case, step_s=step)
