"""The on state: the march against reference cases, closed forms, the matrix rule by rule."""

from __future__ import annotations

import json
from dataclasses import replace
from functools import cache
from itertools import product
from math import degrees, isinf, pi, radians, sin, sqrt
from pathlib import Path
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from ember_cli.dimming import answer
from ember_core.compatibility.case_verdict import judge_case
from ember_core.compatibility.matrix import (
    DECLARATIONS,
    EDGES,
    Goes,
    LoadClass,
    rule_for,
    rules,
    together,
)
from ember_core.compatibility.matrix import FILE as RULES
from ember_core.errors import InputErrors
from ember_core.onstate import closed_form
from ember_core.onstate.case import OnCase, read
from ember_core.onstate.pulses import closing_pulse, pulse_map
from ember_core.onstate.simulate import MOST_CYCLES, OnState, simulate
from ember_core.parts import Declared, DimmableDriverLamp, FilamentLamp, PhaseMode
from wording.texts import catalogue

FILE = Path(__file__).parent / "data" / "on_state_reference.json"
DRIVER = DimmableDriverLamp(count=3, c_x_f=6.8e-8, c_bulk_f=4.7e-6, v_start_v=100.0, v_stop_v=40.0, p_run_w=8.0)
FILAMENT = FilamentLamp(count=1, r_cold_ohm=110.0, p_rated_w=40.0)


@cache
def cases() -> list[dict[str, Any]]:
    """The reference cases."""
    found: list[dict[str, Any]] = json.loads(FILE.read_text(encoding="utf-8"))["cases"]
    return found


def named(part: str) -> OnCase:
    """The case whose name holds some words."""
    entry = next(entry for entry in cases() if part in entry["case"]["name"])
    return read({"question": entry["question"], "case": entry["case"]})


@cache
def solved(part: str) -> OnState:
    """The same, marched."""
    return simulate(named(part))


def phase(mode: PhaseMode) -> float:
    """A control's phase mode as its figure."""
    return float(list(PhaseMode).index(mode))


def declares(word: Declared) -> float:
    """A lamp's declaration as its figure."""
    return float(list(Declared).index(word))


