"""A gang as loads of the on state: its case for the march, and what its lamps are for the closed forms."""

from __future__ import annotations

from functools import partial
from math import pi
from typing import Any

from ember_core.lit.ranges import Figures, LitFigures
from ember_core.loop import Loop
from ember_core.offstate.ptc import settled_resistance_ohm
from ember_core.onstate.case import (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    ElectronicTransformerLoad,
    FilamentLoad,
    LinearLoad,
    Load,
    OnBleeder,
    OnBypass,
    OnCapacitor,
    OnCase,
    OnControl,
    OnResistor,
    Question,
    Source,
    TransformerLoad,
)
from ember_core.onstate.closed_form import Draw
from ember_core.onstate.pulses import V_TWO_JUNCTIONS
from ember_core.parts import (
    ActiveBypass,
    CapacitiveDropperLamp,
    CapacitorBypass,
    DimmableDriverLamp,
    ElectronicTransformerLamp,
    FilamentLamp,
    IronCoreTransformerLamp,
    Lamp,
    LinearLamp,
    PhaseMode,
    PtcBypass,
    RectifierLamp,
    ResistorBypass,
    rated_w,
)

# Low mains for what may fail, high mains for what may be too much.
LOW_RATIO, HIGH_RATIO = 0.9, 1.1
# Contact and switch of a control while closed [assumptions]; a triac drops more than it resists.
R_CONTACT_OHM, R_SWITCH_OHM, R_TRIAC_OHM = 0.05, 0.5, 1.0
# A transformer of which nobody says what hangs on it is taken as unloaded.
R_UNLOADED_OHM = 1e6


def on_case(loop: Loop, edge: PhaseMode, level_deg: float, figures: LitFigures) -> OnCase:
    """The gang as a case of the on state, with these figures for what the sheet does not say.

    Parameters
    ----------
    level_deg : firing angle of a leading edge, turn-off angle of a trailing one, closing angle of a contact.
    """
    control, c_f = figures.control, loop.control.c_snubber_f
    if edge is PhaseMode.TRAILING:
        made = partial(OnCase, question=Question.TRAILING)
        switch = OnControl(r_on_ohm=R_SWITCH_OHM, turn_off_deg=level_deg, c_filter_f=c_f)
    elif edge is PhaseMode.LEADING:
        made = partial(OnCase, question=Question.LEADING)
        switch = OnControl(
            r_on_ohm=R_TRIAC_OHM,
            l_choke_h=control["l_choke_h"],
            i_hold_a=control["i_hold_a"],
            t_gate_s=control["t_gate_s"],
            firing_deg=level_deg,
            c_filter_f=c_f,
        )
    else:
        made = partial(OnCase, question=Question.RELAY_INRUSH)
        switch = OnControl(r_on_ohm=R_CONTACT_OHM, closing_deg=level_deg)
    return made(control=switch, **_around(loop, figures))


def window_case(loop: Loop, figures: LitFigures) -> OnCase:
    """A relay control that opens at the beginning of each half-cycle to feed itself, as a case of the on state."""
    control = figures.control
    window = OnControl(
        r_on_ohm=R_CONTACT_OHM,
        closed_from_deg=control["gap_deg"],
        closed_to_deg=180.0,
        v_supply_v=control["v_supply_on_v"],
        i_supply_need_a=control["i_need_on_a"],
        r_off_ohm=1e8,
        c_filter_f=loop.control.c_snubber_f,
    )
    return OnCase(question=Question.SUPPLY_WINDOW, control=window, **_around(loop, figures))


def _around(loop: Loop, figures: LitFigures) -> dict[str, Any]:
    v, f_hz = loop.supply.v_rms, loop.supply.f_hz
    bypass = [made for part in loop.bypass if (made := on_bypass(part, v)) is not None]
    c_cable = loop.cable.c_switched_to_neutral_f
    if c_cable >= 1e-12:
        bypass.append(OnCapacitor(count=1, c_f=c_cable))
    return {
        "source": Source(
            v_rms=v,
            f_hz=f_hz,
            r_source_ohm=figures.control["r_source_ohm"],
            l_source_h=figures.control["l_source_h"],
        ),
        "loads": tuple(_load(lamp, v, own) for lamp, own in zip(loop.lamps, figures.lamps, strict=True)),
        "bypass": tuple(bypass),
    }


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
                v_min_v=figures["v_stage_min_v"],
                i_bleed_a=figures["i_bleed_a"],
            )
        case ElectronicTransformerLamp():
            return ElectronicTransformerLoad(
                count=lamp.count,
                c_x_f=lamp.c_x_f,
                r_damp_ohm=figures["r_damp_ohm"],
                r_in_ohm=lamp.r_in_ohm,
                c_film_f=lamp.c_bulk_f,
                g_s=(watts or 0.0) / v**2,
                v_min_v=lamp.v_stop_v,
            )
        case RectifierLamp():
            return CapacitorInputLoad(
                count=lamp.count,
                r_in_ohm=lamp.r_in_ohm,
                c_x_f=lamp.c_x_f,
                r_x_ohm=figures["r_x_ohm"],
                c_bulk_f=lamp.c_bulk_f,
                p_run_w=lamp.p_run_w,
                v_undervoltage_v=lamp.v_stop_v,
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
                i_limit_a=figures["i_limit_a"],
            )
        case FilamentLamp():
            return FilamentLoad(count=lamp.count, r_hot_ohm=hot_filament_ohm(lamp, v, figures))
        case IronCoreTransformerLamp():
            return TransformerLoad(
                count=lamp.count,
                r_winding_ohm=lamp.r_winding_ohm,
                l_leakage_h=figures["l_leakage_h"],
                l_magnetising_h=lamp.l_magnetising_h,
                r_load_ohm=R_UNLOADED_OHM if watts is None else v**2 / watts,
            )


