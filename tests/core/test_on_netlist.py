"""The netlist of the on state, run by Debian's circuit simulator, agrees with the march."""

from __future__ import annotations

from unittest import skipUnless

import numpy as np
from django.test import SimpleTestCase, tag

from ember_cli import simulator
from ember_core.errors import ModelLimitError
from ember_core.onstate import netlist as on_netlist
from ember_core.onstate.case import OnBleeder, OnResistor, Question
from ember_core.onstate.simulate import simulate
from tests.core.test_on_state import cases, named, solved


@tag("long")
@skipUnless(simulator.is_installed(), "the circuit simulator package is not installed")
class AgainstTheSimulator(SimpleTestCase):
    """One case of each kind of control."""

    def test_peak_rms_and_lamp_voltage_agree(self) -> None:
        """Within 3 % of peak and 3 % of rms: a leading edge with its bypass, a trailing edge, a window, a contact."""
        for part in (
            "40 W filament + bypass",
            "25 W filament + 1 uF",
            "relay-type control, open 0..35",
            "20 lamps sharing",
            "4 linear (direct AC)",
        ):
            case, found = named(part), solved(part)
            let_go = found.drop_out_deg or 180.0
            columns = simulator.run(on_netlist.write(case, let_go_deg=min(180.0, let_go))).columns
            t, i = columns["time"], columns["i(vi)"]
            rms = float(np.sqrt(np.trapezoid(i * i, t) / (t[-1] - t[0])))
            self.assertAlmostEqual(float(np.abs(i).max()) / found.i_peak_a, 1.0, delta=0.03, msg=part)
            self.assertAlmostEqual(rms / found.i_rms_a, 1.0, delta=0.03, msg=part)


class Written(SimpleTestCase):
    """What is in the text."""

    def test_every_case_but_those_that_fire_themselves_has_one(self) -> None:
        """A refusal says which question it was; each load leaves its parts."""
        for entry in cases():
            case = named(entry["case"]["name"])
            if case.question is Question.SUPPLY_GAP:
                with self.assertRaises(ModelLimitError) as refused:
                    on_netlist.write(case)
                self.assertEqual(refused.exception.path, "question")
            else:
                text = on_netlist.write(case)
                self.assertIn("S1 A CH gate 0 SWITCH", text)
                self.assertIn(".tran", text)

    def test_the_switch_opens_where_it_is_told(self) -> None:
        """Fired at 90 and let go at 150 degrees of 50 Hz: 3.33 ms closed in every 10 ms."""
        case = named("40 W filament + bypass")
        firing = case.control.firing_deg or 0.0
        line = next(line for line in on_netlist.write(case, let_go_deg=150.0).splitlines() if line.startswith("Vg"))
        delay, width, period = (float(line.split("(")[1].rstrip(")").split()[k]) for k in (2, 5, 6))
        self.assertAlmostEqual(delay, firing / 180.0 * 0.01, places=8)
        self.assertAlmostEqual(width, (150.0 - firing) / 180.0 * 0.01, delta=1e-6)
        self.assertAlmostEqual(period, 0.01)

    def test_bleeders_of_both_kinds_are_in_it(self) -> None:
        """A resistor by its ohms, an electronic one as a current below its cut-off."""
        from dataclasses import replace

        case = replace(
            named("25 W filament + 1 uF"),
            bypass=(
                OnResistor(count=2, r_ohm=10e3),
                OnBleeder(count=1, i_limit_a=0.02, r_on_ohm=500.0, v_cutoff_v=60.0),
            ),
        )
        text = on_netlist.write(case)
        self.assertIn("Rp0 SL 0 5000", text)
        self.assertIn("abs(V(SL)) < 60", text)
        self.assertGreater(simulate(case).i_rms_a, 0.0)
