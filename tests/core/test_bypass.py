"""Choosing the bypass: edges of the window against the full solution, limits by hand, order of the parts."""

from __future__ import annotations

import re
from dataclasses import replace
from math import log, pi, sqrt
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase

import ember_core
from ember_core.bypass.after import after_fitting, one_filament
from ember_core.bypass.choose import Candidate, choose
from ember_core.bypass.choose import Choosing as Found
from ember_core.bypass.limits import (
    MOST_HEAT_W,
    MOST_REACTIVE_A,
    decay_limit_f,
    firing_spike,
    heat_limit_ohm,
    reactive_limit_f,
    spike_limit_f,
)
from ember_core.bypass.place import Place, Where, needs, wire_lines
from ember_core.bypass.place import findings as place_findings
from ember_core.bypass.ratings import (
    CEILING_K,
    MOST_SURFACE_K,
    discharge_s,
    heat_w,
    in_series,
    ptc_course,
    reactive_a,
)
from ember_core.bypass.schools import schools, year
from ember_core.bypass.window import (
    active_of,
    active_window,
    capacitor_of,
    capacitor_window,
    resistor_window,
    sure_from,
    with_bypass,
)
from ember_core.loop import Loop
from ember_core.offstate.solve import solve
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import ActiveBypass, Bypass, CapacitorBypass, FilamentLamp, PtcBypass, ResistorBypass
from ember_core.sheet import Sheet
from ember_core.spread.judged import judge_spread
from ember_core.spread.narrow import Kind, Measurement
from tests.core.loops import AMERICA, DROPPER, EUROPE, FEED, LAMP, RELAY, loop
from tests.core.test_spread import ranged, uncertain
from wording.texts import catalogue, fill

BARE = loop(bypass=(), lamps=(replace(LAMP, v_start_v=80.0, v_stop_v=35.0),))


def is_well(given: Loop) -> bool:
    """Dark and fed by the full solution."""
    off = solve(given)
    return all(lamp.state is LampState.DARK for lamp in off.lamps) and off.control.state is StandbyState.FED


# A span over which eight lamps need no bypass.
LAMP_RANGE = {"lamps[0].v_start_v": ranged(100.0, 110.0, 120.0)}


