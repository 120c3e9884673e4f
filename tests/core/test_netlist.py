"""The netlist of a loop, run by Debian's circuit simulator, agrees with the solver."""

from __future__ import annotations

from unittest import skipUnless

import numpy as np
from django.test import SimpleTestCase

from ember_cli import simulator
from ember_core import netlist
from ember_core.offstate.solve import solve
from ember_core.parts import LinearLamp
from tests.core.loops import AMERICA, DROPPER, FEED, LAMP, RELAY, capacitor, loop

# Settling takes about a second of simulated time from these start values.
SIMULATED_S = 2.5


@skipUnless(simulator.is_installed(), "the circuit simulator package is not installed")
class AgainstTheSimulator(SimpleTestCase):
    """Loops that the reference file does not hold."""

    def check(self, drawn) -> None:
        """Compare rms voltage, rms current and reservoir with the limits of the reference."""
        solved = solve(drawn, with_power=False)
        start_v = max((lamp.v_dc or 0.0) for lamp in solved.lamps)
        columns = simulator.run(netlist.write(drawn, duration_s=SIMULATED_S, start_v=start_v)).columns
        v_rms = float(np.sqrt(np.mean(columns["v(sl)"] ** 2)))
        i_rms = float(np.sqrt(np.mean(columns["i(vi)"] ** 2)))
        self.assertAlmostEqual(solved.lamp_v_rms, v_rms, delta=max(0.03 * v_rms, 0.4))
        self.assertAlmostEqual(solved.line_i_rms_a, i_rms, delta=max(0.03 * i_rms, 5e-5))
        if solved.control.standby_v_dc:
            self.assertAlmostEqual(solved.control.standby_v_dc / float(np.mean(columns["v(vc)"])), 1.0, delta=0.03)

    def test_a_bypass_loop_at_120_v(self) -> None:
        """330 nF behind a relay control at 120 V 60 Hz."""
        from dataclasses import replace

        lamp = replace(LAMP, c_bulk_f=1e-5, v_start_v=60.0, v_stop_v=25.0)
        control = replace(RELAY, standby=replace(FEED, v_min_v=25.0))
        self.check(loop(supply=AMERICA, control=control, bypass=(capacitor(3.3e-7),), lamps=(lamp,)))

    def test_mixed_lamps_with_a_linear_one(self) -> None:
        """A dropper, a rectifier lamp and a current-limited linear lamp on one gang."""
        linear = LinearLamp(count=2, r_in_ohm=800.0, v_string_v=200.0, i_limit_a=0.03)
        self.check(loop(bypass=(capacitor(2.2e-7),), lamps=(DROPPER, LAMP, linear)))

    def test_free_text_never_enters_a_netlist(self) -> None:
        """Netlists can hold commands, so only numbers of the loop go in."""
        text = netlist.write(loop())
        self.assertNotIn("shell", text)
        self.assertEqual(text.count(".control"), 1)
