"""Causes that a loop is by itself as it is recorded, told by what its world shows."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from ember_core.diagnosis.shows import FULL_LIGHT_RATIO, Shows, over_declared
from ember_core.diagnosis.symptoms import Symptom
from ember_core.lit.holding import draws_after_crest, holds_to_deg, ring_settles, wanted_hold_deg
from ember_core.lit.light import dims, group_drop_out_deg
from ember_core.loop import Loop
from ember_core.parts import CapacitorBypass, ElectronicTransformerLamp, IronCoreTransformerLamp, PhaseMode

# Two drivers that go out so far from each other are told as lamps that do not dim together [°; assumption].
APART_DEG = 12.0

_OFF_LIGHT = (Symptom.BLINK_OFF, Symptom.GLOW_OFF, Symptom.SINGLE_FLASH)


def _lights(shows: Shows) -> bool:
    return any(shows.symptom(code) > 0.0 for code in _OFF_LIGHT)


def _leading(shows: Shows) -> bool:
    return shows.world.dimming is not None and shows.world.dimming.edge is PhaseMode.LEADING


def _dim_lamps(shows: Shows) -> bool:
    return any(dims(lamp) for lamp in shows.world.loop.lamps)


def _holds(loop: Loop, shows: Shows) -> bool:
    lit = shows.world.lit
    return draws_after_crest(loop, lit) and holds_to_deg(loop, lit) >= wanted_hold_deg(loop)


def _bypass_lets_go(shows: Shows) -> bool:
    loop = shows.world.loop
    if not _leading(shows) or not any(isinstance(part, CapacitorBypass) for part in loop.bypass):
        return False
    return not _holds(loop, shows) and _holds(replace(loop, bypass=()), shows)


def _not_held(shows: Shows) -> bool:
    return _leading(shows) and _dim_lamps(shows) and not _holds(shows.world.loop, shows) and not _bypass_lets_go(shows)


def _rings(shows: Shows) -> bool:
    loop, lit = shows.world.loop, shows.world.lit
    return _leading(shows) and _holds(loop, shows) and not ring_settles(loop, lit)


def _gap(shows: Shows) -> bool:
    if shows.world.dimming is None:
        return shows.symptom(Symptom.FLICKER_ON) > 0.0
    return _dim_lamps(shows) and shows.top_light < FULL_LIGHT_RATIO


def _apart(shows: Shows) -> bool:
    loop, lit = shows.world.loop, shows.world.lit
    if shows.world.dimming is None:
        return False
    angles = [
        group_drop_out_deg(loop, lamp, own) for lamp, own in zip(loop.lamps, lit.lamps, strict=True) if dims(lamp)
    ]
    return len(angles) > 1 and max(angles) - min(angles) > APART_DEG and shows.symptom(Symptom.GOES_OUT_LOW) > 0.0


def _transformers(shows: Shows) -> bool:
    dimming = shows.world.dimming
    if dimming is None:
        return False
    wrong = IronCoreTransformerLamp if dimming.edge is PhaseMode.TRAILING else ElectronicTransformerLamp
    return any(isinstance(lamp, wrong) for lamp in shows.world.loop.lamps)


# A cause that the loop as recorded is by itself.
BY_ITSELF: Mapping[str, Callable[[Shows], bool]] = {
    "no_bypass": lambda shows: not shows.world.loop.bypass and _lights(shows),
    "bypass_too_small": lambda shows: bool(shows.world.loop.bypass) and _lights(shows),
    "lamps_pass_too_little": lambda shows: shows.starves > 0.0,
    "lamps_not_dimmable": lambda shows: shows.world.dimming is not None and not _dim_lamps(shows),
    "holding_not_met": _not_held,
    "ring_misfire": _rings,
    "supply_gap": _gap,
    "bypass_under_leading": _bypass_lets_go,
    "decay_late": lambda shows: not _leading(shows) and shows.world.dimming is not None and shows.misfires > 0.0,
    "overloaded": lambda shows: over_declared(shows.world.loop) > 1.0,
    "mixed_drivers": _apart,
    "iron_and_electronic": _transformers,
}
