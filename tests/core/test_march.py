"""The march against circuits that can be solved by hand."""

from __future__ import annotations

from dataclasses import replace
from math import cos, pi, sqrt

import numpy as np
from django.test import SimpleTestCase

from ember_core.offstate.closed_form import evaluate
from ember_core.offstate.meters import Of, Whole, bridge_drop_v, thinned
from ember_core.offstate.network import BRIDGE, G_MIN_S, Col, build
from ember_core.offstate.runner import Runner
from ember_core.offstate.settle import settle
from ember_core.offstate.solve import solve
from ember_core.parts import (
    ActiveBypass,
    Cable,
    CapacitorBypass,
    Control,
    FilamentLamp,
    LinearLamp,
    RectifierLamp,
    ResistorBypass,
    Supply,
)
from tests.core.loops import DROPPER, EUROPE, LAMP, RELAY, capacitor, loop

NEVER = replace(LAMP, v_start_v=395.0, v_stop_v=390.0)
OMEGA = 2.0 * pi * 50.0
PEAK = EUROPE.v_peak


def rms(values) -> float:
    """Root mean square."""
    return float(np.sqrt(np.mean(values * values)))


def plain(**changes):
    """An ordinary switch, no bypass, one filament lamp: only linear parts."""
    base = {
        "control": Control(),
        "cable": Cable(),
        "bypass": (),
        "lamps": (FilamentLamp(count=1, r_cold_ohm=1000.0),),
    }
    return loop(**{**base, **changes})


class LinearCircuits(SimpleTestCase):
    """Divider circuits of resistors and capacitors: phasors give the exact answer."""

    def check(self, drawn, y_across: complex, y_down: complex) -> None:
        """Rms voltage and current of a divider with these admittances."""
        result = solve(drawn, with_power=False)
        v = EUROPE.v_rms * abs(y_across / (y_across + y_down))
        i = EUROPE.v_rms * abs(y_across * y_down / (y_across + y_down))
        self.assertAlmostEqual(result.lamp_v_rms / v, 1.0, delta=1e-3)
        self.assertAlmostEqual(result.line_i_rms_a / i, 1.0, delta=1e-3)

    def test_resistor_against_resistor(self) -> None:
        """150 kΩ of leak and 1 kΩ of filament."""
        self.check(plain(control=Control(r_leak_ohm=150e3)), 1.0 / 150e3, 1e-3 + G_MIN_S)

    def test_capacitor_against_resistor(self) -> None:
        """47 nF across the switch and 22 kΩ of bleeder."""
        drawn = plain(control=Control(c_snubber_f=4.7e-8), bypass=(ResistorBypass(r_ohm=22e3),))
        self.check(drawn, 1j * OMEGA * 4.7e-8, 1.0 / 22e3 + 1e-3 + G_MIN_S)

    def test_capacitor_against_capacitor_with_its_resistors(self) -> None:
        """100 nF with 1 MΩ across and 220 Ω in series, beside cable capacitance."""
        part = CapacitorBypass(c_f=1e-7, r_parallel_ohm=1e6, r_series_ohm=220.0)
        drawn = plain(
            control=Control(c_snubber_f=1e-8),
            cable=Cable(c_line_to_switched_f=2e-9, c_switched_to_neutral_f=5e-9),
            bypass=(part,),
            lamps=(FilamentLamp(count=1, r_cold_ohm=1e5),),
        )
        branch = 1.0 / (220.0 + 1.0 / (1e-6 + 1j * OMEGA * 1e-7))
        self.check(drawn, 1j * OMEGA * 1.2e-8, branch + 1j * OMEGA * 5e-9 + 1e-5 + G_MIN_S)

    def test_both_line_frequencies(self) -> None:
        """The current through a capacitor goes with the frequency."""
        drawn = plain(control=Control(c_snubber_f=1e-9))
        fifty = solve(drawn, with_power=False).line_i_rms_a
        sixty = solve(replace(drawn, supply=Supply(v_rms=230.0, f_hz=60.0)), with_power=False).line_i_rms_a
        self.assertAlmostEqual(sixty / fifty, 1.2, delta=1e-3)

    def test_a_meter_is_one_more_resistor(self) -> None:
        """400 kΩ on the terminals divide with 150 kΩ of leak."""
        drawn = plain(
            control=Control(r_leak_ohm=150e3), meter_r_ohm=400e3, lamps=(FilamentLamp(count=1, r_cold_ohm=1e5),)
        )
        self.check(drawn, 1.0 / 150e3, 1.0 / 400e3 + 1e-5 + G_MIN_S)

    def test_the_order_of_the_method_is_two(self) -> None:
        """Half the step, a quarter of the error, on a circuit with a known answer."""
        drawn = plain(control=Control(c_snubber_f=4.7e-8), bypass=(ResistorBypass(r_ohm=50e3),))
        network = build(drawn)
        y_across, y_down = 1j * OMEGA * 4.7e-8, 1e-3 + 2e-5 + G_MIN_S
        exact = EUROPE.v_rms * abs(y_across / (y_across + y_down))
        errors = []
        for steps in (100, 200, 400):
            runner = Runner(network, np.zeros(3), steps)
            runner.go(4 * steps, may_start=False)
            errors.append(abs(rms(runner.record(steps, may_start=False).v) - exact))
        self.assertAlmostEqual(errors[0] / errors[1], 4.0, delta=0.6)
        self.assertAlmostEqual(errors[1] / errors[2], 4.0, delta=0.6)


