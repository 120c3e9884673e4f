"""Words, figures and forms as the server gives them."""

from __future__ import annotations

import json

from django.test import SimpleTestCase
from django.utils import translation

from ember_core.errors import InputError
from judging.services.kinds import all_kinds, field_of
from judging.services.spreading import figure_words
from judging.services.words import finding_words, input_words
from loops.documents import SUPPLY_AND_TOLERANCE
from tests.core.reference import document
from tests.server.base import BYPASS, CONTROL, LAMP, ServerTest, draft, fit
from wording.messages import Message
from wording.quantities import engineering, in_words, significant, with_unit
from wording.texts import catalogue, error_text, fill, vocabulary_of


def example_sheet(v_rms: object = 230.0):
    """A sheet with sources."""
    from ember_core import sheet

    supply = {"v_rms": v_rms, "f_hz": 50.0}
    return sheet.read({"supply": supply, "control": CONTROL, "bypass": [BYPASS], "lamps": [LAMP]})


class Quantities(SimpleTestCase):
    """Figures for people."""

    def test_prefixes_over_their_whole_range(self) -> None:
        """From picofarad to megohm, each rounded to three digits."""
        for value, unit, words in (
            (4.7e-12, "F", "4.70 pF"),
            (1e-9, "F", "1.00 nF"),
            (4.7e-6, "F", "4.70 µF"),
            (513e-6, "A", "513 µA"),
            (0.608, "W", "608 mW"),
            (230.0, "V", "230 V"),
            (22000.0, "Ω", "22.0 kΩ"),
            (1e6, "Ω", "1.00 MΩ"),
            (-0.0123, "A", "-12.3 mA"),
            (999.9, "V", "1.00 kV"),
        ):
            self.assertEqual(engineering(value, unit), words)

    def test_three_digits_whatever_the_size(self) -> None:
        """No exponent and no false precision."""
        self.assertEqual(significant(1234.5), "1230")
        self.assertEqual(significant(0.0999999), "0.100")
        self.assertEqual(significant(0.0), "0")

    def test_the_ending_of_a_name_gives_the_unit(self) -> None:
        """Long endings before short ones; counts and words as they are."""
        for name, value, words in (
            ("lamp_v", 40.5, "40.5 V"),
            ("closed_lamp_peak_v", 53.07, "53.1 V"),
            ("string_i_a", 2e-5, "20.0 µA"),
            ("flash_energy_j", 0.00792, "7.92 mJ"),
            ("r_leak_ohm", 150e3, "150 kΩ"),
            ("c_parallel_f", 1.22e-7, "122 nF"),
            ("flash_period_s", 0.188, "0.188 s"),
            ("start_margin_ratio", float("inf"), "> 99"),
            ("power_ratio", 340.0, "> 99"),
            ("assumed_count", 12, "12"),
            ("key", "c_bulk_f", "c_bulk_f"),
            ("flag", True, "True"),
        ):
            self.assertEqual(in_words(name, value), words, name)

    def test_a_quantity_by_its_symbol(self) -> None:
        """Ratios bare, kelvin as degrees Celsius, the rest with prefix."""
        self.assertEqual(with_unit(4.0, "1"), "4")
        self.assertEqual(with_unit(353.15, "K"), "80.0 °C")
        self.assertEqual(with_unit(4.7e-6, "F"), "4.70 µF")


class Texts(SimpleTestCase):
    """The catalogue."""

    def test_every_error_sentence_can_be_filled(self) -> None:
        """Placeholders are names of parameters, and filling them leaves no brace."""
        for code, text in catalogue("errors").items():
            names = Message("en", text).names
            filled = error_text(code, dict.fromkeys(names, 1.0))
            self.assertNotIn("{", filled, code)

    def test_an_unknown_code_still_says_what_to_do(self) -> None:
        """Never an empty message, and a missing parameter is no crash."""
        self.assertEqual(error_text("no_such_code", {}), catalogue("errors")["invalid"])
        self.assertEqual(error_text("out_of_bounds", {}), catalogue("errors")["invalid"])

    def test_sentences_use_the_words_of_the_region(self) -> None:
        """The same caution in both vocabularies."""
        text = catalogue("cautions")["bypass_at_the_luminaire"]
        self.assertIn("switched live", fill(text, {}, vocabulary_of("eu")))
        self.assertIn("load wire", fill(text, {}, vocabulary_of("na")))
        self.assertEqual(vocabulary_of("nowhere"), vocabulary_of("eu"))