class Windows(SimpleTestCase):
    """Edges and limits."""

    def test_the_lower_edge_is_where_the_full_solution_turns(self) -> None:
        """2 % below it fails and 2 % above it works: for a lamp that blinks, one that glows, a control that starves."""
        for given, reason in (
            (BARE, "blink"),
            (loop(bypass=(), lamps=(DROPPER,)), "glow"),
            (
                loop(
                    bypass=(),
                    control=replace(RELAY, standby=replace(FEED, p_w=0.35)),
                    lamps=(replace(LAMP, v_start_v=300.0, c_x_f=0.0),),
                ),
                "marginal",
            ),
        ):
            window = capacitor_window(given)
            assert window.low is not None
            self.assertEqual(window.lower_reason, reason)
            self.assertFalse(is_well(with_bypass(given, capacitor_of(0.98 * window.low))), reason)
            self.assertTrue(is_well(with_bypass(given, capacitor_of(1.02 * window.low))), reason)

    def test_the_edge_agrees_with_brute_force_over_a_grid(self) -> None:
        """The first of 60 values that works by the full solution lies within a grid step above the edge."""
        window = capacitor_window(BARE)
        assert window.low is not None
        step = 10.0 ** (2.0 / 59.0)
        grid = [1e-8 * step**k for k in range(60)]
        first = next(c_f for c_f in grid if is_well(with_bypass(BARE, capacitor_of(c_f))))
        self.assertTrue(first / step / 1.01 <= window.low <= first, (first, window.low))

    def test_a_resistor_has_the_window_the_other_way_round(self) -> None:
        """The largest that works is the edge; heat is the least."""
        given = loop(bypass=(), lamps=(replace(LAMP, v_start_v=100.0, v_stop_v=40.0),))
        window = resistor_window(given)
        assert window.low is not None
        assert window.high is not None
        self.assertTrue(is_well(with_bypass(given, ResistorBypass(r_ohm=0.98 * window.high))))
        self.assertFalse(is_well(with_bypass(given, ResistorBypass(r_ohm=1.03 * window.high))))
        self.assertEqual(window.lower_reason, "heat")

    def test_zones_tell_what_fails_below(self) -> None:
        """They touch, end at the edge, and their words are those of the full solution in their middle."""
        for window, make in (
            (capacitor_window(BARE), capacitor_of),
            (active_window(BARE), lambda i: active_of(BARE, i)),
        ):
            self.assertAlmostEqual(window.zones[-1].high, window.low or 0.0)
            for before, after in zip(window.zones, window.zones[1:], strict=False):
                self.assertEqual(before.high, after.low)
            zone = max(window.zones, key=lambda zone: zone.high / zone.low)
            off = solve(with_bypass(BARE, make(sqrt(zone.low * zone.high))))
            states = {lamp.state.value for lamp in off.lamps} | {str(off.control.state)}
            self.assertIn(zone.reason, states)

    def test_the_wanted_margin_lies_above_the_edge(self) -> None:
        """At it the reservoir is a quarter below the start threshold, just below it less."""
        window = capacitor_window(BARE)
        assert window.wanted is not None
        for ratio, is_there in ((1.03, True), (0.97, False)):
            lamp = solve(with_bypass(BARE, capacitor_of(ratio * window.wanted))).lamps[0]
            self.assertEqual((lamp.start_margin_ratio or 0.0) >= 1.25, is_there)

    def test_the_sure_edge_agrees_with_brute_force(self) -> None:
        """At it most of 60 plain samples work, at the nominal edge about half do."""
        given = uncertain(figures={"lamps[0].v_start_v": ranged(67.0, 90.0, 120.0)})
        bare = replace(given, loop=with_bypass(given.loop, None))
        window = capacitor_window(bare.loop)
        assert window.low is not None
        assert window.high is not None
        sure = sure_from(bare, capacitor_of, window.low, window.high)
        assert sure is not None
        self.assertGreater(sure, window.low)

        def share(c_f: float) -> float:
            sheet = replace(bare, loop=with_bypass(bare.loop, capacitor_of(c_f)))
            return judge_spread(sheet, samples=60, seed=9).all_well

        self.assertGreaterEqual(share(1.04 * sure), 0.9)
        certain = Sheet(loop=with_bypass(given.loop, None))
        self.assertAlmostEqual(
            (sure_from(certain, capacitor_of, window.low, window.high) or 0.0) / window.low, 1.0, delta=0.1
        )
        self.assertTrue(0.25 <= share(window.low) <= 0.75)

    def test_at_120_v_the_same_control_needs_about_three_times_the_capacitance(self) -> None:
        """Start threshold and least voltage scaled with the supply; by P = f·C·V² it is (230² · 50) / (120² · 60)."""
        edges = []
        for supply in (AMERICA, EUROPE):
            ratio = supply.v_rms / EUROPE.v_rms
            # Without drains, whose current goes with the voltage alone, and with a need that dwarfs the discharge's.
            feed = replace(FEED, p_w=0.6, v_min_v=40.0 * ratio, r_reservoir_ohm=None)
            lamp = replace(LAMP, v_start_v=80.0 * ratio, v_stop_v=35.0 * ratio, c_x_f=0.0, r_start_ohm=None)
            control = replace(RELAY, c_snubber_f=0.0, standby=feed)
            edges.append(capacitor_window(loop(supply=supply, bypass=(), control=control, lamps=(lamp,))).low or 0.0)
        self.assertAlmostEqual(edges[0] / edges[1], 230**2 * 50 / (120**2 * 60), delta=0.25)

    def test_limits_by_hand(self) -> None:
        """Current 2π·f·C·1.1·V, heat (1.1·V)²/R, discharge R·C·ln(V̂/V)."""
        self.assertAlmostEqual(2 * pi * 50 * reactive_limit_f(BARE) * 253.0, MOST_REACTIVE_A, places=9)
        self.assertAlmostEqual(253.0**2 / heat_limit_ohm(BARE), MOST_HEAT_W, places=9)
        self.assertAlmostEqual(discharge_s(1e-7, 1e6, 325.0, 60.0), 0.1 * log(325.0 / 60.0), places=9)
        self.assertEqual(discharge_s(1e-7, 1e6, 50.0, 60.0), 0.0)
        self.assertAlmostEqual(heat_w(BARE, ResistorBypass(r_ohm=22e3)), 253.0**2 / 22e3, places=9)
        self.assertAlmostEqual(reactive_a(BARE, capacitor_of(1e-7)), 2 * pi * 50 * 1e-7 * 253.0, places=9)