class Rectifiers(SimpleTestCase):
    """Peak rectification, where the answer is nearly the peak."""

    def test_a_reservoir_without_drain_charges_to_the_peak_less_the_bridge(self) -> None:
        """Fed through a small leak, the lamp's reservoir ends within two junctions of the supply's peak."""
        lamp = replace(NEVER, r_start_ohm=None, c_x_f=0.0, c_bulk_f=1e-7)
        result = solve(plain(control=Control(r_leak_ohm=1e4), lamps=(lamp,)), with_power=False)
        self.assertAlmostEqual(result.lamps[0].v_dc, PEAK - BRIDGE.v1, delta=0.02 * PEAK)

    def test_the_average_current_through_a_resistance_into_a_held_voltage(self) -> None:
        """What flows into the reservoir is what its drain takes, and both follow the closed form."""
        from ember_core.offstate.balances import resistive_current_a

        lamp = replace(NEVER, c_x_f=0.0, r_start_ohm=2e5, c_bulk_f=1e-5)
        result = solve(plain(control=Control(r_leak_ohm=1e5), lamps=(lamp,)), with_power=False)
        held = result.lamps[0].v_dc
        by_form = resistive_current_a(PEAK, 1e5, held + 0.9)
        self.assertAlmostEqual(held / 2e5 / by_form, 1.0, delta=0.01)

    def test_a_linear_lamp_conducts_where_the_supply_exceeds_its_string(self) -> None:
        """Through a stiff source the string current is (v - v_string - bridge)/R over that part of the cycle."""
        lamp = LinearLamp(count=1, r_in_ohm=5000.0, v_string_v=200.0)
        result = solve(plain(control=Control(r_leak_ohm=1000.0), lamps=(lamp,)), with_power=False)
        angle = np.linspace(0.0, pi, 100001)
        current = np.maximum(0.0, PEAK * np.sin(angle) - 200.0 - 1.45) / (5000.0 + 1000.0)
        self.assertAlmostEqual(result.lamps[0].string_i_avg_a / float(np.mean(current)), 1.0, delta=0.005)

    def test_the_bridge_law_follows_two_junctions(self) -> None:
        """Within 0.15 V of 2·1.8·V_T·ln(1 + i/1 nA) from 0.5 µA to 10 mA, without a step anywhere."""
        current = np.logspace(np.log10(5e-7), -2, 400)
        junctions = 2.0 * 1.8 * 0.02585 * np.log1p(current / 1e-9)
        dropped = np.array([bridge_drop_v(i) for i in current])
        self.assertLess(float(np.max(np.abs(dropped - junctions))), 0.15)
        for edge in (BRIDGE.i1, BRIDGE.i2):
            self.assertAlmostEqual(bridge_drop_v(edge * 0.999999), bridge_drop_v(-edge * 1.000001), places=4)

    def test_ten_lamps_are_one_lamp_ten_times(self) -> None:
        """Values are of one lamp: voltages stay, the group's current is tenfold, when everything else is tenfold."""
        one = solve(loop(lamps=(NEVER,)), with_power=False)
        big = replace(
            RELAY,
            c_snubber_f=10 * RELAY.c_snubber_f,
            standby=replace(
                RELAY.standby, p_w=2.0, c_reservoir_f=4.7e-5, r_reservoir_ohm=1e5, r_in_ohm=RELAY.standby.r_in_ohm / 10
            ),
        )
        ten = solve(
            loop(
                control=big,
                cable=Cable(c_line_to_switched_f=8e-9, c_switched_to_neutral_f=4e-9),
                bypass=(CapacitorBypass(c_f=1e-6, r_parallel_ohm=1e5, r_series_ohm=0.01),),
                lamps=(replace(NEVER, count=10),),
            ),
            with_power=False,
        )
        self.assertAlmostEqual(ten.lamp_v_rms / one.lamp_v_rms, 1.0, delta=0.01)
        self.assertAlmostEqual(ten.line_i_rms_a / one.line_i_rms_a, 10.0, delta=0.15)


