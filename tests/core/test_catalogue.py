"""The shelf as data: entries, open formats, and the typical figures of each class."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import replace
from unittest import TestCase

from ember_core.catalogue.class_defaults import class_defaults, typical_lamp, typical_lamp_data
from ember_core.catalogue.entry import Category, Claim, Entry, check, claims_of, fields_of, piece
from ember_core.catalogue.formats import COLUMNS, read_document, read_table, write_document, write_table
from ember_core.errors import InputError, InputErrors
from ember_core.parts import CableType, Supply, cable_of
from ember_core.quantities import Figure, Source
from ember_core.sheet import read
from tests.core.loops import AMERICA, EUROPE


def figure(value: float, source: Source = Source.DECLARED, note: str = "leaflet, page 2") -> Figure:
    return Figure(low=value * 0.9, typical=value, high=value * 1.1, source=source, note=note)


LAMP = Entry(
    maker="Oxlip Works",
    name="Test bulb 5 W",
    category=Category.LAMP,
    kind="rectifier",
    v_rms=230.0,
    note='with a comma, and a quote"',
    claims=(
        Claim(field="c_bulk_f", figure=figure(4.7e-6)),
        Claim(field="v_start_v", figure=figure(90.0)),
        Claim(field="v_start_v", figure=figure(104.0, Source.MEASURED, "bench"), in_use=False),
        Claim(field="v_stop_v", figure=figure(40.0)),
        Claim(field="p_run_w", figure=figure(5.0)),
    ),
)
CONTROL = Entry(
    maker="Pellan & Sedge",
    name="Test relay",
    category=Category.CONTROL,
    kind="switching",
    v_rms=230.0,
    claims=(
        Claim(field="c_snubber_f", figure=figure(4.7e-9)),
        Claim(field="p_min_w", figure=figure(10.0)),
        Claim(field="standby.p_w", figure=figure(0.2)),
        Claim(field="standby.c_reservoir_f", figure=figure(4.7e-6)),
        Claim(field="standby.v_min_v", figure=figure(40.0)),
    ),
)
BOX = Entry(
    maker="Hobmoor",
    name="Test box",
    category=Category.BOX,
    kind="box",
    claims=tuple(Claim(field=name, figure=figure(0.05)) for name in ("depth_m", "width_m", "height_m")),
)
ENTRIES = (LAMP, CONTROL, BOX)


def codes(entry: Entry) -> list[tuple[str, str]]:
    try:
        check(entry)
    except InputErrors as errors:
        return [(error.code, error.path) for error in errors.errors]
    return []


class EntryTest(TestCase):
    """What makes a part."""

    def test_whole_parts_are_accepted(self) -> None:
        """A lamp with two sources of one figure, a control with its feed, a box."""
        for entry in ENTRIES:
            self.assertEqual(codes(entry), [])

    def test_each_fault_is_named_where_it_is(self) -> None:
        """Every way in which an entry can be wrong has its code and place."""
        start = LAMP.claims[1]
        faults = [
            (replace(LAMP, maker=" "), ("bad_text", "maker")),
            (replace(LAMP, v_rms=None), ("missing", "v_rms")),
            (replace(LAMP, v_rms=400.0), ("out_of_bounds", "v_rms")),
            (replace(LAMP, kind="toaster"), ("unknown_kind", "kind")),
            (replace(LAMP, claims=LAMP.claims[1:]), ("missing", "figures[c_bulk_f]")),
            (replace(LAMP, claims=(*LAMP.claims, start)), ("not_one_in_use", "figures[v_start_v]")),
            (
                replace(LAMP, claims=(*LAMP.claims, Claim(field="wattage", figure=figure(5.0)))),
                ("unknown_key", "figures[wattage]"),
            ),
            (
                replace(LAMP, claims=(*LAMP.claims, Claim(field="r_in_ohm", figure=figure(1e9)))),
                ("out_of_bounds", "figures[r_in_ohm]"),
            ),
            (
                replace(
                    LAMP,
                    claims=(*LAMP.claims, Claim(field="r_in_ohm", figure=replace(figure(22.0), low=30.0))),
                ),
                ("range_not_in_order", "figures[r_in_ohm]"),
            ),
            (
                replace(LAMP, claims=(*LAMP.claims[:3], Claim(field="v_stop_v", figure=figure(95.0)), LAMP.claims[4])),
                ("stop_not_below_start", "figures.v_stop_v"),
            ),
        ]
        for entry, wanted in faults:
            self.assertIn(wanted, codes(entry))

    def test_the_piece_holds_what_is_in_use_and_makes_a_loop(self) -> None:
        """The measured value that is not in use stays out; the piece reads as part of a loop sheet."""
        made = read(
            {
                "supply": {"v_rms": 230.0, "f_hz": 50.0},
                "control": piece(CONTROL),
                "lamps": [{**piece(LAMP), "count": 2}],
            }
        )
        self.assertEqual(made.loop.lamps[0].v_start_v, 90.0)
        self.assertEqual(made.figures["lamps[0].v_start_v"].source, Source.DECLARED)
        self.assertEqual(made.loop.control.p_min_w, 10.0)
        self.assertEqual(made.loop.control.standby.p_w, 0.2)

    def test_claims_come_back_from_a_piece(self) -> None:
        """A piece of a loop sheet becomes the claims it was made of."""
        used = {claim.field: claim.figure for claim in LAMP.claims if claim.in_use}
        self.assertEqual({claim.field: claim.figure for claim in claims_of(piece(LAMP))}, used)
        self.assertIn("standby.p_w", {claim.field for claim in claims_of(piece(CONTROL))})

    def test_a_smart_lamp_is_a_part_but_no_lamp_of_a_loop(self) -> None:
        """It may stand on the shelf; a loop with it is refused with the reason."""
        smart = Entry(maker="Quillfen", name="Listening bulb", category=Category.LAMP, kind="smart", v_rms=230.0)
        self.assertEqual(codes(smart), [])
        with self.assertRaises(InputErrors) as caught:
            read(
                {
                    "supply": {"v_rms": 230.0, "f_hz": 50.0},
                    "control": {},
                    "lamps": [{**piece(smart), "count": 1}],
                }
            )
        self.assertEqual([error.code for error in caught.exception.errors], ["smart_lamp_refused"])

    def test_a_cable_by_the_metre(self) -> None:
        """Capacitance is length times capacitance a metre."""
        made = cable_of(
            CableType(c_line_to_switched_f_per_m=1.2e-10, c_switched_to_neutral_f_per_m=1e-10), drop_m=20.0, run_m=30.0
        )
        self.assertAlmostEqual(made.c_line_to_switched_f, 2.4e-9)
        self.assertAlmostEqual(made.c_switched_to_neutral_f, 3e-9)


class FormatTest(TestCase):
    """CSV and JSON, out and in."""

    def test_both_formats_give_back_what_was_written(self) -> None:
        """Nothing is lost or changed on the way, both sources of a figure included."""
        for written in (read_table(write_table(ENTRIES)), read_document(write_document(ENTRIES))):
            self.assertEqual(written.bad, ())
            self.assertEqual(written.entries, ENTRIES)

    def test_every_bad_cell_is_told_by_line_and_column(self) -> None:
        """A table with faults in several rows names each of them."""
        rows = list(csv.reader(io.StringIO(write_table((LAMP,)))))
        column = {name: k for k, name in enumerate(COLUMNS)}
        rows[1][column["typical"]] = "4.7 µF"
        rows[2][column["source"]] = "rumour"
        rows[3][column["unit"]] = "kV"
        rows[4][column["in_use"]] = "perhaps"
        rows[5][column["v_rms"]] = "120.0"
        rows.append(rows[1][:5])
        out = io.StringIO()
        csv.writer(out).writerows(rows)
        read_back = read_table(out.getvalue())
        found = {(row.line, row.column, row.code) for row in read_back.bad}
        self.assertLessEqual(
            {
                (2, "typical", "not_a_number"),
                (3, "source", "unknown_source"),
                (4, "unit", "wrong_unit"),
                (5, "in_use", "not_yes_or_no"),
                (6, "v_rms", "differs_from_first_row"),
                (7, "", "wrong_cell_count"),
            },
            found,
        )

    def test_errors_of_the_whole_part_point_at_their_row(self) -> None:
        """A stop threshold above the start is shown at the row of the stop threshold, two in use at the second."""
        wrong = replace(LAMP, claims=(*LAMP.claims[:3], Claim(field="v_stop_v", figure=figure(95.0)), LAMP.claims[4]))
        self.assertEqual(
            [(row.line, row.column, row.code) for row in read_table(write_table((wrong,))).bad],
            [(5, "typical", "stop_not_below_start")],
        )
        twice = replace(LAMP, claims=tuple(replace(claim, in_use=True) for claim in LAMP.claims))
        self.assertEqual(
            [(row.line, row.column, row.code) for row in read_table(write_table((twice,))).bad],
            [(4, "in_use", "not_one_in_use")],
        )

    def test_other_files_are_refused_whole(self) -> None:
        """Wrong columns, no CSV, no JSON, another version, a part twice."""
        part = json.loads(write_document((BOX,)))["parts"][0]
        for reading, code in (
            (read_table("maker;name\n"), "wrong_columns"),
            (read_table(""), "wrong_columns"),
            (read_document("{"), "not_json"),
            (read_document("[]"), "wrong_parts_document"),
            (read_document('{"parts_version": 2, "parts": []}'), "wrong_parts_document"),
            (read_document(json.dumps({"parts_version": 1, "parts": [part, part]})), "twice_in_file"),
            (read_document(json.dumps({"parts_version": 1, "parts": [{**part, "colour": "red"}]})), "unknown_key"),
            (read_document(json.dumps({"parts_version": 1, "parts": [{**part, "category": "hat"}]})), "unknown_kind"),
        ):
            self.assertEqual([row.code for row in reading.bad], [code])


# What the trade's ranges allow, for each stage and mains: the bounds that the data must stay within.
STATED = {
    ("rectifier", 230.0): {"c_x_f": (0.0, 1e-7), "r_in_ohm": (10.0, 47.0), "r_start_ohm": (3.3e5, 2e6)}
    | {"v_start_v": (50.0, 120.0), "c_bulk_f/W": (7e-7, 1.2e-6)},
    ("rectifier", 120.0): {"c_x_f": (0.0, 1e-7), "v_start_v": (35.0, 70.0), "c_bulk_f/W": (2e-6, 4e-6)},
    ("dimmable_driver", 230.0): {"c_x_f": (4.7e-8, 2.2e-7), "v_start_v": (50.0, 120.0)},
    ("dimmable_driver", 120.0): {"c_x_f": (4.7e-8, 2.2e-7), "v_start_v": (35.0, 70.0)},
    ("pfc_driver", 230.0): {"c_x_f": (4.7e-8, 2.2e-7), "v_start_v": (50.0, 120.0)},
    ("pfc_driver", 120.0): {"c_x_f": (4.7e-8, 2.2e-7), "v_start_v": (35.0, 70.0)},
    ("capacitive_dropper", 230.0): {"c_series_f": (2.0e-7, 1e-6), "r_discharge_ohm": (4.7e5, 1e6)}
    | {"c_smooth_f": (2.2e-6, 1e-5), "r_string_parallel_ohm": (1e5, 4.7e5), "v_string_v": (40.0, 150.0)},
    ("capacitive_dropper", 120.0): {"c_smooth_f": (2.2e-6, 1e-5), "r_string_parallel_ohm": (1e5, 4.7e5)},
    ("linear", 230.0): {"v_string_v": (0.7 * 325.3, 0.85 * 325.3)},
    ("linear", 120.0): {"v_string_v": (0.7 * 169.8, 0.85 * 169.8)},
    ("filament", 230.0): {"r_cold_ohm": (230.0**2 / 40 / 15.01, 230.0**2 / 40 / 9.99)},
    ("filament", 120.0): {"r_cold_ohm": (120.0**2 / 40 / 15.01, 120.0**2 / 40 / 9.99)},
    ("halogen", 230.0): {"r_cold_ohm": (230.0**2 / 35 / 15.01, 230.0**2 / 35 / 9.99)},
    ("halogen", 120.0): {"r_cold_ohm": (120.0**2 / 35 / 15.01, 120.0**2 / 35 / 9.99)},
    ("led_tube", 230.0): {"v_start_v": (50.0, 120.0), "c_bulk_f/W": (7e-7, 1.2e-6)},
    ("led_tube", 120.0): {"v_start_v": (35.0, 70.0), "c_bulk_f/W": (2e-6, 4e-6)},
    ("led_tube_choke", 230.0): {"v_start_v": (50.0, 120.0), "r_in_ohm": (10.0, 200.0)},
    ("led_tube_choke", 120.0): {"v_start_v": (35.0, 70.0), "r_in_ohm": (10.0, 200.0)},
    ("iron_core_halogen", 230.0): {"l_magnetising_h": (2.0, 20.0), "r_winding_ohm": (5.0, 60.0)},
    ("iron_core_halogen", 120.0): {"l_magnetising_h": (0.54, 5.5), "r_winding_ohm": (1.3, 16.5)},
    ("iron_core_led", 230.0): {"l_magnetising_h": (2.0, 20.0), "r_winding_ohm": (5.0, 60.0)},
    ("iron_core_led", 120.0): {"l_magnetising_h": (0.54, 5.5), "r_winding_ohm": (1.3, 16.5)},
    ("electronic_transformer", 230.0): {"c_bulk_f": (2.2e-8, 3.3e-7), "v_start_v": (30.0, 90.0)},
    ("electronic_transformer", 120.0): {"c_bulk_f": (2.2e-8, 3.3e-7), "v_start_v": (30.0, 90.0)},
}


class ClassDefaultTest(TestCase):
    """Typical figures of each input stage and mains."""

    def test_every_class_has_stated_ranges_and_lies_within_them(self) -> None:
        """Low, typical and high of every figure of every class: in order, within its range, within its field."""
        for entry in class_defaults():
            supply = EUROPE if entry.region_v == 230.0 else AMERICA
            kind, figures = typical_lamp(entry.stage, supply, entry.typical_p_w)
            known = fields_of(Category.LAMP, kind)
            stated = STATED[entry.stage, entry.region_v]
            for name, found in figures.items():
                self.assertLessEqual(found.low, found.typical)
                self.assertLessEqual(found.typical, found.high)
                known[name][0].check(found.low, name)
                known[name][0].check(found.high, name)
                is_marked = name in {"p_run_w", "p_rated_w"}
                self.assertEqual(found.source, Source.DECLARED if is_marked else Source.ASSUMED)
                self.assertTrue(found.note)
                per_watt = stated.get(f"{name}/W")
                low, high = per_watt or stated.get(name, (found.low, found.high))
                factor = entry.typical_p_w if per_watt else 1.0
                self.assertGreaterEqual(found.low, low * factor * 0.999, (entry.stage, name))
                self.assertLessEqual(found.high, high * factor * 1.001, (entry.stage, name))
        self.assertEqual({(entry.stage, entry.region_v) for entry in class_defaults()}, set(STATED))

    def test_every_class_makes_a_lamp_of_a_loop(self) -> None:
        """Nothing that a kind needs is missing, and its stop threshold lies below its start at their typicals."""
        for entry in class_defaults():
            supply = EUROPE if entry.region_v == 230.0 else AMERICA
            lamp = {**typical_lamp_data(entry.stage, supply), "count": 3}
            given = {"supply": {"v_rms": supply.v_rms, "f_hz": supply.f_hz}, "control": {}, "lamps": [lamp]}
            self.assertEqual(read(given).loop.lamps[0].kind, entry.kind)

    def test_watts_scale_what_depends_on_them(self) -> None:
        """Twice the watts: twice the reservoir, half the filament's resistance; the threshold stays."""
        five, ten = (typical_lamp("rectifier", EUROPE, p_w)[1] for p_w in (5.0, 10.0))
        self.assertAlmostEqual(ten["c_bulk_f"].typical, 2.0 * five["c_bulk_f"].typical)
        self.assertEqual(ten["v_start_v"], five["v_start_v"])
        hot_to_cold = 230.0**2 / 60.0 / typical_lamp("filament", EUROPE, 60.0)[1]["r_cold_ohm"].typical
        self.assertAlmostEqual(hot_to_cold, 12.0, delta=0.01)

    def test_watts_that_nobody_knows_are_a_guess_and_what_goes_with_them_is_as_wide(self) -> None:
        """Never called marked; no lamp of the class has a figure outside of what is taken."""
        for entry in class_defaults():
            supply = EUROPE if entry.region_v == 230.0 else AMERICA
            kind, unknown = typical_lamp(entry.stage, supply)
            for name, figure in unknown.items():
                for value in (figure.low, figure.typical, figure.high):
                    fields_of(Category.LAMP, kind)[name][0].check(value, name)
            _, usual = typical_lamp(entry.stage, supply, entry.typical_p_w)
            (watts,) = [figure for name, figure in unknown.items() if name in {"p_run_w", "p_rated_w"}]
            self.assertEqual((watts.source, watts.typical), (Source.ASSUMED, entry.typical_p_w))
            self.assertNotIn("marked", watts.note)
            self.assertEqual((watts.low, watts.high), (entry.p_low_w, entry.p_high_w))
            for p_w in (entry.p_low_w, entry.p_high_w):
                for name, known in typical_lamp(entry.stage, supply, p_w)[1].items():
                    if name in {"p_run_w", "p_rated_w"}:
                        continue
                    self.assertLessEqual(unknown[name].low, known.low * 1.000001, (entry.stage, name))
                    self.assertGreaterEqual(unknown[name].high, known.high * 0.999999, (entry.stage, name))
            self.assertEqual(
                {name: one.typical for name, one in usual.items()}, {n: o.typical for n, o in unknown.items()}
            )

    def test_mains_between_the_classes_take_the_nearer(self) -> None:
        """100, 110 and 127 V are of the 120 V class; 220 and 240 V of the other."""
        for v_rms, region_v, high in (
            (100.0, 120.0, 70.0),
            (127.0, 120.0, 70.0),
            (220.0, 230.0, 120.0),
            (240.0, 230.0, 120.0),
        ):
            figures = typical_lamp("rectifier", Supply(v_rms=v_rms, f_hz=50.0))[1]
            self.assertAlmostEqual(figures["v_start_v"].high, high * v_rms / region_v)

    def test_what_is_not_covered_is_refused(self) -> None:
        """An unknown stage, and watts beyond the class, are errors with their place."""
        for stage, p_w, path in (("plasma", None, "stage"), ("linear", 500.0, "p_w")):
            with self.assertRaises(InputError) as caught:
                typical_lamp(stage, EUROPE, p_w)
            self.assertEqual(caught.exception.path, path)

    def test_ratings_are_never_drawn(self) -> None:
        """Price and rated power of a part are marked as ratings in its fields."""
        ratings = {name for name, (quantity, _) in fields_of(Category.BYPASS, "resistor").items() if quantity.is_rating}
        self.assertLessEqual({"p_rated_w", "v_limit_v", "price"}, ratings)
