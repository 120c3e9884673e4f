"""Closed forms of the on state against the march over drawn gangs: they may err to the safe side only."""

from __future__ import annotations

import random
from dataclasses import replace
from math import degrees, pi

from django.test import SimpleTestCase, tag

from ember_core.compatibility.matrix import Goes, class_of, declared_of, together
from ember_core.lit.holding import HOLDS_TO_DEG, holds_to_deg, latches_from_deg, ring_settles
from ember_core.lit.loads import on_case
from ember_core.lit.ranges import typical_of
from ember_core.lit.stress import FIRING_DEG, inrush, stress
from ember_core.loop import Loop
from ember_core.onstate.simulate import OnState, simulate
from ember_core.parts import FilamentLamp, LinearLamp, PhaseMode, RectifierLamp
from tests.core.drawn import drawn_sheets

GANGS = 50
# What two marches of different steps may differ by, and rounding.
HAIR = 0.99


def at(loop: Loop, ratio: float) -> Loop:
    """The gang at other mains."""
    return replace(loop, supply=replace(loop.supply, v_rms=ratio * loop.supply.v_rms))


def gangs(seed: int) -> list[Loop]:
    """Drawn gangs."""
    return [sheet.loop for sheet in drawn_sheets(GANGS, seed)]


def may_be_dimmed(loop: Loop) -> bool:
    """Whether a leading edge is not forbidden at the outset."""
    return together([(class_of(one), declared_of(one)) for one in loop.lamps], PhaseMode.LEADING).verdict is not (
        Goes.MUST_NOT
    )


class NeverLess(SimpleTestCase):
    """Whatever a control bears is not told smaller than it is."""

    def marched(self, loop: Loop, edge: PhaseMode, level_deg: float) -> OnState:
        """The full solution at 10 % high mains on a stiff supply."""
        return simulate(on_case(at(loop, 1.1), edge, level_deg, typical_of(loop, source="stiff")))

    def test_peak_and_rms_on_a_dimmer(self) -> None:
        """Every gang that a leading edge may dim: the worst of the firing angles."""
        tried = 0
        for loop in gangs(8):
            if not may_be_dimmed(loop):
                continue
            tried += 1
            found = stress(loop, typical_of(loop, source="stiff"))
            marched = [self.marched(loop, PhaseMode.LEADING, angle) for angle in FIRING_DEG]
            kinds = [lamp.kind for lamp in loop.lamps]
            self.assertGreaterEqual(found.i_peak_a, HAIR * max(one.i_peak_a for one in marched), kinds)
            self.assertGreaterEqual(found.i_rms_a, HAIR * max(one.i_rms_a for one in marched), kinds)
        self.assertGreater(tried, GANGS // 4)

    @tag("whole")
    def test_peak_and_rms_into_reservoirs_at_late_angles(self) -> None:
        """Angles that the search does not look at by itself, where every pulse is as the one before."""
        source, tried = random.Random(8), 0
        for _ in range(12):
            lamp = RectifierLamp(
                count=source.randint(1, 12),
                c_x_f=10 ** source.uniform(-9.0, -7.0),
                c_bulk_f=10 ** source.uniform(-5.7, -4.7),
                v_start_v=100.0,
                v_stop_v=45.0,
                p_run_w=source.uniform(3.0, 12.0),
            )
            loop = replace(next(iter(gangs(1))), lamps=(lamp,), bypass=())
            found = stress(loop, typical_of(loop, source="stiff"))
            for angle in (98.0, 127.0, 137.0, 142.5, 148.0, 151.5, 157.0, 161.5):
                marched = self.marched(loop, PhaseMode.LEADING, angle)
                if marched.is_settled:
                    tried += 1
                    self.assertGreaterEqual(found.i_peak_a, 0.97 * marched.i_peak_a, (lamp, angle))
                    self.assertGreaterEqual(found.i_rms_a, 0.97 * marched.i_rms_a, (lamp, angle))
        self.assertGreater(tried, 60)

    def test_a_closing_contact(self) -> None:
        """At the crest and half a millisecond past the zero crossing, whatever hangs on it."""
        for loop in gangs(9):
            figures = typical_of(loop, source="stiff")
            for off_s, level_deg in ((None, 90.0), (5e-4, degrees(2.0 * pi * loop.supply.f_hz * 5e-4))):
                marched = self.marched(loop, PhaseMode.ON_OFF, level_deg)
                told = inrush(loop, figures, off_crossing_s=off_s)
                kinds = [lamp.kind for lamp in loop.lamps]
                self.assertGreaterEqual(told.i_peak_a, HAIR * marched.i_peak_a, (kinds, off_s))

    def test_a_triac_that_is_said_to_hold_holds(self) -> None:
        """Where it latches and the ring has settled it lets go no earlier than is said, as far as light is lost."""
        tried = 0
        for loop in gangs(10):
            figures = typical_of(loop, source="weak")
            if not (may_be_dimmed(loop) and ring_settles(loop, figures) and latches_from_deg(loop, figures) < 90.0):
                continue
            tried += 1
            marched = simulate(on_case(at(loop, 0.9), PhaseMode.LEADING, 90.0, figures)).drop_out_deg
            said = min(HOLDS_TO_DEG, holds_to_deg(loop, figures))
            self.assertGreaterEqual(180.0 if marched is None else marched, said - 1.0, loop.lamps)
        self.assertGreater(tried, GANGS // 10)


class ByHand(SimpleTestCase):
    """What was left out before."""

    def test_cold_filaments_take_many_times_their_current(self) -> None:
        """Ten of 60 W at 230 V: 12 times colder than hot, at the crest of 253 V behind the line."""
        loop = next(iter(gangs(1)))
        lamp = FilamentLamp(count=10, r_cold_ohm=70.0, p_rated_w=60.0)
        loop = replace(loop, supply=replace(loop.supply, v_rms=230.0, f_hz=50.0), lamps=(lamp,), bypass=())
        told = inrush(loop, typical_of(loop, source="stiff"))
        by_hand = 1.1 * 230.0 * 2.0**0.5 * 10 * 12.0 / (230.0**2 / 60.0)
        self.assertAlmostEqual(told.i_peak_a / by_hand, 1.0, delta=0.05)
        # A quarter of a cycle of a sine squared.
        self.assertAlmostEqual(told.i2t_a2s / (by_hand**2 / (8.0 * 50.0)), 1.0, delta=0.05)

    def test_linear_lamps_count_for_the_rms(self) -> None:
        """Limited to 30 mA each from where the mains exceed their string: 20 of them are more than half an ampere."""
        loop = next(iter(gangs(1)))
        lamp = LinearLamp(count=20, r_in_ohm=330.0, v_string_v=150.0, i_limit_a=0.03)
        loop = replace(loop, supply=replace(loop.supply, v_rms=230.0, f_hz=50.0), lamps=(lamp,), bypass=())
        found = stress(loop, typical_of(loop, source="stiff"))
        # From 75° to where 358 V fall below the string: 155°.
        self.assertAlmostEqual(found.i_rms_a / (0.6 * (80.0 / 180.0) ** 0.5), 1.0, delta=0.1)