class StartAndStop(SimpleTestCase):
    """The hysteresis of a driver."""

    def test_a_driver_starts_at_its_threshold_and_stops_at_the_other(self) -> None:
        """Marched with starting allowed, the reservoir swings between the two."""
        drawn = plain(control=Control(r_leak_ohm=1e5), lamps=(replace(LAMP, v_start_v=80.0, v_stop_v=40.0),))
        result = solve(drawn, with_power=False)
        reservoir = result.blink.v_reservoir_v[0]
        self.assertAlmostEqual(float(np.max(reservoir)), 80.0, delta=2.0)
        self.assertAlmostEqual(float(np.min(reservoir)), 40.0, delta=3.0)
        energy = 0.5 * LAMP.c_bulk_f * (80.0**2 - 40.0**2)
        self.assertAlmostEqual(result.lamps[0].flash_energy_j, energy, places=9)

    def test_the_light_of_a_blink_is_its_energy_over_its_period(self) -> None:
        """Average power of the driver equals what the flashes take, and a little that arrives meanwhile."""
        drawn = plain(control=Control(r_leak_ohm=1e5), lamps=(replace(LAMP, v_start_v=80.0, v_stop_v=40.0),))
        lamp = solve(drawn, with_power=False).lamps[0]
        self.assertAlmostEqual(lamp.light_p_w / (lamp.flash_energy_j / lamp.flash_period_s), 1.0, delta=0.15)

    def test_twice_the_reservoir_blinks_half_as_often(self) -> None:
        """Charging time goes with the capacitance."""
        periods = []
        for ratio in (20.0, 40.0):
            lamp = replace(LAMP, v_start_v=80.0, v_stop_v=40.0, c_bulk_f=ratio * LAMP.c_bulk_f)
            drawn = plain(control=Control(r_leak_ohm=1e5), lamps=(lamp,))
            periods.append(solve(drawn, with_power=False).lamps[0].flash_period_s)
        self.assertAlmostEqual(periods[1] / periods[0], 2.0, delta=0.05)

    def test_two_groups_of_different_thresholds_keep_their_own_state(self) -> None:
        """The early one blinks, and what it takes keeps the late one dark."""
        early = replace(LAMP, v_start_v=50.0, v_stop_v=25.0)
        result = solve(loop(bypass=(), lamps=(early, replace(LAMP, v_start_v=300.0, v_stop_v=200.0))))
        self.assertEqual([lamp.state for lamp in result.lamps], ["blink", "dark"])


class ActiveBleeders(SimpleTestCase):
    """Conducting at low voltage, open above."""

    def test_below_its_limit_it_is_its_slope(self) -> None:
        """At a few volts the bleeder is a resistor of its slope."""
        part = ActiveBypass(i_limit_a=0.5, r_on_ohm=800.0, v_cutoff_v=100.0)
        active = solve(loop(bypass=(part,), lamps=(NEVER,)), with_power=False)
        resistor = solve(loop(bypass=(ResistorBypass(r_ohm=800.0),), lamps=(NEVER,)), with_power=False)
        self.assertAlmostEqual(active.lamp_v_rms / resistor.lamp_v_rms, 1.0, delta=0.01)

    def test_it_never_passes_more_than_its_limit(self) -> None:
        """Whatever the loop would push through it."""
        part = ActiveBypass(i_limit_a=0.002, r_on_ohm=200.0, v_cutoff_v=150.0)
        result = solve(loop(bypass=(part,), lamps=(NEVER,)), with_power=False)
        self.assertLess(result.shares.bypass_a[0], 0.002)


