"""A loop as a SPICE netlist, for checking it with a general circuit simulator.

Built from numbers only; free text of a sheet never enters it, since netlists can hold commands.
"""

from __future__ import annotations

from ember_core.errors import ModelLimitError
from ember_core.loop import Loop
from ember_core.offstate.ptc import settled_resistance_ohm
from ember_core.parts import (
    ActiveBypass,
    CapacitiveDropperLamp,
    CapacitiveFeed,
    CapacitorBypass,
    FilamentLamp,
    IronCoreTransformerLamp,
    LinearLamp,
    PtcBypass,
    RectifierLamp,
    ResistorBypass,
    SwitchingFeed,
)

# A silicon junction; two of them give the bridge of the solver within 0.15 V.
DIODE_MODEL = ".model DI D(IS=1e-9 N=1.8 RS=0.1 CJO=2p)"


def write(
    loop: Loop, *, duration_s: float = 8.0, last_s: float = 0.1, step_s: float = 5e-5, start_v: float = 0.0
) -> str:
    """The netlist of a loop with a transient analysis.

    Nodes: `L` line, `LL` line behind the current probe `Vi`, `SL` switched live, `vc` stand-by reservoir,
    `vd0`, `vd1`, … reservoirs of the lamp groups; `Vl0`, `Vl1`, … current probes of the groups.

    Parameters
    ----------
    duration_s : simulated time [s]; last_s : part at the end that is kept [s].
    step_s : largest time step [s].
    start_v : voltage that lamp reservoirs begin with [V].

    Raises
    ------
    ModelLimitError : a part that has no netlist.
    """
    supply = loop.supply
    lines = [
        "* Ember Thread loop sheet",
        f"Vs L 0 SIN(0 {supply.v_peak:.9g} {supply.f_hz:.9g})",
        "Vi L LL 0",
    ]
    lines += _control(loop)
    lines += [
        f"Ccls LL SL {max(loop.cable.c_line_to_switched_f, 1e-15):.9g}",
        f"Ccsn SL 0 {max(loop.cable.c_switched_to_neutral_f, 1e-15):.9g}",
        "Rgmin SL 0 1e9",
    ]
    for k, bypass in enumerate(loop.bypass):
        lines += _bypass(bypass, k)
    if loop.meter_r_ohm is not None:
        lines.append(f"Rmet SL 0 {loop.meter_r_ohm:.9g}")
    vectors = ["v(SL)", "i(Vi)"]
    if loop.control.standby is not None:
        vectors.append("v(vc)")
    for k, lamp in enumerate(loop.lamps):
        lines += _lamp(lamp, k, start_v)
        vectors.append(f"i(Vl{k})")
        if isinstance(lamp, (RectifierLamp, CapacitiveDropperLamp)):
            vectors.append(f"v(vd{k})")
    lines += [
        DIODE_MODEL,
        ".options reltol=1e-3 abstol=1e-9 method=gear",
        f".tran {step_s:.9g} {duration_s:.9g} {max(0.0, duration_s - last_s):.9g} {step_s:.9g} UIC",
        ".control",
        "set filetype=ascii",
        "set wr_singlescale",
        "set wr_vecnames",
        "run",
        f"wrdata out.txt {' '.join(vectors)}",
        ".endc",
        ".end",
    ]
    return "\n".join(lines) + "\n"


def bridge(n: int | str, a: str, b: str) -> list[str]:
    """Bridge from node `a` to node `b` with its output on `dp`/`dn` and a copy of it on `vd`."""
    return [
        f"Da{n} {a} dp{n} DI",
        f"Db{n} {b} dp{n} DI",
        f"Dc{n} dn{n} {a} DI",
        f"Dd{n} dn{n} {b} DI",
        f"Evd{n} vd{n} 0 dp{n} dn{n} 1",
    ]


def _control(loop: Loop) -> list[str]:
    control, feed = loop.control, loop.control.standby
    lines = []
    if control.c_snubber_f > 0.0:
        lines.append(f"Csn LL SL {control.c_snubber_f:.9g}")
    if control.r_leak_ohm is not None:
        lines.append(f"Rlk LL SL {control.r_leak_ohm:.9g}")
    if isinstance(feed, SwitchingFeed):
        drain = f" + V(dpc,dnc)/{feed.r_reservoir_ohm:.9g}" if feed.r_reservoir_ohm else ""
        lines += [
            f"Rc LL ca {feed.r_in_ohm:.9g}",
            *bridge("c", "ca", "SL"),
            f"Cc dpc dnc {feed.c_reservoir_f:.9g} IC={0.77 * loop.supply.v_peak:.9g}",
            f"Bc dpc dnc I = {feed.p_w:.9g}/max(V(dpc,dnc),5)*0.5*(1+tanh((V(dpc,dnc)-{feed.v_min_v:.9g})/1.0)){drain}",
            "Evc vc 0 dpc dnc 1",
        ]
    elif isinstance(feed, CapacitiveFeed):
        lines += [
            f"Cdp LL lx {feed.c_series_f:.9g}",
            *([f"Rdp LL lx {feed.r_discharge_ohm:.9g}"] if feed.r_discharge_ohm else []),
            f"Rc lx ca {feed.r_in_ohm:.9g}",
            *bridge("c", "ca", "SL"),
            f"Cc dpc dnc {feed.c_reservoir_f:.9g} IC={0.9 * feed.v_shunt_v:.9g}",
            f"Bc dpc dnc I = {feed.i_a:.9g}*0.5*(1+tanh((V(dpc,dnc)-2)/0.5))"
            f" + max(0,V(dpc,dnc)-{feed.v_shunt_v:.9g})/{feed.r_shunt_ohm:.9g}",
            "Evc vc 0 dpc dnc 1",
        ]
    return lines