class Choosing(SimpleTestCase):
    """Parts in order."""

    def ranked(self, given: Sheet, *parts: tuple[str, object], spread: bool = False) -> dict[str, tuple[int, str]]:
        """Rank and verdict by name."""
        found = choose(given, [Candidate(name=n, bypass=p, figures={}) for n, p in parts], spread=spread)  # type: ignore[arg-type]
        return {choice.name: (choice.rank, choice.verdict) for choice in found.choices}

    def test_what_works_comes_first_and_less_of_it_before_more(self) -> None:
        """None is ranked like the others; what is too warm, draws too much or keeps charge is rejected."""
        found = self.ranked(
            Sheet(loop=BARE),
            ("330 nF", capacitor_of(3.3e-7)),
            ("100 nF", capacitor_of(1e-7)),
            ("10 nF", capacitor_of(1e-8)),
            ("1 µF", capacitor_of(1e-6)),
            ("5 kΩ", ResistorBypass(r_ohm=5e3)),
            ("bare 100 nF", CapacitorBypass(c_f=1e-7)),
        )
        self.assertEqual((found["100 nF"], found["330 nF"]), ((1, "works"), (2, "works")))
        for name in ("", "10 nF", "1 µF", "5 kΩ", "bare 100 nF"):
            self.assertEqual(found[name][1], "rejected", name)

    def test_just_inside_and_just_outside_each_limit(self) -> None:
        """0.98 and 1.02 of the current and of the heat limit."""
        codes = {}
        for name, part in (
            ("c in", capacitor_of(0.98 * reactive_limit_f(BARE))),
            ("c out", capacitor_of(1.02 * reactive_limit_f(BARE))),
            ("r in", ResistorBypass(r_ohm=1.02 * heat_limit_ohm(BARE))),
            ("r out", ResistorBypass(r_ohm=0.98 * heat_limit_ohm(BARE))),
        ):
            found = choose(Sheet(loop=BARE), [Candidate(name=name, bypass=part, figures={})], spread=False)
            choice = next(entry for entry in found.choices if entry.name == name)
            codes[name] = {finding.code for finding in choice.findings}
        self.assertNotIn("bypass_too_much_current", codes["c in"])
        self.assertIn("bypass_too_much_current", codes["c out"])
        self.assertNotIn("bypass_too_warm", codes["r in"])
        self.assertIn("bypass_too_warm", codes["r out"])

    def test_over_the_spread_a_part_at_the_edge_is_unsure(self) -> None:
        """A little above the nominal edge it works in more than half of the samples, three times as much in all."""
        given = uncertain(figures={"lamps[0].v_start_v": ranged(60.0, 90.0, 120.0)})
        # A control that hardly needs anything with the light on: only the light off decides.
        control = replace(given.loop.control, i_need_on_a=5e-5)
        given = replace(given, loop=replace(given.loop, control=control))
        edge = capacitor_window(with_bypass(given.loop, None)).low
        assert edge is not None
        found = self.ranked(given, ("edge", capacitor_of(1.15 * edge)), ("safe", capacitor_of(3.0 * edge)), spread=True)
        self.assertEqual((found["safe"], found["edge"][1]), ((1, "works"), "unsure"))

    def test_what_does_off_and_on_goes_before_what_does_off_only(self) -> None:
        """Both are dark and fed in every sample; with the light on only the larger one feeds the relay."""
        given = uncertain(figures={"lamps[0].v_start_v": ranged(100.0, 110.0, 120.0)})
        parts = [("small", capacitor_of(1e-7)), ("large", capacitor_of(3.3e-7))]
        candidates = [Candidate(name=name, bypass=part, figures={}) for name, part in parts]
        found = {choice.name: choice for choice in choose(given, candidates, samples=16).choices}
        self.assertEqual((found["small"].share, found["large"].share), (1.0, 1.0))
        self.assertLess(found["small"].on_share, 0.6)
        self.assertGreater(found["large"].on_share, found["small"].on_share)
        self.assertLess(found["large"].rank, found["small"].rank)
        self.assertEqual(found["small"].verdict, "unsure")
        self.assertIn("bypass_unsure_on", {finding.code for finding in found["small"].findings})

    def test_a_loop_that_needs_none_says_so(self) -> None:
        """Eight lamps carry the control; then none stands first."""
        many = Sheet(loop=loop(bypass=(), lamps=(replace(LAMP, count=8),)))
        found = choose(many, [Candidate(name="c", bypass=capacitor_of(1e-7), figures={})], spread=False)
        self.assertTrue(found.none_needed)
        self.assertEqual(found.choices[0].name, "")

    def test_every_code_has_its_words(self) -> None:
        """Gathered from the source; each sentence can be filled with what the code gives."""
        folder = Path(ember_core.__file__).parent / "bypass"
        codes = set()
        for file in folder.glob("*.py"):
            codes |= set(re.findall(r'"((?:bypass|place)_[a-z_0-9]+)"', file.read_text()))
        self.assertEqual(codes - {"bypass_1", "bypass_2"}, set(catalogue("bypass")))
        parts = (
            capacitor_of(1e-6),
            ResistorBypass(r_ohm=5e3, p_rated_w=5.0, v_limit_v=200.0, r_thermal_k_per_w=40.0),
            CapacitorBypass(c_f=1e-7),
            PtcBypass(r_cold_ohm=2200.0, t_switch_k=353.15, r_thermal_k_per_w=60.0, c_thermal_j_per_k=0.7),
            ActiveBypass(i_limit_a=0.01, r_on_ohm=800.0, v_cutoff_v=60.0),
        )
        for phase in range(5):
            dimmer = replace(BARE, control=replace(RELAY, phase=float(phase), p_max_filament_w=200.0))
            offered = [Candidate(name=str(k), bypass=p, figures={}) for k, p in enumerate(parts)]
            found = choose(Sheet(loop=dimmer), offered, spread=False, place=Place())
            for choice in found.choices:
                for finding in choice.findings:
                    self.assertNotIn("{", fill(catalogue("bypass")[finding.code], finding.params))

    def test_progress_brings_the_order_by_typical_figures_first_and_can_stop(self) -> None:
        """Stopped after the first part, the rest is still there, looked at with typical figures only, and not sure."""
        given = uncertain()
        offered = [Candidate(name=str(c), bypass=capacitor_of(c), figures={}) for c in (1e-7, 2.2e-7)]
        seen: list[tuple[int, bool]] = []

        def progress(done: int, of: int, so_far: object) -> bool:
            seen.append((done, so_far is not None))
            return done < 1

        found = choose(given, offered, progress=progress)
        self.assertEqual(
            [one for k, one in enumerate(seen) if one not in seen[:k]], [(0, True), (0, False), (1, False)]
        )
        self.assertFalse(found.is_complete)
        self.assertEqual(sorted(choice.samples for choice in found.choices), [0, 0, 64])
        self.assertEqual({choice.verdict for choice in found.choices if not choice.samples}, {"unsure"})

    def test_a_part_that_was_only_half_looked_at_counts_as_not_looked_at(self) -> None:
        """Stopped in the middle of its samples; nothing is said to be needed, to work or to be beyond cure."""
        offered = [Candidate(name="c", bypass=capacitor_of(1e-7), figures={})]
        asked: list[int] = []

        def progress(done: int, of: int, so_far: object) -> bool:
            asked.append(done)
            return len(asked) < 20

        for given in (uncertain(), Sheet(loop=loop(bypass=(), lamps=(replace(LAMP, count=8),)), figures=LAMP_RANGE)):
            asked.clear()
            found = choose(given, offered, progress=progress)
            self.assertEqual(len(asked), 20)
            self.assertEqual([(choice.samples, choice.verdict) for choice in found.choices], [(0, "unsure")] * 2)
            self.assertEqual((found.none_needed, found.none_cures), (False, False))

    def test_two_parts_of_one_name_are_both_ranked(self) -> None:
        """A name is no key."""
        offered = [Candidate(name="x", bypass=capacitor_of(c), figures={}) for c in (1e-7, 2.2e-7)]
        self.assertEqual(len(choose(Sheet(loop=BARE), offered, spread=False).choices), 3)

    def test_values_of_the_series_that_no_part_has_are_ranked_too(self) -> None:
        """Those inside the window, the shelf's own left out."""
        offered = [Candidate(name="shelf", bypass=capacitor_of(1e-7), figures={})]
        found = choose(Sheet(loop=BARE), offered, spread=False, with_values=True)
        values = {c.bypass.c_f for c in found.choices if c.is_value and isinstance(c.bypass, CapacitorBypass)}
        low, high = found.capacitor.low or 0.0, found.capacitor.high or 0.0
        self.assertNotIn(1e-7, values)
        self.assertIn(2.2e-7, values)
        self.assertTrue(all(low <= value <= high for value in values))

    def test_what_cures_nothing_says_so(self) -> None:
        """A control that needs more than any allowed bypass passes: no part works, and none is needed is wrong."""
        hungry = loop(bypass=(), control=replace(RELAY, standby=replace(FEED, p_w=4.0)), lamps=(LAMP,))
        offered = [Candidate(name="c", bypass=capacitor_of(3.3e-7), figures={})]
        found = choose(Sheet(loop=hungry), offered, spread=False, with_values=True)
        self.assertTrue(found.none_cures)
        self.assertIsNone(found.capacitor.low)


