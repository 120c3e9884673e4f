"""Invariants of the off-state solution."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings

from ember_core.errors import InputError, SolverError
from ember_core.offstate.closed_form import evaluate
from ember_core.offstate.meters import Of, Whole
from ember_core.offstate.network import build
from ember_core.offstate.runner import Runner, settled_half_cycle
from ember_core.offstate.settle import first_guess, settle
from ember_core.offstate.shooting import Search, free_states, settled, shoot
from ember_core.offstate.solve import STEPS_PER_CYCLE, solve
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import Cable, Control, FilamentLamp, LinearLamp, PtcBypass
from tests.core.drawn import drawn_sheets
from tests.core.loops import AMERICA, DROPPER, EUROPE, FEED, LAMP, RELAY, capacitor, dark_loops, loop
from tests.drawn import drawn

# Hypothesis draws afresh on every run; this many keep the suite quick.
DRAWS = settings(max_examples=40, deadline=None, derandomize=True)


class Invariants(SimpleTestCase):
    """What physics demands of any loop."""

    @DRAWS
    @given(dark_loops())
    def test_energy_is_met_within_one_percent(self, drawn) -> None:
        """Source work over a settled cycle equals heat and stand-by power, counted part by part."""
        result = solve(drawn, with_power=False)
        if result.blink is None:
            self.assertLess(abs(result.numerics.energy_balance_ratio), 0.01)

    @DRAWS
    @given(dark_loops())
    def test_half_the_step_changes_rms_values_by_less_than_half_a_percent(self, drawn) -> None:
        """Rms voltage and current do not depend on the step."""
        coarse = solve(drawn, with_power=False)
        if coarse.blink is not None:
            return
        fine = solve(drawn, steps_per_cycle=2 * STEPS_PER_CYCLE, with_power=False)
        self.assertAlmostEqual(coarse.lamp_v_rms / fine.lamp_v_rms, 1.0, delta=0.005)
        self.assertAlmostEqual(coarse.line_i_rms_a / fine.line_i_rms_a, 1.0, delta=0.005)

    def test_longer_steps_lead_to_the_same_state(self) -> None:
        """Where steps of the asked length find a state by themselves it is the one that longer ones before find."""
        search = Search(warm_up=4, most_rounds=40, tolerance_v=1e-4)
        found = 0
        for sheet in drawn_sheets(drawn(60, 600), 31):
            network = build(sheet.loop)
            if network.has_gate:
                continue  # two levels; which of them is taken is marched
            guess = first_guess(network, evaluate(network))
            held = np.zeros(network.branches.shape[0])
            state, _, growth, _ = settled(network.tables, guess, held, 400, search)
            n = free_states(network.tables, held).shape[0]
            alone, landed = guess.copy(), guess.copy()
            _, by_itself, _ = shoot(network.tables, alone, held, 400, search, np.zeros((n, n)), False, landed)
            if by_itself:
                found += 1
                self.assertGreaterEqual(growth, 0.0)
                self.assertLess(float(np.max(np.abs(state - alone))), 0.005)
        self.assertGreater(found, 40)

    def test_a_half_cycle_read_at_once_reads_as_the_one_after_it(self) -> None:
        """Voltages within 0.2 % and a millivolt, current within 0.5 %: the first, coarser step need not fade."""
        compared = 0
        for sheet in drawn_sheets(drawn(60, 600), 37):
            network = build(sheet.loop)
            if network.has_gate:
                continue
            try:
                settled_at = settle(network, evaluate(network), 400)
            except SolverError:
                continue
            compared += 1
            at_once = settled_half_cycle(network, settled_at.state, 1200)
            later = Runner(network, settled_at.state, 1200).record(600, may_start=False)
            self.assertAlmostEqual(at_once.whole(Whole.LINE_RMS) / later.whole(Whole.LINE_RMS), 1.0, delta=0.005)
            v_rms = later.whole(Whole.V_RMS)
            self.assertAlmostEqual(at_once.whole(Whole.V_RMS), v_rms, delta=0.002 * v_rms + 0.001)
            for row in range(network.branches.shape[0]):
                for of in (Of.HELD_MEAN, Of.HELD_MOST):
                    self.assertAlmostEqual(at_once.of(row, of), later.of(row, of), delta=0.002 * network.v_peak)
        self.assertGreater(compared, 40)

    def test_more_bypass_means_less_lamp_voltage_and_more_power(self) -> None:
        """Capacitance across the lamps lowers their voltage and feeds the control better, step by step."""
        results = [solve(loop(bypass=(capacitor(c),))) for c in (6.8e-8, 1e-7, 1.5e-7, 2.2e-7, 3.3e-7, 4.7e-7)]
        voltages = [result.lamp_v_rms for result in results]
        powers = [result.control.p_available_w for result in results]
        self.assertEqual(voltages, sorted(voltages, reverse=True))
        self.assertEqual(powers, sorted(powers))

    def test_more_supply_means_more_power_available(self) -> None:
        """What the loop could pass to the control rises with the supply, about with its square."""
        powers = [solve(loop(supply=replace(EUROPE, v_rms=v))).control.p_available_w for v in (207.0, 230.0, 253.0)]
        self.assertEqual(powers, sorted(powers))
        self.assertAlmostEqual(powers[2] / powers[0], (253.0 / 207.0) ** 2, delta=0.1)

    def test_the_order_of_lamp_groups_does_not_matter(self) -> None:
        """Swapping two groups swaps their results and changes nothing else."""
        one = solve(loop(lamps=(LAMP, DROPPER)), with_power=False)
        other = solve(loop(lamps=(DROPPER, LAMP)), with_power=False)
        self.assertAlmostEqual(one.lamp_v_rms, other.lamp_v_rms, places=2)
        self.assertAlmostEqual(one.lamps[0].v_dc, other.lamps[1].v_dc, delta=0.02)

    def test_equal_lamps_count_like_one_group_or_two(self) -> None:
        """Two lamps as one group of two and as two groups of one draw the same current."""
        together = solve(loop(lamps=(replace(LAMP, count=2),)), with_power=False)
        apart = solve(loop(lamps=(LAMP, LAMP)), with_power=False)
        self.assertAlmostEqual(together.line_i_rms_a / apart.line_i_rms_a, 1.0, delta=0.002)


class States(SimpleTestCase):
    """The words, at and beyond their limits."""

    def test_a_start_threshold_just_above_the_reservoir_stays_dark_and_just_below_blinks(self) -> None:
        """Dark and blink divide exactly at the start threshold."""
        reached = solve(loop(), with_power=False).lamps[0].v_dc_max
        dark = solve(loop(lamps=(replace(LAMP, v_start_v=1.02 * reached, v_stop_v=20.0),)), with_power=False)
        blink = solve(loop(lamps=(replace(LAMP, v_start_v=0.97 * reached, v_stop_v=20.0),)), with_power=False)
        self.assertIs(dark.lamps[0].state, LampState.DARK)
        self.assertIs(blink.lamps[0].state, LampState.BLINK)

    def test_one_filament_lamp_among_led_lamps_cures_the_loop(self) -> None:
        """A blinking loop is dark and fed with one filament lamp beside."""
        alone = solve(loop(bypass=(), lamps=(replace(LAMP, v_start_v=60.0, v_stop_v=30.0),)))
        beside = solve(
            loop(bypass=(), lamps=(replace(LAMP, v_start_v=60.0, v_stop_v=30.0), FilamentLamp(count=1, r_cold_ohm=110)))
        )
        self.assertIs(alone.lamps[0].state, LampState.BLINK)
        self.assertTrue(all(lamp.state is LampState.DARK for lamp in beside.lamps))
        self.assertIs(beside.control.state, StandbyState.FED)

    def test_a_control_that_needs_more_than_there_is_starves(self) -> None:
        """Just below the power available it is not starved, just above it is."""
        available = solve(loop()).control.p_available_w
        below = solve(loop(control=replace(RELAY, standby=replace(FEED, p_w=0.95 * available)), lamps=(_never(),)))
        above = solve(loop(control=replace(RELAY, standby=replace(FEED, p_w=1.1 * available)), lamps=(_never(),)))
        self.assertIs(below.control.state, StandbyState.MARGINAL)
        self.assertIs(above.control.state, StandbyState.STARVED)

    def test_an_ordinary_switch_has_no_stand_by_state(self) -> None:
        """No electronics, no verdict on them."""
        self.assertIsNone(solve(loop(control=Control())).control.state)

    def test_a_lamp_that_cannot_stop_is_lit_not_blinking(self) -> None:
        """Through a leak of 1.5 kΩ the driver starts and runs on: that is light, not a blink."""
        result = solve(loop(control=Control(r_leak_ohm=1500.0), bypass=(), lamps=(replace(LAMP, p_run_w=0.5),)))
        self.assertIs(result.lamps[0].state, LampState.GLOW)
        self.assertAlmostEqual(result.lamps[0].light_p_w, 0.5, delta=0.02)

    def test_a_slow_rhythm_is_found_with_small_reservoirs(self) -> None:
        """A lamp charged through little capacitance blinks slowly; the period follows the charging integral."""
        from ember_core.offstate.closed_form import flash_period_s
        from ember_core.offstate.network import build

        lamp = replace(LAMP, r_start_ohm=2e7, c_x_f=1e-9, c_bulk_f=1e-5, v_start_v=80.0, v_stop_v=40.0)
        slow = loop(
            control=Control(),
            bypass=(),
            lamps=(lamp,),
            cable=Cable(c_line_to_switched_f=8e-10, c_switched_to_neutral_f=3e-10),
        )
        result = solve(slow)
        self.assertIs(result.lamps[0].state, LampState.BLINK)
        self.assertGreater(result.lamps[0].flash_period_s, 10.0)
        self.assertAlmostEqual(result.lamps[0].flash_period_s / flash_period_s(build(slow), 0), 1.0, delta=0.1)

    def test_a_current_limited_linear_lamp_takes_no_more_than_its_limit(self) -> None:
        """The string current stays at the regulator's limit."""
        lamp = LinearLamp(count=1, r_in_ohm=100.0, v_string_v=150.0, i_limit_a=0.02)
        result = solve(loop(control=Control(r_leak_ohm=1000.0), bypass=(), lamps=(lamp,)))
        self.assertLessEqual(result.waveforms.i_lamps_a.max(), 0.0201)
        self.assertLess(abs(result.numerics.energy_balance_ratio), 0.01)


