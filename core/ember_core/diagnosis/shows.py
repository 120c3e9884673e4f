"""What a world shows: symptoms as told, and what instruments read; each figure is solved when it is asked for.

A symptom has a chance, from 0 to 1: most are certain in a world, some come and go.
"""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property
from math import inf

import numpy as np
from scipy.special import ndtr

from ember_core.diagnosis import wired
from ember_core.diagnosis.symptoms import AIR, LIT, OFF, Symptom
from ember_core.diagnosis.world import (
    SHUT_OUT,
    BoxIs,
    BypassIs,
    ContactIs,
    HubIs,
    LampsAre,
    LuminaireIs,
    SettingsAre,
    World,
)
from ember_core.errors import SolverError
from ember_core.lit.decay import TURN_OFF_DEG, decay_spare_s
from ember_core.lit.holding import draws_after_crest, holds_to_deg, latches_from_deg, ring_settles, wanted_hold_deg
from ember_core.lit.light import dims, drop_out_deg, light, pop_on_deg
from ember_core.lit.stress import peak_allowed_a, stiff, stress
from ember_core.lit.supply import fed_while_on, gap_deg
from ember_core.loop import Loop
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import (
    CapacitorBypass,
    FilamentLamp,
    IronCoreTransformerLamp,
    PhaseMode,
    is_led,
    rated_w,
)
from ember_core.spread.disturbance import flashes_on
from ember_core.spread.half_wave import HalfWave, on_half_wave
from ember_core.spread.look import Sample
from ember_core.spread.observe import observe, shown_by
from ember_core.spread.shown import Shown, rhythm_s

# A driver that is set this little above where it goes out hunts: light and dark by turns [°; assumption].
HUNTS_DEG = 3.0
# Light short of this share of full is told as not reaching full [assumption].
FULL_LIGHT_RATIO = 0.85
# A link with less to spare drops out with people and doors; the spread of fading [dB; assumption].
FADE_WANTED_DB, FADING_DB = 8.0, 4.0
# Whether a ring lets a triac go is a question of chance.
RING_CHANCE = 0.5
# On 10 % low mains a contact's own supply falls short; mains are that low at times [assumption].
LOW_MAINS_CHANCE = 0.3
# Where nothing solves, nothing is known.
UNKNOWN = 0.5


