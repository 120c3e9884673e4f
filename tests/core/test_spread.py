"""Judging over ranges: draws, shares against plain samples, narrowing, least load, disturbance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import inf
from unittest.mock import patch

import numpy as np
from django.test import SimpleTestCase, tag

from ember_core import sheet
from ember_core.errors import InputError, SolverError
from ember_core.offstate.solve import solve
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import CapacitorBypass, Control, FilamentLamp
from ember_core.quantities import Figure, Source
from ember_core.sheet import Sheet
from ember_core.spread import judged
from ember_core.spread import narrow as narrowing
from ember_core.spread.disturbance import LARGEST_STEP_RATIO, disturbance
from ember_core.spread.judged import judge_spread, quantiles
from ember_core.spread.least_load import least_loads
from ember_core.spread.narrow import Kind, Measurement, narrow, with_bench_tests
from ember_core.spread.observe import observe, shown_by
from ember_core.spread.variables import MOST_STOP_TO_START_RATIO, draw, loop_at, triangular, variables
from tests.core.loops import DROPPER, FEED, LAMP, RELAY, capacitor, loop
from tests.drawn import drawn

PLAIN_SAMPLES = 400
# Loops whose truth is drawn from the prior and read with the noise that narrowing assumes.
HIDDEN_LOOPS = drawn(60, 200)
NARROW_SAMPLES = 32


def ranged(low: float, typical: float, high: float, source: Source = Source.ASSUMED) -> Figure:
    """A figure with its range."""
    return Figure(low=low, typical=typical, high=high, source=source)


def uncertain(**changes: object) -> Sheet:
    """One lamp with a little bypass, on the edge: start threshold, input capacitor, bypass, supply have ranges."""
    given = loop(bypass=(capacitor(6e-8),), lamps=(replace(LAMP, v_start_v=90.0, v_stop_v=40.0),))
    figures = {
        "supply.v_rms": ranged(207.0, 230.0, 253.0, Source.DECLARED),
        "control.standby.p_w": ranged(0.15, 0.2, 0.25, Source.DECLARED),
        "bypass[0].c_f": ranged(5e-8, 6e-8, 7e-8, Source.DECLARED),
        "lamps[0].c_x_f": ranged(1e-8, 2.2e-8, 5e-8),
        "lamps[0].v_start_v": ranged(55.0, 90.0, 120.0),
    }
    return replace(Sheet(loop=given, figures=figures), **changes)  # type: ignore[arg-type]


class Draws(SimpleTestCase):
    """Values over ranges."""

    def test_the_triangle_has_its_mode_bounds_and_shares(self) -> None:
        """Share below the mode is (mode − low)/(high − low); the ends are never passed."""
        u = (np.arange(4000) + 0.5) / 4000
        values = triangular(u, 2.0, 3.0, 7.0)
        self.assertAlmostEqual(float(np.mean(values < 3.0)), 0.2, delta=0.001)
        self.assertTrue(np.all((values >= 2.0) & (values <= 7.0)))
        self.assertAlmostEqual(float(values.mean()), (2.0 + 3.0 + 7.0) / 3.0, delta=0.005)

    def test_positive_figures_are_drawn_in_the_logarithm_and_the_supply_is_not(self) -> None:
        """And every value lies in its range."""
        found = variables(uncertain())
        self.assertEqual({v.path: v.is_log for v in found}["supply.v_rms"], False)
        self.assertTrue(all(v.is_log for v in found if v.path != "supply.v_rms"))
        drawn = draw(found, 64, 5)
        for k, variable in enumerate(found):
            self.assertTrue(np.all((drawn[:, k] >= variable.low) & (drawn[:, k] <= variable.high)))

    def test_the_same_seed_draws_the_same_and_another_does_not(self) -> None:
        """A judgement can be repeated in a year."""
        found = variables(uncertain())
        np.testing.assert_array_equal(draw(found, 16, 3), draw(found, 16, 3))
        self.assertFalse(np.array_equal(draw(found, 16, 3), draw(found, 16, 4)))
        for samples in (1, 5000):
            with self.assertRaises(InputError):
                draw(found, samples, 1)

    def test_a_stop_threshold_never_crosses_its_start(self) -> None:
        """Drawn apart, they are put in order."""
        figures = {
            "lamps[0].v_start_v": ranged(50.0, 60.0, 70.0),
            "lamps[0].v_stop_v": ranged(20.0, 45.0, 69.0),
            "control.c_snubber_f": ranged(1e-9, 4.7e-9, 1e-8),
        }
        given = Sheet(loop=loop(lamps=(replace(LAMP, v_start_v=60.0),)), figures=figures)
        found = variables(given)
        for row in draw(found, 32, 1):
            drawn = loop_at(given.loop, found, row)
            lamp = drawn.lamps[0]
            self.assertLessEqual(lamp.v_stop_v, MOST_STOP_TO_START_RATIO * lamp.v_start_v + 1e-9)  # type: ignore[union-attr]
            self.assertEqual(drawn.control.c_snubber_f, row[[v.path for v in found].index("control.c_snubber_f")])


class Shares(SimpleTestCase):
    """States over ranges."""

    def test_a_sample_looked_at_quickly_has_the_states_of_the_full_solution(self) -> None:
        """Over loops that stay dark, blink, glow, starve, of rectifiers, droppers and filaments."""
        early = replace(LAMP, v_start_v=60.0, v_stop_v=30.0)
        for given in (
            loop(),
            loop(bypass=(), lamps=(early,)),
            loop(bypass=(), lamps=(DROPPER,)),
            loop(bypass=(capacitor(4.7e-7),), lamps=(DROPPER,)),
            loop(lamps=(replace(LAMP, count=4), FilamentLamp(count=1, r_cold_ohm=110.0))),
            loop(control=replace(RELAY, standby=replace(FEED, p_w=1.5)), lamps=(replace(LAMP, v_start_v=390.0),)),
            loop(control=replace(RELAY, standby=replace(FEED, p_w=0.55)), lamps=(replace(LAMP, v_start_v=380.0),)),
            loop(control=Control(r_leak_ohm=1.5e5), bypass=(), lamps=(early,)),
        ):
            quick, full = observe(given), solve(given)
            self.assertEqual(quick.lamps, tuple(lamp.state for lamp in full.lamps))
            self.assertEqual(quick.control, full.control.state)

    @tag("long")
    def test_shares_agree_with_plain_samples(self) -> None:
        """The dark share of 256 Latin samples against plain random ones, within three standard errors of those."""
        given = uncertain()
        spread = judge_spread(given, samples=256, seed=2)
        found = variables(given)
        random = np.random.default_rng(11)
        dark = fed = 0
        for _ in range(PLAIN_SAMPLES):
            row = []
            for variable in found:
                if variable.is_log:
                    low, mode, high = np.log([variable.low, variable.typical, variable.high])
                    row.append(float(np.exp(random.triangular(low, mode, high))))
                else:
                    row.append(float(random.triangular(variable.low, variable.typical, variable.high)))
            seen = observe(loop_at(given.loop, found, row))
            dark += seen.lamps[0] is LampState.DARK
            fed += seen.control is StandbyState.FED
        for share, count in ((spread.lamps[0].by_state["dark"], dark), (spread.control.by_state["fed"], fed)):  # type: ignore[union-attr]
            plain = count / PLAIN_SAMPLES
            error = max(0.01, (plain * (1.0 - plain) / PLAIN_SAMPLES) ** 0.5)
            self.assertAlmostEqual(share, plain, delta=3.0 * error)
        self.assertTrue(0.05 < spread.lamps[0].by_state["dark"] < 0.95)

    def test_the_figure_that_decides_is_named(self) -> None:
        """Here the start threshold; in a loop with points only nothing decides and one sample says all."""
        spread = judge_spread(uncertain(), seed=1)
        self.assertEqual(spread.deciding[0].path, "lamps[0].v_start_v")
        self.assertGreater(spread.deciding[0].correlation, 0.6)
        self.assertAlmostEqual(sum(spread.lamps[0].by_state.values()), 1.0, places=9)
        sure = judge_spread(Sheet(loop=loop()))
        self.assertEqual((sure.samples, sure.deciding, sure.all_well), (1, (), 1.0))

    def test_stopping_early_judges_what_is_done(self) -> None:
        """Ten of 64."""
        spread = judge_spread(uncertain(), progress=lambda done: done < 10)
        self.assertEqual(len(spread.seen), 10)

    def test_what_was_not_looked_at_has_not_failed(self) -> None:
        """Ended after ten of 64: ten samples, none of them failed, and not complete."""
        spread = judge_spread(uncertain(), progress=lambda done: done < 10)
        self.assertEqual((spread.samples, spread.failed, spread.is_complete), (10, 0, False))
        self.assertTrue(judge_spread(uncertain(), samples=8).is_complete)

    def test_weighted_percentiles(self) -> None:
        """Even weights give the usual ones; all weight on one value gives that value."""
        values = np.arange(1.0, 102.0)
        even = quantiles(values, np.full(101, 1 / 101))
        self.assertAlmostEqual(even.p50, 51.0, delta=0.6)
        self.assertAlmostEqual(even.p05, 6.0, delta=0.6)
        one = np.zeros(101)
        one[30] = 1.0
        self.assertAlmostEqual(quantiles(values, one).p50, 31.0, delta=1.0)


class Abreast(SimpleTestCase):
    """Samples that are looked at several at a time."""

    def test_few_first_then_more_and_the_order_stays(self) -> None:
        """It is seen soon to go on, no thread has much more to do than another, and ended it gives no more."""
        sizes: list[int] = []

        def work(some: Sequence[int]) -> list[int | None]:
            sizes.append(len(some))
            return [None if one % 7 == 0 else one for one in some]

        for total in (0, 1, 2, 5, 50, 64):
            sizes.clear()
            found = list(judged.each_abreast(range(total), work))
            self.assertEqual(found, [None if one % 7 == 0 else one for one in range(total)])
            self.assertLessEqual(max(sizes, default=0), judged.ABREAST)
        self.assertEqual(sorted(sizes), [1, 1, 1, 1, 2, 2, 4, 4, *[8] * 6])
        asked = iter([True] * 3 + [False] * 100)
        self.assertEqual(len(list(judged.each_abreast(range(50), work, goes_on=lambda: next(asked)))), 3)


class Narrowing(SimpleTestCase):
    """What was read."""

    @tag("long")
    def test_hidden_figures_are_found_again(self) -> None:
        """The 90 % interval holds the truth in 85 to 95 of 100 simulated loops."""
        given = uncertain(
            loop=loop(bypass=(capacitor(2.2e-7),)),
            figures={
                "bypass[0].c_f": ranged(1.5e-7, 2.2e-7, 3.2e-7, Source.DECLARED),
                "lamps[0].c_x_f": ranged(1e-8, 2.2e-8, 5e-8),
            },
        )
        found = variables(given)
        inside = 0
        for k in range(HIDDEN_LOOPS):
            truth = draw(found, 2, 5000 + k)[0]
            hidden = loop_at(given.loop, found, truth)
            random = np.random.default_rng(k)
            v = shown_by(replace(hidden, meter_r_ohm=1e7)).lamp_v_rms
            shown = v * (1.0 + 0.03 * random.normal()) + 0.3 * random.normal() * 0.3
            reading = Measurement(kind=Kind.LAMP_V, value=shown, meter_r_ohm=1e7)
            narrowed = {f.path: f for f in narrow(given, [reading], samples=NARROW_SAMPLES, seed=k).figures}
            entry = narrowed["bypass[0].c_f"].posterior
            inside += entry.p05 <= truth[0] <= entry.p95
        self.assertGreaterEqual(inside / HIDDEN_LOOPS, 0.85)
        self.assertLessEqual(inside / HIDDEN_LOOPS, 0.96)

    def test_a_reading_narrows_the_figure_it_speaks_of(self) -> None:
        """The interval shrinks, and the reading is explained."""
        given = uncertain()
        v = shown_by(replace(given.loop, meter_r_ohm=1e7)).lamp_v_rms
        found = narrow(given, [Measurement(kind=Kind.LAMP_V, value=v)], samples=96)
        self.assertTrue(found.is_explained)
        first = found.figures[0]
        self.assertLess(first.posterior.p95 / first.posterior.p05, 0.95 * first.prior.p95 / first.prior.p05)

    @tag("long")
    def test_what_nothing_explains_is_told_with_the_likeliest_wrong_assumption(self) -> None:
        """180 V where the loop can show 40 to 110."""
        given = uncertain()
        found = narrow(given, [Measurement(kind=Kind.LAMP_V, value=180.0)], samples=48)
        self.assertFalse(found.is_explained)
        self.assertIsNotNone(found.likeliest_wrong)
        with self.assertRaises(InputError):
            narrow(given, [])

    @tag("whole")
    def test_what_is_given_up_early_is_explained_by_no_later_draw(self) -> None:
        """From well inside what the loop can show to far outside: the same verdict as with every draw, and sooner."""
        tried = []
        for v in (100.0, 105.0, 140.0, 160.0, 300.0):
            readings = [Measurement(kind=Kind.LAMP_V, value=v)]
            found = narrow(uncertain(), readings, samples=16)
            with patch.object(narrowing, "_HOPELESS", inf):
                whole = narrow(uncertain(), readings, samples=16)
            self.assertEqual(found.is_explained, whole.is_explained, v)
            self.assertLessEqual(found.spread.samples, whole.spread.samples)
            tried.append(found.spread.samples)
        self.assertEqual(tried[-1], 32)
        self.assertEqual(max(tried), 64)

    def test_what_jumps_is_drawn_for_to_the_end(self) -> None:
        """A period read of a loop that no draw makes blink: no draw comes nearer, and none is given up."""
        given = uncertain(loop=loop(bypass=(capacitor(4.7e-7),)), figures={"bypass[0].c_f": ranged(4e-7, 4.7e-7, 5e-7)})
        found = narrow(given, [Measurement(kind=Kind.PERIOD, value=0.5)], samples=8)
        self.assertFalse(found.is_explained)
        self.assertEqual(found.spread.samples, 32)

    def test_where_nothing_settles_there_is_nothing_to_weigh(self) -> None:
        """It is told as that."""
        with patch.object(narrowing, "observe_each", lambda loops: [None] * len(loops)):
            with self.assertRaises(SolverError) as raised:
                narrow(uncertain(), [Measurement(kind=Kind.LAMP_V, value=60.0)], samples=8)
        self.assertEqual(raised.exception.code, "no_sample_settles")

    @tag("whole")
    def test_readings_that_there_was_no_time_to_explain_accuse_nobody(self) -> None:
        """Ended after some samples: judged by those, and no assumption is called wrong."""
        left = [40]

        def goes_on() -> bool:
            left[0] -= 1
            return left[0] >= 0

        readings = [Measurement(kind=Kind.LAMP_V, value=180.0)]
        found = narrow(uncertain(), readings, samples=64, goes_on=goes_on)
        self.assertEqual((found.spread.samples, found.spread.is_complete), (40, False))
        self.assertIsNone(found.likeliest_wrong)
        whole = narrow(uncertain(), readings, samples=64)
        self.assertTrue(whole.spread.is_complete)
        self.assertIsNotNone(whole.likeliest_wrong)

    def test_a_start_threshold_from_the_bench_becomes_a_measured_figure(self) -> None:
        """√2 times the supply at which it starts, less the bridge; a lamp without one refuses it."""
        changed = with_bench_tests(uncertain(), [Measurement(kind=Kind.START_SUPPLY_V, value=64.0)])
        figure = changed.figures["lamps[0].v_start_v"]
        self.assertAlmostEqual(figure.typical, 2.0**0.5 * 64.0 - 1.0, places=6)
        self.assertEqual(figure.source, Source.MEASURED)
        with self.assertRaises(InputError):
            with_bench_tests(Sheet(loop=loop(lamps=(DROPPER,))), [Measurement(kind=Kind.START_SUPPLY_V, value=64.0)])


class LeastLoad(SimpleTestCase):
    """How few lamps do."""

    def test_the_fewest_lamps_are_the_edge(self) -> None:
        """One fewer fails with typical figures, a bypass needs fewer, a feed that works only at the peak finds none."""
        given = uncertain(loop=loop(bypass=()), figures={"lamps[0].c_x_f": ranged(1.5e-8, 2.2e-8, 3e-8)})
        bare, bypassed = least_loads(given, 0, {"c": (CapacitorBypass(c_f=2.2e-7, r_parallel_ohm=1e6),)}, samples=8)
        assert bare.count_nominal is not None
        assert bypassed.count is not None
        for count, well in ((bare.count_nominal, True), (bare.count_nominal - 1, False)):
            seen = observe(replace(given.loop, lamps=(replace(LAMP, count=count),)))
            is_well = seen.lamps == (LampState.DARK,) and seen.control is StandbyState.FED
            self.assertEqual(is_well, well, count)
        self.assertLess(bypassed.count, bare.count_nominal)
        self.assertEqual(bypassed.watts, bypassed.count * LAMP.p_run_w)
        hungry = replace(given, loop=replace(given.loop, control=replace(RELAY, standby=replace(FEED, v_min_v=322.0))))
        self.assertIsNone(least_loads(replace(hungry, figures={}), 0, {}, samples=2)[0].count)


class Disturbances(SimpleTestCase):
    """Another load switching."""

    def test_what_lands_on_the_lamp_is_the_share_of_the_two_reservoirs(self) -> None:
        """Equal reservoirs share a step: 10 % of 325 V lands by half, within 10 %."""
        found = disturbance(loop())
        self.assertAlmostEqual(found.lands_v or 0.0, 0.5 * 0.1 * 325.27, delta=0.1 * 16.3)

    def test_the_largest_dark_step_is_the_edge(self) -> None:
        """A threshold just above what a 10 % step reaches stays dark at 10 % and not at 12 %."""
        at_rest = solve(loop()).lamps[0].v_dc_max or 0.0
        lands = disturbance(loop()).lands_v or 0.0
        edge = loop(lamps=(replace(LAMP, v_start_v=at_rest + 1.05 * lands, v_stop_v=20.0),))
        found = disturbance(edge)
        assert found.largest_dark_step_ratio is not None
        self.assertTrue(0.095 < found.largest_dark_step_ratio < 0.12, found)
        self.assertEqual(found.flashes_first, 0)

    def test_lamps_that_do_not_wait_or_cannot_start(self) -> None:
        """A blinking loop has no margin; a string has no start threshold to reach."""
        early = replace(LAMP, v_start_v=60.0, v_stop_v=30.0)
        self.assertIsNone(disturbance(loop(bypass=(), lamps=(early,))).largest_dark_step_ratio)
        self.assertEqual(disturbance(loop(lamps=(DROPPER,))).largest_dark_step_ratio, LARGEST_STEP_RATIO)


class Files(SimpleTestCase):
    """Sheets with ranges."""

    def test_ranges_come_from_the_sheet(self) -> None:
        """Any number may carry low, typical, high and source; a point is no variable."""
        written = sheet.write(uncertain())
        self.assertEqual([v.path for v in variables(sheet.read(written))], [v.path for v in variables(uncertain())])


class Blinking(SimpleTestCase):
    """What instruments show of lamps that blink."""

    @tag("long")
    def test_a_reading_of_a_blinking_loop_is_explained(self) -> None:
        """What the full solution of the loop gives is no surprise to its own ranges."""
        given = uncertain(loop=loop(bypass=(), lamps=(replace(LAMP, v_start_v=90.0, v_stop_v=40.0),)))
        given = replace(given, figures={k: f for k, f in given.figures.items() if not k.startswith("bypass")})
        read = solve(replace(given.loop, meter_r_ohm=1e7), with_power=False).lamp_v_rms
        found = narrow(given, [Measurement(kind=Kind.LAMP_V, value=read)])
        self.assertTrue(found.is_explained, found.distance)
