"""Bounds and figures."""

from __future__ import annotations

from dataclasses import fields, replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from ember_core.errors import EmberError, InputError, InputErrors
from ember_core.loop import MOST_BYPASSES, MOST_LAMP_GROUPS
from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Control, Supply
from ember_core.quantities import Figure, Quantity, Source, check_bounds, quantity_of
from tests.core.loops import EUROPE, LAMP, capacitor, loop

VOLTS = Quantity(unit="V", low=5.0, high=400.0, meaning="a voltage")
COUNT = Quantity(unit="1", low=1, high=200, meaning="a count", integer=True)


class Checking(SimpleTestCase):
    """One value at the door."""

    @settings(max_examples=200, deadline=None, derandomize=True)
    @given(st.one_of(st.floats(), st.integers(), st.text(), st.booleans(), st.none(), st.lists(st.integers())))
    def test_anything_is_either_a_number_within_bounds_or_an_input_error(self, value) -> None:
        """No other exception, and nothing outside the bounds comes through."""
        try:
            checked = VOLTS.check(value, "x")
        except InputError as error:
            self.assertEqual(error.path, "x")
        else:
            self.assertGreaterEqual(checked, 5.0)
            self.assertLessEqual(checked, 400.0)

    def test_both_bounds_are_allowed_and_just_beyond_is_not(self) -> None:
        """At 5 and 400 V, and a hair outside."""
        for value in (5, 5.0, 400.0):
            self.assertEqual(VOLTS.check(value, "x"), value)
        for value in (4.999999, 400.00001):
            with self.assertRaises(InputError) as caught:
                VOLTS.check(value, "x")
            self.assertEqual(caught.exception.params["low"], 5.0)

    def test_a_count_is_whole(self) -> None:
        """3.0 is three; 2.5 is nothing."""
        self.assertEqual(COUNT.check(3.0, "n"), 3)
        self.assertIsInstance(COUNT.check(3.0, "n"), int)
        with self.assertRaises(InputError):
            COUNT.check(2.5, "n")

    def test_every_numeric_field_of_every_part_is_bounded(self) -> None:
        """Finite bounds in order and a meaning, or a figure could be anything."""
        for part in (Supply, Cable, Control, *LAMP_CLASSES, *BYPASS_CLASSES, *FEED_CLASSES):
            for spec in fields(part):
                quantity = quantity_of(spec)
                if quantity is None:
                    self.assertIn(spec.name, ("standby", "has_neutral"))
                    continue
                self.assertLess(quantity.low, quantity.high, f"{part.__name__}.{spec.name}")
                self.assertLess(quantity.high, 1e12)
                self.assertTrue(quantity.meaning)

    def test_a_part_is_checked_field_by_field_with_its_path(self) -> None:
        """The first field that fails is named below the part's path."""
        with self.assertRaises(InputError) as caught:
            check_bounds(replace(LAMP, c_bulk_f=-1.0), "lamps[3]")
        self.assertEqual(caught.exception.path, "lamps[3].c_bulk_f")
        check_bounds(replace(LAMP, r_start_ohm=None), "lamps[0]")


class Loops(SimpleTestCase):
    """What a loop may be."""

    def test_a_loop_made_in_code_is_checked_like_one_read(self) -> None:
        """The same door for both."""
        for wrong, code, path in (
            ({"lamps": ()}, "no_lamps", "lamps"),
            ({"lamps": (LAMP,) * (MOST_LAMP_GROUPS + 1)}, "too_many_groups", "lamps"),
            ({"bypass": (capacitor(1e-7),) * (MOST_BYPASSES + 1)}, "too_many_bypasses", "bypass"),
            ({"supply": replace(EUROPE, v_rms=1000.0)}, "out_of_bounds", "supply.v_rms"),
            ({"meter_r_ohm": 0.0}, "out_of_bounds", "meter_r_ohm"),
            ({"lamps": (replace(LAMP, v_stop_v=110.0),)}, "stop_not_below_start", "lamps[0].v_stop_v"),
        ):
            with self.subTest(code=code), self.assertRaises(InputError) as caught:
                loop(**wrong)
            self.assertEqual((caught.exception.code, caught.exception.path), (code, path))

    def test_the_largest_allowed_loop_is_solved(self) -> None:
        """Twelve groups and six bypasses are slow, not impossible."""
        from ember_core.offstate.solve import solve

        lamps = tuple(replace(LAMP, c_x_f=1e-9 * (k + 1)) for k in range(MOST_LAMP_GROUPS))
        result = solve(loop(lamps=lamps, bypass=(capacitor(1e-7),) * MOST_BYPASSES), with_power=False)
        self.assertEqual(len(result.lamps), MOST_LAMP_GROUPS)
        self.assertEqual(len(result.shares.bypass_a), MOST_BYPASSES)

    def test_errors_are_data(self) -> None:
        """Code, path and parameters, and a list where there are several."""
        error = EmberError("some_code", path="a.b", value_v=3.0)
        self.assertEqual((error.code, error.path, error.params["value_v"]), ("some_code", "a.b", 3.0))
        several = InputErrors([InputError("one"), InputError("two")])
        self.assertEqual([entry.code for entry in several.errors], ["one", "two"])

    def test_a_figure_without_range_is_its_value(self) -> None:
        """Low, typical and high are the same, and it counts as assumed."""
        figure = Figure.point(4.7e-6)
        self.assertEqual((figure.low, figure.high, figure.source), (4.7e-6, 4.7e-6, Source.ASSUMED))
