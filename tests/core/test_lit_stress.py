"""Stress on the control against the march; contacts, bleeders, the supply window, and figures that are typed."""

from __future__ import annotations

from dataclasses import replace
from math import degrees, sqrt

import numpy as np
from django.test import SimpleTestCase, tag

from ember_core.bypass.limits import firing_spike
from ember_core.compatibility.gang import while_lit
from ember_core.compatibility.trims import SiteTrims
from ember_core.lit.holding import holds_to_deg, latches_from_deg, wanted_hold_deg
from ember_core.lit.light import acts_at_deg, light, light_curve
from ember_core.lit.loads import on_case, window_case
from ember_core.lit.pictures import View, band, picture, view_of
from ember_core.lit.ranges import samples_of, typical_of
from ember_core.lit.stress import filter_pulse, inrush, most_on_contact, stiff, stress, weak
from ember_core.lit.supply import supply_gets_a
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.onstate.case import CapacitorInputLoad, OnBleeder, OnCase, OnControl, Question, Source
from ember_core.onstate.pulses import closing_pulse
from ember_core.onstate.simulate import simulate
from ember_core.parts import CapacitorBypass, DimmableDriverLamp, FilamentLamp, Lamp, LinearLamp, PhaseMode
from ember_core.quantities import Figure
from ember_core.quantities import Source as Origin
from ember_core.sheet import Sheet
from tests.core.loops import AMERICA, DROPPER, EUROPE, LAMP, RELAY, loop

DRIVER = DimmableDriverLamp(count=3, c_x_f=6.8e-8, c_bulk_f=4.7e-6, v_start_v=100.0, v_stop_v=40.0, p_run_w=8.0)
FILAMENT = FilamentLamp(count=1, r_cold_ohm=110.0, p_rated_w=40.0)
LINEAR = LinearLamp(count=3, r_in_ohm=330.0, v_string_v=240.0, i_limit_a=0.03)


def dimmer(mode: PhaseMode, *lamps: Lamp, **control: float) -> Loop:
    """A control of a mode with lamps, no bypass."""
    return loop(bypass=(), control=replace(RELAY, phase=float(list(PhaseMode).index(mode)), **control), lamps=lamps)


