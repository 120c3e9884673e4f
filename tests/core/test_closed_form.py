"""Closed forms against published or independent figures, and beside the solver."""

from __future__ import annotations

from math import pi, sqrt

import numpy as np
from django.test import SimpleTestCase

from ember_core import sheet
from ember_core.offstate import balances, closed_form
from ember_core.offstate.closed_form import Form
from ember_core.offstate.network import Col, build
from ember_core.offstate.solve import solve
from tests.core.drawn import drawn_sheets
from tests.core.loops import loop
from tests.core.reference import document
from tests.drawn import drawn

PEAK_230 = 230.0 * sqrt(2.0)


class Formulas(SimpleTestCase):
    """One formula at a time."""

    def test_100_nf_can_pass_at_most_half_a_watt_at_230_v_and_a_third_of_it_at_120_v(self) -> None:
        """0.53 W at 230 V 50 Hz and 0.17 W at 120 V 60 Hz: f·C·V̂² by hand."""
        europe = closed_form.largest_feed_power_w(50.0, PEAK_230, 1e-7, 0.0)
        america = closed_form.largest_feed_power_w(60.0, 120.0 * sqrt(2.0), 1e-7, 0.0)
        self.assertAlmostEqual(europe, 0.529, delta=0.001)
        self.assertAlmostEqual(america, 0.1728, delta=0.0003)

    def test_the_largest_power_is_the_top_of_the_current_law(self) -> None:
        """P_max equals the largest V·I(V) found by trying many voltages."""
        node = balances.Node(50.0, PEAK_230, 1e-7, 5e-9, 0.0, 0.0, False)
        most = max(v * balances.capacitive_current_a(node, v) for v in np.linspace(1.0, PEAK_230, 5000).tolist())
        self.assertAlmostEqual(most, closed_form.largest_feed_power_w(50.0, PEAK_230, 1e-7, 5e-9), delta=1e-5)

    def test_the_resistive_current_is_the_mean_of_what_exceeds_the_held_voltage(self) -> None:
        """Against numerical integration of (|V̂ sin| - V)/R."""
        angle = np.linspace(0.0, pi, 200001)
        for held in (0.0, 50.0, 200.0, 320.0):
            mean = np.mean(np.maximum(0.0, PEAK_230 * np.sin(angle) - held)) / 150e3
            self.assertAlmostEqual(balances.resistive_current_a(PEAK_230, 150e3, held), mean, delta=1e-8)

    def test_a_loop_balances_at_the_root_that_is_found_and_nowhere_above(self) -> None:
        """Over drawn loops, in volts: what arrives and what is taken meet within a step of the grid of points."""
        met = 0
        for one in drawn_sheets(drawn(60, 600), 23):
            network = build(one.loop)
            node, rows = closed_form.node_of(network), network.branches
            if not network.has_feed:
                which, low = balances.NO_FEED, 0.0
            elif rows[0, Col.C_SERIES] > 0.0:
                which, low = balances.DIVIDER, 0.0
            else:
                which, low = balances.FEED, float(rows[0, Col.V_KNEE])
            root = balances.upper_root(which, node, rows, low, network.v_peak)
            above = np.linspace(max(root, low), network.v_peak, 4000)[1:]
            if root in (balances.NONE, network.v_peak):
                continue
            met += 1
            step = (network.v_peak - low) / (balances.ROOT_POINTS - 1)
            values = [balances.balance_a(which, node, rows, v) for v in above.tolist()]
            self.assertTrue(all(value < 0.0 for v, value in zip(above, values, strict=True) if v > root + step))
            below = low + int((root - low) / step * (1.0 - 1e-12)) * step
            self.assertGreaterEqual(balances.balance_a(which, node, rows, below), 0.0)
        self.assertGreater(met, 30)


class BesideTheSolver(SimpleTestCase):
    """Two methods that must roughly agree."""

    def test_the_reservoir_voltage_agrees_within_three_percent(self) -> None:
        """For every settled reference loop whose control has an operating point."""
        seen = set()
        for entry in document()["loops"]:
            if entry["blinks"] or "standby_v_dc" not in entry["expect"]:
                continue
            closed = closed_form.evaluate(build(sheet.read(entry["case"]).loop))
            if not closed.operating_point or entry["case"]["name"].startswith("linear lamp, no bypass"):
                continue
            seen.add(closed.form)
            ratio = closed.standby_v_dc / entry["expect"]["standby_v_dc"]
            self.assertAlmostEqual(ratio, 1.0, delta=0.03, msg=entry["case"]["name"])
        self.assertEqual(seen, {Form.CAPACITIVE, Form.RESISTIVE, Form.DIVIDER})

    def test_blink_periods_of_ordinary_switches_agree_with_the_reference(self) -> None:
        """The charging integral gives the simulator's periods within a quarter."""
        seen = 0
        for entry in document()["loops"]:
            period = closed_form.flash_period_s(build(sheet.read(entry["case"]).loop), 0)
            if period is None or not entry["blinks"]:
                continue
            seen += 1
            self.assertAlmostEqual(period / entry["expect"]["lamps"][0]["flash_period_s"], 1.0, delta=0.25)
        self.assertEqual(seen, 2)

    def test_a_starved_loop_has_no_operating_point_in_either(self) -> None:
        """Too little capacitance: the formula finds no root where the solver finds the control starved or blinking."""
        small = loop(bypass=())
        self.assertFalse(closed_form.evaluate(build(small)).operating_point)
        self.assertNotEqual([lamp.state for lamp in solve(small).lamps], ["dark"])
