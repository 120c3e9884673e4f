"""What is usual of each figure: every figure has a line, in its unit, wide enough for ordinary parts."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from django.test import SimpleTestCase

from ember_core.catalogue.class_defaults import class_defaults, typical_lamp
from ember_core.catalogue.entry import KINDS
from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Control, Supply
from ember_core.quantities import Quantity, quantity_of
from ember_core.usual import USUAL

CLASSES: set[type[Any]] = {
    *LAMP_CLASSES,
    *BYPASS_CLASSES,
    *FEED_CLASSES,
    Control,
    Cable,
    *(part for kinds in KINDS.values() for part in kinds.values()),
}


def typed_quantities() -> list[tuple[str, Quantity]]:
    """Every figure of a part that is typed as a number."""
    return [
        (spec.name, quantity)
        for part in sorted(CLASSES, key=lambda part: part.__name__)
        for spec in fields(part)
        if (quantity := quantity_of(spec)) is not None and not quantity.words and spec.name != "v0_v"
    ]


class UsualFigures(SimpleTestCase):
    """The table against the parts."""

    def test_every_figure_of_a_part_has_a_line_in_its_unit(self) -> None:
        """A field without one would take an ampere for a milliampere without asking."""
        for name, quantity in typed_quantities():
            with self.subTest(name):
                self.assertIn(name, USUAL)
                self.assertEqual(USUAL[name].unit, quantity.unit)

    def test_what_is_usual_overlaps_what_is_allowed(self) -> None:
        """And a bare number of one to a thousand can be a usual value in the unit that the field says."""
        for name, quantity in typed_quantities():
            usual, factor = USUAL[name], USUAL[name].factor
            with self.subTest(name):
                self.assertLess(usual.low, usual.high)
                self.assertLess(max(usual.low, quantity.low), min(usual.high, quantity.high))
                self.assertLessEqual(usual.low, 1000 * factor)
                self.assertGreaterEqual(usual.high, factor / 1000)

    def test_lamps_of_every_class_are_usual(self) -> None:
        """At the least and the most watts for which the class holds."""
        for entry in class_defaults():
            supply = Supply(v_rms=entry.region_v, f_hz=50.0)
            for watts in (entry.p_low_w, entry.typical_p_w, entry.p_high_w):
                _, figures = typical_lamp(entry.stage, supply, watts)
                for name, figure in figures.items():
                    if name == "dimming":
                        continue
                    with self.subTest(stage=entry.stage, watts=watts, name=name):
                        self.assertLessEqual(USUAL[name].low, figure.typical)
                        self.assertGreaterEqual(USUAL[name].high, figure.typical)

    def test_a_slip_of_a_thousand_is_outside_where_it_matters_most(self) -> None:
        """An ampere for a milliampere, a metre for a millimetre, a farad for a microfarad."""
        for name, slip in (("line_i", 2.1), ("depth_m", 35.0), ("c_f", 0.1), ("c_bulk_f", 4.7), ("i_hold_a", 25.0)):
            self.assertGreater(slip, USUAL[name].high, name)