class AgainstTheMarch(SimpleTestCase):
    """Closed forms beside the full solution, typical figures, 10 % high, at both supplies."""

    @tag("long")
    def test_peak_and_rms_are_within_their_stated_error(self) -> None:
        """Never low; the peak to half as much again, the rms to 80 %, most where reservoirs outlast a half-cycle."""
        gangs = (
            (DRIVER,),
            (replace(DRIVER, count=12),),
            (LAMP,),
            (replace(LAMP, count=8),),
            (FILAMENT, DRIVER),
            (DROPPER,),
        )
        for supply in (EUROPE, AMERICA):
            for lamps in gangs:
                given = loop(supply=supply, bypass=(), lamps=lamps)
                figures = typical_of(given, source="stiff")
                found = stress(given, figures)
                high = replace(given, supply=replace(supply, v_rms=1.1 * supply.v_rms))
                marched = [simulate(on_case(high, PhaseMode.LEADING, angle, figures)) for angle in range(75, 166, 3)]
                peak = found.i_peak_a / max(one.i_peak_a for one in marched)
                rms = found.i_rms_a / max(one.i_rms_a for one in marched)
                self.assertTrue(1.0 <= peak < 1.6, (supply.v_rms, lamps[0].kind, peak))
                self.assertTrue(1.0 <= rms < 1.8, (supply.v_rms, lamps[0].kind, rms))

    def test_inrush_at_the_crest_and_near_the_crossing(self) -> None:
        """Peak within 10 % of the march at both moments; I²t at the crest within 10 %."""
        given = loop(bypass=(), lamps=(replace(LAMP, count=10),))
        figures = typical_of(given)
        high = replace(given, supply=replace(EUROPE, v_rms=253.0))
        for off_s, angle in ((None, 90.0), (5e-4, 9.0)):
            found = inrush(given, figures, off_crossing_s=off_s)
            marched = simulate(on_case(high, PhaseMode.ON_OFF, angle, figures))
            self.assertAlmostEqual(found.i_peak_a / marched.i_peak_a, 1.0, delta=0.1)
            if off_s is None:
                self.assertAlmostEqual(found.i2t_a2s / marched.i2t_a2s, 1.0, delta=0.1)

    def test_the_closing_pulse_alone(self) -> None:
        """At the crest the closed form for a source that stands still; at the crossing against a march."""
        peak, i2t = closing_pulse(325.3, 50.0, np.pi / 2.0, 1.6, 1.5e-4, 9.4e-5)
        still = closed_form.pulse(325.3 - 1.6, 1.6, 1.5e-4, 9.4e-5)
        self.assertAlmostEqual(peak / still.i_peak_a, 1.0, delta=0.01)
        self.assertAlmostEqual(i2t / still.i2t_a2s, 1.0, delta=0.02)
        line = Source(v_rms=230.0, f_hz=50.0, r_source_ohm=0.4, l_source_h=1.5e-4)
        load = CapacitorInputLoad(count=20, c_bulk_f=4.7e-6, r_in_ohm=22.0, p_run_w=0.0)
        control = OnControl(r_on_ohm=0.1, closing_deg=20.0)
        case = OnCase(question=Question.RELAY_INRUSH, source=line, control=control, loads=(load,))
        early, _ = closing_pulse(325.27, 50.0, np.radians(20.0), 0.5 + 22.0 / 20.0, 1.5e-4, 9.4e-5)
        self.assertAlmostEqual(early / simulate(case).i_peak_a, 1.0, delta=0.01)

    def test_linear_lamps_let_go_where_the_march_says(self) -> None:
        """Within a degree; and that is as late as they draw."""
        given = dimmer(PhaseMode.LEADING, LINEAR)
        figures = typical_of(given)
        low = replace(given, supply=replace(EUROPE, v_rms=207.0))
        marched = simulate(on_case(low, PhaseMode.LEADING, 90.0, figures)).drop_out_deg
        held = holds_to_deg(given, figures)
        self.assertAlmostEqual(held, marched or 0.0, delta=1.0)
        self.assertLess(wanted_hold_deg(given), held)
        self.assertEqual(wanted_hold_deg(dimmer(PhaseMode.LEADING, LINEAR, DRIVER)), 150.0)

    def test_the_supply_window_gets_what_the_closed_form_says(self) -> None:
        """Capacitor-input lamps and a bypass, at nominal mains: within 12 %, for two capacitances."""
        for c_f in (2.2e-7, 4.4e-7):
            given = loop(bypass=(CapacitorBypass(c_f=c_f),), lamps=(LAMP,))
            figures = typical_of(given)
            nominal = replace(given, supply=replace(EUROPE, v_rms=230.0 / 0.9))
            marched = simulate(window_case(given, figures)).i_supply_avg_a
            self.assertAlmostEqual((marched or 0.0) / supply_gets_a(nominal, figures), 1.0, delta=0.12)


