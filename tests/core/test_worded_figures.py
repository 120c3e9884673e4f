"""Figures that are words: through sheet, schema, shelf and files, with their source like any other figure."""

from __future__ import annotations

import json
from dataclasses import replace

import jsonschema
from django.test import SimpleTestCase

from ember_core import sheet
from ember_core.catalogue.entry import Category, Claim, Entry, check, piece
from ember_core.catalogue.formats import read_document, read_table, write_document, write_table
from ember_core.errors import InputError, InputErrors
from ember_core.parts import Control, Declared, PhaseMode, SetUp
from ember_core.quantities import Figure, Source, quantity_of, word_of
from ember_core.spread.variables import variables
from tests.core.loops import LAMP, RELAY, loop

SHEET = {
    "supply": {"v_rms": 230.0, "f_hz": 50.0},
    "control": {"phase": {"typical": "trailing", "source": "declared", "note": "leaflet"}, "set_up": "learns_load"},
    "lamps": [
        {
            "kind": "dimmable_driver",
            "count": 2,
            "c_bulk_f": 4.7e-6,
            "v_start_v": 100.0,
            "v_stop_v": 40.0,
            "p_run_w": 8.0,
            "dimming": "both",
        }
    ],
}


def entry(*claims: Claim) -> Entry:
    """A switch with what is said of it."""
    return Entry(
        maker="Hobmoor", name="Slider", category=Category.CONTROL, kind="switch", v_rms=230.0, claims=tuple(claims)
    )


def says(mode: PhaseMode, source: Source = Source.DECLARED, *, in_use: bool = True) -> Claim:
    """A claim on the phase mode."""
    figure = Figure.point(float(list(PhaseMode).index(mode)), source)
    return Claim(field="phase", figure=replace(figure, note="leaflet"), in_use=in_use)


class OnASheet(SimpleTestCase):
    """Read and written."""

    def test_words_are_read_with_their_source(self) -> None:
        """Bare or with source; the part knows them as words."""
        read = sheet.read(SHEET)
        self.assertIs(read.loop.control.phase_mode, PhaseMode.TRAILING)
        self.assertIs(read.loop.control.asks_for, SetUp.LEARNS_LOAD)
        self.assertIs(read.loop.lamps[0].declared, Declared.BOTH)
        self.assertIs(read.source_of("control.phase"), Source.DECLARED)

    def test_they_are_written_as_words_and_come_back(self) -> None:
        """And the published schema takes what is written, and refuses a made-up word."""
        written = sheet.write(sheet.read(SHEET))
        self.assertEqual(written["control"]["phase"]["typical"], "trailing")
        self.assertEqual(written["lamps"][0]["dimming"], "both")
        self.assertEqual(sheet.read(written), sheet.read(SHEET))
        jsonschema.validate(written, sheet.json_schema())
        made_up = json.loads(json.dumps(written).replace('"trailing"', '"sideways"'))
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate(made_up, sheet.json_schema())

    def test_a_made_up_word_is_refused_with_those_that_are_known(self) -> None:
        """Path, value and the list."""
        with self.assertRaises(InputErrors) as caught:
            sheet.read({**SHEET, "control": {"phase": "sideways"}})
        error = caught.exception.errors[0]
        self.assertEqual((error.code, error.path), ("unknown_word", "control.phase"))
        self.assertIn("trailing", str(error.params["known"]))
        with self.assertRaises(InputErrors):
            sheet.read({**SHEET, "control": {"phase": 17}})

    def test_no_sample_is_drawn_of_a_word(self) -> None:
        """Whatever range stands beside it."""
        given = sheet.read(SHEET)
        wide = {"control.phase": Figure(low=0.0, typical=2.0, high=4.0, source=Source.ASSUMED)}
        self.assertEqual(variables(replace(given, figures=wide)), ())

    def test_nobody_says_stays_unknown(self) -> None:
        """None, not the first word."""
        self.assertIsNone(Control().phase_mode)
        self.assertIsNone(LAMP.declared)
        self.assertIsNone(word_of(PhaseMode, None))
        self.assertIs(loop(control=replace(RELAY, phase=0.0)).control.phase_mode, PhaseMode.ON_OFF)

    def test_a_place_beyond_the_words_is_out_of_bounds(self) -> None:
        """Bounds are those of the list."""
        spec = next(spec for spec in Control.__dataclass_fields__.values() if spec.name == "phase")
        quantity = quantity_of(spec)
        assert quantity is not None
        self.assertEqual(quantity.check("automatic", "x"), 4)
        for value in (5, 1.5, -1):
            with self.assertRaises(InputError):
                quantity.check(value, "x")


class OnTheShelf(SimpleTestCase):
    """Claims and files."""

    def test_two_sources_can_contradict_each_other(self) -> None:
        """Both stay, one is in use; that one goes onto the sheet."""
        made = entry(says(PhaseMode.LEADING), says(PhaseMode.TRAILING, Source.MEASURED, in_use=False))
        check(made)
        self.assertEqual(piece(made)["phase"]["typical"], 1.0)

    def test_a_table_holds_the_word_and_reads_it_back(self) -> None:
        """Alone in its column; the number of its place is read too."""
        made = entry(says(PhaseMode.LEADING))
        text = write_table([made])
        self.assertIn(",leading,", text)
        self.assertEqual(read_table(text).entries, (made,))
        self.assertEqual(read_table(text.replace(",leading,", ",1,")).entries, (made,))

    def test_a_made_up_word_in_a_table_is_a_bad_row(self) -> None:
        """By line and column, with the words that are known."""
        text = write_table([entry(says(PhaseMode.LEADING))]).replace(",leading,", ",sideways,")
        (bad,) = read_table(text).bad
        self.assertEqual((bad.line, bad.column, bad.code), (2, "typical", "unknown_word"))
        self.assertIn("trailing", str(bad.params["known"]))

    def test_a_document_comes_back_the_same(self) -> None:
        """As the place of the word."""
        made = entry(says(PhaseMode.AUTOMATIC))
        self.assertEqual(read_document(write_document([made])).entries, (made,))