class Limits(SimpleTestCase):
    """What limits above, each just inside and just outside."""

    def codes(self, given: Loop, part: Bypass, place: Place | None = None) -> set[str]:
        """What is said of a part."""
        found = choose(Sheet(loop=given), [Candidate(name="x", bypass=part, figures={})], spread=False, place=place)
        return {f.code for choice in found.choices if choice.name == "x" for f in choice.findings}

    def test_declared_spike_and_decay(self) -> None:
        """0.98 of each is silent, 1.02 is told: the maker's limit, the firing spike, the decay under trailing edge."""
        declared = replace(BARE, control=replace(RELAY, c_bypass_max_f=1.5e-7))
        spot = (FilamentLamp(count=1, r_cold_ohm=100.0, p_rated_w=40.0),)
        # A large choke's spike rises with √C; a small rating brings the limit into reach.
        firing = loop(bypass=(), lamps=spot, control=replace(RELAY, phase=1.0, p_max_filament_w=120.0))
        trailing = loop(bypass=(), lamps=spot, control=replace(RELAY, phase=2.0))
        spike = spike_limit_f(firing, 0.1)
        decay, _ = decay_limit_f(trailing)
        assert spike is not None
        for given, limit, code in (
            (declared, 1.5e-7, "bypass_above_declared"),
            (firing, spike, "bypass_spike_too_high"),
            (trailing, decay, "bypass_decays_late"),
        ):
            self.assertGreater(limit, 1e-9, code)
            self.assertNotIn(code, self.codes(given, capacitor_of(0.98 * limit)))
            self.assertIn(code, self.codes(given, capacitor_of(1.02 * limit)))

    def test_the_window_names_the_limit_that_governs(self) -> None:
        """The least of them all, and each is listed."""
        given = replace(BARE, control=replace(RELAY, c_bypass_max_f=1.5e-7))
        window = capacitor_window(given)
        self.assertEqual((window.high, window.upper_reason), (1.5e-7, "declared"))
        self.assertEqual([limit.reason for limit in window.limits], ["declared", "reactive_current"])
        roomless = capacitor_window(given, room_f=1e-7)
        self.assertEqual((roomless.high, roomless.upper_reason), (1e-7, "room"))

    def test_lamps_that_do_not_discharge_leave_no_capacitor_under_trailing_edge(self) -> None:
        """Capacitor-input lamps hold the switched live up: no capacitance falls in time."""
        given = replace(BARE, control=replace(RELAY, phase=2.0))
        window = capacitor_window(given)
        self.assertIsNone(window.low)
        self.assertEqual(window.upper_reason, "trailing_decay")

    def test_voltage_steepness_and_charge(self) -> None:
        """Rated voltage against 1.1 times the supply; steepness of the spike; no discharge resistor."""
        base = capacitor_of(1e-7)
        self.assertIn("bypass_voltage_too_low", self.codes(BARE, replace(base, v_rated_v=0.98 * 253.0)))
        self.assertFalse(self.codes(BARE, replace(base, v_rated_v=1.02 * 253.0)) & {"bypass_voltage_too_low"})
        self.assertIn("bypass_voltage_unknown", self.codes(BARE, base))
        firing = replace(BARE, control=replace(RELAY, phase=1.0, p_max_filament_w=1000.0))
        steep = firing_spike(firing, base).i_peak_a / base.c_f
        for ratio, is_told in ((0.98, True), (1.02, False)):
            told = self.codes(firing, replace(base, v_rated_v=275.0, dv_dt_max_v_per_s=ratio * steep))
            self.assertEqual("bypass_pulse_too_steep" in told, is_told)
        self.assertIn("bypass_lowers_hold", self.codes(firing, base))

    def test_resistors_at_half_power_and_their_voltage(self) -> None:
        """(1.1·V)²/R against half the rating, 1.1·V against the limiting voltage; surface from thermal resistance."""
        r_ohm = 47e3
        heat = 253.0**2 / r_ohm
        for ratio in (0.98, 1.02):
            part = ResistorBypass(r_ohm=r_ohm, p_rated_w=2.0 * heat * ratio, v_limit_v=500.0)
            self.assertEqual("bypass_power_too_low" in self.codes(BARE, part), ratio < 1.0)
            part = ResistorBypass(r_ohm=r_ohm, p_rated_w=7.0, v_limit_v=253.0 * ratio)
            self.assertEqual("bypass_limit_voltage" in self.codes(BARE, part), ratio < 1.0)
            k_per_w = (MOST_SURFACE_K - CEILING_K) / heat * ratio
            part = ResistorBypass(r_ohm=r_ohm, p_rated_w=7.0, v_limit_v=500.0, r_thermal_k_per_w=k_per_w)
            self.assertEqual("bypass_surface_hot" in self.codes(BARE, part), ratio > 1.0)

    def test_resistors_in_series_each_stand_it(self) -> None:
        """Two or three E24 values near the wanted sum, each within half its power and its voltage."""
        for r_ohm, p_w, v in ((47e3, 1.0, 250.0), (33e3, 2.0, 130.0), (100e3, 0.5, 350.0)):
            found = in_series(BARE, r_ohm, p_w, v)
            assert found is not None
            i = 253.0 / found.total_ohm
            self.assertAlmostEqual(found.total_ohm, sum(found.values_ohm))
            self.assertLess(abs(found.total_ohm / r_ohm - 1.0), 0.06)
            for value in found.values_ohm:
                self.assertLessEqual(i * i * value, 0.5 * p_w)
                self.assertLessEqual(i * value, v)
        self.assertIsNone(in_series(BARE, 10e3, 0.25, 100.0))

    def test_a_ptc_from_cold_to_hot_and_back(self) -> None:
        """First heat V²/R, the hot point balances, and cooling takes R·C·ln of the temperatures above the air."""
        part = PtcBypass(r_cold_ohm=2200.0, t_switch_k=353.15, r_thermal_k_per_w=60.0, c_thermal_j_per_k=0.7)
        course = ptc_course(BARE, part)
        self.assertAlmostEqual(course.p_cold_w, 253.0**2 / 2200.0)
        given_off = (course.t_hot_k - part.t_ambient_k) / part.r_thermal_k_per_w
        self.assertAlmostEqual(253.0**2 / course.r_hot_ohm, given_off, places=6)
        ratio = (course.t_hot_k - 298.15) / (353.15 - 298.15)
        self.assertAlmostEqual(course.cools_s or 0.0, 60.0 * 0.7 * log(ratio))
        # Heating with a constant 29 W: from the exponential towards its end temperature.
        end = course.p_cold_w * 60.0
        self.assertAlmostEqual(course.heats_s or 0.0, 42.0 * log(end / (end - 55.0)))

    def test_an_electronic_bleeder_only_inside_its_range(self) -> None:
        """Declared for 207 V to 253 V it serves 230 V, for 100 V to 130 V it does not; unknown is told."""
        part = ActiveBypass(i_limit_a=0.02, r_on_ohm=800.0, v_cutoff_v=60.0)
        for low, high, code in ((207.0, 253.0, ""), (100.0, 130.0, "bypass_outside_range")):
            told = self.codes(BARE, replace(part, v_supply_low_v=low, v_supply_high_v=high))
            self.assertEqual(told & {"bypass_outside_range", "bypass_range_unknown"}, {code} - {""})
        self.assertIn("bypass_range_unknown", self.codes(BARE, part))
        angles = np.linspace(0.0, np.pi / 2.0, 200_001)
        v = sqrt(2.0) * 253.0 * np.sin(angles)
        self.assertAlmostEqual(heat_w(BARE, part) or 0.0, float(np.mean(0.02 * v * (v < 60.0))), places=5)