class Reference(SimpleTestCase):
    """Against the circuit simulator."""

    def test_every_figure_of_every_case_agrees(self) -> None:
        """Twenty cases through the command's own answer, each figure within its stated limit."""
        self.assertEqual(len(cases()), 20)
        for entry in cases():
            found = answer({"question": entry["question"], "case": entry["case"]})
            for name, wanted in entry["expect"].items():
                allowed = max(wanted["within_ratio"] * abs(wanted["value"]), wanted["within"])
                told = f"{entry['case']['name']}: {name} {found.get(name)} for {wanted['value']}"
                self.assertLessEqual(abs(found[name] - wanted["value"]), allowed, told)
            self.assertIn(found["verdict"], tuple(Goes))

    def test_energy_is_neither_made_nor_lost(self) -> None:
        """Work of the source over a settled cycle goes into line, control and loads within 1 %."""
        for part in ("15 W filament", "3 dimmable quasi", "4 linear", "5 lamps, alpha 120", "25 W filament"):
            self.assertLess(abs(solved(part).balance_ratio), 0.01, part)

    def test_no_figure_is_off_by_more_than_two_percent(self) -> None:
        """Of the march itself, but for angles, which agree within a degree, and what ends the instant it begins."""
        for entry in cases():
            found = simulate(read({"question": entry["question"], "case": entry["case"]}))
            self.assertTrue(found.is_settled, entry["case"]["name"])
            for name, wanted in entry["expect"].items():
                value = getattr(found, name, None)
                if value is not None:
                    allowed = max(0.02 * abs(wanted["value"]), wanted["within"])
                    told = f"{entry['case']['name']}: {name} {value} for {wanted['value']}"
                    self.assertLessEqual(abs(value - wanted["value"]), allowed, told)

    def test_finer_steps_change_little_whatever_is_asked(self) -> None:
        """A case of every question with a quarter of the error a step: peak, rms, angles and supply stay within 1 %."""
        for part, names in (
            ("3 dimmable quasi", ("i_peak_a", "i_rms_a", "drop_out_deg")),
            ("4 dimmable drivers, bypass", ("i_rms_a", "lamp_v_rms", "t_decay_to_30v_s")),
            ("magnetic transformer", ("v_peak_v", "i_at_turn_off_a")),
            ("60 W filament", ("fired_deg", "i_supply_avg_a", "lamp_v_rms")),
            ("relay-type control", ("i_supply_avg_a", "lamp_v_rms", "i_peak_a")),
            ("20 lamps sharing", ("i_peak_a", "i2t_a2s")),
        ):
            fine = simulate(named(part), tolerance_ratio=0.25)
            for name in names:
                self.assertAlmostEqual(
                    getattr(fine, name) / getattr(solved(part), name), 1.0, delta=0.01, msg=f"{part}: {name}"
                )

    def test_what_does_not_repeat_says_so(self) -> None:
        """A supply of its own that takes seconds to fill is not settled when the march ends, and is told as such."""
        case = named("relay-type control")
        slow = replace(case, control=replace(case.control, c_supply_f=0.05, i_supply_need_a=0.006))
        found = simulate(slow)
        self.assertFalse(found.is_settled)
        self.assertEqual(found.cycles, MOST_CYCLES)
        codes = [finding.code for finding in judge_case(slow, found).findings]
        self.assertIn("on_not_settled", codes)
        self.assertNotIn("on_not_settled", [one.code for one in judge_case(case, simulate(case)).findings])

    def test_a_pulse_of_nanoseconds_costs_no_more_steps(self) -> None:
        """100 pF behind 0.1 Ω, with nothing to slow it: the peak is e/R, its I²t half the energy over R."""
        peak, i2t = closing_pulse(325.0, 50.0, pi / 2.0, 0.1, 0.0, 1e-10)
        self.assertAlmostEqual(peak / (323.4 / 0.1), 1.0, delta=0.03)
        self.assertAlmostEqual(i2t / (1e-10 * 323.4**2 / 0.2), 1.0, delta=0.03)

    def test_a_filament_beside_leds_moves_the_drop_out(self) -> None:
        """Capacitor-input lamps alone let go after their pulse; with 40 W of filament beside them the triac holds."""
        case = named("1 capacitor-input lamp")
        lamps = replace(case.loads[0], count=2)
        alone = simulate(replace(case, loads=(lamps,)))
        beside = simulate(replace(case, loads=(lamps, named("40 W filament").loads[0])))
        self.assertLess(alone.drop_out_deg or 0.0, 125.0)
        # The drivers' input capacitors let it go a little earlier than the filament alone would.
        self.assertGreater(beside.drop_out_deg or 0.0, 160.0)
        only = simulate(replace(case, loads=named("40 W filament").loads))
        self.assertLess(beside.drop_out_deg or 0.0, only.drop_out_deg or 0.0)

    def test_what_cannot_be_read_is_refused_with_its_path(self) -> None:
        """An unknown question, a lacking angle, a figure beyond its bounds, a key with a typing error."""
        good = {"question": "leading", "case": cases()[0]["case"]}
        read(good)
        for change, path in (
            ({"question": "sideways"}, "question"),
            ({"question": "trailing"}, "control.mode"),
            ({"case": {**good["case"], "lamps": []}}, "lamps"),
            ({"case": {**good["case"], "supply": {"v_rms": 1e4, "f_hz": 50.0}}}, "supply.v_rms"),
            ({"case": {**good["case"], "lampz": 1}}, "lampz"),
            ({"case": {**good["case"], "control": {"mode": "leading"}}}, "control.firing_deg"),
        ):
            with self.assertRaises(InputErrors) as caught:
                read({**good, **change})
            self.assertEqual(caught.exception.errors[0].path, path)