class Shows:
    """What one world shows.

    Parameters
    ----------
    same_loop : another of the same loop, whose solutions are taken; None solves anew.
    """

    def __init__(self, world: World, same_loop: Shows | None = None) -> None:
        self.world, self.same_loop = world, same_loop

    @cached_property
    def off(self) -> Sample | None:
        """The off state; None where it does not settle."""
        if self.same_loop is not None:
            return self.same_loop.off
        try:
            return observe(self.world.loop, with_shown=False)
        except SolverError:
            return None

    @cached_property
    def period_s(self) -> float | None:
        """From flash to flash; None where nothing blinks in a rhythm."""
        if self.same_loop is not None:
            return self.same_loop.period_s
        if self.off is None or LampState.BLINK not in self.off.lamps:
            return None
        try:
            return rhythm_s(self.world.loop)
        except SolverError:
            return None

    def shown(self, meter_r_ohm: float | None) -> Shown | None:
        """What instruments show, with a meter on the lamp terminals or none."""
        if self.same_loop is not None:
            return self.same_loop.shown(meter_r_ohm)
        key = f"_shown_{meter_r_ohm}"
        if key not in self.__dict__:
            try:
                self.__dict__[key] = shown_by(replace(self.world.loop, meter_r_ohm=meter_r_ohm))
            except SolverError:
                self.__dict__[key] = None
        found: Shown | None = self.__dict__[key]
        return found

    @cached_property
    def flashes(self) -> bool | None:
        """A lamp that waits flashes once when other loads switch; None where it does not settle."""
        if self.off is None:
            return None
        if any(state is not LampState.DARK for state in self.off.lamps):
            return False
        try:
            return flashes_on(self.world.loop, self.world.step_ratio)
        except SolverError:
            return None

    def symptom(self, code: Symptom) -> float:
        """Chance that a symptom shows [1]."""
        if code in OFF:
            return self._off(code)
        if code in AIR:
            return self._air(code)
        if code in LIT:
            return self._lit.get(code, 0.0)
        return self._hands.get(code, 0.0)

    def _off(self, code: Symptom) -> float:
        # No lamp, no light; but no feed either.
        if self.world.is_dark and code is not Symptom.CONTROL_RESTARTS:
            return 0.0
        if self.off is None:
            return UNKNOWN
        match code:
            case Symptom.BLINK_OFF:
                return float(LampState.BLINK in self.off.lamps)
            case Symptom.GLOW_OFF:
                return float(LampState.GLOW in self.off.lamps)
            case Symptom.SINGLE_FLASH:
                return UNKNOWN if self.flashes is None else float(self.flashes)
        return self.starves

    @cached_property
    def starves(self) -> float:
        """Chance that the control is short of power: a marginal one is so half the time."""
        if wired.DEAD_CONTROL in wired.signs(self.world.box):
            return 1.0
        if self.off is None:
            return UNKNOWN
        if self.off.control is StandbyState.STARVED:
            return 1.0
        return 0.5 if self.off.control is StandbyState.MARGINAL else 0.0

    def _air(self, code: Symptom) -> float:
        air = self.world.air
        fades = float(ndtr((FADE_WANTED_DB - air.margin_db) / FADING_DB))
        shut_out = float(air.hub in SHUT_OUT)
        match code:
            case Symptom.WILL_NOT_PAIR:
                return max(shut_out, float(ndtr(-air.margin_db / FADING_DB)), self.starves)
            case Symptom.DROPS_OFF_NETWORK:
                return max(fades, 0.5 * float(air.hub is HubIs.BUSY_CHANNEL), self.starves) * (1.0 - shut_out)
            case Symptom.ANSWERS_LATE:
                return max(float(air.hub is HubIs.BUSY_CHANNEL), 0.5 * fades)
        return max(float(air.hub is HubIs.REMOTE), self.starves)

    @cached_property
    def _hands(self) -> dict[Symptom, float]:
        """Symptoms of wiring, contact and settings."""
        world, signs = self.world, wired.signs(self.world.box)
        is_dead = world.is_dark or wired.DEAD_CONTROL in signs
        return {
            Symptom.NOTHING_LIGHTS: float(is_dead),
            Symptom.ONE_LAMP_DARK: float(world.lamps is LampsAre.SOME_DARK and not world.is_dark),
            Symptom.WILL_NOT_SWITCH_OFF: float(world.contact is ContactIs.WELDED),
            Symptom.FLICKERS_ANY_TIME: float(world.box is BoxIs.LOOSE or world.luminaire is LuminaireIs.NEUTRAL_LOOSE),
            Symptom.OTHER_LAMP: float(wired.OTHER_LAMP in signs),
            Symptom.DEPENDS_ON_SWITCH: float(wired.DEPENDS in signs),
            Symptom.NEEDS_TWO_PRESSES: float(world.settings is SettingsAre.INPUT),
            Symptom.TRIPS: float(world.box is BoxIs.BORROWED),
            Symptom.PLATE_TINGLES: float(wired.PLATE_LIVE in signs and world.has_metal_plate),
            Symptom.LIGHTS_AFTER_OUTAGE: float(world.settings is SettingsAre.POWER_ON),
        }

    @cached_property
    def _lit(self) -> dict[Symptom, float]:
        """Symptoms while on."""
        world = self.world
        loop, lit = world.loop, world.lit
        shown: dict[Symptom, float] = {}
        if world.is_dark:
            return shown
        half = {on_half_wave(lamp, loop.supply) for lamp in loop.lamps} if world.contact is ContactIs.HALF else set()
        if half:
            shown[Symptom.FLICKER_ON] = float(HalfWave.FLICKERS in half)
            shown[Symptom.NOT_FULL] = 1.0
        if world.luminaire is LuminaireIs.OLD_GEAR or HalfWave.MUST_NOT in half:
            shown[Symptom.BUZZ] = 1.0
        shown[Symptom.GOES_OUT_LATER] = float(over_declared(loop) > 1.0)
        if world.dimming is None:
            if loop.control.standby is not None and loop.control.phase_mode is PhaseMode.ON_OFF and not half:
                shown[Symptom.FLICKER_ON] = LOW_MAINS_CHANCE * float(not fed_while_on(loop, lit))
            return shown
        for code, chance in self._dimmed().items():
            shown[code] = max(shown.get(code, 0.0), chance)
        return shown

    def _dimmed(self) -> dict[Symptom, float]:
        world = self.world
        loop, lit, dimming = world.loop, world.lit, world.dimming
        assert dimming is not None  # noqa: S101  (asked of dimmers only)
        drop, pop = drop_out_deg(loop, lit), pop_on_deg(loop, lit)
        shown = {
            Symptom.GOES_OUT_LOW: float(dimming.least_deg < drop),
            Symptom.COMES_ON_LATE: float(dimming.start_deg < pop),
            Symptom.FLICKER_LOW: max(self.misfires, float(drop <= dimming.least_deg < drop + HUNTS_DEG)),
            Symptom.NOT_FULL: float(self.top_light < FULL_LIGHT_RATIO),
            Symptom.FLICKER_ON: self.misfires,
        }
        if dimming.edge is PhaseMode.LEADING:
            if draws_after_crest(loop, lit) and dimming.least_deg < latches_from_deg(loop, lit) < inf:
                shown[Symptom.FLICKER_LOW] = 1.0
            allowed_a = peak_allowed_a(loop, lit.control["headroom_ratio"])
            if allowed_a is not None:
                shown[Symptom.BUZZ] = float(stress(loop, stiff(loop, lit)).i_peak_a > allowed_a)
        elif any(isinstance(lamp, IronCoreTransformerLamp) for lamp in loop.lamps):
            shown[Symptom.BUZZ] = 1.0
        if not any(dims(lamp) for lamp in loop.lamps):
            shown[Symptom.FLICKER_ON] = 1.0
        return shown

    @cached_property
    def misfires(self) -> float:
        """Chance that a dimmer flickers above its least level."""
        world = self.world
        loop, lit, dimming = world.loop, world.lit, world.dimming
        assert dimming is not None  # noqa: S101  (asked of dimmers only)
        if dimming.edge is PhaseMode.TRAILING:
            angles = [angle for angle in TURN_OFF_DEG if dimming.least_deg <= angle <= dimming.top_deg]
            return float(any(decay_spare_s(loop, lit, angle) < 0.0 for angle in angles))
        if not draws_after_crest(loop, lit) or holds_to_deg(loop, lit) < wanted_hold_deg(loop):
            return 1.0
        return 0.0 if ring_settles(loop, lit) else RING_CHANCE

    @cached_property
    def top_light(self) -> float:
        """Light at the top, of the lamp that has least of it [1]."""
        world = self.world
        loop, lit, dimming = world.loop, world.lit, world.dimming
        assert dimming is not None  # noqa: S101  (asked of dimmers only)
        gap = min(gap_deg(loop, lit), lit.control["gap_deg"]) if loop.control.standby is not None else 0.0
        top = np.array([min(dimming.top_deg, 180.0 - gap)])
        found = [
            float(light(loop, lamp, own, top)[0]) for lamp, own in zip(loop.lamps, lit.lamps, strict=True) if dims(lamp)
        ]
        return min(found, default=1.0)

    def is_well(self) -> bool:
        """No symptom shows."""
        return all(self.symptom(code) < UNKNOWN for code in Symptom)

    def value(self, test: str, meter_r_ohm: float | None) -> float | None:
        """What an instrument reads; None where there is nothing to read."""
        loop = self.world.loop
        match test:
            case "period_tapped":
                return self.period_s
            case "supply_v":
                return loop.supply.v_rms
            case "bypass_measured":
                there = self.world.bypass is not BypassIs.MISSING
                return sum(part.c_f for part in loop.bypass if isinstance(part, CapacitorBypass)) if there else None
            case "line_i":
                seen = self.shown(None)
                return None if seen is None else seen.line_i_rms_a
        seen = self.shown(meter_r_ohm)
        return None if seen is None else seen.lamp_v_rms

    def with_world(self, **changed: object) -> Shows:
        """What it would show with something changed."""
        world: World = replace(self.world, **changed)  # type: ignore[arg-type]
        return Shows(world, self if world.loop is self.world.loop else None)


def over_declared(loop: Loop) -> float:
    """Load over the largest that the control's maker allows [1]; 0 where nobody says."""
    led = sum(lamp.count * (rated_w(lamp) or 0.0) for lamp in loop.lamps if is_led(lamp))
    other = sum(lamp.count * (rated_w(lamp) or 0.0) for lamp in loop.lamps if isinstance(lamp, FilamentLamp))
    control = loop.control
    found = [0.0]
    if control.p_max_led_w is not None:
        found.append(led / control.p_max_led_w)
    if control.p_max_filament_w is not None:
        found.append(other / control.p_max_filament_w)
    return sum(found)
