"""With the light on, over the API."""

from __future__ import annotations

from typing import Any

from ember_core.parts import Declared, PhaseMode
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
        for text in (found["picture_text"], *(finding["text"] for finding in found["findings"])):
            self.assertNotIn("{", text)

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
