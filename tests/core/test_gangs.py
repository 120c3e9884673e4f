"""Beyond one gang and one number: gangs together, cures, predictions, sweeps, declared loads, more readings."""

from __future__ import annotations

from dataclasses import replace
from math import exp
from unittest import TestCase

import numpy as np
from django.test import tag

from ember_core.errors import InputError
from ember_core.loop import Loop
from ember_core.offstate.solve import solve
from ember_core.offstate.states import THRESHOLDS
from ember_core.parts import Control, FilamentLamp
from ember_core.quantities import Figure, Source
from ember_core.sheet import Sheet
from ember_core.spread.cures import filament_cures, with_filament
from ember_core.spread.gangs import moved, together
from ember_core.spread.half_wave import HalfWave, on_half_wave
from ember_core.spread.judged import judge_spread
from ember_core.spread.most_load import declared_loads
from ember_core.spread.narrow import Kind, Measurement, narrow
from ember_core.spread.predictions import predict
from ember_core.spread.sweep import sweep
from tests.core.loops import DROPPER, EUROPE, LAMP, RELAY, capacitor, loop

SWITCH = Control(c_snubber_f=0.0)
LIGHT = replace(LAMP, c_bulk_f=3.3e-6, v_start_v=80.0, v_stop_v=40.0, p_run_w=4.0)
HEAVY = FilamentLamp(count=2, r_cold_ohm=110.0)


def ranged(value: float, ratio: float = 0.2) -> Figure:
    return Figure(low=value * (1 - ratio), typical=value, high=value * (1 + ratio), source=Source.ASSUMED)


def sheet_of(made: Loop, **figures: Figure) -> Sheet:
    """A sheet; `start` and `p` stand for the first lamp's threshold and the control's power."""
    paths = {"start": "lamps[0].v_start_v", "p": "control.standby.p_w", "bulk": "lamps[0].c_bulk_f"}
    return Sheet(loop=made, figures={paths[name]: figure for name, figure in figures.items()})


class GangsTest(TestCase):
    """Two circuits on one box."""

    def setUp(self) -> None:
        self.small = sheet_of(loop(lamps=(LIGHT,), bypass=()), start=ranged(80.0, 0.1))
        self.big = sheet_of(loop(lamps=(HEAVY,), bypass=(), control=SWITCH))

    def test_a_swap_that_turns_no_into_yes_is_found(self) -> None:
        """The output that feeds the electronics gets the filament lamps, the other the small LED lamp."""
        found = together([self.small, self.big], samples=16)
        self.assertEqual(found.feeding, (0,))
        self.assertLess(found.as_is.worst, 0.5)
        self.assertEqual(found.best.circuits, (1, 0))
        self.assertEqual(found.best.worst, 1.0)
        self.assertTrue(found.swap_cures)

    def test_what_is_well_stays_where_it_is(self) -> None:
        """With the filament lamps on the feeding output already, no swap is offered."""
        found = together([moved(self.big, self.small), moved(self.small, self.big)], samples=16)
        self.assertEqual(found.best.circuits, (0, 1))
        self.assertFalse(found.swap_cures)

    def test_each_share_is_that_of_the_circuit_judged_alone(self) -> None:
        """An entry of the matrix is the ordinary judgement of that circuit behind that output."""
        found = together([self.small, self.big], samples=16, seed=3)
        alone = judge_spread(moved(self.small, self.big), samples=16, seed=3)
        self.assertEqual(found.matrix[0][1], alone.all_well)

    def test_figures_move_with_what_they_belong_to(self) -> None:
        """A moved circuit keeps its lamps' ranges and takes the output's."""
        ranges = sheet_of(loop(), p=ranged(0.2), start=ranged(110.0))
        made = moved(self.small, ranges)
        self.assertEqual(set(made.figures), {"lamps[0].v_start_v", "control.standby.p_w"})
        self.assertEqual(made.figures["lamps[0].v_start_v"].typical, 80.0)

    def test_too_many_gangs_are_refused(self) -> None:
        """Five gangs, or none, are no box that this judges."""
        for sheets in ([], [self.big] * 5):
            with self.assertRaises(InputError):
                together(sheets)