class ClosedForms(SimpleTestCase):
    """Each within its stated error of the reference."""

    def test_pulses(self) -> None:
        """Firing into a bypass (5.4 %), inrush of many lamps (0.2 %), of one lamp's input capacitor; by hand limits."""
        bypass = closed_form.pulse(230.0 * sqrt(2.0), 22.0 + 1.4, 1.9e-3, 2.2e-7)
        load = 230.0 * sqrt(2.0) / 1322.5
        self.assertAlmostEqual((bypass.i_peak_a + load) / 2.99791, 1.0, delta=0.07)
        inrush = closed_form.pulse(230.0 * sqrt(2.0) - 1.6, 0.65 + 22.0 / 20.0, 1.5e-4, 20 * 4.7e-6)
        self.assertAlmostEqual(inrush.i_peak_a / 117.954, 1.0, delta=0.005)
        self.assertAlmostEqual(inrush.i2t_a2s / 2.78695, 1.0, delta=0.01)
        self.assertAlmostEqual(inrush.t_peak_s, 1.325e-4, delta=3e-6)
        self.assertAlmostEqual(closed_form.pulse(100.0, 10.0, 0.0, 1e-6).i_peak_a, 10.0)
        ideal = closed_form.pulse(100.0, 1e-6, 1e-3, 1e-6)
        self.assertAlmostEqual(ideal.i_peak_a, 100.0 * sqrt(1e-3), places=4)
        self.assertEqual(closed_form.pulse(0.0, 1.0, 1e-3, 1e-6).i2t_a2s, 0.0)

    def test_the_pulse_has_no_seam_at_critical_damping(self) -> None:
        """Peak and I²t go through it smoothly."""
        l_h, c_f = 1e-3, 1e-6
        critical = 2.0 * sqrt(l_h / c_f)
        peaks = [closed_form.pulse(100.0, critical * ratio, l_h, c_f).i_peak_a for ratio in (0.999, 1.0, 1.001)]
        self.assertAlmostEqual(peaks[1], 0.5 * (peaks[0] + peaks[2]), delta=1e-4 * peaks[1])

    def test_the_pulse_map(self) -> None:
        """Five lamps fired at 120 degrees: peak and rms within 1 % of the simulator."""
        peak, rms = pulse_map(120.0 * sqrt(2.0), 60.0, radians(120.0), 1.25 + 10.0 / 5.0, 7e-4, 5e-5, 30.0)
        self.assertAlmostEqual(peak / 6.0957, 1.0, delta=0.01)
        self.assertAlmostEqual(rms / 1.08589, 1.0, delta=0.01)

    def test_drop_out(self) -> None:
        """A filament, drivers, a filament with a bypass: within 0.1 % of the simulator."""
        w, v_peak = 100.0 * pi, 230.0 * sqrt(2.0)
        for i_hold, g, c, v_min, wanted in (
            (0.03, 1.0 / 3526.7, 0.0, 0.0, 161.0),
            (0.02, 3 * 3e-4, 3 * 9.4e-8, 40.0, 170.244),
            (0.01, 1.0 / 1322.5, 2.2e-7, 0.0, 172.484),
        ):
            angle = degrees(closed_form.drop_out_rad(v_peak, w, i_hold, g, c, v_min))
            self.assertAlmostEqual(angle / wanted, 1.0, delta=0.002)
        self.assertEqual(closed_form.drop_out_rad(v_peak, w, 1.0, 1e-4, 0.0), 0.0)

    def test_decay_by_numerical_integration(self) -> None:
        """C dv / (G·v + I), also without one of the two; nothing empties it without both."""
        for g, i in ((1e-4, 0.0), (1e-4, 2e-3), (0.0, 2e-3)):
            v = np.linspace(30.0, 300.0, 20_001)
            exact = float(np.trapezoid(1e-7 / (g * v + i), v))
            self.assertAlmostEqual(closed_form.decay_s(300.0, 30.0, 1e-7, g, i) / exact, 1.0, places=5)
        self.assertTrue(isinf(closed_form.decay_s(300.0, 30.0, 1e-7, 0.0)))
        self.assertEqual(closed_form.decay_s(20.0, 30.0, 1e-7, 1e-4), 0.0)

    def test_the_largest_capacitance_is_the_one_that_just_decays(self) -> None:
        """At the angle that governs it takes just the time there is."""
        angles = [radians(angle) for angle in (60.0, 90.0, 120.0, 150.0)]
        draws = [closed_form.Draw(g_s=2e-4, i_a=1e-3)]
        most, at = closed_form.largest_capacitance_f(325.0, 50.0, draws, angles, 5e-4)
        needed = closed_form.fall_s(325.0 * sin(at), 30.0, most, draws)
        self.assertAlmostEqual(needed, closed_form.available_s(at, 50.0, 5e-4), places=9)

    def test_a_fall_by_several_laws_by_numerical_integration(self) -> None:
        """The larger of stage and bleeder, the stage down to where it stops, an electronic bypass below its cut-off."""
        driver = closed_form.Draw(g_s=3e-4, i_a=6e-3, stops_v=45.0)
        bypass = closed_form.Draw(i_a=2e-3, opens_v=80.0)
        v = np.linspace(30.0, 300.0, 400_001)
        drawn = np.maximum(np.where(v > 45.0, 3e-4 * v, 0.0), 6e-3) + np.where(v < 80.0, 2e-3, 0.0)
        exact = float(np.trapezoid(2e-7 / drawn, v))
        self.assertAlmostEqual(closed_form.fall_s(300.0, 30.0, 2e-7, [driver, bypass]) / exact, 1.0, places=4)

    def test_what_stops_drawing_never_empties_the_rest(self) -> None:
        """A stage without bleeder that stops at 45 V leaves 45 V; with the least of bleeders it takes its time."""
        stage = closed_form.Draw(g_s=3e-4, stops_v=45.0)
        self.assertTrue(isinf(closed_form.fall_s(300.0, 30.0, 2e-7, [stage])))
        self.assertLess(closed_form.fall_s(300.0, 46.0, 2e-7, [stage]), 2e-3)
        self.assertGreater(closed_form.fall_s(300.0, 30.0, 2e-7, [stage, closed_form.Draw(i_a=1e-5)]), 0.1)

    def test_the_gap_through_a_resistive_load(self) -> None:
        """60 W filament, 5 mA at 15 V: within 1 % of the simulator; what is lost of the voltage by its own integral."""
        gap = closed_form.gap_rad(230.0 * sqrt(2.0), 50.0, 5e-3, 15.0, [closed_form.Draw(g_s=1.0 / 881.7)], 10.0)
        assert gap is not None
        self.assertAlmostEqual(degrees(gap) / 19.7836, 1.0, delta=0.01)
        angles = np.linspace(gap, pi, 100_001)
        exact = sqrt(float(np.trapezoid(np.sin(angles) ** 2, angles)) / (0.5 * pi))
        self.assertAlmostEqual(closed_form.rms_ratio(gap), exact, places=6)
        self.assertIsNone(closed_form.gap_rad(325.0, 50.0, 0.5, 15.0, [closed_form.Draw(g_s=2e-4)], 10.0))

    def test_an_inductive_spike(self) -> None:
        """An open transformer cut off at 0.224 A into 10 nF: 4204 V, within half a percent."""
        spike = closed_form.inductive_spike_v(230.0 * sqrt(2.0), 0.22365, 5.02, 1e-8, 1e5)
        self.assertAlmostEqual(spike / 4203.75, 1.0, delta=0.005)

    def test_a_gate_as_long_as_the_ring_holds(self) -> None:
        """Two drivers fired at 90 degrees: the gate that holds, 1 ms, outlasts the ring; that of 0.1 ms does not."""
        g = 2 * 1.5122873345935726e-4
        c = 2 * 1.47e-7
        v_peak = 230.0 * sqrt(2.0)
        needed = closed_form.ring_settles_s(v_peak, 1.9e-3, c, 1.4 + 50.0, g * v_peak - 0.015)
        self.assertTrue(1e-4 < needed < 1e-3, needed)
        self.assertTrue(isinf(closed_form.ring_settles_s(v_peak, 1.9e-3, c, 51.4, -0.01)))

    def test_supply_through_capacitance(self) -> None:
        """400 nF and 25 nF in a gap of 35 degrees: within 2 % of the simulator; forward and back."""
        v_peak, gap = 230.0 * sqrt(2.0), radians(35.0)
        for c_f, wanted in ((4e-7, 6.888e-3), (2.5e-8, 4.335e-4)):
            got = closed_form.supply_current_a(c_f, 50.0, v_peak, gap, 15.0)
            self.assertAlmostEqual(got / wanted, 1.0, delta=0.025)
            self.assertAlmostEqual(closed_form.supply_capacitance_f(got, 50.0, v_peak, gap, 15.0) / c_f, 1.0)
        self.assertTrue(isinf(closed_form.supply_capacitance_f(1e-3, 50.0, v_peak, radians(2.0), 15.0)))


