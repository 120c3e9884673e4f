"""A lamp of which a leaflet tells watts and dimming only."""

from __future__ import annotations

from dataclasses import replace

from django.test import SimpleTestCase

from ember_core.catalogue.class_defaults import class_defaults, region_of, typical_lamp
from ember_core.catalogue.entry import KINDS, Category, Claim, Entry, check, piece
from ember_core.catalogue.leaflet import filled
from ember_core.errors import InputError, InputErrors
from ember_core.parts import Supply
from ember_core.quantities import Figure, Source


def declared(field: str, value: float) -> Claim:
    """A figure off the leaflet."""
    return Claim(field=field, figure=Figure.point(value, Source.DECLARED))


def lamp(*claims: Claim, kind: str = "rectifier", v_rms: float = 230.0) -> Entry:
    """A lamp of a made-up maker."""
    return Entry(maker="Hobmoor", name="Globe", category=Category.LAMP, kind=kind, v_rms=v_rms, claims=claims)


class FromALeaflet(SimpleTestCase):
    """What is said stays declared, the rest is the range of the class, assumed."""

    def test_watts_alone_make_a_whole_lamp(self) -> None:
        """Refused without, whole with; nothing that was not said is called declared."""
        entry = lamp(declared("p_run_w", 6.0))
        with self.assertRaises(InputErrors):
            check(entry)
        whole = filled(entry)
        check(whole)
        by_field = {claim.field: claim.figure for claim in whole.claims}
        self.assertEqual((by_field["p_run_w"].source, by_field["p_run_w"].typical), (Source.DECLARED, 6.0))
        for name in ("c_x_f", "c_bulk_f", "v_start_v", "v_stop_v", "r_start_ohm"):
            self.assertIs(by_field[name].source, Source.ASSUMED)
            self.assertLess(by_field[name].low, by_field[name].high)
            self.assertNotEqual(by_field[name].note, "")

    def test_an_input_capacitor_that_nobody_mentions_is_not_none(self) -> None:
        """It carries off-state current past the lamp; absent it would look better than it is."""
        made = piece(filled(lamp(declared("p_run_w", 6.0))))
        self.assertGreater(made["c_x_f"]["high"], 5e-8)

    def test_watts_that_nobody_mentions_are_the_whole_class(self) -> None:
        """Not one guess: its ranges hold those of the least and of the largest lamp."""
        unsaid = {claim.field: claim.figure for claim in filled(lamp()).claims}
        self.assertEqual((unsaid["p_run_w"].low, unsaid["p_run_w"].high), (0.5, 40.0))
        for watts in (0.5, 40.0):
            for claim in filled(lamp(declared("p_run_w", watts))).claims:
                if claim.field != "p_run_w":
                    self.assertLessEqual(unsaid[claim.field].low, claim.figure.low)
                    self.assertGreaterEqual(unsaid[claim.field].high, claim.figure.high)

    def test_every_class_is_filled_whole_at_both_mains(self) -> None:
        """At the least, the usual and the most watts."""
        for entry in class_defaults():
            field = "p_run_w" if "p_run_w" in {figure.field for figure in entry.figures} else "p_rated_w"
            first = next(e for e in class_defaults() if (e.kind, e.region_v) == (entry.kind, entry.region_v))
            for watts in (first.p_low_w, first.typical_p_w, first.p_high_w):
                with self.subTest(kind=entry.kind, watts=watts):
                    check(filled(lamp(declared(field, watts), kind=entry.kind, v_rms=entry.region_v)))

    def test_a_stated_threshold_takes_the_other_along(self) -> None:
        """A start of 40 V with the class's stop of 42 V could not be."""
        entry = filled(lamp(declared("p_run_w", 6.0), declared("v_start_v", 40.0)))
        check(entry)
        by_field = {claim.field: claim.figure for claim in entry.claims}
        self.assertLess(by_field["v_stop_v"].typical, 40.0)

    def test_watts_beyond_the_class_are_refused(self) -> None:
        """Just inside and just outside."""
        filled(lamp(declared("p_run_w", 40.0)))
        with self.assertRaises(InputError) as caught:
            filled(lamp(declared("p_run_w", 40.1)))
        self.assertEqual(caught.exception.path, "figures[p_run_w]")

    def test_what_is_no_lamp_stays_as_it_is(self) -> None:
        """And a lamp that says everything too."""
        box = Entry(maker="Hobmoor", name="Box", category=Category.BOX, kind="box")
        self.assertIs(filled(box), box)
        whole = filled(lamp(declared("p_run_w", 6.0)))
        self.assertEqual(filled(whole).claims, whole.claims)
        self.assertIn("smart", KINDS[Category.LAMP])
        smart = replace(lamp(), kind="smart")
        self.assertIs(filled(smart), smart)


