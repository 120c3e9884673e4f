"""With the light on, over the API."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

from bench.services.make_loop import add_gang
from ember_core.parts import Declared, PhaseMode
from loops.models import Gang
from tests.server.base import CONTROL, LAMP, ServerTest, draft, fit

Json = dict[str, Any]
DRIVER = {**LAMP, "kind": "dimmable_driver", "count": 3, "c_x_f": 6.8e-8, "p_run_w": 8.0}


class Lit(ServerTest):
    """One gang, drafts on it."""

    def look(self, given: Json, status: int = 200) -> Any:
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/lit/", given)
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def on(self, mode: PhaseMode, lamp: Json, **more: Any) -> Json:
        """A control of a mode with a lamp."""
        control = {**CONTROL, "phase": mode.value, "p_max_filament_w": 250.0}
        return {**draft(bypasses=[], control=fit(control), lamps=[fit(lamp)]), **more}

    def test_a_lamp_that_must_not_be_dimmed_is_told_why(self) -> None:
        """Capacitor input on a leading edge: verdict, reason and picture in words."""
        found = self.look(self.on(PhaseMode.LEADING, LAMP))
        self.assertEqual((found["verdict"], found["members"][0]["verdict"]), ("must_not", "must_not"))
        self.assertIn("pulses", found["members"][0]["text"])
        self.assertIn("Fired at", found["picture_text"])
        behind = [finding["text"] for finding in found["members"][0]["figures"]]
        self.assertTrue(any("peak each half-cycle" in text for text in behind), behind)
        for text in (found["picture_text"], *behind, *(finding["text"] for finding in found["findings"])):
            self.assertNotIn("{", text)

    def test_a_cycle_that_does_not_repeat_says_so_beside_its_picture(self) -> None:
        """The march is stopped early: the words under the picture name how many cycles there were."""
        given = self.on(PhaseMode.LEADING, DRIVER)
        self.assertNotIn("did not settle", self.look(given)["picture_text"])
        with (
            patch("ember_core.onstate.simulate.MOST_CYCLES", 3),
            patch("ember_core.onstate.simulate.SETTLED_RATIO", 0.0),
        ):
            self.assertIn("did not settle: after 3", self.look(given)["picture_text"])

    def test_a_declaration_turns_unknown_into_goes_if(self) -> None:
        """As a word in the lamp's figures; unknown stays unknown."""
        unknown = self.look(self.on(PhaseMode.TRAILING, DRIVER))
        self.assertEqual(unknown["verdict"], "unknown")
        declared = self.look(self.on(PhaseMode.TRAILING, {**DRIVER, "dimming": Declared.BOTH.value}))
        self.assertIn(declared["verdict"], ("goes_if", "must_not"))
        self.assertEqual(declared["members"][0]["verdict"], "goes_if")
        self.assertIn("least level", declared["curve"]["text"])

    def test_the_level_moves_the_picture_and_is_bounded(self) -> None:
        """Less voltage when fired later; an angle that cannot be is refused with its path."""
        given = self.on(PhaseMode.LEADING, DRIVER)
        early, late = (self.look({**given, "level_deg": angle}) for angle in (45.0, 120.0))
        self.assertGreater(early["picture"]["lamp_v_rms"], late["picture"]["lamp_v_rms"])
        self.assertAlmostEqual(late["picture"]["fired_deg"], 120.0, delta=0.5)
        refused = self.look({**given, "level_deg": 300.0}, 400)
        self.assertEqual(refused["errors"][0]["path"], "level_deg")

    def test_an_unknown_word_is_refused(self) -> None:
        """Neither a mode nor a declaration can be made up."""
        control = {**CONTROL, "phase": "sideways"}
        refused = self.look(draft(control=fit(control)), 422)
        self.assertEqual(
            (refused["errors"][0]["code"], refused["errors"][0]["path"]), ("unknown_word", "control.phase")
        )

    def test_the_whole_matrix(self) -> None:
        """A row a load and declaration, five cells each, every sentence there."""
        rows = self.api.get("/api/v1/compatibility/").json()
        self.assertEqual(len(rows), 7 * 6)
        for row in rows:
            self.assertEqual(len(row["cells"]), 5)
            self.assertTrue(all(cell["text"] and cell["verdict_text"] for cell in row["cells"]))

    def test_trims_of_the_site_are_kept_and_count(self) -> None:
        """Kept with the gang, given back, told in words; an angle that cannot be changes nothing."""
        given = self.on(PhaseMode.TRAILING, {**DRIVER, "dimming": Declared.BOTH.value}, trims={"least_deg": 10.0})
        found = self.look(given)
        self.assertTrue(any("least level is set to 10.0°" in finding["text"] for finding in found["findings"]))
        address = f"/api/v1/gangs/{self.gang.pk}/"
        kept = self.api.put(address, {"version": 1, **given})
        self.assertEqual((kept.status_code, kept.json()["trims"]["least_deg"]), (200, 10.0))
        refused = self.api.put(address, {"version": 2, **given, "trims": {"least_deg": 500.0}})
        self.assertEqual((refused.status_code, refused.json()["errors"][0]["path"]), (400, "trims.least_deg"))
        self.assertEqual(self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["gangs"][0]["trims"]["least_deg"], 10.0)

    def test_a_selectable_dimmer_tells_both_edges(self) -> None:
        """The better one first and looked at; the other can be chosen, with what speaks against it."""
        iron = {
            "kind": "iron_core_transformer",
            "count": 1,
            "r_winding_ohm": 20.0,
            "l_magnetising_h": 6.0,
            "p_rated_w": 50.0,
        }
        given = self.on(PhaseMode.SELECTABLE, iron)
        found = self.look(given)
        self.assertEqual([edge["edge"] for edge in found["edges"]], ["leading", "trailing"])
        self.assertEqual((found["edge"], found["edges"][1]["verdict"]), ("leading", "must_not"))
        self.assertIn("across the control", found["edges"][1]["text"])
        other = self.look({**given, "edge": "trailing"})
        self.assertEqual((other["edge"], other["verdict"]), ("trailing", "must_not"))

    def test_the_band_lies_around_the_picture(self) -> None:
        """Of the edge that is looked at; low below high; in words too."""
        given = self.on(PhaseMode.LEADING, {**DRIVER, "dimming": Declared.BOTH.value})
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/lit-band/", given)
        self.assertEqual(answer.status_code, 200, answer.content)
        band = answer.json()
        self.assertEqual(len(band["theta_deg"]), len(band["v_low_v"]))
        self.assertTrue(all(low <= high for low, high in zip(band["i_low_a"], band["i_high_a"], strict=True)))
        self.assertIn("samples", band["text"])

    def test_a_relay_is_drawn_running_or_closing(self) -> None:
        """Running with its window marked; closing with the peak against the contact's rating."""
        control = {**CONTROL, "phase": PhaseMode.ON_OFF.value, "i_inrush_max_a": 80.0}
        given = draft(bypasses=[], control=fit(control), lamps=[fit(LAMP)])
        running = self.look(given)
        self.assertEqual((running["view"], running["has_window"]), ("running", True))
        self.assertEqual(running["picture"]["window_deg"], 35.0)
        self.assertIn("supply gets", running["picture_text"])
        closing = self.look({**given, "view": "closing"})
        self.assertEqual((closing["view"], closing["picture"]["window_deg"]), ("closing", None))
        self.assertEqual(closing["picture"]["peak_allowed_a"], 80.0)

    def test_a_typed_figure_of_the_light_on_is_kept_with_its_source_and_counts(self) -> None:
        """A measured gap of the control moves its window; out of bounds it is refused with its path."""
        control = {**CONTROL, "phase": "on_off", "gap_deg": {"typical": 42.0, "source": "measured", "note": "scope"}}
        given = draft(bypasses=[], control=fit(control), lamps=[fit(LAMP)])
        self.assertEqual(self.look(given)["picture"]["window_deg"], 42.0)
        address = f"/api/v1/gangs/{self.gang.pk}/"
        self.assertEqual(self.api.put(address, {"version": 1, **given}).status_code, 200)
        kept = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["gangs"][0]["control"]["figures"]["gap_deg"]
        self.assertEqual((kept["typical"], kept["source"], kept["note"]), (42.0, "measured", "scope"))
        wrong = draft(bypasses=[], control=fit({**CONTROL, "gap_deg": 120.0}), lamps=[fit(LAMP)])
        refused = self.look(wrong, 422)
        self.assertEqual(refused["errors"][0]["path"], "control.gap_deg")

    def test_trims_on_the_control_s_own_scale(self) -> None:
        """As settings where the scale is known, as angles and shares always."""
        scale = {"setting_low_deg": 28.0, "setting_high_deg": 152.0, "settings": 10}
        control = {**CONTROL, "phase": "trailing", **scale}
        lamp = {**DRIVER, "dimming": Declared.BOTH.value}
        found = self.look(draft(bypasses=[], control=fit(control), lamps=[fit(lamp)]))
        self.assertEqual(len(found["curve"]["trims"]), 3)
        for text in found["curve"]["trims"]:
            self.assertRegex(text, r"°.* %.*\(setting \d+ of 10\)")
        names = [mark["name"] for mark in found["picture"]["marks"]]
        self.assertEqual(names, ["least", "start", "most"])