class Places(SimpleTestCase):
    """Where it goes."""

    def codes(self, place: Place, part: Bypass) -> set[str]:
        """What the place says."""
        return {finding.code for finding in place_findings(place, part)}

    def test_each_condition_of_a_place(self) -> None:
        """Never at the switch; both conductors, reach, room, adapter, insulation; what nobody looked at is unknown."""
        part = replace(capacitor_of(1e-7), height_m=0.018)
        good = Place(has_both_conductors=True, is_reachable=True, room_m=0.02)
        self.assertEqual(self.codes(good, part), {"place_good"})
        self.assertEqual(self.codes(replace(good, where=Where.SWITCH), part), {"place_at_switch"})
        self.assertEqual(self.codes(replace(good, room_m=0.98 * 0.018), part), {"place_too_small"})
        self.assertEqual(self.codes(replace(good, room_m=1.02 * 0.018), part), {"place_good"})
        self.assertEqual(self.codes(replace(good, has_both_conductors=False), part), {"place_lacks_conductor"})
        self.assertEqual(self.codes(replace(good, is_reachable=False), part), {"place_not_reachable"})
        adapter = replace(good, where=Where.LAMPHOLDER_ADAPTER, takes_adapter=False)
        self.assertEqual(self.codes(adapter, part), {"place_takes_no_adapter"})
        bleeder = ResistorBypass(r_ohm=22e3, height_m=0.018)
        self.assertEqual(self.codes(replace(good, in_insulation=True), bleeder), {"place_insulated"})
        self.assertEqual(
            self.codes(Place(), bleeder),
            {"place_conductors_unknown", "place_reach_unknown", "place_room_unknown", "place_insulation_unknown"},
        )

    def test_of_two_gangs_the_bypass_belongs_to_the_one_that_feeds(self) -> None:
        """The second output is well without; the first starves its control, and a bypass there cures it."""
        feeding = Sheet(loop=loop(bypass=(), lamps=(replace(LAMP, v_start_v=300.0, c_x_f=0.0),)))
        other = Sheet(loop=loop(bypass=(), control=replace(RELAY, standby=None), lamps=(LAMP,)))
        found = needs([feeding, other])
        self.assertEqual([(need.feeds, need.is_well) for need in found], [(True, False), (False, True)])
        cured = replace(feeding, loop=with_bypass(feeding.loop, capacitor_of(2.2e-7)))
        self.assertTrue(needs([cured, other])[0].is_well)

    def test_the_wire_map_gets_two_lines(self) -> None:
        """From switched live and to neutral, each with its marking."""
        lines = wire_lines(Place())
        self.assertEqual(
            [(line.start, line.end) for line in lines], [("switched_live", "bypass_1"), ("bypass_2", "neutral")]
        )
        self.assertEqual(len({line.marking for line in lines}), 2)


