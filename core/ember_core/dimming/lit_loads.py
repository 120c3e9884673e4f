"""A gang as loads of the on state: its case for the march, and what its lamps are for the closed forms."""

from __future__ import annotations

from math import inf, pi, radians, sin, sqrt

from ember_core.dimming import closed_form
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
from ember_core.dimming.on_ranges import on_ranges
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

# A triac that lets go before this angle cuts the light visibly [assumption].
HOLDS_TO_DEG = 150.0
# Low mains for what may fail, high mains for what may be too much.
LOW_RATIO, HIGH_RATIO = 0.9, 1.1
# Firing angles at which the pulse of a reservoir is looked for; the worst is past the crest.
FIRING_DEG = (75.0, 90.0, 105.0, 120.0, 135.0)
MOST_LAMPS = 60
Figures = dict[str, float]


def on_case(loop: Loop, edge: PhaseMode, level_deg: float, figures: Figures) -> OnCase:
    """The gang as a case of the on state, with these figures for what the sheet does not say."""
    v = loop.supply.v_rms
    source = Source(
        v_rms=v, f_hz=loop.supply.f_hz, r_source_ohm=figures["r_source_ohm"], l_source_h=figures["l_source_h"]
    )
    loads = tuple(_load(lamp, v, figures) for lamp in loop.lamps)
    bypass = tuple(made for part in loop.bypass if (made := on_bypass(part, v)) is not None)
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


def on_bypass(part: object, v: float) -> OnBypass | None:
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
        made = on_bypass(part, v)
        if isinstance(made, OnResistor):
            g += 1.0 / made.r_ohm
    return g


def bleed_a(loop: Loop, figures: Figures) -> float:
    """What draws a constant current off the switched live [A]: bleeders of drivers, electronic bypasses."""
    drivers = sum(lamp.count for lamp in loop.lamps if isinstance(lamp, DimmableDriverLamp))
    return drivers * figures["i_bleed_a"] + sum(p.i_limit_a for p in loop.bypass if isinstance(p, ActiveBypass))


def capacitance_f(loop: Loop, figures: Figures, *, with_film: bool) -> float:
    """Capacitance on the switched live while on [F]: input filters, bypasses, cable; with the film behind bridges."""
    c = loop.cable.c_switched_to_neutral_f
    for lamp in loop.lamps:
        if isinstance(lamp, RectifierLamp | LinearLamp):
            c += lamp.count * lamp.c_x_f
        if isinstance(lamp, DimmableDriverLamp) and with_film:
            c += lamp.count * figures["c_film_f"]
    return c + sum(part.c_f for part in loop.bypass if isinstance(part, CapacitorBypass))


def firing_peak_a(loop: Loop, figures: Figures) -> float:
    """Largest peak of a half-cycle over the firing angles, at high mains [A]."""
    v_peak = HIGH_RATIO * loop.supply.v_peak
    l_h = figures["l_choke_h"] + figures["l_source_h"]
    r = figures["r_source_ohm"] + 1.0
    c = capacitance_f(loop, figures, with_film=True)
    trapped = 0.85 * v_peak if conductance_s(loop) <= 0.0 else 0.0
    count = max(1, sum(lamp.count for lamp in loop.lamps))
    damping = figures["r_damp_ohm" if any(isinstance(a, DimmableDriverLamp) for a in loop.lamps) else "r_x_ohm"]
    best = closed_form.pulse(v_peak + trapped, r + damping / count, l_h, max(c, 1e-12)).i_peak_a
    bulk = [lamp for lamp in loop.lamps if type(lamp) is RectifierLamp]
    if bulk:
        r_in = 1.0 / sum(lamp.count / lamp.r_in_ohm for lamp in bulk)
        c_bulk = sum(lamp.count * lamp.c_bulk_f for lamp in bulk)
        watts = sum(lamp.count * lamp.p_run_w for lamp in bulk)
        f_hz = loop.supply.f_hz
        best = max(best, *(pulse_map(v_peak, f_hz, radians(a), r + r_in, l_h, c_bulk, watts)[0] for a in FIRING_DEG))
    droppers = [lamp for lamp in loop.lamps if isinstance(lamp, CapacitiveDropperLamp)]
    if droppers:
        # Its series capacitor holds the other polarity: the step is twice what is above the string.
        step = 2.0 * max(0.0, v_peak - droppers[0].v_string_v - 1.6)
        r_in = 1.0 / sum(lamp.count / lamp.r_in_ohm for lamp in droppers)
        c_series = sum(lamp.count / (1.0 / lamp.c_series_f + 1.0 / lamp.c_smooth_f) for lamp in droppers)
        best = max(best, closed_form.pulse(step, r + r_in, l_h, c_series).i_peak_a)
    return best + conductance_s(loop) * v_peak


def most_on_contact(loop: Loop) -> int:
    """Most lamps of the first reservoir group that the contact's ratings stand, at a stiff supply and high mains."""
    lamp = next(one for one in loop.lamps if type(one) is RectifierLamp)
    stiff = {one.name: one.low for one in on_ranges()}
    dv = HIGH_RATIO * loop.supply.v_peak - 1.6
    rated_a, rated_a2s = loop.control.i_inrush_max_a or inf, loop.control.i2t_max_a2s or inf
    most = 0
    for count in range(1, MOST_LAMPS + 1):
        r = stiff["r_source_ohm"] + 0.05 + lamp.r_in_ohm / count
        one = closed_form.pulse(dv, r, stiff["l_source_h"], count * lamp.c_bulk_f)
        if one.i_peak_a > rated_a or one.i2t_a2s > rated_a2s:
            break
        most = count
    return most


def least_watts(loop: Loop, i_hold_a: float) -> float:
    """Watts that draw like a resistor for holding to `HOLDS_TO_DEG` [W]: I_h·V/(√2·sin(π − θ))."""
    return i_hold_a * loop.supply.v_rms / (sqrt(2.0) * sin(pi - radians(HOLDS_TO_DEG)))