class CureTest(TestCase):
    """One filament lamp."""

    def test_one_filament_lamp_cures_a_blinking_loop(self) -> None:
        """A loop that blinks in every sample is dark and fed with one filament lamp beside the rest."""
        given = sheet_of(loop(lamps=(replace(LIGHT, count=2),), bypass=()), start=ranged(80.0))
        self.assertEqual(judge_spread(given, samples=16).all_well, 0.0)
        best = filament_cures(given, samples=16)[0]
        self.assertEqual(best.share, 1.0)
        cured = with_filament(given, 0, best.p_w)
        self.assertEqual([lamp.count for lamp in cured.loop.lamps], [1, 1])
        self.assertEqual(solve(cured.loop).lamps[0].state, "dark")

    def test_a_single_lamp_is_replaced_with_its_figures(self) -> None:
        """Where there is but one lamp the filament takes its place, and its ranges go."""
        made = with_filament(sheet_of(loop(lamps=(LIGHT,)), start=ranged(80.0)), 0, 40.0)
        self.assertEqual([lamp.kind for lamp in made.loop.lamps], ["filament"])
        self.assertNotIn("lamps[0].v_start_v", made.figures)
        self.assertIn("lamps[0].r_cold_ohm", made.figures)

    def test_filaments_are_not_replaced_by_filaments(self) -> None:
        """Nothing is offered for a gang of filament lamps."""
        self.assertEqual(filament_cures(sheet_of(loop(lamps=(HEAVY,)))), ())


class PredictionTest(TestCase):
    """What instruments show."""

    def test_the_range_holds_the_reading_of_the_typical_loop(self) -> None:
        """The full solution with the meter in the loop lies within the predicted range."""
        given = sheet_of(loop(), start=ranged(110.0), p=ranged(0.2))
        found = predict(given)
        for reading in found.readings:
            alone = solve(replace(given.loop, meter_r_ohm=reading.r_ohm)).lamp_v_rms
            self.assertLessEqual(reading.v_rms.p05 * 0.99, alone)
            self.assertGreaterEqual(reading.v_rms.p95 * 1.01, alone)

    def test_a_ghost_collapses_at_low_impedance(self) -> None:
        """An ordinary switch whose cable couples a little: the 10 MΩ meter shows much, the other little."""
        bare = loop(control=SWITCH, bypass=(), lamps=(replace(LAMP, c_x_f=1e-10, r_start_ohm=1e9, v_start_v=400.0),))
        self.assertTrue(predict(Sheet(loop=bare)).is_ghost)
        self.assertFalse(predict(sheet_of(loop(), p=ranged(0.2))).is_ghost)

    def test_the_band_is_ordered_and_as_wide_as_its_ranges(self) -> None:
        """Low below middle below high at every point; without ranges all three are one line."""
        wide = predict(sheet_of(loop(), p=ranged(0.2, 0.4)))
        self.assertTrue(np.all(wide.v_lamp_v.low <= wide.v_lamp_v.middle + 1e-9))
        self.assertTrue(np.all(wide.v_lamp_v.middle <= wide.v_lamp_v.high + 1e-9))
        self.assertGreater(float(np.max(wide.v_lamp_v.high - wide.v_lamp_v.low)), 3.0)
        narrow_band = predict(Sheet(loop=loop()))
        self.assertLess(float(np.max(narrow_band.v_lamp_v.high - narrow_band.v_lamp_v.low)), 1e-6)

    def test_the_period_of_a_blinking_loop_is_predicted_with_its_range(self) -> None:
        """The full march's period lies within the predicted range; few flashes are watched, so 5 % are allowed."""
        given = sheet_of(loop(lamps=(LIGHT,), bypass=()), start=ranged(80.0))
        found = predict(given)
        period = solve(given.loop).lamps[0].flash_period_s
        self.assertIsNotNone(found.period_s)
        self.assertLess(found.period_s.p05 * 0.95, period)
        self.assertGreater(found.period_s.p95 * 1.05, period)
        self.assertEqual(found.blinking, 1.0)