def _bypass(part: object, k: int) -> list[str]:
    match part:
        case CapacitorBypass():
            parallel = [f"Rb{k} bc{k} 0 {part.r_parallel_ohm:.9g}"] if part.r_parallel_ohm else []
            return [f"Rbs{k} SL bc{k} {part.r_series_ohm:.9g}", f"Cb{k} bc{k} 0 {part.c_f:.9g}", *parallel]
        case ResistorBypass():
            return [f"Rb{k} SL 0 {part.r_ohm:.9g}"]
        case PtcBypass():
            return [f"Rb{k} SL 0 {settled_resistance_ohm(part, 0.0):.9g}"]
        case ActiveBypass():
            i, r, v = part.i_limit_a, part.r_on_ohm, part.v_cutoff_v
            return [f"Bb{k} SL 0 I = {i:.9g}*tanh(V(SL)/({r * i:.9g}))*0.5*(1-tanh((abs(V(SL))-{v:.9g})/2.0))"]
    raise ModelLimitError("no_netlist", path=f"bypass[{k}]")


def _lamp(lamp: object, k: int, start_v: float) -> list[str]:
    probe = f"Vl{k} SL s{k} 0"
    match lamp:
        case RectifierLamp():
            n = lamp.count
            middle, half = (lamp.v_start_v + lamp.v_stop_v) / 2, (lamp.v_start_v - lamp.v_stop_v) / 2
            return [
                probe,
                *([f"Cx{k} s{k} 0 {n * lamp.c_x_f:.9g}"] if lamp.c_x_f > 0.0 else []),
                f"Rl{k} s{k} b{k} {lamp.r_in_ohm / n:.9g}",
                *bridge(k, f"b{k}", "0"),
                f"Cd{k} dp{k} dn{k} {n * lamp.c_bulk_f:.9g} IC={start_v:.9g}",
                *([f"Rq{k} dp{k} dn{k} {lamp.r_start_ohm / n:.9g}"] if lamp.r_start_ohm else []),
                f"Bh{k} hh{k} 0 V = tanh((V(vd{k})-{middle:.9g}+{half:.9g}*V(h{k}))/0.5)",
                f"Rh{k} hh{k} h{k} 1k",
                f"Ch{k} h{k} 0 0.1u IC=-1",
                f"Br{k} dp{k} dn{k} I = {n * lamp.p_run_w:.9g}/max(V(vd{k}),10)*0.5*(1+V(h{k}))",
            ]
        case CapacitiveDropperLamp():
            n = lamp.count
            return [
                probe,
                f"Cdr{k} s{k} m{k} {n * lamp.c_series_f:.9g}",
                *([f"Rdr{k} s{k} m{k} {lamp.r_discharge_ohm / n:.9g}"] if lamp.r_discharge_ohm else []),
                f"Rl{k} m{k} b{k} {lamp.r_in_ohm / n:.9g}",
                *bridge(k, f"b{k}", "0"),
                f"Cd{k} dp{k} dn{k} {n * lamp.c_smooth_f:.9g} IC={min(start_v, lamp.v_string_v):.9g}",
                *([f"Rq{k} dp{k} dn{k} {lamp.r_string_parallel_ohm / n:.9g}"] if lamp.r_string_parallel_ohm else []),
                f"Bled{k} dp{k} dn{k} I = {n}*max(0,V(dp{k},dn{k})-{lamp.v_string_v:.9g})/{lamp.r_string_ohm:.9g}",
            ]
        case LinearLamp():
            n = lamp.count
            string = (
                [f"Vf{k} dp{k} dq{k} {lamp.v_string_v:.9g}", f"Rq{k} dq{k} dn{k} {1.0 / n:.9g}"]
                if lamp.i_limit_a is None
                else [
                    f"Bf{k} dp{k} dn{k} I = {n * lamp.i_limit_a:.9g}"
                    f"*tanh(max(0,V(dp{k},dn{k})-{lamp.v_string_v:.9g})/{lamp.i_limit_a:.9g})"
                ]
            )
            return [
                probe,
                *([f"Cx{k} s{k} 0 {n * lamp.c_x_f:.9g}"] if lamp.c_x_f > 0.0 else []),
                f"Rl{k} s{k} b{k} {lamp.r_in_ohm / n:.9g}",
                *bridge(k, f"b{k}", "0"),
                *string,
            ]
        case FilamentLamp():
            return [probe, f"Rl{k} s{k} 0 {lamp.r_cold_ohm / lamp.count:.9g}"]
        case IronCoreTransformerLamp():
            load = [] if lamp.r_load_cold_ohm is None else [f"Rl{k} m{k} 0 {lamp.r_load_cold_ohm / lamp.count:.9g}"]
            return [
                probe,
                f"Rw{k} s{k} m{k} {lamp.r_winding_ohm / lamp.count:.9g}",
                f"Lm{k} m{k} 0 {lamp.l_magnetising_h / lamp.count:.9g}",
                *load,
            ]
    raise ModelLimitError("no_netlist", path=f"lamps[{k}]")
