"""A control of which only the class is known; and that a sample says of a feed what the full solution says."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from ember_core import sheet
from ember_core.catalogue.control_classes import control_classes, typical_control_data
from ember_core.errors import InputError
from ember_core.judgement import Verdict, judge
from ember_core.offstate.solve import solve
from ember_core.offstate.states import StandbyState
from ember_core.parts import CapacitiveFeed, Control, FilamentLamp, PhaseMode, SwitchingFeed
from ember_core.quantities import Source
from ember_core.spread.judged import judge_spread
from ember_core.spread.observe import observe
from tests.core.loops import LAMP, loop

DRAWN = 60
FILAMENTS = {"kind": "filament", "count": 2, "r_cold_ohm": 110.0}


def sheet_with(control: dict[str, object], v_rms: float = 230.0) -> sheet.Sheet:
    """Two filament lamps behind a control."""
    supply = {"v_rms": v_rms, "f_hz": 50.0}
    return sheet.read({"supply": supply, "control": control, "bypass": [], "lamps": [FILAMENTS]})


class Classes(SimpleTestCase):
    """The data and what becomes of it."""

    def test_every_class_can_be_judged_on_either_mains(self) -> None:
        """Read as a loop sheet, every figure a range in order and assumed."""
        for v_rms in (230.0, 120.0):
            for entry in control_classes():
                with self.subTest(entry.name, v_rms=v_rms):
                    given = sheet_with(typical_control_data(entry.name, v_rms), v_rms)
                    self.assertNotEqual(judge(given, with_meter=False).verdict, Verdict.UNKNOWN)
                    data = typical_control_data(entry.name, v_rms)
                    standby = data.pop("standby", {"kind": ""})
                    for figure in [*data.values(), *(value for key, value in standby.items() if key != "kind")]:
                        self.assertLessEqual(figure["low"], figure["typical"])
                        self.assertLessEqual(figure["typical"], figure["high"])
                        self.assertEqual(figure["source"], Source.ASSUMED.value)
                        self.assertIn("assumed", figure["note"])

    def test_a_switch_is_known_to_be_one_and_a_dimmer_s_edge_is_not(self) -> None:
        """What varies within a class stays unknown."""
        at = typical_control_data("wifi_switch", 230.0)["phase"]["typical"]
        self.assertEqual(list(PhaseMode)[int(at)], PhaseMode.ON_OFF)
        self.assertNotIn("phase", typical_control_data("wifi_dimmer", 230.0))

    def test_the_least_voltage_goes_with_the_mains(self) -> None:
        """30 to 60 V at 230 V, 20 to 30 V at 120 V."""
        for v_rms, low, high in ((230.0, 30.0, 60.0), (120.0, 20.0, 30.0)):
            found = typical_control_data("mesh_switch", v_rms)["standby"]["v_min_v"]
            self.assertEqual((found["low"], found["high"]), (low, high))

    def test_an_unknown_class_is_refused_with_those_there_are(self) -> None:
        """As data."""
        with self.assertRaises(InputError) as caught:
            typical_control_data("butler", 230.0)
        self.assertEqual(caught.exception.code, "unknown_kind")
        self.assertIn("mesh_switch", caught.exception.params["known"])


class SamplesAndSolution(SimpleTestCase):
    """Two ways to the state of a control."""

    def test_a_shunt_regulated_feed_with_power_to_spare_is_fed_in_the_samples_too(self) -> None:
        """Its voltage does not rise with the need: only its current is asked for more."""
        control = typical_control_data("timer", 230.0)
        for name, figure in control["standby"].items():
            if name not in ("kind", "r_in_ohm"):
                figure["low"] = figure["high"] = figure["typical"]
        given = sheet_with(control)
        self.assertEqual(judge(given).verdict, Verdict.DARK)
        self.assertEqual(judge_spread(given).all_well, 1.0)

    def test_the_state_of_a_sample_is_that_of_the_solution(self) -> None:
        """Over drawn feeds of both kinds, but where the power is within 2 % of a border."""
        rng = np.random.default_rng(41)
        lamps = (FilamentLamp(count=1, r_cold_ohm=120.0), replace(LAMP, v_start_v=400.0, v_stop_v=60.0))
        seen = set()
        for number in range(DRAWN):
            c_series_f, i_a = 10 ** rng.uniform(-7.3, -6.4), 10 ** rng.uniform(-3.0, -1.8)
            feed: CapacitiveFeed | SwitchingFeed = CapacitiveFeed(
                c_series_f=c_series_f, c_reservoir_f=2.2e-4, i_a=i_a, v_shunt_v=float(rng.uniform(12.0, 24.0))
            )
            if number % 2:
                feed = SwitchingFeed(p_w=10 ** rng.uniform(-1.3, -0.1), c_reservoir_f=4.7e-6, v_min_v=40.0)
            given = loop(bypass=(), lamps=(lamps[number // 2 % 2],), control=Control(c_snubber_f=1e-9, standby=feed))
            full = solve(given).control
            ratio = full.power_ratio or 0.0
            if min(abs(ratio - 1.0), abs(ratio - 1.25)) < 0.02:
                continue
            with self.subTest(number, feed=feed.kind, ratio=ratio):
                self.assertEqual(observe(given).control, full.state)
            seen.add((feed.kind, full.state))
        self.assertGreaterEqual(len(seen), 5, seen)
        self.assertIn(("capacitive", StandbyState.FED), seen)