class SweepTest(TestCase):
    """One figure over its span."""

    def test_the_verdict_turns_where_the_solver_says(self) -> None:
        """With nothing else uncertain the swept start threshold turns from blink to well at the solved voltage."""
        given = sheet_of(loop(bypass=(capacitor(4.7e-8),)), start=ranged(110.0, 0.5))
        found = sweep(given, "lamps[0].v_start_v", points=25)
        for point in found.points:
            lamp = replace(LAMP, v_start_v=point.value, v_stop_v=min(45.0, 0.95 * point.value))
            state = solve(replace(given.loop, lamps=(lamp,))).lamps[0].state
            self.assertEqual(point.shares["blink"] + point.shares["glow"] > 0.5, state != "dark", point.value)

    def test_shares_at_a_point_sum_to_one(self) -> None:
        """Every sample ends in one outcome."""
        found = sweep(sheet_of(loop(), start=ranged(110.0), p=ranged(0.2)), "control.standby.p_w")
        for point in found.points:
            self.assertAlmostEqual(sum(point.shares.values()), 1.0)

    def test_it_tells_how_far_it_is_and_stops_when_told(self) -> None:
        """After three of thirteen values, with what is done by then."""
        given = sheet_of(loop(), start=ranged(110.0))
        told: list[tuple[int, int]] = []

        def progress(done: int, of: int) -> bool:
            told.append((done, of))
            return done < 3

        found = sweep(given, "lamps[0].v_start_v", progress=progress)
        self.assertEqual(told, [(0, 13), (1, 13), (2, 13), (3, 13)])
        whole = sweep(given, "lamps[0].v_start_v")
        self.assertEqual(found.points, whole.points[:3])
        self.assertEqual((found.is_complete, whole.is_complete), (False, True))

    def test_a_figure_without_a_range_cannot_be_swept(self) -> None:
        """The error names the figure."""
        with self.assertRaises(InputError) as caught:
            sweep(sheet_of(loop(), start=ranged(110.0)), "supply.v_rms")
        self.assertEqual((caught.exception.code, caught.exception.path), ("no_range", "supply.v_rms"))


class DeclaredLoadTest(TestCase):
    """Least and largest load as declared."""

    def rules(self, **changes: object) -> dict[str, object]:
        control = replace(RELAY, **{k: v for k, v in changes.items() if k != "lamps"})
        made = loop(control=control, lamps=changes.get("lamps", (replace(LAMP, count=5),)))
        return {load.rule: load for load in declared_loads(made)}

    def test_just_inside_and_just_outside_of_each_limit(self) -> None:
        """Five lamps of 6 W: 30 W against declared limits a little above and below."""
        for limit, met in ((30.0, True), (29.9, False)):
            self.assertEqual(self.rules(p_max_led_w=limit)["most_led_w"].is_met, met)
        for limit, met in ((30.0, True), (30.1, False)):
            self.assertEqual(self.rules(p_min_w=limit)["least_declared"].is_met, met)
        self.assertEqual(self.rules(p_max_led_w=50.0)["most_led_w"].most_count, 8)
        self.assertEqual(self.rules(p_min_w=25.0)["least_declared"].most_count, 5)

    def test_what_nobody_declared_stays_unknown(self) -> None:
        """No rating, no verdict; and a lamp without watts leaves it open too."""
        found = self.rules()
        self.assertIsNone(found["most_led_w"].is_met)
        self.assertIsNone(found["least_declared"].is_met)
        self.assertIsNone(self.rules(p_max_led_w=50.0, lamps=(DROPPER,))["most_led_w"].is_met)

    def test_amperes_are_no_watts_of_led_lamps(self) -> None:
        """A 10 A contact says nothing about LED lamps, and what it should about filaments."""
        self.assertIsNone(self.rules(i_max_a=10.0)["most_current"].is_met)
        heavy = FilamentLamp(count=10, r_cold_ohm=22.0, p_rated_w=200.0)
        self.assertTrue(self.rules(i_max_a=10.0, lamps=(heavy,))["most_current"].is_met)
        self.assertFalse(self.rules(i_max_a=8.0, lamps=(heavy,))["most_current"].is_met)

    def test_mixed_lamps_share_the_ratings(self) -> None:
        """Half of the LED rating and half of the filament rating is just all of it."""
        mixed = (replace(LAMP, count=5), FilamentLamp(count=1, r_cold_ohm=100.0, p_rated_w=100.0))
        self.assertTrue(self.rules(p_max_led_w=60.0, p_max_filament_w=200.0, lamps=mixed)["most_mixed"].is_met)
        self.assertFalse(self.rules(p_max_led_w=59.0, p_max_filament_w=200.0, lamps=mixed)["most_mixed"].is_met)