class Inputs(SimpleTestCase):
    """The inputs behind a finding."""

    def test_a_path_finds_value_and_meaning(self) -> None:
        """In lamps, control, feed and supply; what is not there is left out."""
        given = example_sheet()
        for path, value in (
            ("lamps[0].v_start_v", 110.0),
            ("control.standby.p_w", 0.2),
            ("bypass[0].c_f", 1e-7),
            ("supply.f_hz", 50.0),
        ):
            quantity, found = field_of(path, given)
            self.assertEqual(found, value)
            self.assertTrue(quantity.meaning)
        for path in ("lamps[0].nothing", "bypass[0]", "control", "lamps[0].kind", "?"):
            self.assertIsNone(field_of(path, given), path)

    def test_range_and_note_are_told(self) -> None:
        """And a bare number is assumed, with no range."""
        given = example_sheet()
        words = input_words("lamps[0].v_start_v", given)
        self.assertEqual((words["range"], words["source"], words["note"]), ("95.0 V to 120 V", "measured", "bench"))
        bare = input_words("lamps[0].v_stop_v", given)
        self.assertEqual((bare["range"], bare["source"]), ("", "assumed"))
        with translation.override("de"):
            self.assertEqual(input_words("lamps[0].v_start_v", given)["range"], "95,0 V bis 120 V")
            self.assertEqual(input_words("lamps[0].v_start_v", given)["note"], "bench")

    def test_where_the_supply_is_from_is_told_in_the_language(self) -> None:
        """What the program wrote into the sheet is translated; the sheet itself stays as it is."""
        stated = {"typical": 230.0, "source": "declared", "note": SUPPLY_AND_TOLERANCE}
        given = example_sheet(v_rms=stated)
        self.assertEqual(input_words("supply.v_rms", given)["note"], "site supply and its tolerance")
        with translation.override("de"):
            self.assertEqual(input_words("supply.v_rms", given)["note"], "Netz des Ortes mit seiner Toleranz")

    def test_the_control_is_named_once_in_every_language(self) -> None:
        """A figure whose meaning names it is of the control already; one of a lamp group says of which."""
        given = example_sheet()
        for spoken in ("en", "de"):
            with translation.override(spoken):
                self.assertEqual(figure_words("control.standby.p_w", given)["where"], "", spoken)
                self.assertIn("1", figure_words("lamps[0].v_start_v", given)["where"])

    def test_a_finding_gets_all_its_words(self) -> None:
        """Title, figure, text and formula, with nothing left to fill."""
        finding = {
            "code": "lamps_dark_below_start",
            "severity": "good",
            "params": {"group": 1, "reservoir_v": 51.8, "v_start_v": 110.0, "start_margin_ratio": 2.12},
            "refs": ["lamps[0].v_start_v"],
        }
        words = finding_words(finding, example_sheet(), "eu")
        self.assertEqual((words["figure"], words["verdict"]), ("51.8 V of 110 V", "dark"))
        self.assertIn("2.12 times", words["text"])
        self.assertEqual(len(words["inputs"]), 1)


class Kinds(ServerTest):
    """What the forms are made of."""

    def test_kinds_and_schema_agree(self) -> None:
        """Every field of a kind is a property of the published schema, with the same bounds."""
        from ember_core import sheet

        schema = sheet.json_schema()
        lamps = {
            entry["properties"]["kind"]["const"]: entry["properties"]
            for entry in schema["properties"]["lamps"]["items"]["anyOf"]
        }
        for kind in all_kinds():
            if kind["category"] != "lamp":
                continue
            for field in kind["fields"]:
                bare = lamps[kind["kind"]][field["name"]]["anyOf"][0]
                if field["words"]:
                    self.assertEqual(bare["anyOf"][0]["enum"], [word["word"] for word in field["words"]])
                    bare = bare["anyOf"][1]
                self.assertEqual((bare["minimum"], bare["maximum"]), (field["low"], field["high"]), field["name"])

    def test_the_address_gives_every_category(self) -> None:
        """And no field that only starts a transient run."""
        kinds = self.api.get("/api/v1/kinds/").json()
        self.assertEqual({kind["category"] for kind in kinds}, {"lamp", "bypass", "standby", "control", "cable"})
        self.assertNotIn("v0_v", [field["name"] for kind in kinds for field in kind["fields"]])

    def test_the_interface_names_every_kind(self) -> None:
        """A kind without a name would show its code."""
        from django.conf import settings

        texts = json.loads((settings.ROOT / "texts" / "en" / "web" / "bench.json").read_text())
        for kind in all_kinds():
            if kind["category"] in ("lamp", "bypass", "standby"):
                self.assertIn(kind["kind"], texts["kinds"])