class Habits(SimpleTestCase):
    """Schools told apart by the loop's numbers."""

    def said(self, given: Loop, *parts: Bypass) -> dict[str, str]:
        """Code by school."""
        offered = [Candidate(name=str(k), bypass=part, figures={}) for k, part in enumerate(parts)]
        return {said.school.value: said.code for said in schools(choose(Sheet(loop=given), offered, spread=False))}

    def test_needed_not_needed_and_in_vain(self) -> None:
        """Three loops, three answers."""
        part = capacitor_of(1e-7)
        needed = self.said(BARE, part)
        self.assertEqual((needed["always"], needed["on_proof"], needed["never"]), ("serves", "serves", "fails"))
        many = loop(bypass=(), lamps=(replace(LAMP, count=8),))
        spare = self.said(many, part)
        self.assertEqual((spare["always"], spare["on_proof"], spare["never"]), ("costs", "serves", "serves"))
        hungry = loop(bypass=(), control=replace(RELAY, standby=replace(FEED, p_w=4.0)), lamps=(LAMP,))
        vain = self.said(hungry, part)
        self.assertEqual((vain["always"], vain["on_proof"], vain["never"]), ("fails", "fails", "costs"))
        self.assertEqual(vain["ptc"], "unknown")

    def test_nothing_is_said_of_a_habit_before_all_is_looked_at(self) -> None:
        """Of a loop that needs nothing the first look knows no trial yet: never is not told to fail, nor always to
        serve; stopped, it stays open."""
        many = Sheet(loop=loop(bypass=(), lamps=(replace(LAMP, count=24),)))
        offered = [Candidate(name="c", bypass=capacitor_of(1e-7), figures={})]
        early: list[Found] = []

        def told(done: int, of: int, so_far: Found | None) -> bool:
            early.extend([] if so_far is None else [so_far])
            return not early or done < 1

        stopped = choose(many, offered, progress=told)
        for found in (*early, stopped):
            self.assertEqual({said.code for said in schools(found)}, {"open"})
        whole = {said.school.value: said.code for said in schools(choose(many, offered))}
        self.assertEqual((whole["always"], whole["never"]), ("costs", "serves"))

    def test_a_year_by_hand(self) -> None:
        """22 kΩ at 230 V for 1500 hours at 0.30 a kilowatt-hour."""
        found = choose(
            Sheet(loop=BARE),
            [Candidate(name="r", bypass=ResistorBypass(r_ohm=22e3), figures={})],
            spread=False,
        )
        choice = next(entry for entry in found.choices if entry.name == "r")
        used = year(choice, 1500.0, 0.30)
        assert used is not None
        self.assertAlmostEqual(used.energy_j, 230.0**2 / 22e3 * 1500.0 * 3600.0)
        self.assertAlmostEqual(used.cost or 0.0, 230.0**2 / 22e3 * 1.5 * 0.30)


class AfterFitting(SimpleTestCase):
    """Readings with the bypass in."""

    def test_still_flashing_leads_to_a_stronger_remedy(self) -> None:
        """A lamp that starts lower than assumed still blinks; seen, the larger capacitor has the better chance."""
        small, large = capacitor_of(6.8e-8), capacitor_of(2.2e-7)
        given = uncertain(loop=with_bypass(BARE, small), figures={"lamps[0].v_start_v": ranged(45.0, 90.0, 130.0)})
        seen = [Measurement(kind=Kind.SEEN, seen="blink")]
        changes = {
            "same": lambda a: with_bypass(a, small),
            "larger": lambda a: with_bypass(a, large),
            "filament": one_filament(given, 0, 25.0),
        }
        found = after_fitting(given, seen, changes)
        chances = {remedy.name: remedy.chance for remedy in found.remedies}
        self.assertLess(found.works_chance, 0.05)
        self.assertLess(chances["same"], 0.1)
        self.assertGreater(chances["larger"], 0.9)
        self.assertGreater(chances["filament"], 0.9)
        self.assertNotEqual(found.remedies[0].name, "same")