class Bypasses(SimpleTestCase):
    """Bypass kinds that the reference does not hold."""

    PTC = PtcBypass(r_cold_ohm=2200.0, t_switch_k=353.0, r_thermal_k_per_w=60.0)

    def test_a_ptc_stays_cold_while_the_loop_is_off(self) -> None:
        """At a few volts its own heat is nothing, and it acts like its cold resistance."""
        from ember_core.parts import ResistorBypass

        ptc = solve(loop(bypass=(self.PTC,)), with_power=False)
        cold = solve(loop(bypass=(ResistorBypass(r_ohm=2200.0),)), with_power=False)
        self.assertAlmostEqual(ptc.lamp_v_rms / cold.lamp_v_rms, 1.0, delta=0.01)

    def test_a_ptc_on_the_mains_heats_to_just_above_its_switching_temperature(self) -> None:
        """Heat made and heat given off balance there, and the power limits itself."""
        from ember_core.offstate.ptc import resistance_ohm, settled_temperature_k

        t_k = settled_temperature_k(self.PTC, 230.0)
        self.assertGreater(t_k, self.PTC.t_switch_k)
        made_w = 230.0**2 / resistance_ohm(self.PTC, t_k)
        self.assertAlmostEqual(made_w, (t_k - self.PTC.t_ambient_k) / self.PTC.r_thermal_k_per_w, places=3)
        self.assertLess(made_w, 2.0)


class Refusals(SimpleTestCase):
    """What the solver will not try."""

    def test_a_feed_that_the_supply_cannot_reach_is_named(self) -> None:
        """A least voltage above the supply's peak is an input error with its path."""
        with self.assertRaises(InputError) as caught:
            solve(loop(supply=AMERICA, control=replace(RELAY, standby=replace(FEED, v_min_v=200.0))))
        self.assertEqual(
            (caught.exception.code, caught.exception.path), ("feed_above_supply", "control.standby.v_min_v")
        )

    def test_an_odd_step_count_is_refused(self) -> None:
        """Half a cycle needs an even number."""
        with self.assertRaises(InputError):
            solve(loop(), steps_per_cycle=201)


def _never() -> object:
    """A lamp that does not start in these loops, so that only the control is looked at."""
    return replace(LAMP, v_start_v=380.0, v_stop_v=300.0)
