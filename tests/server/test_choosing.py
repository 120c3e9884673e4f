"""Choosing the bypass over the API: windows, order, habits, place, progress, and readings afterwards."""

from __future__ import annotations

import json
from typing import Any

from django.test import tag

from bench.services.make_loop import add_gang
from demo.management.commands.load_demo import load_shelf
from loops.models import Gang
from tests.server.base import BYPASS, CONTROL, LAMP, ServerTest, draft, fit

Json = dict[str, Any]
SMALL = {**LAMP, "c_bulk_f": 3.3e-6, "v_start_v": {"low": 70.0, "typical": 80.0, "high": 90.0, "source": "assumed"}}
ROSE = {"where": "luminaire", "name": "rose", "has_both_conductors": True, "is_reachable": True, "room_m": 0.02}


@tag("long")
class Choosing(ServerTest):
    """One gang with a small lamp that blinks without a bypass; two capacitors and a bleeder on the shelf."""

    def setUp(self) -> None:
        super().setUp()
        self.part("X2 100 nF", {"kind": "capacitor", "c_f": 1e-7, "r_parallel_ohm": 1e6, "v_rated_v": 275.0})
        self.part("X2 2 µF", {"kind": "capacitor", "c_f": 2e-6, "r_parallel_ohm": 1e6, "v_rated_v": 275.0})
        self.part("22 kΩ", {"kind": "resistor", "r_ohm": 22e3, "p_rated_w": 7.0, "v_limit_v": 500.0})

    def part(self, name: str, figures: Json) -> None:
        """A bypass on the shelf."""
        from parts.models import Part

        Part.objects.create(
            category="bypass", kind=figures["kind"], maker="Quill", name=name, v_rms=230.0, figures=figures
        )

    def post(self, what: str, given: Json) -> Any:
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/{what}/", given)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def bare(self, **changes: Any) -> Json:
        return draft(**{"bypasses": [], "lamps": [fit(SMALL)], **changes})

    def test_the_shelf_and_the_series_are_ranked_with_reasons(self) -> None:
        """What works stands first, with its year; what draws too much is rejected with the figure in the sentence."""
        # A control that hardly needs anything with the light on: else a small capacitor is not sure to feed it then.
        modest = self.bare(control=fit({**CONTROL, "i_need_on_a": 5e-5}))
        found = self.post("choose", {**modest, "hours_a_year": 2000.0, "price_per_kwh": 0.5})
        by_name = {choice["name"]: choice for choice in found["parts"]}
        best = found["parts"][0]
        self.assertEqual(best["verdict"], "works")
        self.assertEqual([choice["rank"] for choice in found["parts"]], list(range(1, len(found["parts"]) + 1)))
        large = by_name["Quill X2 2 µF"]
        self.assertEqual(large["verdict"], "rejected")
        self.assertTrue(any("159 mA" in reason["text"] for reason in large["reasons"]), large["reasons"])
        bleeder = by_name["Quill 22 kΩ"]
        self.assertAlmostEqual(bleeder["year_j"] / 3.6e6, 230.0**2 / 22e3 * 2.0, places=6)
        self.assertAlmostEqual(bleeder["year_cost"], 230.0**2 / 22e3 * 2.0 * 0.5, places=6)
        values = [choice for choice in found["parts"] if choice["part"] is None and choice["figures"]]
        self.assertTrue(values and all("any make" in choice["name"] for choice in values))
        self.assertFalse(found["none_needed"] or found["none_cures"])
        self.assertTrue(found["is_complete"])
        self.assertEqual(found["capacitor"]["limits"][-1]["reason"], "reactive_current")

    def test_a_value_of_the_series_can_be_kept(self) -> None:
        """Its figures make a bypass of the gang, assumed and with its tolerance."""
        found = self.post("choose", self.bare())
        value = next(choice for choice in found["parts"] if choice["figures"])
        answer = self.api.put(
            f"/api/v1/gangs/{self.gang.pk}/", {"version": 1, **self.bare(bypasses=[fit(value["figures"])])}
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).bypasses.get().figures["c_f"]["source"], "assumed")

    def test_the_first_line_brings_the_order_so_far(self) -> None:
        """Typical figures first, the whole answer last; it is the plain one."""
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/choose/?progress=1", self.bare())
        lines = [json.loads(line) for line in b"".join(answer.streaming_content).decode().splitlines()]
        self.assertFalse(lines[0]["so_far"]["is_complete"])
        self.assertEqual({choice["samples"] for choice in lines[0]["so_far"]["parts"]}, {0})
        self.assertEqual(lines[-1]["result"], self.post("choose", self.bare()))

    def test_a_place_counts_is_kept_and_refused_where_it_cannot_be(self) -> None:
        """Too little room rejects; kept with the gang; a room of no size is refused and changes nothing."""
        sized = {**ROSE, "room_m": 0.01}
        from parts.models import Part

        part = Part.objects.get(name="X2 100 nF")
        part.figures["height_m"] = 0.018
        part.save()
        found = self.post("choose", self.bare(place=sized))
        choice = next(entry for entry in found["parts"] if entry["name"] == "Quill X2 100 nF")
        self.assertEqual(choice["verdict"], "rejected")
        self.assertTrue(any("room for 10.0 mm" in reason["text"] for reason in choice["reasons"]), choice["reasons"])
        self.assertEqual(found["place"]["lines"][0]["start"], "switched live at the rose")
        address = f"/api/v1/gangs/{self.gang.pk}/"
        kept = self.api.put(address, {"version": 1, **self.bare(place=ROSE)})
        self.assertEqual(kept.json()["place"]["name"], "rose")
        self.assertEqual(kept.json()["place"]["is_reachable"], True)
        refused = self.api.put(address, {"version": 2, **self.bare(place={**ROSE, "room_m": 0.0})})
        self.assertEqual((refused.status_code, refused.json()["errors"][0]["path"]), (400, "place.room_m"))
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).place["room_m"], 0.02)

    def test_a_gang_that_feeds_nothing_points_to_the_one_that_does(self) -> None:
        """The bypass belongs to the circuit of the other gang, and that one is said to need its own."""
        feeding = add_gang(None, self.loop.pk)
        given = self.bare(name="stair", control=fit(CONTROL))
        self.assertEqual(self.api.put(f"/api/v1/gangs/{feeding.pk}/", {"version": 1, **given}).status_code, 200)
        found = self.post("choose", self.bare(control=fit({"c_snubber_f": 4.7e-9})))
        self.assertTrue(any("fed through stair" in note for note in found["place"]["notes"]), found["place"])
        self.assertTrue(any("stair is not dark" in note for note in found["place"]["notes"]))

    def test_habits_are_told_by_the_loops_numbers(self) -> None:
        """Needed here, so never fitting one is refuted by the best part's name; every sentence is filled."""
        said = {entry["school"]: entry for entry in self.post("choose", self.bare())["schools"]}
        self.assertEqual((said["always"]["code"], said["never"]["code"]), ("serves", "fails"))
        self.assertEqual(said["ptc"]["code"], "unknown")
        for entry in said.values():
            self.assertTrue(entry["text"])
            self.assertNotIn("{", entry["text"])

    @tag("whole")
    def test_nothing_is_said_to_be_fed_where_nothing_is(self) -> None:
        """An ordinary switch: habits and what was fitted are dark; with electronics they are dark and fed."""
        small = [fit({**BYPASS, "c_f": 5e-8})]
        plain = {"c_snubber_f": 4.7e-9}
        for language, control, dark, fed in (("en", CONTROL, "dark", "fed"), ("de", plain, "dunkel", "versorgt")):
            self.api.credentials(HTTP_ACCEPT_LANGUAGE=language)
            given = self.bare(control=fit(control))
            after = {**given, "bypasses": small, "readings": [{"kind": "seen", "seen": "dark"}]}
            texts = [school["text"] for school in self.post("choose", given)["schools"]]
            texts.append(self.post("after-fitting", after)["text"])
            told = [text for text in texts if dark in text]
            self.assertGreater(len(told), 2, texts)
            self.assertEqual({fed in text for text in told}, {control is CONTROL}, told)
            self.assertTrue(control is CONTROL or not any(fed in text for text in texts), texts)

    def test_still_flashing_leads_to_the_next_remedy(self) -> None:
        """Seen to blink with 68 nF in: it does not do, and a remedy with its chance is named."""
        small = {**BYPASS, "c_f": 5e-8}
        lamp = {**SMALL, "v_start_v": {"low": 45.0, "typical": 80.0, "high": 110.0, "source": "assumed"}}
        given = draft(bypasses=[fit(small)], lamps=[fit(lamp)])
        found = self.post("after-fitting", {**given, "readings": [{"kind": "seen", "seen": "blink"}]})
        self.assertLess(found["works_chance"], 0.1)
        self.assertGreater(found["remedies"][0]["chance"], 0.8)
        self.assertIn("Next remedy", found["text"])
        chances = [remedy["chance"] for remedy in found["remedies"]]
        self.assertEqual(chances, sorted(chances, reverse=True))

    def test_no_remedy_is_one_that_its_ratings_forbid(self) -> None:
        """A bleeder of 10 kΩ would stay dark and fed, and burn: with 5 W at 230 V it is not named."""
        load_shelf(None)
        lamp = {**SMALL, "v_start_v": {"low": 45.0, "typical": 80.0, "high": 110.0, "source": "assumed"}}
        given = draft(bypasses=[fit({**BYPASS, "c_f": 5e-8})], lamps=[fit(lamp)])
        named = [
            remedy["name"]
            for remedy in self.post("after-fitting", {**given, "readings": [{"kind": "seen", "seen": "blink"}]})[
                "remedies"
            ]
        ]
        self.assertTrue(any("X2 pack" in name for name in named), named)
        for name in named:
            self.assertNotIn("10 kΩ", name)
            self.assertNotIn("120 V", name)
        refused = self.api.post(
            f"/api/v1/gangs/{self.gang.pk}/after-fitting/", {**given, "readings": [{"kind": "seen", "seen": "purple"}]}
        )
        self.assertEqual(refused.status_code, 422)

    def test_a_reading_that_nothing_explains_says_so(self) -> None:
        """200 V on the terminals of a loop that can show a few tens; one that agrees says that."""
        given = draft(bypasses=[fit(BYPASS)], lamps=[fit(SMALL)])
        odd = self.post("after-fitting", {**given, "readings": [{"kind": "lamp_v", "value": 200.0}]})
        self.assertFalse(odd["is_explained"])
        self.assertIn("Nothing within the tolerances explains", odd["text"])
        shown = self.post("predict", given)["readings"][0]["v_rms"]["p50"]
        good = self.post("after-fitting", {**given, "readings": [{"kind": "lamp_v", "value": shown}]})
        self.assertIn("agrees with what was computed", good["text"])

    def test_a_hopeless_loop_is_sent_to_the_routes(self) -> None:
        """A control that needs four watts is cured by no bypass."""
        hungry = {**CONTROL, "standby": {**CONTROL["standby"], "p_w": 4.0}}
        found = self.post("choose", self.bare(control=fit(hungry)))
        self.assertIn("routes", found["none_cures"])
        self.assertEqual({choice["verdict"] for choice in found["parts"]}, {"rejected"})
