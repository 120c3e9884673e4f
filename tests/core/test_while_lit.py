"""A gang while the light is on: what is found of it just inside and just outside each limit, and its trims."""

from __future__ import annotations

from dataclasses import replace
from itertools import product
from math import degrees, pi, sqrt
from typing import Any

import numpy as np
from django.test import SimpleTestCase, tag

from ember_cli.dimming import answer
from ember_core.bypass.window import capacitor_of, with_bypass
from ember_core.compatibility.gang import WhileLit as Found
from ember_core.compatibility.gang import while_lit
from ember_core.compatibility.matrix import Goes
from ember_core.compatibility.trims import SiteTrims
from ember_core.errors import InputError
from ember_core.lit.holding import HOLDS_TO_DEG
from ember_core.lit.loads import on_case
from ember_core.lit.ranges import on_ranges, samples_of, typical_of
from ember_core.lit.stress import most_on_contact, stiff, stress
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.onstate.case import Question
from ember_core.onstate.simulate import simulate
from ember_core.parts import Declared, DimmableDriverLamp, FilamentLamp, PhaseMode, SetUp
from ember_core.sheet import Sheet
from tests.core.loops import AMERICA, DROPPER, LAMP, RELAY, loop
from tests.core.test_on_state import cases
from wording.texts import catalogue, fill

DRIVER = DimmableDriverLamp(count=3, c_x_f=6.8e-8, c_bulk_f=4.7e-6, v_start_v=100.0, v_stop_v=40.0, p_run_w=8.0)
FILAMENT = FilamentLamp(count=1, r_cold_ohm=110.0, p_rated_w=40.0)


def phase(mode: PhaseMode) -> float:
    """A control's phase mode as its figure."""
    return float(list(PhaseMode).index(mode))


def declares(word: Declared) -> float:
    """A lamp's declaration as its figure."""
    return float(list(Declared).index(word))


def judged(given: Loop, **asked: Any) -> Found:
    """A gang of which every figure is a point."""
    return while_lit(Sheet(loop=given), **asked)


