"""Loops for tests: hand-made ones, and random ones over the ranges of the trade."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from hypothesis import strategies as st
from hypothesis.strategies import SearchStrategy

from ember_core.loop import Loop
from ember_core.parts import (
    Cable,
    CapacitiveDropperLamp,
    CapacitiveFeed,
    CapacitorBypass,
    Control,
    DimmableDriverLamp,
    RectifierLamp,
    ResistorBypass,
    Supply,
    SwitchingFeed,
)

EUROPE = Supply(v_rms=230.0, f_hz=50.0)
AMERICA = Supply(v_rms=120.0, f_hz=60.0)
FEED = SwitchingFeed(p_w=0.2, c_reservoir_f=4.7e-6, v_min_v=40.0, r_reservoir_ohm=1e6)
RELAY = Control(c_snubber_f=4.7e-9, standby=FEED)
CABLE = Cable(c_line_to_switched_f=8e-10, c_switched_to_neutral_f=4e-10)
LAMP = RectifierLamp(
    count=1, c_x_f=2.2e-8, c_bulk_f=4.7e-6, r_start_ohm=1e6, v_start_v=110.0, v_stop_v=45.0, p_run_w=6.0
)
DROPPER = CapacitiveDropperLamp(
    count=1,
    c_series_f=3.3e-7,
    r_discharge_ohm=6.8e5,
    v_string_v=84.0,
    r_string_ohm=150.0,
    r_string_parallel_ohm=3.3e5,
    c_smooth_f=4.7e-6,
)


def capacitor(c_f: float) -> CapacitorBypass:
    """A bypass capacitor with its discharge resistor."""
    return CapacitorBypass(c_f=c_f, r_parallel_ohm=1e6)


def loop(**changes: Any) -> Loop:
    """One rectifier lamp with 100 nF behind a relay control at 230 V, with changes."""
    base = Loop(supply=EUROPE, control=RELAY, cable=CABLE, bypass=(capacitor(1e-7),), lamps=(LAMP,))
    return replace(base, **changes)


def logarithmic(low: float, high: float) -> SearchStrategy[float]:
    """Positive values, even in the logarithm."""
    from math import exp, log

    return st.floats(log(low), log(high)).map(exp)


@st.composite
def dark_loops(draw: st.DrawFn) -> Loop:
    """Loops with enough bypass that the lamps wait: for energy, step and monotony."""
    supply = draw(st.sampled_from((EUROPE, AMERICA, Supply(v_rms=253.0, f_hz=50.0))))
    ratio = supply.v_rms / 230.0
    feed: SwitchingFeed | CapacitiveFeed
    if draw(st.booleans()):
        feed = SwitchingFeed(
            p_w=draw(logarithmic(0.03, 0.3)) * ratio,
            r_in_ohm=draw(logarithmic(10.0, 100.0)),
            c_reservoir_f=draw(logarithmic(2e-6, 2e-5)),
            v_min_v=40.0 * ratio,
            r_reservoir_ohm=draw(logarithmic(5e5, 5e6)),
        )
    else:
        feed = CapacitiveFeed(
            c_series_f=draw(logarithmic(6.8e-8, 3.3e-7)),
            r_discharge_ohm=1e6,
            c_reservoir_f=2.2e-4,
            i_a=draw(logarithmic(5e-4, 3e-3)) * ratio,
            v_shunt_v=draw(st.floats(12.0, 24.0)),
        )
    start_v = draw(st.floats(50.0, 120.0)) * max(ratio, 0.6)
    lamp_class = draw(st.sampled_from((RectifierLamp, DimmableDriverLamp)))
    lamp = lamp_class(
        count=draw(st.integers(1, 8)),
        c_x_f=draw(logarithmic(1e-9, 2e-7)),
        r_in_ohm=draw(logarithmic(10.0, 47.0)),
        c_bulk_f=draw(logarithmic(2e-6, 2e-5)),
        r_start_ohm=draw(logarithmic(3e5, 2e6)),
        v_start_v=start_v,
        v_stop_v=0.45 * start_v,
        p_run_w=6.0,
    )
    bypass: Any = (capacitor(draw(logarithmic(1.5e-7, 1e-6))),)
    if draw(st.booleans()):
        bypass = (*bypass, ResistorBypass(r_ohm=draw(logarithmic(1.5e4, 1e6))))
    control = Control(c_snubber_f=draw(logarithmic(5e-10, 4.7e-8)), standby=feed)
    return Loop(supply=supply, control=control, cable=CABLE, bypass=bypass, lamps=(lamp,))
