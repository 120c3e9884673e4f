"""Iron cores that ring with the capacitance around them."""

from __future__ import annotations

from dataclasses import replace
from math import pi

from django.test import SimpleTestCase

from ember_core.judgement import Verdict, judge
from ember_core.loop import Loop
from ember_core.offstate.resonance import NEAR_FACTOR, is_near_resonance, resonance_ratio
from ember_core.overall import Works, overall
from ember_core.parts import Control, IronCoreTransformerLamp, ResistorBypass
from ember_core.sheet import Sheet
from tests.core.loops import CABLE, EUROPE, LAMP, capacitor, loop

W = 2.0 * pi * 50.0
SMALL_IRON = IronCoreTransformerLamp(count=1, r_winding_ohm=200.0, l_magnetising_h=60.0, p_rated_w=10.0)
CABLE_F = CABLE.c_line_to_switched_f + CABLE.c_switched_to_neutral_f


def switched(ratio: float, **changes: object) -> Loop:
    """An ordinary switch with so much across it that ω²·L·C is the ratio."""
    c_f = ratio / (W * W * SMALL_IRON.l_magnetising_h) - CABLE_F
    return loop(control=Control(c_snubber_f=c_f), lamps=(SMALL_IRON,), bypass=(), **changes)


class Ringing(SimpleTestCase):
    """Where the size of the impedance is not enough."""

    def test_by_hand(self) -> None:
        """ω²·L·C of everything around the core; two cores halve the inductance."""
        self.assertAlmostEqual(resonance_ratio(switched(0.7)), 0.7, places=9)
        two = replace(switched(0.7), lamps=(replace(SMALL_IRON, count=2),))
        self.assertAlmostEqual(resonance_ratio(two), 0.35, places=9)
        more = replace(switched(0.7), bypass=(capacitor(1e-7),))
        self.assertAlmostEqual(resonance_ratio(more), 0.7 + W * W * 60.0 * 1e-7, places=9)

    def test_just_inside_and_just_outside(self) -> None:
        """Either way by the same factor; without iron there is nothing to ring."""
        for ratio, is_near in (
            (0.99 / NEAR_FACTOR, False),
            (1.01 / NEAR_FACTOR, True),
            (1.0, True),
            (0.99 * NEAR_FACTOR, True),
            (1.01 * NEAR_FACTOR, False),
        ):
            self.assertIs(is_near_resonance(switched(ratio)), is_near, ratio)
        self.assertIsNone(resonance_ratio(loop(lamps=(LAMP,))))

    def test_at_the_border_the_error_is_still_half_as_much_again(self) -> None:
        """Complex impedance against its size: r/|r − 1| and r/√(r² + 1) of the supply at the lamps."""
        for r in (1.0 / NEAR_FACTOR, NEAR_FACTOR):
            true, sized = abs(r / (r - 1.0)), r / (r * r + 1.0) ** 0.5
            self.assertAlmostEqual(true / sized, 1.58, delta=0.01)

    def test_a_load_damps_it(self) -> None:
        """Cold filaments on the transformer, or a bleeder, of less than ω·L."""
        halogen = replace(SMALL_IRON, r_load_cold_ohm=400.0)
        self.assertIsNone(resonance_ratio(replace(switched(1.0), lamps=(halogen,))))
        for share, is_near in ((0.99, False), (1.01, True)):
            bleeder = ResistorBypass(r_ohm=share * W * SMALL_IRON.l_magnetising_h)
            self.assertIs(is_near_resonance(replace(switched(1.0), bypass=(bleeder,))), is_near)

    def test_nothing_good_is_said_near_it(self) -> None:
        """No verdict of the typical figures, not sure over all, and the finding says why."""
        far, near = (Sheet(loop=switched(ratio, supply=EUROPE)) for ratio in (0.05, 1.0))
        self.assertIs(judge(far).verdict, Verdict.DARK)
        found = judge(near)
        self.assertIs(found.verdict, Verdict.UNKNOWN)
        self.assertIn("iron_near_resonance", [finding.code for finding in found.findings])
        self.assertIn(overall(near, found).works, (Works.NOT_SURE, Works.DOES_NOT))