class Matrix(SimpleTestCase):
    """Rules as data."""

    def test_everything_has_an_answer_and_every_rule_decides_something(self) -> None:
        """Each class, declaration and mode finds a rule; no rule stands behind another that takes all of it."""
        deciding = {
            rule_for(load, declared, mode).id for load, declared, mode in product(LoadClass, DECLARATIONS, PhaseMode)
        }
        self.assertEqual(deciding, {rule.id for rule in rules()})

    def test_each_rule_just_inside_and_just_outside(self) -> None:
        """Where a rule decides its verdict holds; for a mode or declaration it does not name, another one does."""
        for rule in rules():
            inside = [key for key in product(rule.loads, rule.declared, rule.modes) if rule_for(*key).id == rule.id]
            self.assertTrue(inside, rule.id)
            load, declared, mode = inside[0]
            self.assertIs(together([(load, declared)], mode).verdict, rule.verdict)
            for other in PhaseMode:
                if other not in rule.modes:
                    self.assertNotEqual(rule_for(load, declared, other).id, rule.id)
            for word in DECLARATIONS:
                if word not in rule.declared:
                    self.assertNotEqual(rule_for(load, word, mode).id, rule.id)

    def test_leading_only_and_trailing_only_have_no_legal_mode_together(self) -> None:
        """Each alone has one, together they have none, and that is the reason given."""
        leading, trailing = (LoadClass.DRIVER, "leading"), (LoadClass.DRIVER, "trailing")
        nowhere: set[PhaseMode] = set()
        legal_edges = (
            ([leading], {PhaseMode.LEADING}),
            ([trailing], {PhaseMode.TRAILING}),
            ([leading, trailing], nowhere),
        )
        for loads, legal in legal_edges:
            goes = {m for m in EDGES if together(loads, m).verdict in (Goes.GOES, Goes.GOES_IF)}
            self.assertEqual(goes, legal)
        found = together([leading, trailing], PhaseMode.SELECTABLE)
        self.assertEqual((found.verdict, found.mixed), (Goes.MUST_NOT, "no_legal_mode"))

    def test_the_worst_member_decides(self) -> None:
        """A filament beside a dropper must not be dimmed; an unknown driver leaves it unknown."""
        filament = (LoadClass.FILAMENT, "unknown")
        self.assertIs(together([filament, (LoadClass.DROPPER, "unknown")], PhaseMode.LEADING).verdict, Goes.MUST_NOT)
        self.assertIs(together([filament, (LoadClass.DRIVER, "unknown")], PhaseMode.LEADING).verdict, Goes.UNKNOWN)
        iron = together([(LoadClass.IRON_CORE, "unknown"), (LoadClass.DRIVER, "both")], PhaseMode.LEADING)
        self.assertEqual((iron.verdict, iron.mixed), (Goes.MUST_NOT, "iron_core_with_electronics"))

    def test_every_reason_test_and_finding_has_its_words(self) -> None:
        """And no word is left over."""
        texts = catalogue("dimming")
        self.assertEqual({rule.reason for rule in rules()}, set(texts["reasons"]))
        asked = {rule.test for rule in rules() if rule.test}
        unfed = json.loads(RULES.read_text(encoding="utf-8"))["without_feed"]
        self.assertLessEqual(set(unfed), asked)
        self.assertEqual(asked | set(unfed.values()), set(texts["tests"]))
        self.assertEqual(set(DECLARATIONS), set(texts["declared"]))
        self.assertEqual({load.value for load in LoadClass}, set(texts["loads"]))

    def test_the_figures_behind_a_rule_are_findings(self) -> None:
        """Each beginning is that of a finding with words, and each reason or test that has figures is in a rule."""
        codes = catalogue("dimming")["findings"]
        for rule in rules():
            for beginning in rule.figures:
                self.assertTrue(any(code.startswith(beginning) for code in codes), beginning)
        given = json.loads(RULES.read_text(encoding="utf-8"))
        used = {rule.reason for rule in rules()} | {rule.test for rule in rules()}
        self.assertLessEqual(set(given["figures"]), used | set(given["without_feed"].values()))
