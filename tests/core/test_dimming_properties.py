"""What must hold of the closed forms of the on state whatever the figures: order, limits, scale."""

from __future__ import annotations

from math import inf, isfinite, pi, sqrt

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from ember_core.onstate import closed_form
from ember_core.onstate.closed_form import Draw
from tests.core.loops import logarithmic

MANY = settings(max_examples=150, deadline=None)
VOLTS = st.floats(20.0, 700.0)
OHMS = logarithmic(0.1, 500.0)
HENRIES = logarithmic(1e-5, 1e-2)
FARADS = logarithmic(1e-9, 1e-4)
MAINS = st.sampled_from(((230.0 * sqrt(2.0), 50.0), (120.0 * sqrt(2.0), 60.0)))


class Pulses(SimpleTestCase):
    """A capacitor charged through a resistance and an inductance."""

    @MANY
    @given(dv=VOLTS, r=OHMS, l_h=HENRIES, c=FARADS)
    def test_a_pulse_stays_below_both_of_its_limits(self, dv: float, r: float, l_h: float, c: float) -> None:
        """ΔV/R and ΔV·√(C/L); it moves C·ΔV to twice that, and its I²t is at most what a resistor would make."""
        found = closed_form.pulse(dv, r, l_h, c)
        self.assertLessEqual(found.i_peak_a, 1.000001 * min(dv / r, dv * sqrt(c / l_h)))
        self.assertTrue(0.999 * c * dv <= found.charge_c <= 2.001 * c * dv)
        self.assertLessEqual(found.i2t_a2s, 1.000001 * c * dv**2 / (2.0 * r))

    @MANY
    @given(dv=VOLTS, r=OHMS, l_h=HENRIES, c=FARADS, more=st.floats(1.05, 5.0))
    def test_more_of_each_moves_it_the_right_way(self, dv: float, r: float, l_h: float, c: float, more: float) -> None:
        """Proportional to the step; smaller with more resistance or inductance, larger with more capacitance."""
        base = closed_form.pulse(dv, r, l_h, c).i_peak_a
        self.assertAlmostEqual(closed_form.pulse(more * dv, r, l_h, c).i_peak_a / base, more, places=6)
        slack = 1.0 + 1e-5
        self.assertLessEqual(closed_form.pulse(dv, more * r, l_h, c).i_peak_a, slack * base)
        self.assertLessEqual(closed_form.pulse(dv, r, more * l_h, c).i_peak_a, slack * base)
        self.assertGreaterEqual(slack * closed_form.pulse(dv, r, l_h, more * c).i_peak_a, base)


class Holding(SimpleTestCase):
    """Where a triac lets go."""

    @MANY
    @given(mains=MAINS, hold=logarithmic(1e-3, 0.2), g=logarithmic(1e-5, 1e-2), c=st.floats(0.0, 2e-6))
    def test_it_lies_in_the_half_cycle_and_capacitance_never_helps_a_load_that_holds(
        self, mains: tuple[float, float], hold: float, g: float, c: float
    ) -> None:
        """Never past π; never later with the capacitance than without it, where the load alone holds."""
        v_peak, f_hz = mains
        with_c = closed_form.drop_out_rad(v_peak, 2.0 * pi * f_hz, hold, g, c)
        without = closed_form.drop_out_rad(v_peak, 2.0 * pi * f_hz, hold, g, 0.0)
        self.assertTrue(0.0 <= with_c <= pi)
        if without > 0.0:
            self.assertLessEqual(with_c, without + 1e-9)

    @MANY
    @given(mains=MAINS, hold=logarithmic(1e-3, 0.2), g=logarithmic(1e-5, 1e-2), more=st.floats(1.05, 5.0))
    def test_more_load_holds_longer_and_more_holding_current_shorter(
        self, mains: tuple[float, float], hold: float, g: float, more: float
    ) -> None:
        """For a load that is a resistor."""
        v_peak, w = mains[0], 2.0 * pi * mains[1]
        base = closed_form.drop_out_rad(v_peak, w, hold, g, 0.0)
        self.assertGreaterEqual(closed_form.drop_out_rad(v_peak, w, hold, more * g, 0.0), base)
        self.assertLessEqual(closed_form.drop_out_rad(v_peak, w, more * hold, g, 0.0), base)


