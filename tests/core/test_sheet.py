"""The loop sheet: without loss in both directions, and every wrong one refused with its path."""

from __future__ import annotations

import copy
import json
from typing import Any

import jsonschema
from django.test import SimpleTestCase
from hypothesis import given, settings

from ember_core import sheet
from ember_core.errors import InputErrors
from ember_core.quantities import Source
from tests.core.loops import dark_loops
from tests.core.reference import document

CASE: dict[str, Any] = document()["loops"][2]["case"]


def changed(path: str, value: Any) -> dict[str, Any]:
    """The example sheet with one entry changed; `...` removes it."""
    made = copy.deepcopy(CASE)
    target: Any = made
    steps = [int(step) if step.isdigit() else step for step in path.split("/")]
    for step in steps[:-1]:
        target = target[step]
    if value is ...:
        del target[steps[-1]]
    else:
        target[steps[-1]] = value
    return made


# What is wrong, how it is made, code and path of the error.
WRONG: tuple[tuple[dict[str, Any], str, str], ...] = (
    (changed("supply/v_rms", "230"), "not_a_number", "supply.v_rms"),
    (changed("supply/v_rms", True), "not_a_number", "supply.v_rms"),
    (changed("supply/v_rms", float("nan")), "not_finite", "supply.v_rms"),
    (changed("supply/f_hz", float("inf")), "not_finite", "supply.f_hz"),
    (changed("supply/v_rms", 2300), "out_of_bounds", "supply.v_rms"),
    (changed("supply/f_hz", ...), "missing", "supply.f_hz"),
    (changed("lamps/0/count", 0), "out_of_bounds", "lamps[0].count"),
    (changed("lamps/0/count", 1.5), "not_whole", "lamps[0].count"),
    (changed("lamps/0/c_bulk_f", -1e-6), "out_of_bounds", "lamps[0].c_bulk_f"),
    (changed("lamps/0/v_stop_v", 200), "stop_not_below_start", "lamps[0].v_stop_v"),
    (changed("lamps/0/kind", "candle"), "unknown_kind", "lamps[0].kind"),
    (changed("lamps", []), "no_lamps", "lamps"),
    (changed("lamps", {}), "not_a_list", "lamps"),
    (changed("lamps", ...), "missing", "lamps"),
    (changed("bypass/0/c_f", 1.0), "out_of_bounds", "bypass[0].c_f"),
    (changed("bypass", [CASE["bypass"][0]] * 7), "too_many", "bypass"),
    (changed("control/standby/p_w", None), "not_a_number", "control.standby.p_w"),
    (changed("control/has_neutral", True), "fed_twice", "control.has_neutral"),
    (changed("control", {"has_neutral": "yes"}), "not_a_flag", "control.has_neutral"),
    (changed("control", {"has_neutral": 1}), "not_a_flag", "control.has_neutral"),
    (changed("control/snubber", 1e-9), "unknown_key", "control.snubber"),
    (changed("sheet_version", 2), "unknown_version", "sheet_version"),
    (changed("name", "x" * 300), "bad_text", "name"),
    (changed("supply/v_rms", {"low": 240, "typical": 230, "high": 250}), "range_not_in_order", "supply.v_rms"),
    (changed("supply/v_rms", {"typical": 230, "source": "guessed"}), "unknown_source", "supply.v_rms.source"),
    (changed("meter_r_ohm", 0), "out_of_bounds", "meter_r_ohm"),
)