class AControl(SimpleTestCase):
    """Of which the leaflet tells its loads and its edge."""

    def control(self, *claims: Claim, kind: str = "switching", v_rms: float = 230.0) -> Entry:
        """A control of a made-up maker."""
        return Entry(
            maker="Pellan & Sedge", name="Relay", category=Category.CONTROL, kind=kind, v_rms=v_rms, claims=claims
        )

    def test_what_no_leaflet_tells_is_the_range_of_all_classes_with_its_feed(self) -> None:
        """From the thriftiest mesh switch to the hungriest Wi-Fi dimmer; the edge stays unknown."""
        entry = self.control(declared("p_max_led_w", 100.0))
        with self.assertRaises(InputErrors):
            check(entry)
        whole = filled(entry)
        check(whole)
        by_field = {claim.field: claim.figure for claim in whole.claims}
        self.assertIs(by_field["p_max_led_w"].source, Source.DECLARED)
        power = by_field["standby.p_w"]
        self.assertEqual((power.low, power.high, power.source), (0.05, 0.4, Source.ASSUMED))
        self.assertEqual((by_field["standby.v_min_v"].low, by_field["standby.v_min_v"].high), (30.0, 60.0))
        self.assertNotIn("phase", by_field)

    def test_what_is_stated_stays(self) -> None:
        """A stand-by power off the leaflet is declared, and a point."""
        whole = filled(self.control(declared("standby.p_w", 0.15)))
        power = next(claim.figure for claim in whole.claims if claim.field == "standby.p_w")
        self.assertEqual((power.low, power.high, power.source), (0.15, 0.15, Source.DECLARED))

    def test_a_switch_without_a_feed_needs_nothing(self) -> None:
        """It is whole as it is."""
        entry = self.control(kind="switch")
        self.assertEqual([claim.field for claim in filled(entry).claims if claim.field.startswith("standby")], [])


class AtTheMainsOfTheSite(SimpleTestCase):
    """A class spans 100 to 127 V, or 200 to 250 V; the figures follow the mains that there is."""

    def test_no_string_or_threshold_is_above_the_peak_that_there_is(self) -> None:
        """At the least mains of either class, for every stage."""
        for v_rms in (100.0, 110.0, 127.0, 200.0, 240.0, 250.0):
            supply = Supply(v_rms=v_rms, f_hz=50.0)
            for one in class_defaults():
                if one.region_v != region_of(v_rms):
                    continue
                _, figures = typical_lamp(one.stage, supply)
                for name, figure in figures.items():
                    if name.endswith("_v"):
                        self.assertLess(figure.high, supply.v_peak, f"{one.stage} {name} at {v_rms} V")

    def test_volts_go_with_the_mains_within_a_class(self) -> None:
        """At 115 V as many per cent lower than at 120 V; microfarads a watt stay."""
        _, there = typical_lamp("rectifier", Supply(v_rms=120.0, f_hz=60.0), 6.0)
        _, here = typical_lamp("rectifier", Supply(v_rms=115.0, f_hz=60.0), 6.0)
        self.assertAlmostEqual(here["v_start_v"].typical / there["v_start_v"].typical, 115.0 / 120.0)
        self.assertEqual(here["c_bulk_f"], there["c_bulk_f"])