class Parts(SimpleTestCase):
    """Single parts of it."""

    def test_an_electronic_bleeder_draws_below_its_cut_off_only(self) -> None:
        """Its limit while the line is below, nothing above; marched beside next to nothing."""
        control = OnControl(r_on_ohm=1e-3, turn_off_deg=180.0)
        idle = CapacitorInputLoad(count=1, c_bulk_f=1e-8, p_run_w=0.0)
        source = Source(v_rms=230.0, f_hz=50.0, r_source_ohm=0.01, l_source_h=0.0)
        bleeder = OnBleeder(count=1, i_limit_a=0.02, r_on_ohm=500.0, v_cutoff_v=60.0)
        case = OnCase(question=Question.TRAILING, source=source, control=control, loads=(idle,), bypass=(bleeder,))
        found = simulate(case)
        v, i = np.abs(found.v_lamp_v), np.abs(found.i_line_a)
        self.assertAlmostEqual(float(i[(v > 15.0) & (v < 55.0)].mean()), 0.02, delta=1e-3)
        self.assertLess(float(i[v > 65.0].max()), 1e-4)
        self.assertLess(abs(found.balance_ratio), 1e-3)

    def test_a_stiff_supply_stresses_more_and_a_weak_one_less(self) -> None:
        """Peak and inrush."""
        given = loop(bypass=(), lamps=(replace(LAMP, count=5),))
        figures = typical_of(given)
        self.assertGreater(stress(given, stiff(given, figures)).i_peak_a, stress(given, weak(given, figures)).i_peak_a)
        self.assertGreater(inrush(given, stiff(given, figures)).i_peak_a, inrush(given, weak(given, figures)).i_peak_a)

    def test_a_bypass_alone_and_among_filters(self) -> None:
        """The spike into it alone is that of the closed form; filters beside it add charge."""
        given = dimmer(PhaseMode.LEADING, DRIVER)
        part = CapacitorBypass(c_f=1e-7, r_series_ohm=10.0)
        figures = typical_of(given, source="stiff")
        control = figures.control
        alone = firing_spike(given, part)
        r = 10.0 + 1.0 + control["r_source_ohm"]
        wanted = closed_form.pulse(1.1 * EUROPE.v_peak, r, control["l_choke_h"] + control["l_source_h"], 1e-7)
        # What the driver has not emptied of the other polarity adds a trace.
        self.assertAlmostEqual(alone.i_peak_a / wanted.i_peak_a, 1.0, places=4)
        both = filter_pulse(replace(given, bypass=(part,)), figures, 1.1 * EUROPE.v_peak)
        self.assertGreater(both.charge_c, alone.charge_c)

    def test_latching_by_hand(self) -> None:
        """asin(I/(G·V̂)) at low mains; infinity where the load never gets there."""
        given = dimmer(PhaseMode.LEADING, FILAMENT)
        figures = typical_of(given)
        i = figures.control["i_latch_a"] / (40.0 / 230.0**2 * 0.9 * EUROPE.v_peak)
        self.assertAlmostEqual(latches_from_deg(given, figures), degrees(np.arcsin(i)))
        self.assertEqual(latches_from_deg(given, figures.with_control(i_latch_a=1.0)), float("inf"))

    def test_lamps_on_a_contact_are_the_last_that_it_stands(self) -> None:
        """One more is too many; closing near the zero crossing allows far more."""
        given = dimmer(PhaseMode.ON_OFF, LAMP, i_inrush_max_a=80.0)
        figures = typical_of(given)
        most = most_on_contact(given, figures)
        for count, is_borne in ((most, True), (most + 1, False)):
            tried = replace(given, lamps=(replace(LAMP, count=count),))
            self.assertEqual(inrush(tried, stiff(tried, figures)).i_peak_a <= 80.0, is_borne)
        self.assertGreater(most_on_contact(given, figures, off_crossing_s=5e-4), 3 * most)


