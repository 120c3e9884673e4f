"""The judgement over ranges, by the API."""

from __future__ import annotations

from typing import Any

from django.test import tag

from accounts.models import Role
from demo.management.commands.load_demo import load_shelf
from tests.server.base import BYPASS, LAMP, ServerTest, draft, fit


class DraftTest(ServerTest):
    """A draft on the edge, asked about."""

    def ask(self, what: str, role: Role = Role.TECHNICIAN, **body: Any) -> Any:
        """Ask with a draft whose bypass is small and whose start threshold is assumed."""
        lamp = {**LAMP, "v_start_v": {"low": 55.0, "typical": 90.0, "high": 120.0, "source": "assumed"}}
        given = draft(lamps=[fit(lamp)], bypasses=[fit({**BYPASS, "c_f": 6e-8})])
        return self.clients[role].post(f"/api/v1/gangs/{self.gang.pk}/{what}/", {**given, **body}, format="json")


class Spread(DraftTest):
    """What is tried on the bench, over its ranges."""

    def test_shares_margins_and_what_decides_come_with_words(self) -> None:
        """For every role; the sentence names the figure and tells to measure it."""
        answer = self.ask("spread", Role.CHECKER, samples=32).json()
        self.assertEqual(answer["samples"], 32)
        self.assertAlmostEqual(sum(answer["lamps"][0]["shares"].values()), 1.0, places=6)
        self.assertIn("of 32 dark and fed", answer["title"])
        self.assertEqual(answer["deciding"][0]["path"], "lamps[0].v_start_v")
        self.assertEqual(answer["deciding"][0]["where"], "of lamp group 1")
        self.assertIn("Measure it", answer["text"])
        self.assertTrue(answer["disturbance"]["text"].startswith("Another load switching"))
        self.assertEqual([row["name"] for row in answer["leakage"]], ["low", "nominal", "high"])

    def test_of_a_switch_that_needs_no_supply_it_is_only_told_whether_it_stays_dark(self) -> None:
        """A contact with a leak across it is neither fed nor starved."""
        answer = self.ask("spread", samples=16, control=fit({"r_leak_ohm": 1.5e5})).json()
        self.assertIsNone(answer["control"])
        self.assertRegex(answer["title"], r"^\d+ of 16 dark$")

    def test_bad_input_is_refused(self) -> None:
        """Too many samples, an incomplete draft, a reading of nothing."""
        self.assertEqual(self.ask("spread", samples=100_000).status_code, 400)
        missing = self.ask("spread", control=None)
        self.assertEqual((missing.status_code, missing.json()["errors"][0]["code"]), (422, "missing"))
        self.assertEqual(self.ask("narrow", readings=[]).status_code, 400)
        none = self.ask("narrow", readings=[{"kind": "start_supply_v", "value": 64.0, "group": 5}])
        self.assertEqual((none.status_code, none.json()["errors"][0]["code"]), (422, "no_start_threshold"))

    @tag("long")
    def test_a_reading_is_explained_or_told_as_not(self) -> None:
        """Before and after of each figure; else the likeliest wrong assumption."""
        shown = self.ask("judge").json()["figures"]["meter"][0]
        reading = {"kind": "lamp_v", "value": shown["v_rms"], "meter_r_ohm": shown["r_ohm"]}
        fits = self.ask("narrow", readings=[reading]).json()
        self.assertTrue(fits["is_explained"])
        self.assertEqual({"prior", "posterior"} <= set(fits["figures"][0]), True)
        odd = self.ask("narrow", readings=[{"kind": "lamp_v", "value": 200.0}]).json()
        self.assertFalse(odd["is_explained"])
        self.assertIn("Nothing within the tolerances explains", odd["explanation"])

    def test_the_least_load_is_told_for_each_arrangement(self) -> None:
        """With no bypass and with typical ones, in words."""
        rows = self.ask("least-load").json()
        self.assertEqual([row["bypass"] for row in rows], ["no bypass", "100 nF", "220 nF", "22 kΩ"])
        self.assertTrue(all(row["text"] for row in rows))


@tag("long")
class Choosing(DraftTest):
    """The bypass for what is tried."""

    def test_window_and_shelf_come_ranked_in_words(self) -> None:
        """The window's edges with their reasons; the shelf's parts and none at all, each with its reasons."""
        load_shelf(None)
        answer = self.ask("choose", Role.CHECKER).json()
        window = answer["capacitor"]
        self.assertTrue(window["works"])
        self.assertLess(window["low"], window["high"])
        self.assertIn("lamp group 1 blinks", window["lower_text"])
        self.assertFalse(answer["none_needed"])
        self.assertEqual([row["rank"] for row in answer["parts"]], list(range(1, len(answer["parts"]) + 1)))
        verdicts = [row["verdict"] for row in answer["parts"]]
        self.assertEqual(verdicts, sorted(verdicts, key=["works", "unsure", "rejected"].index))
        by_name = {row["name"]: row for row in answer["parts"]}
        self.assertEqual(by_name["no bypass"]["part"], None)
        self.assertLess(by_name["Pellan & Sedge Active bleeder A1"]["heat_w"], 0.2)
        self.assertGreater(by_name["Tarnbrook Warm bleeder P2"]["heat_w"], 0.0)
        self.assertTrue(all(row["reasons"] for row in answer["parts"] if row["verdict"] == "rejected"))