class WhileLit(SimpleTestCase):
    """A gang while on."""

    def gang(self, mode: PhaseMode, *lamps: Any, **control: float) -> Loop:
        """A control of a mode with lamps."""
        return loop(bypass=(), control=replace(RELAY, phase=phase(mode), **control), lamps=lamps)

    def codes(self, given: Loop) -> dict[str, Any]:
        """Findings by code."""
        found = judged(given, with_picture=False)
        return {finding.code: finding.params for finding in found.findings}

    def test_holding_just_inside_and_just_outside(self) -> None:
        """Filaments of twice the least watts at the highest holding current hold; of half at the lowest never."""
        high, low = 0.05, 0.005
        base = self.gang(PhaseMode.LEADING, FILAMENT, p_max_filament_w=400.0)
        # By hand: a resistance that draws the holding current at 150°, P = I·V/(√2·sin 30°).
        least_w = base.supply.v_rms / (sqrt(2.0) * 0.5)
        enough = replace(FILAMENT, p_rated_w=2.0 * high * least_w)
        little = replace(FILAMENT, p_rated_w=0.5 * low * least_w)
        self.assertIn("on_holds", self.codes(replace(base, lamps=(enough,))))
        told = self.codes(replace(base, lamps=(little,)))
        self.assertLess(told["on_lets_go_early"]["high_deg"], HOLDS_TO_DEG)

    def test_the_closed_form_of_holding_agrees_with_the_march(self) -> None:
        """The drop-out of the gang's own case, marched with typical figures, at both supplies."""
        for supply in (loop().supply, AMERICA):
            given = replace(self.gang(PhaseMode.LEADING, FILAMENT), supply=supply)
            figures = typical_of(given)
            marched = simulate(on_case(given, PhaseMode.LEADING, 90.0, figures))
            g = 40.0 / supply.v_rms**2
            w = 2.0 * pi * supply.f_hz
            c = given.cable.c_switched_to_neutral_f
            formula = degrees(closed_form.drop_out_rad(supply.v_peak, w, figures.control["i_hold_a"], g, c))
            self.assertAlmostEqual(marched.drop_out_deg or 0.0, formula, delta=1.0)

    def test_peak_against_the_rating(self) -> None:
        """A rating of 0.98 and 1.02 times what the spread asks for; none known is told as unknown."""
        given = self.gang(PhaseMode.LEADING, DRIVER, p_max_filament_w=400.0)
        asked = self.codes(given)
        params = asked.get("on_peak_borne") or asked["on_peak_too_high"]
        watts = params["high_a"] / params["headroom_ratio"] * 230.0 / sqrt(2.0)
        for ratio, code in ((0.98, "on_peak_too_high"), (1.02, "on_peak_borne")):
            told = self.codes(self.gang(PhaseMode.LEADING, DRIVER, p_max_filament_w=watts * ratio))
            self.assertIn(code, told)
        self.assertIn("on_peak_unknown", self.codes(self.gang(PhaseMode.LEADING, DRIVER)))

    def test_the_peak_s_closed_forms_agree_with_the_march(self) -> None:
        """A dropper, drivers, capacitor-input lamps at high mains and their worst angle: within a quarter."""
        for lamp in (DROPPER, DRIVER, LAMP):
            base = self.gang(PhaseMode.LEADING, lamp, p_max_filament_w=400.0)
            told = self.codes(base)
            params = told.get("on_peak_borne") or told["on_peak_too_high"]
            high = replace(base, supply=replace(base.supply, v_rms=253.0))
            marched = max(
                simulate(on_case(high, PhaseMode.LEADING, angle, typical_of(high))).i_peak_a
                for angle in (90.0, 120.0, 135.0)
            )
            self.assertTrue(0.75 * params["low_a"] <= marched <= 1.25 * params["high_a"], (lamp.kind, marched, params))

    def test_trailing_edge_needs_something_that_empties(self) -> None:
        """Filaments do; capacitor-input lamps never do, and the matrix forbids them as well."""
        self.assertIn("on_decays", self.codes(self.gang(PhaseMode.TRAILING, FILAMENT)))
        found = judged(self.gang(PhaseMode.TRAILING, LAMP), with_picture=False)
        self.assertIn("on_never_decays", {finding.code for finding in found.findings})
        self.assertIs(found.verdict, Goes.MUST_NOT)

    def test_a_relay_is_fed_by_its_load_or_by_capacitance(self) -> None:
        """A filament feeds it; capacitor-input lamps without input capacitors do not, with a large bypass they do."""
        self.assertIn("on_supply_by_load", self.codes(self.gang(PhaseMode.ON_OFF, FILAMENT)))
        bare = replace(LAMP, c_x_f=0.0)
        told = self.codes(self.gang(PhaseMode.ON_OFF, bare))
        self.assertLess(told["on_supply_unsure"]["share_ratio"], 0.2)
        self.assertIn("on_supply_fed", self.codes(with_bypass(self.gang(PhaseMode.ON_OFF, bare), capacitor_of(2e-6))))
        self.assertIn("on_inrush", told)

    def test_lamps_allowed_are_those_just_inside_the_peak(self) -> None:
        """As many as asked for are borne, one more would not be; a larger headroom allows more."""
        given = self.gang(PhaseMode.LEADING, DRIVER, p_max_filament_w=250.0)
        most = self.codes(given)["on_count_peak"]["most_count"]
        figures = stiff(given, typical_of(given))
        allowed = 3.0 * sqrt(2.0) * 250.0 / 230.0
        for count, is_inside in ((most, True), (most + 1, False)):
            tried = replace(given, lamps=(replace(DRIVER, count=count),))
            self.assertEqual(stress(tried, figures).i_peak_a <= allowed, is_inside)
        more = judged(given, headroom_ratio=5.0, with_picture=False)
        told = next(finding.params for finding in more.findings if finding.code == "on_count_peak")
        self.assertGreater(told["most_count"], most)

    def test_a_contact_s_ratings_just_inside_and_just_outside(self) -> None:
        """Inrush peak and I²t, each at 1.02 and 0.98 of what is asked; the count is the last that the rating stands."""
        bare = self.gang(PhaseMode.ON_OFF, LAMP)
        asked = self.codes(bare)["on_inrush"]
        for name, value in (("i_inrush_max_a", asked["high_a"]), ("i2t_max_a2s", asked["i2t_a2s"])):
            for ratio, code in ((1.02, "on_inrush_borne"), (0.98, "on_inrush_too_high")):
                self.assertIn(code, self.codes(self.gang(PhaseMode.ON_OFF, LAMP, **{name: value * ratio})))
        rated = self.gang(PhaseMode.ON_OFF, LAMP, i_inrush_max_a=80.0)
        self.assertTrue(5 <= most_on_contact(rated, typical_of(rated)) <= 9)

    def test_a_control_that_learns_or_wants_a_link_says_so(self) -> None:
        """A step and a warning each."""
        for word, codes in (
            (SetUp.NOTHING, set()),
            (SetUp.LEARNS_LOAD, {"on_learns_load"}),
            (SetUp.BOTH_OF_THEM, {"on_learns_load", "on_two_wire_link"}),
        ):
            told = self.codes(self.gang(PhaseMode.LEADING, FILAMENT, set_up=float(list(SetUp).index(word))))
            self.assertEqual({"on_learns_load", "on_two_wire_link"} & set(told), codes)

    def test_the_supply_takes_less_of_the_half_cycle_through_more_load(self) -> None:
        """The gap shrinks with watts; through a tiny load it never feeds."""
        gaps = []
        for watts in (25.0, 100.0):
            lamp = replace(FILAMENT, p_rated_w=watts)
            gaps.append(self.codes(self.gang(PhaseMode.LEADING, lamp))["on_gap"]["high_deg"])
        self.assertGreater(gaps[0], gaps[1])
        tiny = self.codes(self.gang(PhaseMode.LEADING, replace(FILAMENT, p_rated_w=0.3)))
        self.assertIn("on_gap_never", tiny)

    def test_what_nobody_declares_stays_unknown(self) -> None:
        """A driver without a declaration: not known; declared for the edge it goes if, for the other it must not."""
        for word, verdict in ((None, Goes.UNKNOWN), (Declared.BOTH, Goes.GOES_IF), (Declared.TRAILING, Goes.MUST_NOT)):
            lamp = replace(DRIVER, dimming=None if word is None else declares(word))
            found = judged(self.gang(PhaseMode.LEADING, lamp, p_max_filament_w=2000.0), with_picture=False)
            self.assertIs(found.together.verdict, verdict)

    def test_trims_lie_above_what_the_worst_sample_needs(self) -> None:
        """Least level above drop-out, start level above pop-on, both below the top; light rises with conduction."""
        curve = judged(self.gang(PhaseMode.LEADING, DRIVER), with_picture=False).curve
        assert curve is not None
        self.assertGreater(curve.least_deg, curve.drop_out_deg.p95)
        self.assertGreater(curve.start_deg, curve.pop_on_deg.p95)
        self.assertGreater(curve.pop_on_deg.p50, curve.drop_out_deg.p50)
        self.assertLess(curve.start_deg, curve.most_deg)
        (light,) = curve.groups
        for line in (light.low, light.middle, light.high):
            self.assertEqual(list(line), sorted(line))
        self.assertTrue(all(a <= b <= c for a, b, c in zip(light.low, light.middle, light.high, strict=True)))

    def test_what_was_found_on_site_narrows_the_trims(self) -> None:
        """A driver seen to go out at 20 and come on at 30 degrees lies there after; one that cannot be is told."""
        given = self.gang(PhaseMode.LEADING, DRIVER)
        before = judged(given, with_picture=False).curve
        site = SiteTrims(drop_out_deg=20.0, pop_on_deg=30.0)
        after = judged(given, site=site, with_picture=False).curve
        assert before is not None
        assert after is not None
        self.assertAlmostEqual(after.drop_out_deg.p50, 20.0, delta=3.0)
        self.assertAlmostEqual(after.pop_on_deg.p50, 30.0, delta=3.0)
        self.assertLess(
            after.drop_out_deg.p95 - after.drop_out_deg.p05, before.drop_out_deg.p95 - before.drop_out_deg.p05
        )
        self.assertLess(after.least_deg, before.least_deg)
        odd = judged(given, site=SiteTrims(drop_out_deg=120.0), with_picture=False)
        self.assertIn("on_site_unexplained", {finding.code for finding in odd.findings})

    def test_what_was_set_is_held_against_what_is_needed(self) -> None:
        """Just below and just above what the worst sample needs; crossed trims must not be."""
        given = self.gang(PhaseMode.LEADING, DRIVER)
        curve = judged(given, with_picture=False).curve
        assert curve is not None
        for ratio, codes in (
            (0.98, {"on_set_least_low", "on_set_start_low"}),
            (1.02, {"on_set_least_good", "on_set_start_good"}),
        ):
            site = SiteTrims(
                least_deg=ratio * curve.drop_out_deg.p95, start_deg=ratio * curve.pop_on_deg.p95, top_deg=150.0
            )
            told = {finding.code for finding in judged(given, site=site, with_picture=False).findings}
            self.assertTrue(codes <= told, told)
        crossed = judged(given, site=SiteTrims(least_deg=100.0, top_deg=90.0), with_picture=False)
        self.assertIn("on_set_crossed", {finding.code for finding in crossed.findings})
        with self.assertRaises(InputError):
            SiteTrims(least_deg=200.0)

    def test_ranges_are_in_order_and_drawn_inside(self) -> None:
        """Low, typical, high; every sample between; the same seed draws the same."""
        given = loop(lamps=(DRIVER,))
        drawn = samples_of(given, 200, 3)
        for one in on_ranges():
            self.assertTrue(one.low <= one.typical <= one.high, one.name)
            for sample in drawn if one.of != "dimmer" else ():
                value = (sample.lamps[0] if one.of == "lamp" else sample.control)[one.name]
                self.assertTrue(one.low * 0.999 <= value <= one.high * 1.001, one.name)
        self.assertEqual(drawn, samples_of(given, 200, 3))

    @tag("long")
    def test_every_finding_can_be_filled(self) -> None:
        """Over all modes and lamps, and of the cases of the command, no placeholder is left over."""
        texts = catalogue("dimming")["findings"]
        told = set()
        for mode, lamp, bypass in product(PhaseMode, (LAMP, DRIVER, FILAMENT), (None, 200.0)):
            control = {} if bypass is None else {"p_max_filament_w": bypass}
            given = self.gang(mode, lamp, **control)
            for finding in judged(given, edge=PhaseMode.LEADING, with_picture=False).findings:
                self.assertNotIn("{", fill(texts[finding.code], finding.params))
                told.add(finding.code)
        self.assertGreater(len(told), 8)
        for entry in cases():
            for finding in answer({"question": entry["question"], "case": entry["case"]})["findings"]:
                if not finding["code"].startswith("rule_"):
                    self.assertNotIn("{", fill(texts[finding["code"]], finding["params"]))

    def test_a_picture_has_the_firing_and_the_drop_out(self) -> None:
        """Open before the level, closed after it; the lamp's voltage is the line's once the first pulse is over."""
        found = judged(self.gang(PhaseMode.LEADING, FILAMENT), level_deg=60.0)
        picture = found.picture
        assert picture is not None
        first_half = picture.theta_deg < 180.0
        closed = picture.theta_deg[first_half & (picture.is_closed > 0.5)]
        self.assertAlmostEqual(float(closed.min()), 60.0, delta=1.5)
        on = (picture.is_closed > 0.5) & (picture.theta_deg % 180.0 > 62.0)
        self.assertLess(float(np.abs(picture.v_lamp_v - picture.v_source_v)[on].max()), 25.0)
        self.assertEqual(on_case(loop(), PhaseMode.ON_OFF, 90.0, typical_of(loop())).question, Question.RELAY_INRUSH)
