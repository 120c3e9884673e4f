"""The proof of a wiring: every kind of fault by name, every single mistake noticed, and a second model that agrees."""

from __future__ import annotations

import copy
from time import perf_counter
from typing import Any

import numpy as np
from django.test import SimpleTestCase, tag

from ember_cli.wiring import answer
from ember_core.errors import InputError, InputErrors
from ember_core.wiring.cores import live_cores
from ember_core.wiring.document import read
from ember_core.wiring.proof import prove
from ember_core.wiring.told import LampIs, Supply, WiringProof
from tests.core.wirings import CONTROLS, Json, every, exchanged, moved, one_way, second_volts, two_way, without

MUTATIONS = 5_000


def proof(drawing: Json) -> WiringProof:
    """What a document's wiring does."""
    return prove(read(drawing))


def codes(drawing: Json) -> set[str]:
    """What is found of it."""
    return {finding.code for finding in proof(drawing).findings}


def with_device(drawing: Json, name: str, **changes: Any) -> Json:
    """A copy with a device changed."""
    made = copy.deepcopy(drawing)
    next(one for one in made["devices"] if one["id"] == name).update(changes)
    return made


class WhatWorks(SimpleTestCase):
    """Every way in which it is done rightly."""

    def test_each_practice_with_each_control_works(self) -> None:
        """One to three gangs; nothing stands against it, each lamp follows its own gang alone."""
        for drawing in every():
            found = proof(drawing)
            told = [(one.code, dict(one.params)) for one in found.findings if one.severity.value in ("stop", "warn")]
            blue = [one for one in told if one[0] != "neutral_colour_live"]
            self.assertTrue(found.works, (drawing["name"], told))
            self.assertEqual(blue, [], drawing["name"])
            for row in found.rows:
                on = row.positions.get("ctl")
                for lamp, is_so in row.lamps.items():
                    if on is not None:
                        meant = f"L{lamp[-1]}" in on.split("+")
                        self.assertEqual(is_so is LampIs.ON, meant, (drawing["name"], dict(row.positions)))

    def test_a_landing_is_lit_in_half_of_its_positions(self) -> None:
        """Two of four, four of eight with one between; every single switch changes it from everywhere."""
        for drawing in (two_way(), two_way(intermediate=True)):
            rows = proof(drawing).rows
            lit = {tuple(row.positions.values()): row.lamps["lamp1"] is LampIs.ON for row in rows}
            self.assertEqual(sum(lit.values()), len(rows) // 2)
            others = {"L1": "L2", "L2": "L1", "straight": "crossed", "crossed": "straight"}
            for positions, is_lit in lit.items():
                for k, position in enumerate(positions):
                    turned = (*positions[:k], others[position], *positions[k + 1 :])
                    self.assertNotEqual(lit[turned], is_lit)

    def test_through_what_a_control_is_fed(self) -> None:
        """The loop, the bypass, or a neutral; by the gang that feeds it, whatever the others do."""
        wanted = dict.fromkeys(CONTROLS, Supply.LOOP) | {"with_bypass": Supply.BYPASS, "neutral": Supply.NEUTRAL}
        for control, supply in wanted.items():
            rows = proof(one_way(control=control, gangs=2)).rows
            self.assertEqual({row.supplied["ctl"] for row in rows}, {supply}, control)

    def test_a_smart_lamp_is_fed_for_good(self) -> None:
        """A bridge in place of the switch works; behind a control or a switch it does not."""
        drawing = with_device(one_way(), "lamp1", smart=True)
        self.assertIn("smart_lamp_behind_control", codes(drawing))
        bridged = copy.deepcopy(drawing)
        bridged["devices"] = [one for one in bridged["devices"] if one["id"] != "ctl"]
        bridged["intended"] = {}
        joints = [[point for point in joint if not point.startswith("ctl")] for joint in bridged["joints"]]
        joints = [joint for joint in joints if joint not in (["B1@wall"], ["C1@wall"], ["B3@wall"])]
        bridged["joints"] = [*joints, ["B1@wall", "C1@wall"]]
        bridged["capped"].append("B3@wall")
        self.assertTrue(proof(bridged).works, proof(bridged).findings)


class Faults(SimpleTestCase):
    """Each by its name, and what it names."""

    def named(self, drawing: Json, code: str) -> dict[str, str]:
        """The first finding of that code."""
        found = next((dict(one.params) for one in proof(drawing).findings if one.code == code), None)
        assert found is not None, f"{code} is not among {codes(drawing)}"
        return found

    def joint_of(self, drawing: Json, point: str) -> int:
        return next(k for k, joint in enumerate(drawing["joints"]) if point in joint)

    def test_shorts(self) -> None:
        """Line to neutral at the box, line to earth; one only when a contact closes."""
        drawing = one_way("fed_at_switch", "neutral")
        touching = moved(drawing, "D1@far", self.joint_of(drawing, "ctl.L"))
        self.assertIn("lamp_never_lights", codes(touching))
        short = moved(drawing, "A2@far", self.joint_of(drawing, "ctl.L"))
        self.assertEqual(self.named(short, "short_line_neutral"), {"line": "7.L", "neutral": "7.N"})
        self.assertIn("short_line_earth", codes(moved(drawing, "A3@far", self.joint_of(drawing, "ctl.L"))))
        closing = moved(one_way(), "lamp1.2", self.joint_of(one_way(), "lamp1.1"))
        closing = moved(closing, "D1@ceiling1", self.joint_of(closing, "lamp1.1"))
        found = [one for one in proof(closing).findings if one.code == "short_line_neutral"]
        self.assertEqual([dict(one.state or {}) for one in found], [{"ctl": "L1"}])

    def test_two_circuits(self) -> None:
        """Their neutrals joined; a lamp on one that returns by the other."""
        drawing = one_way()
        drawing["circuits"] = ["7", "5"]
        drawing["cores"].append({"id": "F2", "ends": ["board", "ceiling1"], "colour": "blue"})
        borrowed = moved(drawing, "lamp1.2", self.joint_of(drawing, "lamp1.2"))
        borrowed["joints"].append(["5.N", "F2@board"])
        joined = copy.deepcopy(borrowed)
        joined["joints"][self.joint_of(joined, "lamp1.2")].append("F2@ceiling1")
        self.assertEqual(self.named(joined, "circuits_joined"), {"one": "5.N", "other": "7.N"})
        borrowed = without(borrowed, "D1@ceiling1")
        borrowed["capped"] += ["D1@ceiling1"]
        borrowed["joints"][self.joint_of(borrowed, "lamp1.2")].append("F2@ceiling1")
        self.assertEqual(self.named(borrowed, "borrowed_neutral")["neutral"], "5")
        self.assertEqual(proof(borrowed).rows[1].lamps["lamp1"], LampIs.OTHER)

    def test_earth_as_a_return(self) -> None:
        """A lamp on earth lights and is found; a neutral that touches earth too."""
        drawing = one_way()
        drawing["cores"].append({"id": "G3", "ends": ["far", "ceiling1"], "colour": "green-yellow"})
        drawing["joints"][self.joint_of(drawing, "A3@far")].append("G3@far")
        on_earth = without(drawing, "D1@ceiling1")
        on_earth["capped"].append("D1@ceiling1")
        on_earth["joints"][self.joint_of(on_earth, "lamp1.2")].append("G3@ceiling1")
        self.assertEqual(self.named(on_earth, "earth_carries_load")["device"], "lamp1")
        self.assertFalse(proof(on_earth).works)
        both = copy.deepcopy(drawing)
        both["joints"][self.joint_of(both, "lamp1.2")].append("G3@ceiling1")
        self.assertIn("earth_carries_load", codes(both))

    def test_gangs_series_and_what_never_or_always_lights(self) -> None:
        """Two loads exchanged; two lamps one behind the other; a lamp on the live side; one left out."""
        drawing = one_way(gangs=2)
        self.assertEqual(self.named(exchanged(drawing, "C1@wall", "C2@wall"), "gangs_exchanged")["lamp"], "lamp1")
        series = exchanged(drawing, "D1@ceiling1", "D1@ceiling1")
        series = without(series, "D1@ceiling1")
        series["capped"].append("D1@ceiling1")
        series = without(series, "C2@ceiling2")
        series["capped"].append("C2@ceiling2")
        series["joints"][self.joint_of(series, "lamp1.2")].append("lamp2.1")
        series["joints"] = [joint for joint in series["joints"] if joint != ["lamp2.1"]]
        self.assertIn("lamps_in_series", codes(series))
        always = moved(one_way(), "C1@wall", self.joint_of(one_way(), "ctl.L"))
        self.assertEqual(self.named(always, "lamp_always_lit"), {"lamp": "lamp1"})
        self.assertEqual(self.named(without(one_way(), "lamp1.2"), "lamp_never_lights"), {"lamp": "lamp1"})

    def test_a_landing_that_depends_on_the_other_end(self) -> None:
        """A traveller at the common: one switch does nothing in some position of the other."""
        wrong = exchanged(two_way(), "T1@head", "T3@head")
        self.assertEqual(self.named(wrong, "switch_does_nothing")["lamp"], "lamp1")
        self.assertNotIn("switch_does_nothing", codes(exchanged(two_way(), "T1@head", "T2@head")))

    def test_a_switch_in_the_neutral(self) -> None:
        """It works and is deadly: the lamp is live while dark."""
        drawing = two_way()
        turned = exchanged(drawing, "7.L", "7.N")
        self.assertEqual(self.named(turned, "neutral_switched"), {"lamp": "lamp1"})
        self.assertFalse(proof(turned).works)
        self.assertNotIn("neutral_switched", codes(drawing))

    def test_ends_that_go_nowhere(self) -> None:
        """Live ones stop, dead ones warn, capped ones are made safe; one alone in a terminal is as loose."""
        drawing = one_way()
        live = without(drawing, "B1@wall")
        self.assertEqual(self.named(live, "loose_live_end"), {"core": "B1", "point": "B1@wall"})
        self.assertEqual(self.named(without(drawing, "B4@wall"), "loose_end")["point"], "B4@wall")
        self.assertTrue(proof(without(drawing, "B4@wall")).works)
        self.assertNotIn("loose_end", codes(drawing))

    def test_what_a_control_wants(self) -> None:
        """Line and load, neutral, earth, link, and to be fed at all."""
        turned = exchanged(one_way(), "B1@wall", "C1@wall")
        self.assertEqual(self.named(turned, "line_and_load_exchanged"), {"device": "ctl"})
        self.assertTrue(proof(exchanged(one_way(control="two_wire_turnable"), "B1@wall", "C1@wall")).works)
        self.assertEqual(self.named(without(one_way(control="neutral"), "ctl.N"), "neutral_missing"), {"device": "ctl"})
        self.assertEqual(self.named(without(one_way(), "ctl.PE"), "earth_missing")["terminal"], "PE")
        linkless = without(one_way(control="neutral_or_link"), "ctl.N")
        self.assertEqual(self.named(linkless, "mode_link_missing")["device"], "ctl")
        drawing = one_way(control="neutral_or_link")
        with_neutral = moved(drawing, "ctl.N", self.joint_of(drawing, "A2@far"))
        self.assertNotIn("mode_link_missing", codes(with_neutral))
        self.assertEqual(proof(with_neutral).rows[0].supplied["ctl"], Supply.NEUTRAL)
        self.assertIn("control_unfed", codes(without(one_way(), "D1@ceiling1")))

    def test_where_a_bypass_does_nothing_or_harm(self) -> None:
        """At the switch, beside the lamps, on a gang that does not feed."""
        drawing = one_way(control="with_bypass", gangs=2)
        at_switch = moved(drawing, "byp.2", self.joint_of(drawing, "ctl.L"))
        self.assertEqual(self.named(at_switch, "bypass_at_switch"), {"bypass": "byp", "device": "ctl"})
        beside = moved(drawing, "byp.2", self.joint_of(drawing, "byp.1"))
        self.assertEqual(self.named(beside, "bypass_not_across_lamps"), {"bypass": "byp"})
        self.assertIn("bypass_not_across_lamps", codes(without(drawing, "byp.1")))
        wrong = moved(moved(drawing, "byp.1", self.joint_of(drawing, "lamp2.1")), "byp.2", 3)
        wrong = moved(wrong, "byp.2", self.joint_of(wrong, "lamp2.2"))
        self.assertEqual(self.named(wrong, "bypass_on_unfed_gang")["terminal"], "L2")

    def test_marks_colours_and_terminals(self) -> None:
        """A sleeve that lies, a colour that does, a blue core with a live sleeve; three cores under one screw."""
        drawing = one_way()
        core = next(one for one in drawing["cores"] if one["id"] == "C1")
        core.update(marked="neutral")
        self.assertEqual(self.named(drawing, "marked_core_live"), {"core": "C1", "says": "neutral"})
        core.update(marked=None, colour="green-yellow")
        self.assertEqual(self.named(drawing, "marked_core_live")["says"], "earth")
        core.update(colour="blue")
        self.assertIn("neutral_colour_live", codes(drawing))
        core.update(marked="live")
        self.assertFalse({"neutral_colour_live", "marked_core_live"} & codes(drawing))
        full = with_device(one_way("fed_at_switch"), "ctl", holds={"L": 1})
        self.assertNotIn("terminal_overfilled", codes(full))
        full["joints"][self.joint_of(full, "ctl.L")].append("H1@wall")
        full["cores"].append({"id": "H1", "ends": ["wall", "elsewhere"]})
        full["capped"].append("H1@elsewhere")
        self.assertEqual(self.named(full, "terminal_overfilled"), {"point": "ctl.L", "cores": "2"})

    def test_an_input_is_at_mains_potential(self) -> None:
        """A core to an input is live in every position of the switch; never green-yellow, never left bare."""
        drawing = with_device(one_way(), "ctl", inputs=["S", "S1"])
        drawing["devices"].append({"id": "sw", "kind": "one_way"})
        for name, other in (("E1", "S"), ("E2", "S1")):
            core = {"id": name, "ends": ["wall", "door"], "colour": "black", "marked": None, "size_m2": 1.5e-6}
            drawing["cores"].append(core)
            drawing["joints"] += [
                [f"ctl.{other}", f"{name}@wall"],
                [f"{name}@door", f"sw.{'COM' if name == 'E1' else 'L1'}"],
            ]
        read_once, found = read(drawing), proof(drawing)
        self.assertTrue(found.works)
        for row in found.rows:
            self.assertLessEqual({"E1", "E2"}, set(live_cores(read_once, row.positions)), row.positions)
        told = next(one for one in found.findings if one.code == "live_when_off")
        self.assertIn("E2", told.params["cores"])
        green = copy.deepcopy(drawing)
        green["cores"][-1]["colour"] = "green-yellow"
        self.assertIn("marked_core_live", codes(green))
        self.assertIn("loose_live_end", codes(without(drawing, "E2@door")))
        # Where no line comes to the control, nor do its inputs carry any.
        unfed = without(drawing, "ctl.L")
        self.assertFalse({"E1", "E2"} & set(live_cores(read(unfed), found.rows[0].positions)))

    def test_a_diode_in_the_way(self) -> None:
        """Half of the wave is found, with the positions in which it is so."""
        drawing = one_way("fed_at_switch")
        drawing["devices"].append({"id": "d", "kind": "diode"})
        joint = self.joint_of(drawing, "lamp1.2")
        drawing["joints"][joint] = ["lamp1.2", "d.1"]
        drawing["joints"].append(["d.2", "D1@ceiling1"])
        finding = next(one for one in proof(drawing).findings if one.code == "half_wave_feed")
        self.assertEqual((dict(finding.params), dict(finding.state or {})), ({"lamp": "lamp1"}, {"ctl": "L1"}))
        self.assertEqual(proof(drawing).rows[1].lamps["lamp1"], LampIs.HALF)


@tag("long")
class SingleMistakes(SimpleTestCase):
    """One end in the wrong place, drawn at random from wirings that work."""

    @tag("whole")
    def test_none_goes_unnoticed(self) -> None:
        """Each gets a finding of its own that names something of it, or does exactly what was meant."""
        random = np.random.default_rng(11)
        whole = [(drawing, proof(drawing)) for drawing in every()]
        harmless = 0
        for number in range(MUTATIONS):
            drawing, before = whole[int(random.integers(len(whole)))]
            points = [point for joint in drawing["joints"] for point in joint if not point.startswith(("7.", "E"))]
            point = str(random.choice(points))
            match number % 3:
                case 0:
                    other = str(random.choice(points))
                    made = exchanged(drawing, point, other)
                case 1:
                    made = moved(drawing, point, int(random.integers(len(drawing["joints"]))))
                case _:
                    made = without(drawing, point)
            after = proof(made)
            news = {(one.code, *one.params.items()) for one in after.findings if one.code != "live_when_off"}
            news -= {(one.code, *one.params.items()) for one in before.findings}
            if news:
                continue
            harmless += 1
            self.assertTrue(after.works, (drawing["name"], point))
            # Two travellers exchanged turn both ends over: lit in as many positions, by other ones.
            is_so, meant = (sorted(repr(dict(row.lamps)) for row in one.rows) for one in (after, before))
            self.assertEqual(is_so, meant, (drawing["name"], point))
            # A control that may take a neutral may be given one.
            self.assertNotIn(Supply.NONE, {one for row in after.rows for one in row.supplied.values()}, point)
        self.assertLess(harmless, MUTATIONS // 4)


class SecondModel(SimpleTestCase):
    """Nodal voltages with every contact and core as a small resistance: nothing of the first model's in it."""

    def test_both_say_which_lamp_is_lit_and_which_core_is_live(self) -> None:
        """In every state of every wiring, and of drawn mistakes in it that are no short."""
        random = np.random.default_rng(5)
        looked = 0
        drawings = every()
        for drawing in every():
            points = [point for joint in drawing["joints"] for point in joint if not point.startswith(("7.", "E"))]
            for _ in range(6):
                drawings.append(exchanged(drawing, str(random.choice(points)), str(random.choice(points))))
                drawings.append(without(drawing, str(random.choice(points))))
        for document in drawings:
            drawing, found = read(document), proof(document)
            if {one.code for one in found.findings} & {"short_line_neutral", "short_line_earth"}:
                continue
            for row in found.rows:
                volts = second_volts(drawing, row.positions)
                for lamp, is_so in row.lamps.items():
                    share = abs(volts[f"{lamp}.1"] - volts[f"{lamp}.2"])
                    self.assertEqual(share > 0.9, is_so in (LampIs.ON, LampIs.OTHER), (document["name"], lamp, share))
                    looked += 1
        self.assertGreater(looked, 1_000)


class Documents(SimpleTestCase):
    """What is sent."""

    def refused(self, drawing: Any) -> dict[str, str]:
        """Codes by place."""
        with self.assertRaises(InputErrors) as caught:
            read(drawing)
        return {error.path: error.code for error in caught.exception.errors}

    def test_all_that_is_wrong_is_told_with_its_place(self) -> None:
        """Ends twice, unknown points and kinds, terminals that are not named, wrong types."""
        drawing = one_way()
        twice = copy.deepcopy(drawing)
        twice["joints"].append(["B1@wall", "lamp1.1"])
        self.assertEqual(self.refused(twice), {f"joints[{len(twice['joints']) - 1}][0]": "end_twice"})
        both = copy.deepcopy(drawing)
        both["capped"].append("B1@wall")
        self.assertEqual(list(self.refused(both).values()), ["capped_and_joined"])
        nowhere = copy.deepcopy(drawing)
        nowhere["joints"][0].append("X9@wall")
        self.assertEqual(self.refused(nowhere), {"joints[0][2]": "unknown_point"})
        bare = with_device(drawing, "ctl", line=None, needs_earth=True, earth=None)
        found = self.refused(bare)
        self.assertEqual((found["devices[0].line"], found["devices[0].earth"]), ("missing_terminal",) * 2)
        odd = copy.deepcopy(drawing)
        odd["devices"].append({"id": "x", "kind": "teleporter"})
        odd["devices"].append("lamp")
        odd["colour"] = "red"
        self.assertEqual(set(self.refused(odd).values()), {"unknown_kind", "not_an_object", "unknown_key"})
        many = copy.deepcopy(drawing)
        many["devices"] += [{"id": f"d{k}", "kind": "lamp"} for k in range(200)]
        self.assertEqual(self.refused(many)["devices"], "too_many")
        for nothing in (None, [], 7, {}, {"circuits": ["7"], "devices": 3}):
            self.refused(nothing)

    def test_too_many_states_are_refused(self) -> None:
        """Thirteen switches have 8 192."""
        drawing = {"circuits": ["7"], "devices": [{"id": f"s{k}", "kind": "one_way"} for k in range(13)]}
        with self.assertRaises(InputError) as caught:
            prove(read(drawing))
        self.assertEqual(caught.exception.code, "too_many_states")

    def test_a_large_drawing_may_have_fewer_states(self) -> None:
        """States times what is in each is what costs; the figure told is the one that holds there."""
        switches = [{"id": f"s{k}", "kind": "one_way"} for k in range(12)]
        lamps = [{"id": f"l{k}", "kind": "lamp"} for k in range(48)]
        with self.assertRaises(InputError) as caught:
            prove(read({"circuits": ["7"], "devices": switches + lamps}))
        self.assertEqual(caught.exception.params["most"], 3333)
        self.assertEqual(len(prove(read({"circuits": ["7"], "devices": switches[:9]})).rows), 512)

    def test_the_command_s_answer_has_its_keys(self) -> None:
        """`works`, `findings` with code, severity, params and state, `states` with positions, lamps and supplied."""
        told = answer(one_way(gangs=2))
        self.assertEqual(set(told), {"works", "findings", "states"})
        self.assertEqual(len(told["states"]), 4)
        self.assertEqual(told["states"][1]["lamps"], {"lamp1": "on", "lamp2": "off"})
        self.assertEqual(told["states"][0]["supplied"], {"ctl": "loop"})
        for finding in told["findings"]:
            self.assertEqual(set(finding), {"code", "severity", "params", "state"})

    def test_three_gangs_are_proved_at_once(self) -> None:
        """Within 50 ms, the best of a few."""
        drawing = read(one_way("loop_in", "with_bypass", 3))
        took = []
        for _ in range(5):
            began = perf_counter()
            prove(drawing)
            took.append(perf_counter() - began)
        self.assertLess(min(took), 0.05)