class Answers(ServerTest):
    """Errors as data."""

    def test_a_problem_has_type_title_status_code_and_entries(self) -> None:
        """The same shape for every refusal."""
        answers = [
            self.api.get("/api/v1/loops/00000000-0000-4000-8000-000000000000/"),
            self.api.post("/api/v1/sites/", {}, format="json"),
            self.api.post("/api/v1/judge/", {"sheet": {"supply": 1}}, format="json"),
            self.api.post("/api/v1/judge/", "{", content_type="application/json"),
            self.api.post("/api/v1/judge/", "a=1", content_type="application/x-www-form-urlencoded"),
            self.api.delete("/api/v1/sites/"),
        ]
        self.assertEqual([answer.status_code for answer in answers], [404, 400, 422, 400, 415, 405])
        for answer in answers:
            body = answer.json()
            self.assertEqual(answer["Content-Type"], "application/problem+json")
            self.assertLessEqual({"type", "title", "status", "code", "errors"}, set(body))
            self.assertEqual(body["status"], answer.status_code)
            for entry in body["errors"]:
                self.assertTrue(entry["text"])

    def test_every_reference_loop_is_judged_over_the_api(self) -> None:
        """As the core judges it: the same verdict words, and no figure that JSON cannot hold."""
        for entry in document()["loops"][::4]:
            answer = self.api.post("/api/v1/judge/", {"sheet": entry["case"]}, format="json")
            self.assertEqual(answer.status_code, 200, entry["case"]["name"])
            json.dumps(answer.json(), allow_nan=False)
            blinks = any(lamp["state"] == "blink" for lamp in answer.json()["figures"]["lamps"])
            self.assertEqual(blinks, entry["blinks"])

    def test_several_errors_of_a_draft_come_together(self) -> None:
        """Each with its own path."""
        wrong = draft(lamps=[fit({**LAMP, "count": 0, "v_stop_v": -1})])
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/judge/", wrong, format="json")
        paths = {entry["path"] for entry in answer.json()["errors"]}
        self.assertEqual(paths, {"lamps[0].count", "lamps[0].v_stop_v"})

    def test_a_solver_s_failure_is_told_with_its_residual(self) -> None:
        """Never a number in its place."""
        from unittest import mock

        from ember_core.errors import SolverError

        failure = SolverError("not_settled", residual_v=0.4, half_cycles=10)
        with mock.patch("judging.services.judging.judge", side_effect=failure):
            answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/judge/", draft(), format="json")
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "not_solved"))
        self.assertIn("400 mV", answer.json()["title"])
        self.assertIsInstance(InputError("missing", path="x"), Exception)

    def test_too_many_judgements_a_minute_are_slowed_down(self) -> None:
        """With the time to wait."""
        from unittest import mock

        from rest_framework.throttling import ScopedRateThrottle

        with mock.patch.object(ScopedRateThrottle, "THROTTLE_RATES", {"judge": "2/min", "sign_in": "2/min"}):
            sheet_given = {"sheet": {"supply": {"v_rms": 230, "f_hz": 50}}}
            statuses = [self.api.post("/api/v1/judge/", sheet_given, format="json") for _ in range(3)]
        self.assertEqual([answer.status_code for answer in statuses], [200, 200, 429])
        self.assertGreater(int(statuses[2]["Retry-After"]), 0)


