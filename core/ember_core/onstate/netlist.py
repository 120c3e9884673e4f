"""A case of the on state as a netlist for a general circuit simulator, to check the march and to time it against.

The control is a switch that opens and closes at given angles: holding and letting go are not in the netlist, so a
leading edge is told where it lets go. A control that fires by its own supply has no netlist.
"""

from __future__ import annotations

from ember_core.errors import ModelLimitError
from ember_core.netlist import bridge
from ember_core.onstate.case import (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    FilamentLoad,
    LinearLoad,
    Load,
    OnBleeder,
    OnBypass,
    OnCapacitor,
    OnCase,
    OnResistor,
    Question,
    TransformerLoad,
)

# Edges of the switch: fast against every ring.
EDGE_S = 2e-7
STEP_S = 1e-6
# Mains cycles until nothing changes any more: with a reservoir in a load, with an iron core, with neither.
CYCLES_WITH_RESERVOIR, CYCLES_WITH_IRON, CYCLES_WITHOUT = 15, 4, 3
# One junction stands for those of many lamps: next to no resistance of its own.
ON_DIODE_MODEL = ".model DI D(IS=1e-9 N=1.8 RS=1e-3 CJO=2p)"


def write(case: OnCase, *, let_go_deg: float = 180.0) -> str:
    """The netlist of a case with a transient analysis; kept is the last cycle, of a contact what follows its closing.

    Nodes: `L` mains, `A` behind the supply, `SL` switched live; `Vi` the current probe in the line.

    Parameters
    ----------
    let_go_deg : angle at which the triac of a leading edge lets go [°].

    Raises
    ------
    ModelLimitError : the question has no netlist.
    """
    source, control = case.source, case.control
    half_s = 0.5 / source.f_hz
    closed = _closed(case, let_go_deg)
    last_s = 2.0 * half_s * settles_in_cycles(case)
    if case.question is Question.RELAY_INRUSH:
        begin = closed[0] / 180.0 * half_s
        gate = f"PULSE(0 1 {begin:.9g} {EDGE_S:g} {EDGE_S:g} 1 2)"
        keep_from, last_s = begin, begin + 0.95 * half_s
    else:
        width = (closed[1] - closed[0]) / 180.0 * half_s - EDGE_S
        gate = f"PULSE(0 1 {closed[0] / 180.0 * half_s:.9g} {EDGE_S:g} {EDGE_S:g} {width:.9g} {half_s:.9g})"
        keep_from = last_s - 2.0 * half_s
    lines = [
        "* Ember Thread, with the light on",
        f"Vs L 0 SIN(0 {source.v_peak:.9g} {source.f_hz:.9g})",
        "Vi L LL 0",
        f"Rs LL LS {source.r_source_ohm:.9g}",
        f"Ls LS A {max(source.l_source_h, 1e-9):.9g}",
        f"Vg gate 0 {gate}",
        "S1 A CH gate 0 SWITCH",
        f".model SWITCH SW(VT=0.5 VH=0.1 RON={control.r_on_ohm:.9g} ROFF={min(control.r_off_ohm, 1e8):.9g})",
        f"Lc CH SL {max(control.l_choke_h, 1e-9):.9g}",
        # A choke cut off for good would make kilovolts across an ideal switch.
        "Rq CH SL 1e5",
        "Rgmin SL 0 1e9",
    ]
    if control.c_filter_f > 0.0:
        lines += [f"Rf A FC {control.r_filter_ohm:.9g}", f"Cf FC SL {control.c_filter_f:.9g}"]
    if control.v_supply_v is not None:
        lines += [
            f"Rv A VA {control.r_supply_ohm:.9g}",
            *bridge("v", "VA", "SL"),
            f"Vv dpv dnv {control.v_supply_v:.9g}",
        ]
    start_v = 0.0 if case.question is Question.RELAY_INRUSH else source.v_peak
    for k, load in enumerate(case.loads):
        lines += _load(load, k, start_v)
    for k, part in enumerate(case.bypass):
        lines += _bypass(part, k)
    lines += [
        ON_DIODE_MODEL,
        ".options reltol=1e-3 abstol=1e-9 method=gear",
        f".tran {STEP_S:g} {last_s:.9g} {keep_from:.9g} {STEP_S:g} UIC",
        ".control",
        "set filetype=ascii",
        "set wr_singlescale",
        "set wr_vecnames",
        "run",
        "wrdata out.txt v(SL) i(Vi)",
        ".endc",
        ".end",
    ]
    return "\n".join(lines) + "\n"


def _closed(case: OnCase, let_go_deg: float) -> tuple[float, float]:
    """From where to where the switch is closed in each half-cycle [°]."""
    control = case.control
    match case.question:
        case Question.LEADING:
            return control.firing_deg or 0.0, let_go_deg
        case Question.TRAILING:
            return 0.0, control.turn_off_deg or 180.0
        case Question.SUPPLY_WINDOW:
            return control.closed_from_deg or 0.0, control.closed_to_deg or 180.0
        case Question.RELAY_INRUSH:
            return control.closing_deg or 0.0, 180.0
    raise ModelLimitError("no_netlist", path="question")


