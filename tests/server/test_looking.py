"""Looks beyond the judgement: instruments, a figure dragged, gangs together, declared loads, cures, progress."""

from __future__ import annotations

import json
from typing import Any
from unittest.mock import patch

from django.test import tag

from bench.api.looks import GangChooseView
from bench.services.make_loop import add_gang
from ember_core.errors import SolverError
from loops.models import Gang
from tests.server.base import CONTROL, LAMP, ServerTest, draft, fit

Json = dict[str, Any]
FILAMENT = {"kind": "filament", "count": 2, "r_cold_ohm": 110.0, "p_rated_w": 40.0}
SMALL = {**LAMP, "c_bulk_f": 3.3e-6, "v_start_v": {"low": 70.0, "typical": 80.0, "high": 90.0, "source": "assumed"}}


class LookingTest(ServerTest):
    """One gang, drafts on it."""

    def look(self, what: str, given: Json) -> Any:
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/{what}/", given)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def test_meters_are_predicted_with_their_range_in_words(self) -> None:
        """Two meters, each with its span of volts, and whether it is a ghost."""
        found = self.look("predict", draft())
        self.assertEqual([row["r_ohm"] for row in found["readings"]], [1e7, 4e5])
        for row in found["readings"]:
            self.assertLessEqual(row["v_rms"]["p05"], row["v_rms"]["p95"])
            self.assertIn(" V", row["text"])
        self.assertEqual(len(found["t_s"]), len(found["v_lamp_v"]["low"]))
        self.assertFalse(found["is_ghost"])
        self.assertTrue(found["text"])

    def test_a_figure_is_dragged_over_its_range(self) -> None:
        """The start threshold with its words, points from below to above its range, and where it turns."""
        bare = draft(bypasses=[], lamps=[fit(SMALL)])
        found = self.look("sweep", {**bare, "path": "lamps[0].v_start_v"})
        self.assertEqual(found["unit"], "V")
        self.assertLess(found["points"][0]["value"], found["low"])
        self.assertGreater(found["points"][-1]["value"], found["high"])
        self.assertTrue(found["text"])
        sent = {**bare, "path": "lamps[0].v_start_v"}
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/sweep/?progress=1", sent, format="json")
        *told, last = [json.loads(line) for line in b"".join(answer.streaming_content).decode().splitlines()]
        self.assertEqual((told[-1]["of"], last["result"]), (13, found))
        refused = self.api.post(f"/api/v1/gangs/{self.gang.pk}/sweep/", {**bare, "path": "lamps[0].p_run_w"})
        self.assertEqual((refused.status_code, refused.json()["errors"][0]["code"]), (422, "no_range"))

    def test_gangs_are_judged_together_and_a_swap_is_offered(self) -> None:
        """A small lamp on the feeding output, filaments on the other: swapping cures, and how is said."""
        second = add_gang(None, self.loop.pk)
        other = draft(name="racks", control=fit({"c_snubber_f": 4.7e-9}), bypasses=[], lamps=[fit(FILAMENT)])
        answer = self.api.put(f"/api/v1/gangs/{second.pk}/", {"version": 1, **other})
        self.assertEqual(answer.status_code, 200, answer.content)
        found = self.look("together", draft(name="wheels", bypasses=[], lamps=[fit(SMALL)]))
        self.assertTrue(found["swap_cures"])
        self.assertEqual(found["best"], [1, 0])
        self.assertIn("wheels", found["feeding_text"])
        self.assertIn("racks to the output of wheels", found["text"])

    def test_two_ordinary_switches_are_called_dark_and_nothing_more(self) -> None:
        """Neither of them is fed by anything, and no filament lamp feeds it."""
        plain = {"control": fit({"c_snubber_f": 4.7e-9}), "bypasses": []}
        second = add_gang(None, self.loop.pk)
        answer = self.api.put(f"/api/v1/gangs/{second.pk}/", {"version": 1, **draft(name="racks", **plain)})
        self.assertEqual(answer.status_code, 200, answer.content)
        text = self.look("together", draft(name="wheels", **plain))["text"]
        self.assertIn("dark", text.lower())
        self.assertNotIn("fed", text)
        for cure in self.look("cures", draft(lamps=[fit({**SMALL, "count": 2})], **plain)):
            self.assertNotIn("fed", cure["text"])

    @tag("long")
    def test_gangs_of_one_name_are_told_apart_by_their_numbers(self) -> None:
        """Two that are called alike and one that was archived between them: named and numbered as the loop has them."""
        for _ in range(3):
            add_gang(None, self.loop.pk)
        second, third, fourth = Gang.objects.filter(loop=self.loop, position__gt=1).order_by("position")
        for gang, name in ((second, "gone"), (third, "spots"), (fourth, "")):
            answer = self.api.put(f"/api/v1/gangs/{gang.pk}/", {"version": 1, **draft(name=name)}, format="json")
            self.assertEqual(answer.status_code, 200, answer.content)
        gone = self.api.post(f"/api/v1/gangs/{second.pk}/archive/", {"reason": "no such output"}, format="json")
        self.assertEqual(gone.status_code, 200, gone.content)
        found = self.look("together", draft(name="spots"))
        self.assertEqual(found["names"], ["gang 1 (spots)", "gang 3 (spots)", "gang 4"])
        self.assertEqual(found["positions"], [1, 3, 4])
        called = self.look("together", draft(name="gang 4"))["names"]
        self.assertEqual(called, ["gang 1 (gang 4)", "spots", "gang 4"])
        self.api.credentials(HTTP_ACCEPT_LANGUAGE="de")
        self.assertEqual(self.look("together", draft())["names"], ["Wippe 1", "spots", "Wippe 4"])

    def test_every_other_gang_counts_for_the_choice_whatever_it_is_called(self) -> None:
        """Two others of one name are two."""
        for _ in range(2):
            gang = add_gang(None, self.loop.pk)
            self.api.put(f"/api/v1/gangs/{gang.pk}/", {"version": 1, **draft()}, format="json")
        # As it could be before names were asked for.
        Gang.objects.exclude(pk=self.gang.pk).update(name="spots")
        values = {"place": {}}
        with patch("bench.api.looks.asked") as asked:
            GangChooseView().asked(self.gang.pk, values, draft())
        self.assertEqual(set(asked.call_args.args[3]), {"gang 2 (spots)", "gang 3 (spots)"})

    def test_what_cannot_be_judged_together_says_why(self) -> None:
        """One gang alone; a second one without lamps."""
        self.assertFalse(self.look("together", draft())["is_known"])
        add_gang(None, self.loop.pk)
        found = self.look("together", draft())
        self.assertFalse(found["is_known"])
        self.assertIn("gang 2", found["text"])

    def test_loads_are_told_whole_with_the_caution_about_amperes(self) -> None:
        """Least load met or not, largest not declared stays unknown; the caution always stands there."""
        control = fit({**CONTROL, "p_min_w": 10.0})
        found = self.look("loads", draft(control=control))
        states = {row["rule"]: row["state"] for row in found["rows"]}
        self.assertEqual((states["least_declared"], states["most_led_w"]), ("not_met", "unknown"))
        self.assertEqual((states["off"], found["state"]), ("met", "below_declared"))
        self.assertIn("only its maker says", found["text"])
        self.assertIn("resistive", found["caution"])
        two = self.look("loads", draft(control=control, lamps=[fit({**LAMP, "count": 2})]))
        declared = next(row for row in two["rows"] if row["rule"] == "least_declared")
        self.assertEqual((declared["state"], declared["count"]), ("met", 2))
        for row in two["rows"]:
            self.assertTrue(row["title"] and row["text"], row["rule"])
            self.assertNotIn("{", row["text"])

    def test_what_only_the_light_off_breaks_is_said_to_count_there(self) -> None:
        """The table is red then and the load of the verdict is not: why stands beside it, and nowhere else."""
        leaky = {"c_snubber_f": 1e-7}
        found = self.look("loads", draft(control=fit(leaky), bypasses=[], lamps=[fit(SMALL)]))
        self.assertEqual([row["rule"] for row in found["rows"] if row["state"] == "not_met"], ["off"])
        self.assertIn("counts that under light off", found["text"])
        other = self.look("loads", draft(control=fit({**leaky, "p_min_w": 500.0}), bypasses=[], lamps=[fit(SMALL)]))
        self.assertEqual(other["state"], "not_met")
        self.assertNotIn("counts that under light off", other["text"])

    def test_one_filament_lamp_is_computed_as_a_cure(self) -> None:
        """A blinking gang: the cure's share is told in words."""
        found = self.look("cures", draft(bypasses=[], lamps=[fit({**SMALL, "count": 2})]))
        self.assertEqual(found[0]["share_ratio"], 1.0)
        self.assertIn("cures it", found[0]["text"])

    def test_what_was_seen_narrows_too(self) -> None:
        """Half-wave test and another lamp in a group's place are readings; a bad one is refused with its place."""
        ranged = {**LAMP, "c_bulk_f": {"low": 5e-7, "typical": 2e-6, "high": 8e-6, "source": "assumed"}}
        given = draft(lamps=[fit(ranged)])
        readings = [
            {"kind": "half_wave", "seen": "steady"},
            {"kind": "seen", "seen": "dark", "replacement": {"kind": "filament", "r_cold_ohm": 110.0}},
        ]
        found = self.look("narrow", {**given, "readings": readings})
        self.assertTrue(found["is_explained"])
        bulk = next(row for row in found["figures"] if row["path"] == "lamps[0].c_bulk_f")
        self.assertGreater(bulk["posterior"]["p50"], bulk["prior"]["p50"])
        for wrong, path in (
            ({"kind": "half_wave", "seen": "merry"}, "readings[0].seen"),
            ({"kind": "seen", "seen": "dark", "replacement": {"kind": "smart"}}, "readings[0].replacement"),
        ):
            refused = self.api.post(f"/api/v1/gangs/{self.gang.pk}/narrow/", {**given, "readings": [wrong]})
            self.assertEqual(refused.status_code, 422)
            self.assertEqual(refused.json()["errors"][0]["path"], path)

    def test_the_limits_behind_the_words_say_why(self) -> None:
        """Every threshold with value, title and reason."""
        rows = self.api.get("/api/v1/thresholds/").json()
        self.assertEqual(len(rows), 7)
        for row in rows:
            self.assertTrue(row["value"] and row["title"] and row["reason"])

    def lines(self, given: Json) -> list[Json]:
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/spread/?progress=1", given)
        self.assertEqual(answer["Content-Type"], "application/x-ndjson")
        return [json.loads(line) for line in b"".join(answer.streaming_content).decode().splitlines()]

    def test_long_work_tells_how_far_it_is_and_then_the_same_answer(self) -> None:
        """Progress rises to all, and the last line is what the plain request gives."""
        lines = self.lines(draft())
        done = [line["done"] for line in lines[:-1]]
        self.assertEqual(done, sorted(done))
        self.assertEqual(lines[-1]["result"], self.look("spread", draft()))

    def test_work_that_fails_ends_in_the_problem(self) -> None:
        """Where no sample settles the last line is the problem, with code and words; a draft that lacks something
        is refused before any line."""
        failing = SolverError("no_sample_settles", samples=64)
        with patch("judging.services.spreading.judge_spread", side_effect=failing):
            lines = self.lines(draft())
        self.assertEqual([line["problem"]["errors"][0]["code"] for line in lines], ["no_sample_settles"])
        lacking = self.api.post(f"/api/v1/gangs/{self.gang.pk}/spread/?progress=1", draft(lamps=[]))
        self.assertEqual(lacking.status_code, 422)
