"""The solver against the reference loops."""

from __future__ import annotations

from django.test import SimpleTestCase

from ember_core import sheet
from ember_core.offstate.solve import solve
from ember_core.offstate.states import LampState, StandbyState
from tests.core.reference import compared, document


class ReferenceLoops(SimpleTestCase):
    """Figures of an independent circuit simulator; origin and limits stand in the data file."""

    def test_every_loop_agrees_within_the_limits(self) -> None:
        """Each figure of each of the 22 loops lies within its stated limit."""
        self.assertEqual(len(document()["loops"]), 22)
        for entry in document()["loops"]:
            result = solve(sheet.read(entry["case"]).loop)
            for figure in compared(entry, result):
                with self.subTest(loop=figure.loop, quantity=figure.quantity):
                    self.assertTrue(figure.agrees, f"{figure.computed:.6g} against {figure.wanted:.6g}")

    def test_blinking_loops_are_called_blinking_and_no_others(self) -> None:
        """A loop blinks here exactly where the simulator saw flashes."""
        for entry in document()["loops"]:
            result = solve(sheet.read(entry["case"]).loop)
            blinks = any(lamp.state is LampState.BLINK for lamp in result.lamps)
            self.assertEqual(blinks, entry["blinks"], entry["case"]["name"])

    def test_the_typical_error_is_far_below_the_limits(self) -> None:
        """Half of all settled voltages and line currents agree within 0.3 %: numerics, not luck within wide limits."""
        errors = sorted(
            abs(figure.error_ratio)
            for entry in document()["loops"]
            if not entry["blinks"]
            for figure in compared(entry, solve(sheet.read(entry["case"]).loop))
            if figure.quantity in ("lamp_v_rms", "standby_v_dc", "line_i_rms_a")
        )
        self.assertLess(errors[len(errors) // 2], 0.003)

    def test_a_linear_lamp_without_bypass_starves_the_control_and_glows(self) -> None:
        """The loop that the reference calls 'starved or lit' is both."""
        entry = next(e for e in document()["loops"] if e["case"]["name"].startswith("linear lamp, no bypass"))
        result = solve(sheet.read(entry["case"]).loop)
        self.assertIs(result.control.state, StandbyState.STARVED)
        self.assertIs(result.lamps[0].state, LampState.GLOW)