def _load(load: Load, k: int, start_v: float) -> list[str]:
    n = load.count
    front = f"Rin{k} SL a{k}"
    match load:
        case CapacitorInputLoad():
            drawn = f"V(dp{k},dn{k}) > {load.v_undervoltage_v:.9g} ? {n * load.p_run_w:.9g}/V(dp{k},dn{k}) : 0"
            return [
                f"{front} {load.r_in_ohm / n:.9g}",
                *bridge(k, f"a{k}", "0"),
                f"Cb{k} dp{k} dn{k} {n * load.c_bulk_f:.9g} IC={start_v:.9g}",
                f"Bb{k} dp{k} dn{k} I={drawn}",
                *_across(k, n, load.c_x_f, load.r_x_ohm),
            ]
        case DriverLoad():
            v = f"V(dp{k},dn{k})"
            stage = f"0.5*(1+tanh(({v}-{load.v_min_v:.9g})/2))*({load.g_s:.9g}*{v}+{load.i_stage_a:.9g})"
            drawn = f"{n}*max({stage}, {load.i_bleed_a:.9g}*min(max({v},0)/5,1))"
            return [
                f"{front} {load.r_in_ohm / n:.9g}",
                *bridge(k, f"a{k}", "0"),
                f"Cb{k} dp{k} dn{k} {n * load.c_film_f:.9g} IC=0",
                f"Bb{k} dp{k} dn{k} I={drawn}",
                *_across(k, n, load.c_x_f, load.r_damp_ohm),
            ]
        case DropperLoad():
            v = f"V(dp{k},dn{k})"
            string = f"max(0,{v}-{load.v_string_v:.9g})/{load.r_string_ohm:.9g} + {v}/{load.r_string_parallel_ohm:.9g}"
            return [
                f"{front} {load.r_in_ohm / n:.9g}",
                f"Cs{k} a{k} b{k} {n * load.c_series_f:.9g} IC=0",
                *bridge(k, f"b{k}", "0"),
                f"Cb{k} dp{k} dn{k} {n * load.c_smooth_f:.9g} IC={min(start_v, load.v_string_v):.9g}",
                f"Bb{k} dp{k} dn{k} I={n}*({string})",
            ]
        case LinearLoad():
            v = f"V(dp{k},dn{k})"
            r = load.r_in_ohm + load.r_string_ohm
            return [
                *bridge(k, "SL", "0"),
                f"Bb{k} dp{k} dn{k} I={n}*min(max(0,{v}-{load.v_string_v:.9g})/{r:.9g}, {load.i_limit_a:.9g})",
            ]
        case FilamentLoad():
            return [f"Rl{k} SL 0 {load.r_hot_ohm / n:.9g}"]
        case TransformerLoad():
            return [
                f"Rw{k} SL w{k} {load.r_winding_ohm / n:.9g}",
                f"Lk{k} w{k} m{k} {load.l_leakage_h / n:.9g}",
                f"Lm{k} m{k} 0 {load.l_magnetising_h / n:.9g}",
                f"Rl{k} m{k} 0 {load.r_load_ohm / n:.9g}",
            ]


def _across(k: int, n: int, c_f: float, r_ohm: float) -> list[str]:
    """The capacitor across the input of a lamp, with what is in series with it."""
    return [f"Rx{k} SL x{k} {r_ohm / n:.9g}", f"Cx{k} x{k} 0 {n * c_f:.9g}"] if c_f > 0.0 else []


def _bypass(part: OnBypass, k: int) -> list[str]:
    match part:
        case OnCapacitor():
            return [f"Rp{k} SL p{k} {part.r_series_ohm / part.count:.9g}", f"Cp{k} p{k} 0 {part.count * part.c_f:.9g}"]
        case OnResistor():
            return [f"Rp{k} SL 0 {part.r_ohm / part.count:.9g}"]
        case OnBleeder():
            v = "V(SL)"
            limited = f"min(abs({v})/{part.r_on_ohm:.9g}, {part.i_limit_a:.9g})"
            return [f"Bp{k} SL 0 I=abs({v}) < {part.v_cutoff_v:.9g} ? {part.count}*sgn({v})*{limited} : 0"]


def settles_in_cycles(case: OnCase) -> int:
    """Mains cycles that the circuit simulator is given; the march here finds out by itself."""
    if any(isinstance(load, CapacitorInputLoad | DropperLoad) for load in case.loads) or case.control.c_supply_f:
        return CYCLES_WITH_RESERVOIR
    has_iron = any(isinstance(load, TransformerLoad) for load in case.loads)
    return CYCLES_WITH_IRON if has_iron else CYCLES_WITHOUT