class Typed(SimpleTestCase):
    """Figures of the on state that the sheet holds."""

    def test_a_typed_figure_goes_before_the_assumed_range(self) -> None:
        """With its own range, on the control and on a lamp; the others keep theirs."""
        control = replace(RELAY, phase=1.0, i_hold_a=0.012)
        given = loop(bypass=(), control=control, lamps=(replace(DRIVER, c_film_f=4.7e-8),))
        known = {"control.i_hold_a": Figure(typical=0.012, low=0.01, high=0.015, source=Origin.MEASURED)}
        drawn = samples_of(given, 64, 1, known)
        self.assertTrue(all(0.0099 < one.control["i_hold_a"] < 0.0151 for one in drawn))
        self.assertTrue(all(one.lamps[0]["c_film_f"] == 4.7e-8 for one in drawn))
        self.assertGreater(max(one.control["i_latch_a"] for one in drawn), 0.05)
        self.assertEqual(typical_of(given, known).control["i_hold_a"], 0.012)

    def test_a_measured_holding_current_settles_the_verdict(self) -> None:
        """A weak load: unsure over the assumed range, sure with a triac known to hold little."""
        weak_load = dimmer(PhaseMode.LEADING, replace(FILAMENT, p_rated_w=9.0), p_max_filament_w=200.0)
        codes = {one.code for one in while_lit(Sheet(loop=weak_load), with_picture=False).findings}
        self.assertIn("on_lets_go_early", codes)
        known = replace(weak_load, control=replace(weak_load.control, i_hold_a=0.006))
        codes = {one.code for one in while_lit(Sheet(loop=known), with_picture=False).findings}
        self.assertIn("on_holds", codes)

    def test_headroom_of_the_sheet_counts_until_another_is_asked(self) -> None:
        """Declared 4, asked 2."""
        given = Sheet(loop=dimmer(PhaseMode.LEADING, DRIVER, p_max_filament_w=300.0, headroom_ratio=4.0))
        self.assertEqual(while_lit(given, with_picture=False).headroom_ratio, 4.0)
        self.assertEqual(while_lit(given, headroom_ratio=2.0, with_picture=False).headroom_ratio, 2.0)


class Levels(SimpleTestCase):
    """Light, levels and settings."""

    def test_light_of_each_kind_rises_from_nothing_to_all(self) -> None:
        """Filaments by their voltage, linear lamps above their string, drivers between their thresholds."""
        given = dimmer(PhaseMode.LEADING, DRIVER, LINEAR, FILAMENT)
        figures = typical_of(given)
        gamma = np.linspace(0.0, 180.0, 91)
        for lamp, own in zip(given.lamps, figures.lamps, strict=True):
            curve = light(given, lamp, own, gamma)
            self.assertTrue(np.all(np.diff(curve) >= -1e-12), lamp.kind)
            self.assertAlmostEqual(float(curve[0]), 0.0, delta=1e-6)
            self.assertAlmostEqual(float(curve[-1]), 1.0, delta=1e-6)
        half = light(given, FILAMENT, figures.lamps[2], np.array([90.0]))[0]
        self.assertAlmostEqual(float(half), sqrt(0.5) ** 3.4, places=3)

    def test_the_worst_lamp_type_decides(self) -> None:
        """A linear lamp goes out long before a driver: the gang's least level is its."""
        given = dimmer(PhaseMode.TRAILING, DRIVER, LINEAR)
        tried = samples_of(given, 32, 1)
        curve = light_curve(given, PhaseMode.TRAILING, tried)
        alone = light_curve(dimmer(PhaseMode.TRAILING, LINEAR), PhaseMode.TRAILING, tried_of(LINEAR))
        assert curve is not None
        assert alone is not None
        self.assertEqual(curve.groups[curve.worst].group, 2)
        self.assertAlmostEqual(curve.least_deg, alone.least_deg, delta=0.01)

    def test_settings_are_rounded_to_the_safe_side(self) -> None:
        """On a scale of 10 from 28 to 152 degrees: least and start up, top down."""
        scale = {"setting_low_deg": 28.0, "setting_high_deg": 152.0, "settings": 10.0}
        given = dimmer(PhaseMode.TRAILING, DRIVER, **scale)
        curve = while_lit(Sheet(loop=given), with_picture=False).curve
        assert curve is not None
        assert curve.settings is not None
        step = 124.0 / 9.0
        least, start, most = curve.settings
        self.assertTrue(curve.least_deg <= 28.0 + (least.at - 1) * step < curve.least_deg + step)
        self.assertTrue(curve.start_deg <= 28.0 + (start.at - 1) * step < curve.start_deg + step)
        self.assertTrue(curve.most_deg - step < 28.0 + (most.at - 1) * step <= curve.most_deg)
        bare = while_lit(Sheet(loop=dimmer(PhaseMode.TRAILING, DRIVER)), with_picture=False).curve
        assert bare is not None
        self.assertIsNone(bare.settings)

    def test_where_no_brighter_narrows_the_driver_s_top(self) -> None:
        """Found at 148 degrees, the light at 140 is less than before."""
        given = Sheet(loop=dimmer(PhaseMode.TRAILING, DRIVER))
        before = while_lit(given, with_picture=False).curve
        after = while_lit(given, site=SiteTrims(full_deg=148.0), with_picture=False).curve
        assert before is not None
        assert after is not None
        at_140 = [curve.groups[0].middle[round(140.0 / 4.5)] for curve in (before, after)]
        self.assertLess(at_140[1], at_140[0])

    def test_a_top_that_is_set_too_high_is_told(self) -> None:
        """Just above and just below what is proposed."""
        given = Sheet(loop=dimmer(PhaseMode.TRAILING, DRIVER))
        curve = while_lit(given, with_picture=False).curve
        assert curve is not None
        for off, code in ((2.0, "on_set_top_high"), (-2.0, "on_set_top_good")):
            found = while_lit(given, site=SiteTrims(top_deg=curve.most_deg + off), with_picture=False)
            self.assertIn(code, {one.code for one in found.findings})

    def test_a_level_acts_at_its_own_angle_on_each_edge(self) -> None:
        """Conduction of 60 degrees: fires at 120, turns off at 60."""
        self.assertEqual(acts_at_deg(PhaseMode.LEADING, 60.0), 120.0)
        self.assertEqual(acts_at_deg(PhaseMode.TRAILING, 60.0), 60.0)