class Tables(SimpleTestCase):
    """From parts to tables."""

    def test_feed_first_then_lamps_and_plain_lamps_have_no_row(self) -> None:
        """The order that everything else relies on."""
        network = build(loop(lamps=(FilamentLamp(count=2, r_cold_ohm=100.0), LAMP)))
        self.assertEqual(network.lamp_row, (-1, 1))
        self.assertEqual(network.branches[0, Col.ACROSS], 1.0)
        self.assertAlmostEqual(network.lamp_g[0], 0.02)

    def test_every_lamp_class_has_a_stage(self) -> None:
        """No class is offered that the solver does not know."""
        from ember_core.offstate.network import lamp_stage
        from ember_core.parts import LAMP_CLASSES

        for part_class in LAMP_CLASSES:
            self.assertIsNot(lamp_stage.dispatch(part_class), lamp_stage.dispatch(object), part_class.__name__)

    def test_an_unknown_part_is_a_type_error_not_a_silent_nothing(self) -> None:
        """A stage that nobody registered."""
        from ember_core.offstate.network import feed_row, lamp_stage

        for function in (lamp_stage, feed_row):
            with self.assertRaises(TypeError):
                function(object())

    def test_a_reservoir_without_drain_still_leaks(self) -> None:
        """No capacitor holds for ever."""
        network = build(loop(lamps=(replace(LAMP, r_start_ohm=None),)))
        self.assertGreater(network.branches[1, Col.G_DRAIN], 0.0)


class Waveforms(SimpleTestCase):
    """What is drawn."""

    def test_what_is_drawn_is_the_whole_cycle_from_the_rising_zero(self) -> None:
        """Half a cycle is recorded and mirrored; marched on for a whole one it is the same, in voltage and current."""
        drawn = loop(bypass=(capacitor(2.2e-7),))
        waves = solve(drawn, with_power=False).waveforms
        network = build(drawn)
        settled = settle(network, evaluate(network), 1200)
        runner = Runner(network, settled.state, 1200)
        runner.go(600, may_start=False)
        cycle = runner.record(1200, may_start=False)
        for values, marched in (
            (waves.v_supply_v, cycle.v_supply),
            (waves.v_lamp_v, cycle.v),
            (waves.i_line_a, cycle.i_line),
        ):
            largest = float(np.max(np.abs(marched)))
            self.assertLess(float(np.max(np.abs(values - marched[2::3]))), 0.03 * largest)

    def test_lamp_and_bypass_current_make_the_line_current(self) -> None:
        """At every moment, cable and discharge resistor aside."""
        drawn = loop(bypass=(), cable=Cable(c_line_to_switched_f=8e-10), lamps=(replace(NEVER, count=4),))
        waves = solve(drawn, with_power=False).waveforms
        self.assertLess(rms(waves.i_line_a - waves.i_lamps_a) / rms(waves.i_line_a), 0.02)

    def test_the_supply_is_a_sine_of_its_rms_value(self) -> None:
        """230 V rms peaks at 325 V, at a quarter of the cycle."""
        waves = solve(loop(), with_power=False).waveforms
        self.assertAlmostEqual(rms(waves.v_supply_v), 230.0, delta=0.1)
        peak_at = float(waves.t_s[int(np.argmax(waves.v_supply_v))])
        self.assertAlmostEqual(peak_at, 0.005, delta=1e-4)
        self.assertAlmostEqual(cos(OMEGA * peak_at), 0.0, delta=0.03)
        self.assertAlmostEqual(PEAK, 230.0 * sqrt(2.0))