def hot_filament_ohm(lamp: FilamentLamp, v_rms: float, figures: Figures) -> float:
    """One filament while hot [Ω]: V²/P, or by its cold resistance where its watts are not known."""
    watts = rated_w(lamp)
    return v_rms**2 / watts if watts else lamp.r_cold_ohm * figures["hot_to_cold_ratio"]


def on_bypass(part: object, v: float) -> OnBypass | None:
    """A bypass as a part of the march; a PTC at its hot point."""
    match part:
        case CapacitorBypass():
            return OnCapacitor(count=1, c_f=part.c_f, r_series_ohm=max(part.r_series_ohm, 0.1))
        case ResistorBypass():
            return OnResistor(count=1, r_ohm=part.r_ohm)
        case PtcBypass():
            return OnResistor(count=1, r_ohm=settled_resistance_ohm(part, v))
        case ActiveBypass():
            return OnBleeder(count=1, i_limit_a=part.i_limit_a, r_on_ohm=part.r_on_ohm, v_cutoff_v=part.v_cutoff_v)
    return None


def conductance_s(loop: Loop, figures: LitFigures) -> float:
    """What draws like a resistor on the switched live while on [S]: stages, hot filaments, loaded iron, bleeders."""
    v = loop.supply.v_rms
    g = 0.0
    for lamp, own in zip(loop.lamps, figures.lamps, strict=True):
        if isinstance(lamp, FilamentLamp):
            g += lamp.count / hot_filament_ohm(lamp, v, own)
        elif isinstance(lamp, DimmableDriverLamp | ElectronicTransformerLamp | IronCoreTransformerLamp):
            g += lamp.count * (rated_w(lamp) or 0.0) / v**2
    return g + bleeder_conductance_s(loop)


def bleeder_conductance_s(loop: Loop) -> float:
    """Resistors and PTCs (hot) across the lamps [S]."""
    made = [on_bypass(part, loop.supply.v_rms) for part in loop.bypass]
    return sum(1.0 / part.r_ohm for part in made if isinstance(part, OnResistor))


def draws_of(loop: Loop, figures: LitFigures) -> list[Draw]:
    """What empties the switched live after a turn-off, load by load, each by its own law.

    A driver's stage draws in proportion down to where it stops, and its bleeder where that is more; it does not add.
    """
    v = loop.supply.v_rms
    found = [Draw(g_s=bleeder_conductance_s(loop))]
    for lamp, own in zip(loop.lamps, figures.lamps, strict=True):
        n, watts = lamp.count, rated_w(lamp) or 0.0
        match lamp:
            case FilamentLamp():
                found.append(Draw(g_s=n / hot_filament_ohm(lamp, v, own)))
            case DimmableDriverLamp():
                stage = Draw(g_s=n * watts / v**2, i_a=n * own["i_bleed_a"], stops_v=own["v_stage_min_v"])
                found.append(stage)
            case ElectronicTransformerLamp():
                found.append(Draw(g_s=n * watts / v**2, stops_v=lamp.v_stop_v))
            case IronCoreTransformerLamp():
                found.append(Draw(g_s=n * watts / v**2))
    for part in loop.bypass:
        if isinstance(part, ActiveBypass):
            found.append(Draw(i_a=part.i_limit_a, opens_v=part.v_cutoff_v))
    return found


def linear_current_a(loop: Loop, figures: LitFigures, v: float) -> float:
    """What linear lamps draw together at an instantaneous voltage [A]."""
    total = 0.0
    for lamp, own in zip(loop.lamps, figures.lamps, strict=True):
        if isinstance(lamp, LinearLamp):
            over = max(0.0, v - lamp.v_string_v - V_TWO_JUNCTIONS)
            total += lamp.count * min(over / lamp.r_in_ohm, own["i_limit_a"])
    return total


def magnetising_s(loop: Loop) -> float:
    """What iron cores draw against the line [S]: n/(ω·L)."""
    w = 2.0 * pi * loop.supply.f_hz
    iron = [lamp for lamp in loop.lamps if isinstance(lamp, IronCoreTransformerLamp)]
    return sum(lamp.count / (w * lamp.l_magnetising_h) for lamp in iron)


def stage_min_v(loop: Loop, figures: LitFigures) -> float:
    """Voltage below which every load that draws like a resistor has stopped [V]; 0 where one never does."""
    least = []
    for lamp, own in zip(loop.lamps, figures.lamps, strict=True):
        if isinstance(lamp, DimmableDriverLamp):
            least.append(own["v_stage_min_v"])
        elif isinstance(lamp, ElectronicTransformerLamp):
            least.append(lamp.v_stop_v)
        elif isinstance(lamp, FilamentLamp | IronCoreTransformerLamp):
            return 0.0
    return 0.0 if bleeder_conductance_s(loop) > 0.0 or not least else min(least)


def capacitance_f(loop: Loop, figures: LitFigures, *, with_film: bool) -> float:
    """Capacitance on the switched live while on [F]: input filters, bypasses, cable; with the film behind bridges."""
    c = loop.cable.c_switched_to_neutral_f
    for lamp, own in zip(loop.lamps, figures.lamps, strict=True):
        if isinstance(lamp, RectifierLamp | LinearLamp):
            c += lamp.count * lamp.c_x_f
        if with_film and isinstance(lamp, DimmableDriverLamp):
            c += lamp.count * own["c_film_f"]
        if with_film and isinstance(lamp, ElectronicTransformerLamp):
            c += lamp.count * lamp.c_bulk_f
    return c + sum(part.c_f for part in loop.bypass if isinstance(part, CapacitorBypass))