class Reading(SimpleTestCase):
    """In and out."""

    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(dark_loops())
    def test_a_loop_written_and_read_is_the_same_loop(self, drawn) -> None:
        """Nothing is lost or rounded, through text too."""
        text = json.dumps(sheet.write(sheet.Sheet(loop=drawn, name="röhre")))
        again = sheet.read_text(text)
        self.assertEqual(again.loop, drawn)
        self.assertEqual(again.name, "röhre")

    def test_range_source_and_note_survive(self) -> None:
        """A figure with its source comes back as it went."""
        figure = {"low": 95.0, "typical": 110.0, "high": 120.0, "source": "measured", "note": "bench, lamp 2"}
        given_sheet = sheet.read(changed("lamps/0/v_start_v", figure))
        self.assertEqual(given_sheet.loop.lamps[0].v_start_v, 110.0)
        self.assertEqual(given_sheet.source_of("lamps[0].v_start_v"), Source.MEASURED)
        self.assertEqual(sheet.write(given_sheet)["lamps"][0]["v_start_v"], figure)

    def test_a_bare_number_counts_as_assumed(self) -> None:
        """No source given means nobody vouches for it."""
        self.assertEqual(sheet.read(CASE).source_of("supply.v_rms"), Source.ASSUMED)

    def test_a_neutral_of_its_own_survives_and_is_said_only_where_it_is(self) -> None:
        """A sheet of before, that knows no such key, is written as it was."""
        self.assertNotIn("has_neutral", sheet.write(sheet.read(CASE))["control"])
        fed = sheet.read(changed("control", {"has_neutral": True}))
        self.assertIs(sheet.write(fed)["control"]["has_neutral"], True)
        self.assertEqual(sheet.read(sheet.write(fed)), fed)
        self.assertTrue(fed.loop.control.has_electronics)
        said = sheet.read(changed("control", {"has_neutral": False}))
        self.assertEqual(said, sheet.read(changed("control", {})))
        self.assertFalse(said.loop.control.has_electronics)


class Refusing(SimpleTestCase):
    """At the door."""

    def test_each_wrong_sheet_is_refused_with_code_and_path(self) -> None:
        """One wrong entry gives exactly one error, where it is."""
        for wrong, code, path in WRONG:
            with self.subTest(code=code, path=path):
                with self.assertRaises(InputErrors) as caught:
                    sheet.read(wrong)
                self.assertEqual([(e.code, e.path) for e in caught.exception.errors], [(code, path)])

    def test_all_errors_are_told_at_once(self) -> None:
        """Three mistakes are three errors, not the first of them."""
        wrong = changed("supply/v_rms", -5)
        wrong["lamps"][0]["count"] = 0
        wrong["control"]["typo"] = 1
        with self.assertRaises(InputErrors) as caught:
            sheet.read(wrong)
        self.assertEqual(len(caught.exception.errors), 3)

    def test_a_misspelt_key_is_answered_with_the_near_one(self) -> None:
        """The error names what was probably meant."""
        with self.assertRaises(InputErrors) as caught:
            sheet.read(changed("lamps/0/c_bulc_f", 1e-6))
        self.assertEqual(caught.exception.errors[0].params["near"], "c_bulk_f")

    def test_text_that_is_no_json_is_placed(self) -> None:
        """Line and column of the first thing that is wrong; NaN in text is refused too."""
        with self.assertRaises(InputErrors) as caught:
            sheet.read_text('{"supply":\n {')
        self.assertEqual(caught.exception.errors[0].params["line"], 2)
        with self.assertRaises(InputErrors):
            sheet.read_text('{"supply": NaN}')


class Schema(SimpleTestCase):
    """The published JSON Schema says the same as the reader."""

    def test_the_schema_is_one_and_accepts_the_reference_loops(self) -> None:
        """Valid itself, and all 22 loops valid by it."""
        schema = sheet.json_schema()
        jsonschema.Draft202012Validator.check_schema(schema)
        validator = jsonschema.Draft202012Validator(schema)
        for entry in document()["loops"]:
            validator.validate(entry["case"])

    def test_the_schema_refuses_what_the_reader_refuses(self) -> None:
        """Save for what a schema cannot say: order of a range, thresholds of one lamp, numbers that are no JSON."""
        validator = jsonschema.Draft202012Validator(sheet.json_schema())
        beyond = {"range_not_in_order", "stop_not_below_start"}
        for wrong, code, path in WRONG:
            if code == "not_finite":
                continue
            with self.subTest(code=code, path=path):
                self.assertEqual(validator.is_valid(wrong), code in beyond)