class SeenTest(TestCase):
    """What was seen narrows as readings do."""

    def test_half_wave_states_follow_a_marched_reservoir(self) -> None:
        """The closed form's verdict is that of a reservoir filled once a cycle and drained step by step."""
        for c_bulk_f in (1.2e-6, 2.2e-6, 3.3e-6, 4.7e-6, 1e-5):
            lamp = replace(LAMP, c_bulk_f=c_bulk_f)
            v, dt = EUROPE.v_peak - 1.0, 1e-6
            lowest = v
            for _ in range(int(1.0 / EUROPE.f_hz / dt)):
                v = max(0.0, v - lamp.p_run_w / max(v, 1.0) / c_bulk_f * dt)
                lowest = min(lowest, v)
            wanted = HalfWave.STEADY if lowest > lamp.v_stop_v else HalfWave.FLICKERS
            self.assertEqual(on_half_wave(lamp, EUROPE), wanted, c_bulk_f)
        self.assertEqual(on_half_wave(DROPPER, EUROPE), HalfWave.DARK)
        self.assertEqual(on_half_wave(HEAVY, EUROPE), HalfWave.STEADY)

    def test_a_steady_lamp_on_half_wave_has_a_large_reservoir(self) -> None:
        """The half-wave test moves the reservoir capacitance towards what can hold it."""
        given = sheet_of(loop(), bulk=Figure(low=5e-7, typical=2e-6, high=8e-6, source=Source.ASSUMED))
        middle = {}
        for seen in (HalfWave.STEADY, HalfWave.FLICKERS):
            found = narrow(given, [Measurement(kind=Kind.HALF_WAVE, seen=seen)], samples=64)
            middle[seen] = next(row for row in found.figures if row.path == "lamps[0].c_bulk_f").posterior.p50
        self.assertGreater(middle[HalfWave.STEADY], 1.3 * middle[HalfWave.FLICKERS])

    @tag("long")
    def test_dark_lamps_have_a_high_threshold(self) -> None:
        """Lamps seen dark where most samples blink leave only high start thresholds, by the same count of samples."""
        given = sheet_of(loop(bypass=(capacitor(4.7e-8),)), start=ranged(110.0, 0.5))
        plain = judge_spread(given, samples=256, seed=1)
        found = narrow(given, [Measurement(kind=Kind.SEEN, seen="dark")], samples=256)
        before = plain.lamps[0].by_state["dark"]
        # Bayes: a sample that does otherwise weighs exp(-3.5²/2) of one that does not.
        wanted = before / (before + (1.0 - before) * exp(-0.5 * 3.5**2))
        self.assertAlmostEqual(found.spread.lamps[0].by_state["dark"], wanted, delta=0.02)

    def test_another_lamp_in_its_place_speaks_of_the_control(self) -> None:
        """That the control stays starved even with a filament lamp there means that it needs more than was thought."""
        given = sheet_of(
            loop(lamps=(LIGHT,), bypass=()),
            p=Figure(low=0.1, typical=0.3, high=4.0, source=Source.ASSUMED),
        )
        filament = FilamentLamp(count=1, r_cold_ohm=4000.0)
        reading = Measurement(kind=Kind.SEEN, seen="starved", replacement=filament)
        found = narrow(given, [reading], samples=64)
        row = next(row for row in found.figures if row.path == "control.standby.p_w")
        self.assertGreater(row.posterior.p50, row.prior.p50)

    def test_what_cannot_be_seen_is_refused(self) -> None:
        """A word that is none, a group that is not there, a fed switch."""
        switch = sheet_of(loop(control=SWITCH), start=ranged(110.0))
        for given, reading, code in (
            (sheet_of(loop(), start=ranged(110.0)), Measurement(kind=Kind.SEEN, seen="merry"), "unknown_kind"),
            (sheet_of(loop(), start=ranged(110.0)), Measurement(kind=Kind.SEEN, seen="dark", group=4), "no_such_group"),
            (switch, Measurement(kind=Kind.SEEN, seen="fed"), "no_feed_to_see"),
        ):
            with self.assertRaises(InputError) as caught:
                narrow(given, [reading])
            self.assertEqual(caught.exception.code, code)

    def test_every_threshold_says_why(self) -> None:
        """A limit that a word hangs on has a unit and a reason."""
        for threshold in THRESHOLDS.values():
            self.assertTrue(threshold.reason)
            self.assertGreater(threshold.value, 0.0)