class Meters(SimpleTestCase):
    """What is read in one compiled pass, against the same said with arrays."""

    def test_every_reading_is_what_its_name_says(self) -> None:
        """Rms, means, ends, light and heat of a mixed loop, over a stretch that is no whole cycle."""
        drawn = loop(
            bypass=(capacitor(1e-7), ActiveBypass(i_limit_a=0.002, r_on_ohm=900.0, v_cutoff_v=60.0)),
            lamps=(replace(NEVER, count=3), DROPPER, LinearLamp(count=2, r_in_ohm=900.0, v_string_v=30.0)),
        )
        network = build(drawn)
        runner = Runner(network, settle(network, evaluate(network), 400).state, 400)
        read = runner.record(700, may_start=False)
        record, n = read.record, network.branches.shape[0]
        self.assertAlmostEqual(read.whole(Whole.V_RMS), rms(record[1]), places=9)
        self.assertAlmostEqual(read.whole(Whole.V_PEAK), float(np.max(np.abs(record[1]))), places=9)
        self.assertAlmostEqual(read.whole(Whole.SOURCE_W), float(np.mean(record[0] * record[2])), places=12)
        slope = np.diff(record[1], prepend=read.v_before) / read.dt_s
        self.assertAlmostEqual(read.whole(Whole.SLOPE_RMS) / rms(slope), 1.0, places=9)
        for row in range(n):
            i, held, power = record[3 + 4 * row], record[4 + 4 * row], record[5 + 4 * row] * record[4 + 4 * row]
            self.assertAlmostEqual(read.of(row, Of.I_RMS), rms(i), places=12)
            self.assertAlmostEqual(read.of(row, Of.I_MEAN), float(np.mean(np.abs(i))), places=12)
            self.assertAlmostEqual(read.of(row, Of.DRAWN_W), float(np.mean(power)), places=12)
            if network.branches[row, Col.C_RES] > 0.0:
                self.assertAlmostEqual(read.of(row, Of.HELD_MEAN), float(np.mean(held)), places=9)
                self.assertEqual(read.of(row, Of.HELD_MOST), float(np.max(held)))
                self.assertEqual(read.of(row, Of.HELD_LEAST), float(np.min(held)))
        string = np.maximum(0.0, record[4 + 8] - DROPPER.v_string_v) / DROPPER.r_string_ohm
        self.assertAlmostEqual(read.of(2, Of.STRING_MEAN), float(np.mean(string)), places=12)
        for k in (0, 1):
            self.assertAlmostEqual(read.bypass_i_rms_a(k), rms(record[3 + 4 * n + k]), places=12)
        lamps = [
            c_x * slope + g * record[1] + network.branches[row, Col.COUNT] * record[3 + 4 * row]
            for c_x, g, row in zip(network.lamp_c_x, network.lamp_g, network.lamp_row, strict=True)
        ]
        for lamp, current in enumerate(lamps):
            self.assertAlmostEqual(read.lamp_i_rms_a(lamp), rms(current), places=12)
        for stride in (1, 3):
            *_, drawn_a = thinned(*read.metered, stride, False)
            self.assertLess(float(np.max(np.abs(drawn_a - sum(lamps)[stride - 1 :: stride]))), 1e-12)


class PowerCurves(SimpleTestCase):
    """What the loop could pass to the control."""

    def test_the_settled_point_lies_on_the_curve(self) -> None:
        """Where the reservoir settles the loop passes just what the control needs."""
        result = solve(loop(lamps=(NEVER,)))
        curve = result.power_curve
        order = np.argsort(curve.standby_v)
        at = np.interp(result.control.standby_v_dc, curve.standby_v[order], curve.available_p_w[order])
        self.assertAlmostEqual(float(at) / 0.2, 1.0, delta=0.15)

    def test_its_top_is_near_half_the_peak_and_near_the_formula(self) -> None:
        """With little across the control: f·C_p²·V̂²/(C_p + C_s)."""
        from ember_core.offstate.closed_form import largest_feed_power_w

        drawn = loop(
            control=Control(c_snubber_f=0.0, standby=RELAY.standby),
            cable=Cable(),
            bypass=(CapacitorBypass(c_f=2.2e-7),),
            lamps=(RectifierLamp(count=1, c_bulk_f=1e-7, v_start_v=395.0, v_stop_v=390.0, p_run_w=1.0),),
        )
        result = solve(drawn)
        top = float(result.power_curve.standby_v[int(np.argmax(result.power_curve.available_p_w))])
        self.assertAlmostEqual(top / (PEAK / 2.0), 1.0, delta=0.06)
        formula = largest_feed_power_w(50.0, PEAK, 2.2e-7, 0.0)
        self.assertAlmostEqual(result.control.p_available_w / formula, 1.0, delta=0.03)

    def test_a_shunt_regulated_feed_is_judged_at_its_shunt_voltage(self) -> None:
        """Twice the need halves the ratio, and the power needed is voltage times current."""
        from ember_core.parts import CapacitiveFeed

        ratios = []
        for i_a in (0.002, 0.004):
            feed = CapacitiveFeed(c_series_f=1.5e-7, r_discharge_ohm=1e6, c_reservoir_f=2.2e-4, i_a=i_a, v_shunt_v=24.0)
            control = Control(c_snubber_f=4.7e-9, standby=feed)
            result = solve(loop(control=control, bypass=(capacitor(6.8e-7),), lamps=(NEVER,)))
            self.assertAlmostEqual(result.control.p_needed_w, 24.0 * i_a)
            ratios.append(result.control.power_ratio)
        self.assertAlmostEqual(ratios[0] / ratios[1], 2.0, delta=0.02)
