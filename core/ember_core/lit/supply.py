"""What feeds a control while the light is on: the gap it leaves in each half-cycle, and what fills it."""

from __future__ import annotations

from math import degrees, inf, radians

from ember_core.lit.loads import LOW_RATIO, capacitance_f, draws_of
from ember_core.lit.ranges import LitFigures
from ember_core.loop import Loop
from ember_core.onstate import closed_form

# In front of the supply of a dimmer [assumption].
R_SUPPLY_OHM = 10.0


def gap_deg(loop: Loop, figures: LitFigures) -> float:
    """What a dimmer in series keeps open of a half-cycle for its own supply, at low mains [°]; infinity if in vain."""
    found = closed_form.gap_rad(
        LOW_RATIO * loop.supply.v_peak,
        loop.supply.f_hz,
        figures.control["i_need_on_a"],
        figures.control["v_supply_on_v"],
        draws_of(loop, figures),
        R_SUPPLY_OHM,
    )
    return inf if found is None else degrees(found)


def fed_by_load(loop: Loop, figures: LitFigures) -> bool:
    """Whether what draws like a resistor passes enough for the control's own supply before it closes, at low mains.

    A driver's stage does so only above the voltage at which it stops.
    """
    return gap_deg(loop, figures) <= figures.control["gap_deg"]


def supply_needs_f(loop: Loop, figures: LitFigures) -> float:
    """Least capacitance at the lamps that feeds the control while on, at low mains [F]."""
    control = figures.control
    return closed_form.supply_capacitance_f(
        control["i_need_on_a"],
        loop.supply.f_hz,
        LOW_RATIO * loop.supply.v_peak,
        radians(control["gap_deg"]),
        control["v_supply_on_v"],
    )


def supply_gets_a(loop: Loop, figures: LitFigures) -> float:
    """Current that the capacitance at the lamps gives it, at low mains [A]."""
    control = figures.control
    return closed_form.supply_current_a(
        capacitance_f(loop, figures, with_film=False),
        loop.supply.f_hz,
        LOW_RATIO * loop.supply.v_peak,
        radians(control["gap_deg"]),
        control["v_supply_on_v"],
    )


def fed_while_on(loop: Loop, figures: LitFigures) -> bool:
    """Whether a relay is fed while on: by a load like a resistor, or through the capacitance at the lamps."""
    if fed_by_load(loop, figures):
        return True
    return capacitance_f(loop, figures, with_film=False) >= supply_needs_f(loop, figures)
