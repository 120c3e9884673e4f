"""An iron core rings with the capacitance around it; near that the size of its impedance tells nothing.

The march holds an iron core as a resistance of the size of its impedance. That is right while the control's capacitance
is far smaller than what the core resonates with; near resonance the voltage at the lamps is a multiple of it.
"""

from __future__ import annotations

from math import inf, pi

from ember_core.loop import Loop
from ember_core.parts import (
    CapacitiveFeed,
    CapacitorBypass,
    FilamentLamp,
    IronCoreTransformerLamp,
    LinearLamp,
    RectifierLamp,
    ResistorBypass,
)

# Within this factor of resonance, either way, the size of the impedance is not used: at a third or three times the
# voltage is still half as much again as without the capacitance.
NEAR_FACTOR = 3.0


def resonance_ratio(loop: Loop) -> float | None:
    """ω²·L·C of the iron cores and what they ring with [1]; None without iron, or where a load damps it (R < ω·L)."""
    iron = [lamp for lamp in loop.lamps if isinstance(lamp, IronCoreTransformerLamp)]
    if not iron:
        return None
    w = 2.0 * pi * loop.supply.f_hz
    l_h = 1.0 / sum(lamp.count / lamp.l_magnetising_h for lamp in iron)
    if _damping_ohm(loop) < w * l_h:
        return None
    return w * w * l_h * _capacitance_f(loop)


def is_near_resonance(loop: Loop) -> bool:
    """Whether an iron core is so near resonance that no good answer may be built on the size of its impedance."""
    ratio = resonance_ratio(loop)
    return ratio is not None and 1.0 / NEAR_FACTOR < ratio < NEAR_FACTOR


def _damping_ohm(loop: Loop) -> float:
    """What lies beside the winding like a resistor [Ω]: filaments, on the transformer or on the loop, and bleeders."""
    g_s = 0.0
    for lamp in loop.lamps:
        if isinstance(lamp, FilamentLamp):
            g_s += lamp.count / lamp.r_cold_ohm
        elif isinstance(lamp, IronCoreTransformerLamp) and lamp.r_load_cold_ohm is not None:
            g_s += lamp.count / lamp.r_load_cold_ohm
    g_s += sum(1.0 / part.r_ohm for part in loop.bypass if isinstance(part, ResistorBypass))
    return 1.0 / g_s if g_s > 0.0 else inf


def _capacitance_f(loop: Loop) -> float:
    """Across the control and across the lamps together: the source joins their far ends [F]."""
    c_f = loop.control.c_snubber_f + loop.cable.c_line_to_switched_f + loop.cable.c_switched_to_neutral_f
    if isinstance(loop.control.standby, CapacitiveFeed):
        c_f += loop.control.standby.c_series_f
    c_f += sum(lamp.count * lamp.c_x_f for lamp in loop.lamps if isinstance(lamp, RectifierLamp | LinearLamp))
    return c_f + sum(part.c_f for part in loop.bypass if isinstance(part, CapacitorBypass))
