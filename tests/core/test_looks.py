"""A quick look at a loop says what its full solution says, and a solution what happens after switching off."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from django.test import SimpleTestCase, tag

from ember_core.errors import SolverError
from ember_core.judgement import Verdict, judge
from ember_core.loop import Loop
from ember_core.offstate import blink, closed_form
from ember_core.offstate.network import Floats, build
from ember_core.offstate.results import Second
from ember_core.offstate.settle import just_off, settle
from ember_core.offstate.solve import STEPS_PER_CYCLE, solve
from ember_core.parts import (
    ActiveBypass,
    Cable,
    CapacitiveFeed,
    Control,
    ElectronicTransformerLamp,
    LinearLamp,
    RectifierLamp,
    Supply,
    SwitchingFeed,
)
from ember_core.sheet import Sheet
from ember_core.spread.begun import fed_state
from ember_core.spread.look import Sample
from ember_core.spread.observe import observe, observe_each, shown_by
from tests.core.drawn import drawn_sheets
from tests.core.loops import loop

DRAWN = 500
DRAWN_WITH_BLEEDERS = 150
DRAWN_AT_ONCE = 60
# A shunt-regulated feed into one electronic transformer: it waits at 140 V, and blinks from the moment it is off.
REGULATED = loop(
    supply=Supply(v_rms=120.9409, f_hz=60.0),
    control=Control(
        c_snubber_f=2.07427597e-8,
        standby=CapacitiveFeed(
            c_series_f=2.48463672e-7,
            r_discharge_ohm=471073.9,
            r_in_ohm=52.39172,
            c_reservoir_f=1.118226e-4,
            i_a=2.82005278e-3,
            v_shunt_v=12.23493,
        ),
    ),
    cable=Cable(c_line_to_switched_f=1.73554e-10, c_switched_to_neutral_f=1.729569e-9),
    bypass=(),
    lamps=(
        ElectronicTransformerLamp(
            count=5,
            c_x_f=0.0,
            r_in_ohm=5.700752,
            c_bulk_f=2.4717414e-8,
            r_start_ohm=304831.288,
            v_start_v=144.5,
            v_stop_v=72.25,
            p_run_w=36.7265,
        ),
    ),
)
# An electronic bleeder with two levels to be at: below its cut-off of 17 V, or far above it.
TWO_LEVELS = loop(
    supply=Supply(v_rms=114.5215, f_hz=60.0),
    control=Control(
        c_snubber_f=3.8337e-8,
        standby=SwitchingFeed(
            p_w=0.229948, r_in_ohm=75.0195, c_reservoir_f=4.437975e-6, v_min_v=20.83022, r_reservoir_ohm=1087614.0
        ),
    ),
    cable=Cable(c_line_to_switched_f=6.50991e-10, c_switched_to_neutral_f=1.2311e-9),
    bypass=(ActiveBypass(i_limit_a=0.007925928, r_on_ohm=1454.373, v_cutoff_v=17.26685),),
    lamps=(
        LinearLamp(count=1, c_x_f=0.0, r_in_ohm=1970.772, v_string_v=114.0256, i_limit_a=0.0512051),
        RectifierLamp(
            count=4,
            c_x_f=7.51354e-8,
            r_in_ohm=39.1018,
            c_bulk_f=1.373448e-4,
            r_start_ohm=435778.0,
            v_start_v=62.9719,
            v_stop_v=18.78394,
            p_run_w=35.42618,
        ),
        RectifierLamp(
            count=2,
            c_x_f=1.00793e-8,
            r_in_ohm=41.89686,
            c_bulk_f=1.152918e-4,
            r_start_ohm=1224383.7,
            v_start_v=50.89747,
            v_stop_v=23.58709,
            p_run_w=27.90085,
        ),
    ),
)


@tag("whole")
class LooksAndSolutions(SimpleTestCase):
    """Two ways to the state of every lamp and of the control."""

    def agree(self, sheets: list[Sheet]) -> Counter[str]:
        """Compare each; what neither solves is counted, what only one does fails."""
        seen: Counter[str] = Counter()
        for number, given in enumerate(sheets):
            with self.subTest(number):
                found = []
                for way in (solve, observe):
                    try:
                        found.append(way(given.loop))
                    except SolverError as error:
                        found.append(error.code)
                full, look = found
                if isinstance(full, str) or isinstance(look, str):
                    self.assertEqual(full, look)
                    seen["unsolved"] += 1
                    continue
                self.assertEqual(look.lamps, tuple(lamp.state for lamp in full.lamps))
                self.assertEqual(look.control, full.control.state)
                seen.update(str(state) for state in {*look.lamps, look.control})
        return seen

    def test_a_look_is_the_solution_over_the_classes_of_the_trade(self) -> None:
        """500 gangs of one to three groups: every stage, feed and bypass, both mains; next to none is unsolved."""
        seen = self.agree(list(drawn_sheets(DRAWN, 2)))
        self.assertLessEqual(seen["unsolved"], DRAWN // 250)
        for state in ("dark", "glow", "blink", "fed", "marginal", "starved"):
            self.assertGreaterEqual(seen[state], 5, state)

    def test_and_with_electronic_bleeders_in_every_loop(self) -> None:
        """They open and close with the voltage; none of them is left unsolved."""
        bleeders = [
            given
            for given in drawn_sheets(3 * DRAWN_WITH_BLEEDERS, 31, least_bypass=1)
            if any(isinstance(part, ActiveBypass) for part in given.loop.bypass)
        ][:DRAWN_WITH_BLEEDERS]
        self.assertGreaterEqual(len(bleeders), 120)
        self.assertEqual(self.agree(bleeders)["unsolved"], 0)


class StartState(SimpleTestCase):
    """What happens from the moment of switching off, where a loop could settle to more than one thing."""

    def test_a_loop_that_would_rest_blinks_if_switching_off_sets_it_going(self) -> None:
        """Its waiting reservoir stays below the start; marched from just off it flashes again and again."""
        network = build(REGULATED)
        closed = closed_form.evaluate(network)
        waiting = settle(network, closed, STEPS_PER_CYCLE).state
        self.assertLess(waiting[-1], 144.0)
        self.assertTrue(blink.goes_on(network, just_off(network, closed), STEPS_PER_CYCLE))
        for found in (solve(REGULATED).lamps[0].state, observe(REGULATED).lamps[0]):
            self.assertEqual(found, "blink")
        # What instruments show of it is one story.
        self.assertIsNotNone(shown_by(REGULATED).period_s)
        self.assertIsNotNone(observe(REGULATED).shown)

    def test_further_from_its_start_it_rests(self) -> None:
        """The same loop with a start a fifth above what it reaches."""
        lamp = replace(REGULATED.lamps[0], v_start_v=170.0)
        found = solve(replace(REGULATED, lamps=(lamp,)))
        self.assertEqual((found.lamps[0].state, found.second), ("dark", None))

    def test_a_second_level_is_told(self) -> None:
        """From just off the bleeder is open and the lamps lie far above its cut-off; the other level is named."""
        found = solve(TWO_LEVELS)
        self.assertIs(found.second, Second.LEVEL)
        self.assertGreater(found.lamp_v_rms, 2.0 * (found.second_lamp_v_rms or 0.0))
        codes = [finding.code for finding in judge(Sheet(loop=TWO_LEVELS), with_meter=False).findings]
        self.assertIn("second_state_level", codes)

    def test_one_flash_that_would_go_on_is_no_plain_dark(self) -> None:
        """Dark until something makes it flash: close, with its reason."""
        resting = solve(loop())
        self.assertIs(resting.second, None)
        with_second = replace(resting, second=Second.FLASHES)
        from unittest.mock import patch

        from ember_core import judgement

        with patch.object(judgement, "solve", return_value=with_second):
            found = judge(Sheet(loop=loop()), with_meter=False)
        self.assertIs(found.verdict, Verdict.CLOSE)
        self.assertIn("second_state_flashes", [finding.code for finding in found.findings])


class CloseToGlow(SimpleTestCase):
    """A string or a filament that is dark with little to spare."""

    def test_a_string_is_close_below_twice_what_flows(self) -> None:
        """Just inside and just outside of the factor, by moving the string voltage."""
        words = {}
        for v_string_v in (60.0, 70.0, 80.0, 85.0, 88.0, 90.0, 92.0, 95.0, 100.0, 120.0):
            given = Sheet(loop=loop(lamps=(LinearLamp(count=1, r_in_ohm=900.0, v_string_v=v_string_v),)))
            found = judge(given, with_meter=False)
            margin = found.off_state.lamps[0].glow_margin_ratio
            code = next(finding.code for finding in found.findings if finding.code.endswith("_string"))
            word = "glow" if margin < 1.0 else "close" if margin < 2.0 else "dark"
            self.assertEqual(code, f"lamps_{word}_string")
            words[word] = found.verdict
        self.assertEqual(words["glow"], Verdict.GLOW)
        self.assertEqual(words["dark"], Verdict.DARK)


@tag("long")
class SeveralAtOnce(SimpleTestCase):
    """Drawn loops that settle in one go."""

    def test_they_do_what_each_does_alone(self) -> None:
        """To the last bit, over every stage, feed and bypass, from a state nearby or from none, sure or as it looks."""
        self.assertEqual(observe_each([]), [])
        seen = Counter[str]()
        for given in drawn_sheets(DRAWN_AT_ONCE, 31):
            at = given.loop.supply
            loops = [replace(given.loop, supply=replace(at, v_rms=share * at.v_rms)) for share in (0.96, 1.0, 1.05)]
            near = fed_state(given.loop)
            seen["near" if near is not None else "far"] += 1
            for is_exact in (True, False):
                alone = [_alone(one, near, is_exact) for one in loops]
                self.assertEqual(observe_each(loops, near=near, is_exact=is_exact), alone, given.loop)
        self.assertGreater(min(seen["near"], seen["far"]), 2, seen)


def _alone(given: Loop, near: Floats | None, is_exact: bool) -> Sample | None:
    try:
        return observe(given, near=near, is_exact=is_exact)
    except SolverError:
        return None
