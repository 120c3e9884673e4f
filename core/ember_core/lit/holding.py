"""Whether a triac is held: until which angle, from which it latches, whether the ring of a filter lets it go."""

from __future__ import annotations

from math import asin, degrees, inf, pi, radians, sin

import numpy as np

from ember_core.lit.loads import (
    LOW_RATIO,
    R_TRIAC_OHM,
    capacitance_f,
    conductance_s,
    linear_current_a,
    magnetising_s,
    stage_min_v,
)
from ember_core.lit.ranges import LitFigures
from ember_core.lit.stress import R_LEAST_OHM, weak
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.parts import DimmableDriverLamp, LinearLamp

# A triac that lets go before this angle cuts the light visibly [assumption].
HOLDS_TO_DEG = 150.0
# So close to the end of their own current that the rest is not seen.
LINEAR_END_DEG = 5.0
_ANGLES_DEG = np.arange(90.0, 180.5, 0.5)


def holds_to_deg(loop: Loop, figures: LitFigures) -> float:
    """Angle at which the triac lets go after the crest, at 10 % low mains [°]; 0 where it does not hold at all.

    Loads like a resistor, capacitances and iron in closed form, within 0.1 %; with linear lamps the sum of all
    currents is searched, by half a degree. Capacitor-input lamps draw nothing there.
    """
    w, v_peak = 2.0 * pi * loop.supply.f_hz, LOW_RATIO * loop.supply.v_peak
    g, c = conductance_s(loop, figures), capacitance_f(loop, figures, with_film=True)
    # An iron core's current goes against that of a capacitance.
    b = w * c - magnetising_s(loop)
    i_hold = figures.control["i_hold_a"]
    if not any(isinstance(lamp, LinearLamp) for lamp in loop.lamps):
        if g <= 0.0 and b >= 0.0:
            return 0.0
        return degrees(closed_form.drop_out_rad(v_peak, w, i_hold, g, b / w, stage_min_v(loop, figures)))
    held = 0.0
    v_stop = stage_min_v(loop, figures)
    for angle in _ANGLES_DEG:
        theta = radians(float(angle))
        v = v_peak * sin(theta)
        drawn = (g * v if v > v_stop else 0.0) + linear_current_a(loop, figures, v) + v_peak * b * float(np.cos(theta))
        if drawn < i_hold:
            break
        held = float(angle)
    return held


def wanted_hold_deg(loop: Loop) -> float:
    """Angle to which it must hold so that no light is lost [°]: linear lamps alone draw nothing near the crossing."""
    strings = [lamp.v_string_v for lamp in loop.lamps if isinstance(lamp, LinearLamp)]
    if len(strings) < len(loop.lamps):
        return HOLDS_TO_DEG
    ends = 180.0 - degrees(asin(min(1.0, min(strings) / (LOW_RATIO * loop.supply.v_peak))))
    return min(HOLDS_TO_DEG, ends - LINEAR_END_DEG)


def draws_after_crest(loop: Loop, figures: LitFigures) -> bool:
    """Whether anything draws current after the crest; capacitor-input lamps and droppers do not."""
    has_linear = any(isinstance(lamp, LinearLamp) for lamp in loop.lamps)
    return has_linear or conductance_s(loop, figures) > 0.0 or magnetising_s(loop) > 0.0


def latches_from_deg(loop: Loop, figures: LitFigures) -> float:
    """Least conduction at which the current of the load latches the triac, at 10 % low mains [°]; infinity if never.

    The load's own current where it fires; the pulse of a filter comes on top, but is over before the gate ends.
    """
    g = conductance_s(loop, figures)
    v_peak, i_latch = LOW_RATIO * loop.supply.v_peak, figures.control["i_latch_a"]
    if not any(isinstance(lamp, LinearLamp) for lamp in loop.lamps):
        return degrees(asin(i_latch / (g * v_peak))) if g * v_peak > i_latch else inf
    for conduction in range(1, 91):
        v = v_peak * sin(radians(conduction))
        if g * v + linear_current_a(loop, figures, v) >= i_latch:
            return float(conduction)
    return inf


def ring_settles(loop: Loop, figures: LitFigures) -> bool:
    """Whether the gate pulse outlasts the ring of the filters, at 10 % low mains on a weak supply."""
    soft = weak(loop, figures)
    v_peak = LOW_RATIO * loop.supply.v_peak
    c = capacitance_f(loop, soft, with_film=True)
    damping = [
        own["r_damp_ohm"] / lamp.count
        for lamp, own in zip(loop.lamps, soft.lamps, strict=True)
        if isinstance(lamp, DimmableDriverLamp)
    ]
    r = min(damping, default=R_LEAST_OHM) + R_TRIAC_OHM + soft.control["r_source_ohm"]
    spare = conductance_s(loop, soft) * v_peak + linear_current_a(loop, soft, v_peak) - soft.control["i_hold_a"]
    l_h = soft.control["l_choke_h"] + soft.control["l_source_h"]
    return closed_form.ring_settles_s(v_peak, l_h, max(c, 1e-12), r, spare) <= soft.control["t_gate_s"]