class Trail(ServerTest):
    """Who changed what."""

    def test_the_trail_of_a_gang_names_who_and_when_newest_first(self) -> None:
        """And needs to be told of which record."""
        self.keep()
        self.keep(version=2, bypasses=[])
        rows = self.api.get("/api/v1/changes/", {"subject": str(self.gang.pk)}).json()["results"]
        self.assertEqual([(row["action"], row["who"]) for row in rows], [("kept", "The technician")] * 2)
        self.assertGreater(rows[0]["at"], rows[1]["at"])
        self.assertEqual(self.api.get("/api/v1/changes/").status_code, 400)
        self.assertEqual(self.api.get("/api/v1/changes/", {"subject": "x"}).status_code, 400)

    def test_a_gang_is_called_in_the_language_of_whoever_reads(self) -> None:
        """Where nothing else names it: by its loop and its place."""
        from audit.models import Change
        from staff.trail import called

        change = Change(subject_kind="gang", subject_id=self.gang.pk)
        for spoken, word in (("en", "gang 1"), ("de", "Wippe 1")):
            with translation.override(spoken):
                self.assertEqual(called([change]), {str(self.gang.pk): f"{self.loop}, {word}"})

    def test_a_refused_write_leaves_no_entry(self) -> None:
        """Change and trail are one transaction."""
        self.keep()
        self.keep(version=1)
        rows = self.api.get("/api/v1/changes/", {"subject": str(self.gang.pk)}).json()
        self.assertEqual(rows["count"], 1)

    def test_a_circuit_s_label_is_corrected_with_who_and_when(self) -> None:
        """The old label stays readable in the trail."""
        from audit.models import Change

        address = f"/api/v1/circuits/{self.circuit.pk}/"
        answer = self.api.patch(address, {"label_as_found": "kiln, light only", "version": 1}, format="json")
        self.assertEqual((answer.status_code, answer.json()["version"]), (200, 2))
        entry = Change.objects.get(subject_id=self.circuit.pk)
        self.assertEqual((entry.before["label_as_found"], entry.after["label_as_found"]), ("kiln", "kiln, light only"))
        moved = self.api.patch(address, {"site": str(self.other_site.pk), "version": 2}, format="json")
        self.assertEqual(moved.json()["site"], str(self.site.pk))


class Shelf(ServerTest):
    """Parts over the API."""

    def test_parts_are_filtered_by_category_and_supply(self) -> None:
        """And come with the source of each figure."""
        from demo.management.commands.load_demo import load_shelf

        load_shelf(None)
        lamps = self.api.get("/api/v1/parts/", {"category": "lamp", "v_rms": 120}).json()
        self.assertEqual({part["v_rms"] for part in lamps}, {120.0})
        for part in self.api.get("/api/v1/parts/").json():
            flat = [*part["figures"].values(), *(part["figures"].get("standby") or {}).values()]
            for figure in flat:
                if isinstance(figure, dict) and "typical" in figure:
                    self.assertIn(figure["source"], {"declared", "measured", "assumed"})


class Units(ServerTest):
    """SI values as people read them."""

    def test_each_ending_has_its_unit(self) -> None:
        """Prefixes where they help, degrees of temperature in Celsius, shares in percent."""
        for name, value, said in (
            ("c_f", 2.2e-7, "220 nF"),
            ("i_peak_a", 0.0152, "15.2 mA"),
            ("r_1_ohm", 22e3, "22.0 kΩ"),
            ("surface_k", 363.15, "90.0 °C"),
            ("turn_off_deg", 150.0, "150°"),
            ("steep_v_per_s", 1.2e8, "120 V/µs"),
            ("share_ratio", 0.984, "98 %"),
            ("left_ratio", 0.5, "50 %"),
            ("room_m", 0.01, "10.0 mm"),
            ("cools_s", 13.46, "13.5 s"),
            ("most_count", 7, "7"),
            ("i2t_a2s", 0.947, "0.947 A²s"),
            ("error_short_s", 7.7e-4, "770 µs"),
            ("low_light_ratio", 0.034, "3 %"),
            ("reason", "blink", "blink"),
        ):
            self.assertEqual(in_words(name, value), said, name)

    def test_words_of_a_figure_have_labels(self) -> None:
        """Every word of every part, as the forms offer them."""
        for kind in self.api.get("/api/v1/kinds/").json():
            for field in kind["fields"]:
                for word in field["words"]:
                    self.assertTrue(word["label"], word)
                if field["words"]:
                    self.assertEqual((field["low"], field["high"]), (0.0, len(field["words"]) - 1.0))
