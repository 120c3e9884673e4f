"""Figures of a loop that blinks: one definition, the mean over whole flashes, wherever they are told."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase, tag

from ember_core.loop import Loop
from ember_core.offstate import blink, closed_form
from ember_core.offstate.network import build
from ember_core.offstate.solve import solve
from ember_core.offstate.states import LampState
from ember_core.parts import Lamp, RectifierLamp
from ember_core.quantities import Figure, Source
from ember_core.sheet import Sheet
from ember_core.spread.judged import judge_spread
from ember_core.spread.observe import observe, shown_by
from ember_core.spread.predictions import predict
from tests.core.loops import LAMP, loop

# Few flashes are watched of each of many loops, with a coarser step.
QUICK_V, QUICK_A, QUICK_S = 0.04, 0.08, 0.06
# Reservoirs made smaller: the flash itself does not get shorter with them.
SMALL = 0.08
DRAWN = 100


def blinking(start: float, stop: float, bulk: float, **changed: object) -> Loop:
    """A loop without bypass whose lamp starts and stops."""
    lamp: Lamp = replace(LAMP, v_start_v=start, v_stop_v=stop, c_bulk_f=bulk)
    return loop(bypass=(), lamps=(lamp,), **changed)


class OneDefinition(SimpleTestCase):
    """Full solution, quick look, meters."""

    def test_the_quick_look_gives_what_the_full_solution_gives(self) -> None:
        """Volts, amperes and period, over fast and slow rhythms."""
        for start, stop, bulk in ((80.0, 40.0, 3.3e-6), (110.0, 45.0, 4.7e-6), (60.0, 30.0, 2.2e-6), (100, 40, 2e-5)):
            given = blinking(start, stop, bulk)
            full = solve(given, with_power=False)
            with self.subTest(start=start, bulk=bulk, period=full.lamps[0].flash_period_s):
                self.assertEqual(full.lamps[0].state, LampState.BLINK)
                shown = observe(given).shown
                self.assertAlmostEqual(shown.lamp_v_rms / full.lamp_v_rms, 1.0, delta=QUICK_V)
                self.assertAlmostEqual(shown.line_i_rms_a / full.line_i_rms_a, 1.0, delta=QUICK_A)
                self.assertAlmostEqual(shown.period_s / full.lamps[0].flash_period_s, 1.0, delta=QUICK_S)
                self.assertAlmostEqual(shown_by(given).lamp_v_rms, shown.lamp_v_rms, places=6)

    def test_the_mean_does_not_hang_on_where_the_recording_began(self) -> None:
        """Over whole flashes: a march that begins elsewhere shows the same."""
        network = build(blinking(110.0, 45.0, 4.7e-6))
        closed = closed_form.evaluate(network)
        seen = [blink.observe(network, closed, 200, replace(blink.FULL, left_out=left_out)) for left_out in (2, 3, 5)]
        volts = [float(np.sqrt(np.mean(one.whole.v**2))) for one in seen]
        self.assertLess(max(volts) / min(volts), 1.02)

    def test_smaller_reservoirs_keep_the_rhythm_of_the_true_ones(self) -> None:
        """Where they are taken many cycles still lie between flashes; period, volts and amperes stay the same."""
        given = blinking(110.0, 45.0, 4.7e-6 * 12)
        network = build(given)
        closed = closed_form.evaluate(network)
        patient = blink.observe(network, closed, 400, replace(blink.FULL, longest_s=400.0))
        hurried = blink.observe(network, closed, 400)
        self.assertEqual((patient.reservoir_ratio, hurried.reservoir_ratio), (1.0, 1 / 3))
        row = network.lamp_row[0]
        self.assertAlmostEqual(hurried.period_s[row] / patient.period_s[row], 1.0, delta=SMALL)
        for pick in (lambda r: r.v, lambda r: r.i_line):
            ratio = np.sqrt(np.mean(pick(hurried.whole) ** 2) / np.mean(pick(patient.whole) ** 2))
            self.assertAlmostEqual(float(ratio), 1.0, delta=SMALL)

    def test_the_energy_of_a_flash_is_that_of_the_reservoir_as_it_is(self) -> None:
        """Half of C times the difference of the squared thresholds, also where a small one was marched with."""
        for bulk in (3.3e-6, 6e-5):
            given = blinking(110.0, 45.0, bulk)
            energy = solve(given, with_power=False).lamps[0].flash_energy_j
            self.assertAlmostEqual(energy / (0.5 * bulk * (110.0**2 - 45.0**2)), 1.0, places=9)


@tag("long")
class WithinItsOwnRange(SimpleTestCase):
    """What is told of the loop as typed lies in what is told of it over its ranges."""

    @tag("whole")
    def test_the_nominal_figure_of_drawn_loops_lies_within_its_range(self) -> None:
        """A hundred loops with and without blinking lamps: current, volts, and what a meter will show."""
        random = np.random.default_rng(7)
        blinked = 0
        for k in range(DRAWN):
            given = self.drawn(random)
            nominal = solve(given.loop, with_power=False)
            blinked += nominal.lamps[0].state is LampState.BLINK
            spread = judge_spread(given, samples=24, seed=k)
            with self.subTest(k=k, state=nominal.lamps[0].state):
                self.within(nominal.lamp_v_rms, spread.lamp_v_rms, QUICK_V)
                self.within(nominal.line_i_rms_a, spread.line_i_rms_a, QUICK_A)
            if k % 10 == 0:
                for reading in predict(given, samples=12, seed=k).readings:
                    metered = solve(replace(given.loop, meter_r_ohm=reading.r_ohm), with_power=False)
                    self.within(metered.lamp_v_rms, reading.v_rms, QUICK_V)
        self.assertGreater(blinked, DRAWN // 10)

    def within(self, value: float, found: object, share: float) -> None:
        """Between the ends, the quick look's own error allowed."""
        self.assertGreaterEqual(value * (1 + share), found.p05)  # type: ignore[attr-defined]
        self.assertLessEqual(value * (1 - share), found.p95)  # type: ignore[attr-defined]

    def drawn(self, random: np.random.Generator) -> Sheet:
        """A loop with a lamp of the trade, every figure of it within a range."""
        start = float(random.uniform(55.0, 120.0))
        lamp = RectifierLamp(
            count=int(random.integers(1, 5)),
            c_x_f=float(random.uniform(1e-9, 1e-7)),
            c_bulk_f=float(random.uniform(1.5e-6, 1e-5)),
            r_start_ohm=float(random.uniform(3e5, 2e6)),
            v_start_v=start,
            v_stop_v=float(start * random.uniform(0.35, 0.6)),
            p_run_w=float(random.uniform(2.0, 9.0)),
        )
        given = loop(bypass=(), lamps=(lamp,))
        figures = {
            f"lamps[0].{name}": Figure(
                low=0.8 * (value := getattr(lamp, name)), typical=value, high=1.25 * value, source=Source.ASSUMED
            )
            for name in ("c_x_f", "c_bulk_f", "v_start_v", "r_start_ohm")
        }
        return Sheet(loop=given, figures=figures)