class Falling(SimpleTestCase):
    """The switched live after turn-off."""

    @MANY
    @given(v=st.floats(40.0, 400.0), c=FARADS, g=logarithmic(1e-6, 1e-2), i=st.floats(0.0, 0.05))
    def test_it_adds_up_and_scales(self, v: float, c: float, g: float, i: float) -> None:
        """In two stretches as in one; twice the capacitance takes twice as long; a bleeder only shortens it."""
        whole = closed_form.decay_s(v, 30.0, c, g, i)
        middle = 0.5 * (v + 30.0)
        parts = closed_form.decay_s(v, middle, c, g, i) + closed_form.decay_s(middle, 30.0, c, g, i)
        self.assertAlmostEqual(parts / whole, 1.0, places=6)
        self.assertAlmostEqual(closed_form.decay_s(v, 30.0, 2.0 * c, g, i) / whole, 2.0, places=6)
        self.assertLessEqual(closed_form.decay_s(v, 30.0, c, g, i + 0.01), whole)

    @MANY
    @given(mains=MAINS, g=logarithmic(1e-5, 1e-2), angles=st.lists(st.floats(0.5, 3.0), min_size=1, max_size=6))
    def test_the_worst_angle_governs(self, mains: tuple[float, float], g: float, angles: list[float]) -> None:
        """More angles never allow more; each alone allows at least as much."""
        draws = [closed_form.Draw(g_s=g)]
        most, at = closed_form.largest_capacitance_f(*mains, draws, angles, 5e-4)
        self.assertIn(at, angles)
        for angle in angles:
            one, _ = closed_form.largest_capacitance_f(*mains, draws, [angle], 5e-4)
            self.assertLessEqual(most, one)


class Feeding(SimpleTestCase):
    """A control in series."""

    @MANY
    @given(mains=MAINS, need=logarithmic(2e-4, 0.03), supply=st.floats(4.0, 30.0), watts=logarithmic(3.0, 300.0))
    def test_the_gap_shrinks_with_load_and_grows_with_need(
        self, mains: tuple[float, float], need: float, supply: float, watts: float
    ) -> None:
        """Never below the angle at which the mains passes the supply; what is left of the voltage falls with it."""
        r_load = mains[0] ** 2 / 2.0 / watts
        gap = closed_form.gap_rad(*mains, need, supply, [Draw(g_s=1.0 / r_load)], 10.0)
        larger = closed_form.gap_rad(*mains, need, supply, [Draw(g_s=2.0 / r_load)], 10.0)
        more = closed_form.gap_rad(*mains, 1.5 * need, supply, [Draw(g_s=1.0 / r_load)], 10.0)
        if gap is None:
            self.assertIsNone(more)
            return
        self.assertGreater(gap, (supply + 1.6) / mains[0] * 0.999)
        assert larger is not None
        self.assertLessEqual(larger, gap)
        if more is not None:
            self.assertGreaterEqual(more, gap)
            self.assertLessEqual(closed_form.rms_ratio(more), closed_form.rms_ratio(gap))

    @MANY
    @given(mains=MAINS, need=logarithmic(2e-4, 0.03), gap=st.floats(0.05, 1.2), supply=st.floats(4.0, 30.0))
    def test_capacitance_there_and_back(
        self, mains: tuple[float, float], need: float, gap: float, supply: float
    ) -> None:
        """The least capacitance gives just the current that is needed."""
        c = closed_form.supply_capacitance_f(need, mains[1], mains[0], gap, supply)
        if c == inf:
            self.assertEqual(closed_form.supply_current_a(1e-6, mains[1], mains[0], gap, supply), 0.0)
            return
        self.assertTrue(isfinite(c) and c > 0.0)
        self.assertAlmostEqual(closed_form.supply_current_a(c, mains[1], mains[0], gap, supply) / need, 1.0, places=6)
