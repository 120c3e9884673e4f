"""The computing commands, run as a user runs them."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from django.test import SimpleTestCase, tag

from ember_core import sheet
from tests.core.reference import document
from tests.core.test_spread import uncertain

CASES = [entry["case"] for entry in document()["loops"][:3]]


def ember(*arguments: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
    """Run one command."""
    env = {key: value for key, value in os.environ.items() if not key.startswith("EMBER_DB")}
    return subprocess.run(
        [sys.executable, "-m", "ember_cli", *arguments], input=stdin, capture_output=True, text=True, env=env
    )


class Solve(SimpleTestCase):
    """`ember solve`."""

    def test_a_list_gives_a_list_with_the_keys_of_the_reference(self) -> None:
        """Every key that the reference expects is in the answer, and the states beside."""
        done = ember("solve", "-", stdin=json.dumps(CASES))
        self.assertEqual(done.returncode, 0, done.stderr)
        answers = json.loads(done.stdout)
        self.assertEqual(len(answers), len(CASES))
        for answer, entry in zip(answers, document()["loops"], strict=False):
            self.assertLessEqual(set(entry["expect"]) - {"lamps"}, set(answer))
            for lamp, wanted in zip(answer["lamps"], entry["expect"]["lamps"], strict=True):
                self.assertLessEqual(set(wanted), set(lamp))
                self.assertIn(lamp["state"], {"dark", "glow", "blink"})
            self.assertIn(answer["standby_state"], {"fed", "marginal", "starved"})

    def test_one_case_from_a_file_gives_one_object(self) -> None:
        """No list around a single answer."""
        with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
            json.dump(CASES[1], file)
            file.flush()
            self.assertIsInstance(json.loads(ember("solve", file.name).stdout), dict)

    def test_a_bad_loop_in_a_list_hides_no_good_one(self) -> None:
        """The good ones are answered, the bad one has its errors, and the status says so."""
        done = ember("solve", "-", stdin=json.dumps([CASES[1], {"supply": {}}, CASES[2]]))
        answers = json.loads(done.stdout)
        self.assertEqual(done.returncode, 1)
        self.assertIn("lamp_v_rms", answers[0])
        self.assertIn("errors", answers[1])
        self.assertIn("lamp_v_rms", answers[2])

    def test_a_missing_file_is_one_sentence(self) -> None:
        """No traceback."""
        done = ember("solve", "/no/such/file.json")
        self.assertEqual(done.returncode, 1)
        self.assertEqual(done.stderr.strip(), "ember: /no/such/file.json: No such file or directory")


class Others(SimpleTestCase):
    """`ember schema` and `ember netlist`."""

    def test_the_schema_is_json(self) -> None:
        """With its identifier."""
        self.assertEqual(json.loads(ember("schema").stdout)["$id"], "urn:ember-thread:loop-sheet:1")

    def test_the_netlist_of_a_sheet_ends_properly(self) -> None:
        """And a bad sheet gives its errors instead."""
        self.assertTrue(ember("netlist", "-", stdin=json.dumps(CASES[1])).stdout.endswith(".end\n"))
        bad = ember("netlist", "-", stdin="[]x")
        self.assertEqual(bad.returncode, 1)
        self.assertIn("not_json", bad.stdout)

    def test_the_compiled_kernels_are_cached_on_disk(self) -> None:
        """Where the launcher put them, so that a new process does not compile again."""
        cache = os.environ.get("NUMBA_CACHE_DIR")
        self.assertIsNotNone(cache)
        for kernel in ("shooting.shoot", "kernel.march", "pulses.pulse_map", "pulses.closing_pulse"):
            self.assertTrue(list(Path(str(cache)).rglob(f"{kernel}*.nbi")), kernel)


class Judge(SimpleTestCase):
    """`ember judge` and `ember box`."""

    def run_on(self, command: str, document: object, *more: str) -> tuple[int, Any]:
        """Run on standard input; status and answer."""
        done = ember(command, "-", *more, stdin=json.dumps(document))
        return done.returncode, json.loads(done.stdout)

    @tag("long")
    def test_judge_prints_shares_and_what_decides(self) -> None:
        """Shares of each lamp group and of the control sum to one; the same seed prints the same."""
        document = sheet.write(uncertain())
        status, answer = self.run_on("judge", document, "--samples", "32", "--seed", "4")
        self.assertEqual((status, answer["samples"]), (0, 32))
        self.assertEqual(set(answer["lamps"][0]), {"dark", "glow", "blink"})
        self.assertEqual(set(answer["control"]), {"fed", "marginal", "starved"})
        self.assertAlmostEqual(sum(answer["lamps"][0].values()), 1.0, places=6)
        self.assertEqual(answer["deciding"][0]["path"], "lamps[0].v_start_v")
        self.assertEqual(self.run_on("judge", document, "--samples", "32", "--seed", "4")[1], answer)
        self.assertEqual(self.run_on("judge", {"lamps": []})[0], 1)

    def test_box_prints_roles_and_the_next_reading(self) -> None:
        """And an error as data for a box that cannot be."""
        box = {"gangs": ["one_way"], "conductors": [{"id": "c1", "terminal": "common", "gang": 1}]}
        status, answer = self.run_on("box", {"v_rms": 230, "box": box})
        self.assertEqual((status, answer["is_known"]), (0, False))
        self.assertIn("conductor", answer["conductors"][0])
        status, answer = self.run_on("box", {"v_rms": 230, "box": {**box, "depth_m": -1}})
        self.assertEqual((status, answer["errors"][0]["code"]), (1, "out_of_bounds"))

    def test_radio_prints_margins_reach_weak_points_and_channel(self) -> None:
        """The names of the contract; an error as data for a site without a hub."""
        site = {
            "band": "mesh_2g4",
            "hub": {"takes": 3, "has": 2},
            "nodes": [
                {"id": "h", "kind": "hub", "tx_dbm": 4, "sensitivity_dbm": -97},
                {"id": "r", "kind": "router", "tx_dbm": 4, "sensitivity_dbm": -97, "loss_db": 10},
                {"id": "e", "kind": "end", "tx_dbm": 4, "sensitivity_dbm": -97},
            ],
            "links": [
                {"a": "h", "b": "r", "d_m": 10, "walls": {"plasterboard": 0, "brick": 1}, "floors": 0},
                {"a": "r", "b": "e", "d_m": 5, "walls": {}, "floors": 0},
            ],
            "wifi_channels": [1, 6],
        }
        status, answer = self.run_on("radio", site)
        self.assertEqual(status, 0)
        # 4 + 97 - (67.75 + 28 - 28) - 7 - 10 dB.
        self.assertAlmostEqual(answer["links"][0]["margin_db"], 16.25, delta=0.1)
        self.assertEqual(answer["reached"], {"h": 0, "r": 1, "e": 2})
        self.assertEqual((answer["cut_points"], answer["full"]), (["r"], True))
        self.assertEqual(len(answer["channel"]["overlap"]), 16)
        self.assertEqual(answer["channel"]["overlap"][str(answer["channel"]["best"])], 0.0)
        status, answer = self.run_on("radio", {**site, "nodes": site["nodes"][1:]})
        self.assertEqual((status, answer["errors"][0]["code"]), (1, "not_one_hub"))

    def test_programs_prints_times_with_their_offset(self) -> None:
        """Over the change of clock, with an hour more on the night that has it; a site without zone is refused."""
        plan = {
            **{"zone": "Europe/London", "lat": 51.5, "lon": 0.0, "from": "2026-10-24", "days": 2},
            "programs": [{"kind": "weekly", "days": ["sat"], "on": "18:30", "off": "sunrise"}],
        }
        status, answer = self.run_on("programs", plan)
        self.assertEqual(status, 0)
        self.assertEqual(answer["on"][0]["from"], "2026-10-24T18:30:00+01:00")
        self.assertTrue(answer["on"][0]["to"].endswith("+00:00"))
        self.assertEqual([one["code"] for one in answer["conflicts"]], ["lit_all_night"])
        self.assertGreater(answer["hours"], 13.0)
        status, answer = self.run_on("programs", {**plan, "zone": ""})
        self.assertEqual((status, answer["errors"][0]["code"]), (1, "no_zone"))

    @tag("long")
    def test_choose_prints_the_window_and_the_parts_in_order(self) -> None:
        """Usual values where none are given; a part of the file is told by its place when it is none."""
        document = {**CASES[0], "spread": False}
        status, answer = self.run_on("choose", document)
        self.assertEqual(status, 0)
        self.assertEqual(set(answer["window"]["capacitor"]) >= {"from_f", "to_f", "lower_reason", "upper_reason"}, True)
        self.assertIn("from_ohm", answer["window"]["resistor"])
        self.assertEqual([part["rank"] for part in answer["parts"]], list(range(1, len(answer["parts"]) + 1)))
        self.assertIn("none", [part["name"] for part in answer["parts"]])
        status, answer = self.run_on("choose", {**document, "parts": [{"kind": "capacitor", "c_f": -1.0}]})
        self.assertEqual((status, answer["errors"][0]["path"]), (1, "parts[0].c_f"))


@tag("long")
class Choose(SimpleTestCase):
    """`ember choose`."""

    SHEET = {key: CASES[2][key] for key in ("supply", "control", "cable", "lamps")}

    def test_windows_limits_and_parts_have_their_units(self) -> None:
        """The keys that others read, in SI; none needed, and no cure, said as flags."""
        done = ember("choose", "-", stdin=json.dumps({**self.SHEET, "spread": False}))
        self.assertEqual(done.returncode, 0, done.stderr)
        answer = json.loads(done.stdout)
        self.assertEqual(set(answer["window"]), {"capacitor", "resistor", "active"})
        capacitor = answer["window"]["capacitor"]
        self.assertLessEqual({"from_f", "to_f", "lower_reason", "upper_reason", "limits", "zones"}, set(capacitor))
        self.assertIn("from_ohm", answer["window"]["resistor"])
        self.assertIn("from_a", answer["window"]["active"])
        self.assertIsInstance(answer["none_needed"], bool)
        self.assertIsInstance(answer["none_cures"], bool)
        self.assertEqual([part["rank"] for part in answer["parts"]], list(range(1, len(answer["parts"]) + 1)))
        self.assertEqual({part["samples"] for part in answer["parts"]}, {0})

    def test_own_parts_are_ranked_and_a_bad_one_is_refused_by_its_place(self) -> None:
        """Named as given; an error names the part."""
        parts = [{"kind": "capacitor", "c_f": 2.2e-7, "r_parallel_ohm": 1e6, "name": "mine"}, {"kind": "resistor"}]
        good = ember("choose", "-", stdin=json.dumps({**self.SHEET, "spread": False, "parts": parts[:1]}))
        self.assertIn("mine", [part["name"] for part in json.loads(good.stdout)["parts"]])
        bad = ember("choose", "-", stdin=json.dumps({**self.SHEET, "parts": parts}))
        self.assertEqual(bad.returncode, 1)
        self.assertEqual(json.loads(bad.stdout)["errors"][0]["path"], "parts[1].r_ohm")


@tag("long")
class Dim(SimpleTestCase):
    """`ember dim`."""

    CASE = {
        "question": "leading",
        "supply": {"v_rms": 230.0, "f_hz": 50.0},
        "control": {"firing_deg": 90.0},
        "lamps": [{"kind": "filament", "count": 1, "r_hot_ohm": 1322.5}],
    }

    def test_a_case_bare_or_wrapped_gives_the_same(self) -> None:
        """With verdict and findings; a list gives a list."""
        wrapped = {"question": "leading", "case": {k: v for k, v in self.CASE.items() if k != "question"}}
        done = ember("dim", "-", stdin=json.dumps([self.CASE, wrapped]))
        self.assertEqual(done.returncode, 0, done.stderr)
        first, second = json.loads(done.stdout)
        self.assertEqual(first, second)
        self.assertEqual(first["verdict"], "goes")
        self.assertAlmostEqual(first["lamp_v_rms"], 230.0 * 0.5**0.5, delta=1.0)
        self.assertEqual({finding["severity"] for finding in first["findings"]}, {"good"})

    def test_transformers_and_bleeders_are_cases_too(self) -> None:
        """An electronic transformer with an electronic bleeder falls in time; what its maker declares is not known."""
        case = {
            **self.CASE,
            "question": "trailing",
            "control": {"turn_off_deg": 120, "r_on_ohm": 0.5},
            "lamps": [{"kind": "electronic_transformer", "count": 2, "c_film_f": 1e-7, "g_s": 6.6e-4, "v_min_v": 12}],
            "bypass": [{"kind": "active", "i_limit_a": 0.02, "r_on_ohm": 500, "v_cutoff_v": 60}],
        }
        found = json.loads(ember("dim", "-", stdin=json.dumps(case)).stdout)
        self.assertEqual((found["verdict"], found["decayed_before_zero_crossing"]), ("unknown", 1.0))
        self.assertIn("rule_declaration_unknown", [finding["code"] for finding in found["findings"]])

    def test_a_case_as_a_netlist(self) -> None:
        """Printed as text; one that fires by its own supply is refused with its reason."""
        done = ember("dim", "--netlist", "-", stdin=json.dumps(self.CASE))
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertTrue(done.stdout.startswith("* Ember Thread, with the light on"))
        self.assertTrue(done.stdout.endswith(".end\n"))
        control = {"v_supply_v": 15.0, "c_supply_f": 1e-4, "i_supply_need_a": 0.005}
        fired = {**self.CASE, "question": "supply gap", "control": control}
        refused = ember("dim", "--netlist", "-", stdin=json.dumps(fired))
        self.assertEqual(refused.returncode, 1)
        self.assertIn("no_netlist", refused.stdout + refused.stderr)

    def test_a_bad_case_hides_no_good_one(self) -> None:
        """Its errors stand in its place, with paths."""
        bad = {**self.CASE, "control": {}}
        done = ember("dim", "-", stdin=json.dumps([bad, self.CASE]))
        answers = json.loads(done.stdout)
        self.assertEqual(done.returncode, 1)
        self.assertEqual(answers[0]["errors"][0]["path"], "control.firing_deg")
        self.assertIn("i_peak_a", answers[1])