class KeptLoads(ServerTest):
    """What the round and the record keep of the light on."""

    def keep(self, version: int, **changes: Any) -> None:
        answer = self.api.put(f"/api/v1/gangs/{self.gang.pk}/", {"version": version, **draft(**changes)})
        self.assertEqual(answer.status_code, 200, answer.content)

    def note(self) -> Any:
        (row,) = self.api.get("/api/v1/loops/").json()["results"]
        return row["load"]

    def test_the_round_tells_the_load_of_what_is_kept(self) -> None:
        """Nothing before anything is judged; then lamps there and wanted, and whether the control drives them."""
        self.assertIsNone(self.note())
        self.keep(1, control=fit({**CONTROL, "phase": "on_off", "p_min_w": 20.0, "p_max_led_w": 60.0}))
        note = self.note()
        self.assertEqual((note["state"], note["lit"]), ("below_declared", "goes_if"))
        self.keep(2, control=fit({**CONTROL, "phase": "leading"}))
        self.assertEqual(self.note()["lit"], "must_not")
        self.keep(3, lamps=[])
        self.assertIsNone(self.note())

    def test_the_record_holds_verdict_findings_and_governing_limits(self) -> None:
        """As codes and figures, with the sheet they were made from."""
        self.keep(1, control=fit({**CONTROL, "phase": "trailing", "p_max_led_w": 60.0}))
        stored = self.gang.judgements.get().result
        self.assertEqual((stored["lit"]["edge"], stored["lit"]["verdict"]), ("trailing", "must_not"))
        self.assertIn("on_never_decays", [finding["code"] for finding in stored["lit"]["findings"]])
        self.assertEqual((stored["load"]["most_rule"], stored["load"]["most"]), ("most_led_w", 10))

    def test_the_paper_tells_the_light_on_and_the_loads(self) -> None:
        """Verdict, findings, trims set on site, and each limit with what it says."""
        from unittest import mock

        lamp = {**DRIVER, "dimming": Declared.BOTH.value}
        control = fit({**CONTROL, "phase": "trailing", "p_max_led_w": 60.0})
        self.keep(1, control=control, lamps=[fit(lamp)], bypasses=[], trims={"least_deg": 44.0})
        with mock.patch("handover.services.sheet.HTML") as page:
            page.return_value.write_pdf.return_value = b"%PDF"
            self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf")
        html = page.call_args.kwargs["string"]
        for wanted in ("With the light on", "Control and lamps:", "least level set to 44.0°", "Least and largest load"):
            self.assertIn(wanted, html)
        self.assertIn("At most 7 lamps", html)
        self.assertNotIn("{", html.split("</style>")[1].split("<svg")[0])

    def test_of_two_gangs_the_round_tells_the_one_that_fares_worse(self) -> None:
        """What must not be driven goes before a load that is merely too small."""
        second = add_gang(None, self.loop.pk)
        self.keep(1, control=fit({**CONTROL, "phase": "on_off", "p_max_led_w": 60.0}))
        version = Gang.objects.get(pk=second.pk).version
        worse = draft(control=fit({**CONTROL, "phase": "leading", "p_max_led_w": 60.0}))
        answer = self.api.put(f"/api/v1/gangs/{second.pk}/", {"version": version, **worse})
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.note()["lit"], "must_not")

    def test_what_cannot_be_computed_keeps_no_load_and_the_paper_goes_without(self) -> None:
        """The off state stays judged; nothing is made up."""
        from unittest import mock

        from ember_core.errors import SolverError

        failing = mock.patch("judging.services.loads.load_limits", side_effect=SolverError("on_state_not_solved"))
        with failing:
            self.keep(1)
            self.assertIsNone(self.note())
            with mock.patch("handover.services.sheet.HTML") as page:
                page.return_value.write_pdf.return_value = b"%PDF"
                self.assertEqual(self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf").status_code, 200)
        html = page.call_args.kwargs["string"]
        self.assertNotIn("Least and largest load", html)
        self.assertIn("With the light on", html)

    def test_kinds_say_which_figures_matter_with_the_light_on_only(self) -> None:
        """The holding current of a control does, its snubber does not; a driver has some of its own."""
        kinds = {(kind["category"], kind["kind"]): kind for kind in self.api.get("/api/v1/kinds/").json()}
        control = {field["name"]: field["lit"] for field in kinds["control", "control"]["fields"]}
        self.assertEqual((control["i_hold_a"], control["c_snubber_f"], control["p_max_led_w"]), (True, False, False))
        driver = [field["name"] for field in kinds["lamp", "dimmable_driver"]["fields"] if field["lit"]]
        self.assertEqual(driver, ["r_damp_ohm", "c_film_f", "v_stage_min_v", "i_bleed_a"])
