"""A complaint beside the loop as it was found."""

from __future__ import annotations

from typing import Any

from django.test import SimpleTestCase

from ember_core import sheet
from ember_core.complaint import PERIOD_TOLD_RATIO, Agreement, compare, concerns_off_state
from ember_core.errors import InputError
from ember_core.survey.document import read_enquiry
from ember_core.survey.visit import Complaint

SUPPLY = {"v_rms": 230.0, "f_hz": 50.0}
RELAY = {
    "c_snubber_f": 4.7e-9,
    "standby": {"kind": "switching", "p_w": 0.2, "c_reservoir_f": 4.7e-6, "v_min_v": 40.0, "r_reservoir_ohm": 1e6},
}
BLINKING = {
    "kind": "rectifier",
    "count": 1,
    "c_x_f": 2.2e-8,
    "c_bulk_f": 4.7e-6,
    "r_start_ohm": 1e6,
    "v_start_v": {"low": 75.0, "typical": 80.0, "high": 85.0, "source": "assumed"},
    "v_stop_v": 40.0,
    "p_run_w": 6.0,
}


def loop_of(*bypass: dict[str, Any], control: Any = RELAY, lamp: Any = BLINKING) -> sheet.Sheet:
    """One lamp that blinks without a bypass."""
    return sheet.read({"supply": SUPPLY, "control": control, "bypass": list(bypass), "lamps": [lamp]})


class Comparing(SimpleTestCase):
    """What the computation says to it."""

    def test_what_it_computes_explains_the_rhythm_that_was_told(self) -> None:
        """Just inside the range widened by what a voice on the telephone leaves open, and just outside."""
        found = compare(Complaint.FLICKER_OFF, None, loop_of())
        self.assertEqual(found.agreement, Agreement.AGREES)
        self.assertIsNotNone(found.period_s)
        longest = found.period_s.p95 * PERIOD_TOLD_RATIO
        shortest = found.period_s.p05 / PERIOD_TOLD_RATIO
        for told, agreement in (
            (longest * 0.99, Agreement.AGREES),
            (longest * 1.01, Agreement.OTHER_RHYTHM),
            (shortest * 1.01, Agreement.AGREES),
            (shortest * 0.99, Agreement.OTHER_RHYTHM),
        ):
            self.assertEqual(compare(Complaint.FLICKER_OFF, told, loop_of()).agreement, agreement, told)

    def test_a_loop_that_stays_dark_explains_no_blinking(self) -> None:
        """Nor a rhythm."""
        found = compare(Complaint.FLICKER_OFF, 1.0, loop_of({"kind": "capacitor", "c_f": 4.7e-7}))
        self.assertEqual((found.agreement, found.doing_count, found.period_s), (Agreement.DISAGREES, 0, None))

    def test_blinking_is_no_glow_and_a_hungry_control_drops_out(self) -> None:
        """Each complaint is held beside its own state."""
        self.assertEqual(compare(Complaint.GLOW_OFF, None, loop_of()).agreement, Agreement.DISAGREES)
        hungry = {**RELAY, "standby": {**RELAY["standby"], "p_w": 1.5}}
        waits = {**BLINKING, "v_start_v": 320.0}
        found = compare(Complaint.DROP_OUT, None, loop_of(control=hungry, lamp=waits))
        self.assertEqual(found.agreement, Agreement.AGREES)

    def test_what_has_nothing_to_do_with_the_light_off_is_not_compared(self) -> None:
        """A wrong label is no matter of currents."""
        for complaint in (Complaint.UNKNOWN, Complaint.NONE, Complaint.MISLABELLED, Complaint.OTHER):
            self.assertFalse(concerns_off_state(complaint))
            with self.assertRaises(ValueError):
                compare(complaint, None, loop_of())


class Telling(SimpleTestCase):
    """The rhythm as it is taken down."""

    def test_just_inside_and_just_outside(self) -> None:
        """Twenty a second to one in five minutes."""
        for period_s in (0.05, 300.0):
            enquiry = read_enquiry({"complaint": "flicker_off", "flash_period_s": period_s})
            self.assertEqual(enquiry.flash_period_s, period_s)
        for period_s in (0.049, 301.0):
            with self.assertRaises(InputError) as caught:
                read_enquiry({"flash_period_s": period_s})
            self.assertEqual(caught.exception.code, "out_of_bounds")
        with self.assertRaises(InputError) as caught:
            read_enquiry({"flash_period_s": "often"})
        self.assertEqual(caught.exception.code, "not_a_number")
