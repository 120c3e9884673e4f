"""Choosing the bypass: edges of the window against the full solution, limits by hand, order of the parts."""

from __future__ import annotations

import re
from dataclasses import replace
from math import log, pi
from pathlib import Path

from django.test import SimpleTestCase

import ember_core
from ember_core.bypass.choose import Candidate, choose, heat_w, reactive_a
from ember_core.bypass.window import (
    MOST_HEAT_W,
    MOST_REACTIVE_A,
    capacitor_of,
    capacitor_window,
    discharge_s,
    heat_limit_ohm,
    reactive_limit_f,
    resistor_window,
    with_bypass,
)
from ember_core.loop import Loop
from ember_core.offstate.solve import solve
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import CapacitorBypass, ResistorBypass
from ember_core.sheet import Sheet
from tests.core.loops import AMERICA, DROPPER, EUROPE, FEED, LAMP, RELAY, loop
from tests.core.test_spread import ranged, uncertain
from wording.texts import catalogue, fill

BARE = loop(bypass=(), lamps=(replace(LAMP, v_start_v=80.0, v_stop_v=35.0),))


def is_well(given: Loop) -> bool:
    """Dark and fed by the full solution."""
    off = solve(given)
    return all(lamp.state is LampState.DARK for lamp in off.lamps) and off.control.state is StandbyState.FED


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
        edge = capacitor_window(with_bypass(given.loop, None)).low
        assert edge is not None
        found = self.ranked(given, ("edge", capacitor_of(1.15 * edge)), ("safe", capacitor_of(3.0 * edge)), spread=True)
        self.assertEqual((found["safe"], found["edge"][1]), ((1, "works"), "unsure"))

    def test_a_loop_that_needs_none_says_so(self) -> None:
        """Eight lamps carry the control; then none stands first."""
        many = Sheet(loop=loop(bypass=(), lamps=(replace(LAMP, count=8),)))
        found = choose(many, [Candidate(name="c", bypass=capacitor_of(1e-7), figures={})], spread=False)
        self.assertTrue(found.none_needed)
        self.assertEqual(found.choices[0].name, "")

    def test_every_code_has_its_words(self) -> None:
        """Gathered from the source, filled with the parameters given."""
        folder = Path(ember_core.__file__).parent / "bypass"
        codes = set(re.findall(r'code="(bypass_[a-z_]+)"', (folder / "choose.py").read_text()))
        self.assertEqual(codes, set(catalogue("bypass")))
        parts = (capacitor_of(1e-6), ResistorBypass(r_ohm=5e3), CapacitorBypass(c_f=1e-7))
        found = choose(Sheet(loop=BARE), [Candidate(name=str(k), bypass=p, figures={}) for k, p in enumerate(parts)])
        for choice in found.choices:
            for finding in choice.findings:
                self.assertTrue(fill(catalogue("bypass")[finding.code], finding.params))
