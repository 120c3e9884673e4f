"""A loop with something in it exchanged, to try what that does; figures while on go with it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ember_core.catalogue.class_defaults import typical_lamp
from ember_core.diagnosis.world import World
from ember_core.loop import Loop
from ember_core.parts import LAMP_CLASSES, CapacitorBypass, Lamp, is_led, rated_w

# A known good bypass, put in to try.
TRIED_F = 2.2e-7
# The input capacitor of a lamp that is tried in place of others.
LARGE_INPUT_F = 2.2e-7
FILAMENT_P_W = 40.0
# LED lamps that there is class data of on either mains [W].
LED_W = (3.0, 15.0)


def made_lamp(stage: str, loop: Loop, p_w: float | None, count: int = 1) -> Lamp:
    """A typical lamp of an input stage, of about a power: LED lamps of a few watts to a few tens."""
    within = None if p_w is None else min(max(p_w, LED_W[0]), LED_W[1])
    kind, figures = typical_lamp(stage, loop.supply, p_w if stage == "filament" else within)
    made = next(part for part in LAMP_CLASSES if part.kind == kind)
    lamp: Lamp = made(count=count, **{name: figure.typical for name, figure in figures.items()})
    return lamp


def with_one_filament(loop: Loop) -> Loop:
    """One filament lamp in place of one lamp of the first group of LED lamps."""
    lamps = list(loop.lamps)
    at = next((k for k, lamp in enumerate(lamps) if is_led(lamp)), 0)
    made = made_lamp("filament", loop, FILAMENT_P_W)
    lamp = lamps[at]
    if lamp.count > 1:
        lamps[at : at + 1] = [replace(lamp, count=lamp.count - 1), made]
    else:
        lamps[at] = made
    return replace(loop, lamps=tuple(lamps))


def figures_for(world: World, loop: Loop) -> World:
    """A world with another loop: figures while on go with the lamps, the last ones for those that were added."""
    lamps = tuple(world.lit.lamps[min(k, len(world.lit.lamps) - 1)] for k in range(len(loop.lamps)))
    return replace(world, loop=loop, lit=replace(world.lit, lamps=lamps))


def other_lamps(loop: Loop) -> Loop:
    """Every LED group replaced by dimmable drivers with large input capacitors."""
    lamps: list[Lamp] = []
    for lamp in loop.lamps:
        made: Any = made_lamp("dimmable_driver", loop, rated_w(lamp), lamp.count)
        lamps.append(replace(made, c_x_f=LARGE_INPUT_F) if is_led(lamp) else lamp)
    return replace(loop, lamps=tuple(lamps))


def with_good_bypass(loop: Loop) -> Loop:
    """A known good capacitor at the lamps in place of what was there; no larger than the control's maker allows."""
    c_f = min(TRIED_F, loop.control.c_bypass_max_f or TRIED_F)
    return replace(loop, bypass=(CapacitorBypass(c_f=c_f, r_parallel_ohm=470e3),))