class Pictures(SimpleTestCase):
    """What is drawn."""

    def test_a_relay_in_series_runs_and_a_plain_switch_closes(self) -> None:
        """Unless the other moment is asked for, which a plain switch does not have."""
        relay = Sheet(loop=dimmer(PhaseMode.ON_OFF, LAMP))
        plain = Sheet(loop=loop(bypass=(), control=replace(RELAY, standby=None)))
        self.assertIs(view_of(relay, PhaseMode.ON_OFF, None), View.RUNNING)
        self.assertIs(view_of(relay, PhaseMode.ON_OFF, View.CLOSING), View.CLOSING)
        self.assertIs(view_of(plain, PhaseMode.ON_OFF, View.RUNNING), View.CLOSING)
        found = picture(relay, PhaseMode.ON_OFF, View.RUNNING, 90.0)
        opened = found.theta_deg[(found.is_closed < 0.5) & (found.theta_deg < 90.0)]
        self.assertAlmostEqual(float(opened.max()), typical_of(relay.loop).control["gap_deg"], delta=2.0)

    def test_the_band_holds_a_sample_and_narrows_with_what_is_known(self) -> None:
        """Low below high everywhere; with choke and driver known, no wider than before."""
        loose = dimmer(PhaseMode.LEADING, DRIVER, p_max_filament_w=200.0)
        known = replace(
            loose,
            control=replace(loose.control, l_choke_h=1.5e-3),
            lamps=(replace(DRIVER, r_damp_ohm=150.0, c_film_f=3.3e-8, i_bleed_a=2e-3, v_stage_min_v=40.0),),
        )
        wide, narrow = (band(Sheet(loop=one), PhaseMode.LEADING, View.RUNNING, 90.0) for one in (loose, known))
        self.assertTrue(np.all(wide.i_low_a <= wide.i_high_a))
        self.assertTrue(np.all(wide.v_low_v <= wide.v_high_v))
        self.assertLess(
            float((narrow.i_high_a - narrow.i_low_a).sum()), 0.6 * float((wide.i_high_a - wide.i_low_a).sum())
        )


def tried_of(lamp: Lamp) -> list:  # type: ignore[type-arg]
    """Samples of a trailing-edge gang of one lamp type."""
    return samples_of(dimmer(PhaseMode.TRAILING, lamp), 32, 1)
