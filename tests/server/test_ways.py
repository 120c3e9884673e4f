"""Ways over the API: compared, looked at, chosen once, by whom and on what; ceiling points, the order, drawings."""

from __future__ import annotations

import json
import uuid
from copy import deepcopy
from dataclasses import replace
from typing import Any

from django.test import tag

from accounts.models import Role
from audit.models import Change
from demo.management.commands.load_demo import load_shelf
from ember_core.routes.boxes import usual_box
from ember_core.survey.document import write_conductor
from loops.models import Gang, Loop
from parts.models import Part
from tests.core.test_surveyed import mixed
from tests.server.base import LAMP, DemoTest, ServerTest, draft, fit
from work.models import CeilingPoint, CheckedDrawing, RouteChoice, RouteOrder

Json = dict[str, Any]
# The loops of the demo that stand for a school, and the way that is favoured there.
SCHOOLS = {
    "Wheelhouse stair": "two_wire",
    "Loft landing": "with_bypass",
    "Sack hoist": "module_at_lamp",
    "Grain loft": "module_with_switch",
    "Meal store": "module_behind_switch",
    "Miller's parlour": "drop_as_feed",
    "Pottery studio": "neutral_present",
    "Clay store": "spare_as_neutral",
    "Dye house": "new_neutral",
    "Yard gate": "timer",
    "Flour bins": "leave",
    "Gallery stair": "control_and_companion",
    "Tower stair": "pair",
}


@tag("long")
class Ways(ServerTest):
    """One gang with four plain lamps and a relay of the shelf; nobody surveyed the box."""

    def setUp(self) -> None:
        super().setUp()
        load_shelf(None)
        self.relay = Part.objects.get(name="Relay S1, 802.15.4 mesh")
        control = {**fit(self.relay.figures), "part": str(self.relay.pk), "label": "Relay S1"}
        self.keep(control=control, bypasses=[], lamps=[fit({**LAMP, "count": 4})])
        self.address = f"/api/v1/loops/{self.loop.pk}/ways/"

    def compare(self) -> Json:
        answer = self.api.post(f"{self.address}compare/", {}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())

    def choose(self, client: Any = None, **given: Any) -> Any:
        seen = self.api.get(self.address).json()["basis"]
        body = {"id": str(uuid.uuid4()), "number": 0, "way": "two_wire", "control": None, "why": "", "basis": seen}
        body |= given
        return (client or self.api).post(f"{self.address}choices/", body, format="json")

    def see(self, version: int = 0, **seen: str) -> Any:
        return self.api.put(f"/api/v1/gangs/{self.gang.pk}/ceiling/", {"version": version, "seen": seen}, format="json")

    def test_every_way_is_told_with_what_it_does_or_what_stands_against_it(self) -> None:
        """One favoured, usable ones first; each that cannot be has one reason in words; nothing is stored."""
        found = self.compare()
        rows = found["rows"]
        self.assertEqual(len(rows), 12)
        self.assertEqual(rows[0]["way"], found["favoured"])
        self.assertTrue(found["is_complete"] and found["because"])
        usable = [row["is_usable"] for row in rows]
        self.assertEqual(usable, sorted(usable, reverse=True))
        for row in rows:
            self.assertEqual(row["against"] is not None, row["works"] == "unknown", row)
            if row["against"] is None:
                self.assertLessEqual(row["well_count"], row["sample_count"])
                self.assertTrue(row["isolation"] and row["rule"] and row["flipped"])
        by_way = {row["way"]: row for row in rows}
        self.assertEqual(by_way["two_wire"]["control_name"], "Pellan & Sedge Relay S1, 802.15.4 mesh")
        self.assertIn("no neutral", by_way["neutral_present"]["against"])
        self.assertIn("Not for an installation", by_way["half_wave"]["against"])
        lamps, detector = by_way["half_wave"]["notes"]
        self.assertIn("on half waves", lamps)
        self.assertIn("3 resistors in series", detector)
        self.assertFalse(RouteChoice.objects.exists())

    @tag("whole")
    def test_it_is_told_in_lines(self) -> None:
        """Ways come one after the other; the last line is the whole answer."""
        answer = self.api.post(f"{self.address}compare/?progress=1", {}, format="json")
        lines = [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]
        counts = [len(line["so_far"]["rows"]) for line in lines if "so_far" in line]
        self.assertEqual(counts, sorted(counts))
        self.assertGreater(len(counts), 3)
        self.assertEqual(len(lines[-1]["result"]["rows"]), 12)

    def test_figures_of_a_way_are_those_of_the_bench(self) -> None:
        """A share that stands on two screens is computed once: the two-wire way says what the bench says."""
        row = next(row for row in self.compare()["rows"] if row["way"] == "two_wire")
        gang = self.api.get(f"/api/v1/gangs/{self.gang.pk}/").json()
        self.assertEqual(row["works"], gang["works"])
        self.gang.refresh_from_db()
        self.assertEqual(row["well_count"], self.gang.overall["well_count"])
        self.assertEqual(row["sample_count"], self.gang.overall["sample_count"])

    @tag("whole")
    def test_what_nobody_looked_at_is_told(self) -> None:
        """The box as it usually is, the ceiling point as it usually is; seen, it is taken for granted no more."""
        told = self.api.get(self.address).json()["assumed"]
        self.assertEqual(len(told), 3)
        self.assertEqual(self.see(line="yes", neutral="own").status_code, 200)
        after = self.api.get(self.address).json()["assumed"]
        self.assertEqual(len(after), 1)
        self.assertIn("Nobody has surveyed the box", after[0])

    def test_a_ceiling_point_decides(self) -> None:
        """Without a live at the ceiling no drop can be turned; another's neutral stands against every control."""
        self.see(line="no", neutral="own")
        by_way = {row["way"]: row["against"] for row in self.compare()["rows"]}
        self.assertIn("no drop", by_way["module_with_switch"])
        self.see(1, line="yes", neutral="other")
        found = self.compare()
        self.assertIsNone(found["favoured"])
        told = {row["against"] for row in found["rows"] if row["way"] in ("two_wire", "with_bypass", "leave")}
        self.assertEqual(len(told), 1)
        self.assertIn("neutral of another circuit", told.pop())

    @tag("whole")
    def test_a_junction_box_is_asked_for_and_opens_its_own_ways(self) -> None:
        """No way is told of one that nobody saw; seen, a module goes there, and the old switch has its input there."""
        self.see(line="yes", neutral="own")
        self.assertNotIn("module_in_junction", {row["way"] for row in self.compare()["rows"]})
        self.assertEqual(self.see(1, line="yes", neutral="own", junction="1").status_code, 200)
        rows = {row["way"]: row for row in self.compare()["rows"]}
        self.assertIsNone(rows["junction_with_switch"]["against"])
        self.assertTrue(any("Hands work in junction box 1." in note for note in rows["module_in_junction"]["notes"]))
        self.assertFalse(any("junction box" in note for note in rows["two_wire"]["notes"]))
        self.assertIn("junction box", rows["module_with_switch"]["against"])
        self.assertEqual(self.see(2, junction="9").status_code, 400)

    @tag("whole")
    def test_two_circuits_want_to_be_told_apart(self) -> None:
        """Said of each gang the ways open; each gets a control of its own."""
        second = self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {"name": "Porch"}, format="json")
        self.assertEqual(second.status_code, 201, second.content)
        surveyed = usual_box("eu", 2)
        conductors = [write_conductor(replace(one, label=surveyed.roles[one.id][0])) for one in surveyed.box.conductors]
        box = {"gangs": ["one_way", "one_way"], "circuits": 2, "conductors": conductors}
        body = {"version": 0, "enquiry": {}, "box": box}
        kept = self.api.put(f"/api/v1/loops/{self.loop.pk}/survey/", body, format="json")
        self.assertEqual(kept.status_code, 200, kept.content)
        told = self.api.get(self.address).json()
        self.assertTrue(told["asks_circuit"])
        self.assertIn("which gang hangs on which", told["against"])
        for point, circuit in zip(told["ceiling"], ("own", "other"), strict=True):
            seen = {"version": 0, "seen": {"hangs_on": circuit}}
            self.api.put(f"/api/v1/gangs/{point['gang']}/ceiling/", seen, format="json")
        self.assertIsNone(self.api.get(self.address).json()["against"])
        asked = {"way": "two_wire", "control": None}
        one = self.api.post(f"{self.address}one/", asked, format="json").json()
        controls = [device["id"] for device in one["map"]["drawing"]["devices"] if device["kind"] == "control"]
        self.assertEqual(controls, ["ctl1", "ctl2"])
        self.assertTrue(one["map"]["works"])

    @tag("whole")
    def test_a_gang_that_is_no_switch_of_the_box_is_not_left_out(self) -> None:
        """A second one on the bench and one switch in the box: nothing is compared before the box has both."""
        self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {"name": "Porch"}, format="json")
        for version, count, against in ((0, 1, "no switch of the number"), (1, 2, None)):
            surveyed = usual_box("eu", count)
            conductors = [write_conductor(replace(c, label=surveyed.roles[c.id][0])) for c in surveyed.box.conductors]
            box = {"gangs": ["one_way"] * count, "circuits": 1, "conductors": conductors}
            body = {"version": version, "enquiry": {}, "box": box}
            kept = self.api.put(f"/api/v1/loops/{self.loop.pk}/survey/", body, format="json")
            self.assertEqual(kept.status_code, 200, kept.content)
            told = self.api.get(self.address).json()
            if against is None:
                self.assertIsNone(told["against"])
                continue
            self.assertEqual(told["mend_at"], "box")
            self.assertIn(against, told["against"])
            self.assertEqual(self.compare()["rows"], [])

    @tag("whole")
    def test_a_gap_in_the_numbers_of_gangs_wants_the_box(self) -> None:
        """The second of three was archived and nobody surveyed the box: its switches are not guessed."""
        for _ in range(2):
            self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {}, format="json")
        self.assertIsNone(self.api.get(self.address).json()["against"])
        second = Gang.objects.get(loop=self.loop, position=2)
        body = {"version": second.version, "reason": "counted twice"}
        answer = self.api.post(f"/api/v1/gangs/{second.pk}/archive/", body, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertIn("no switch of the number", self.api.get(self.address).json()["against"])

    @tag("whole")
    def test_of_a_mixed_box_one_sort_changes_at_a_time(self) -> None:
        """Told where to mend it; with an ordinary switch on the bench for the stair its own gang has its ways."""
        self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {}, format="json")
        stair = Gang.objects.get(loop=self.loop, position=2)
        for place, surveyed in enumerate(mixed(), 1):
            conductors = [write_conductor(replace(c, label=surveyed.roles[c.id][0])) for c in surveyed.box.conductors]
            box = {"gangs": [ways.value for ways in surveyed.box.gangs], "circuits": 1, "conductors": conductors}
            body = {"version": 0, "place": place, "enquiry": {}, "box": box}
            kept = self.api.put(f"/api/v1/loops/{self.loop.pk}/survey/", body, format="json")
            self.assertEqual(kept.status_code, 200, kept.content)
        told = self.api.get(self.address).json()
        self.assertEqual((told["mend_at"], told["against"][:23]), ("parts", "This box holds gangs th"))
        body = draft(control=fit({"c_snubber_f": 0.0}), bypasses=[], lamps=[fit({**LAMP, "count": 4})])
        body["version"] = stair.version
        answer = self.api.put(f"/api/v1/gangs/{stair.pk}/", body, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertIsNone(self.api.get(self.address).json()["against"])
        rows = {row["way"]: row for row in self.compare()["rows"]}
        self.assertIsNone(rows["two_wire"]["against"])
        self.assertNotIn("control_and_companion", rows)
        one = self.api.post(f"{self.address}one/", {"way": "two_wire", "control": None}, format="json").json()
        self.assertTrue(one["map"]["works"])
        self.assertEqual(
            {device["id"] for device in one["map"]["drawing"]["devices"]}, {"ctl", "box", "box2", "lamp1", "lamp2"}
        )

    @tag("whole")
    def test_ours_names_the_breaker(self) -> None:
        """The board of our map is that of the loop, and is the same when the drawing is compared with it."""
        work = self.api.get(self.address).json()
        self.assertEqual(work["start"]["circuits"], ["7"])
        self.assertTrue(any("7.L" in joint for joint in work["start"]["joints"]))
        self.assertEqual(self.choose().status_code, 201)
        check = f"/api/v1/loops/{self.loop.pk}/drawings/check/"
        ours = self.api.get(self.address).json()["start"]
        told = self.api.post(check, {"document": ours}, format="json").json()
        self.assertEqual(told["differs"], ["It does what the chosen map does, terminal by terminal."])
        other = json.loads(json.dumps(ours).replace('"7.L"', '"8.L"').replace('"7.N"', '"8.N"').replace('"7"', '"8"'))
        told = self.api.post(check, {"document": other}, format="json").json()
        self.assertTrue(any("8" in line for line in told["differs"]), told["differs"])

    def test_a_stale_ceiling_point_is_refused_and_a_word_that_is_none(self) -> None:
        """Nothing is changed; the same sent twice is one."""
        self.assertEqual(self.see(line="yes").status_code, 200)
        self.assertEqual(self.see(line="yes").status_code, 200)
        stale = self.see(line="no")
        self.assertEqual((stale.status_code, stale.json()["code"]), (409, "stale_version"))
        self.assertEqual(self.see(1, line="perhaps").status_code, 400)
        self.assertEqual(CeilingPoint.objects.get().seen["line"], "yes")
        self.assertEqual(CeilingPoint.objects.get().version, 1)

    @tag("whole")
    def test_a_choice_keeps_who_why_and_its_map(self) -> None:
        """On record with the map as it was; the trail names it; a second person sees it."""
        made = self.choose(why="The tenant has no ladder")
        self.assertEqual(made.status_code, 201, made.content)
        choice = made.json()["choices"][0]
        self.assertEqual(
            (choice["way"], choice["by"], choice["why"]), ("two_wire", "The technician", "The tenant has no ladder")
        )
        self.assertTrue(choice["is_current"])
        row = RouteChoice.objects.get()
        self.assertEqual(row.control, str(self.relay.pk))
        self.assertEqual(row.rated["control_name"], "Pellan & Sedge Relay S1, 802.15.4 mesh")
        self.assertTrue(Change.objects.filter(subject_id=row.pk, action="chosen").exists())
        seen = self.clients[Role.CHECKER].get(self.address).json()
        self.assertEqual(seen["chosen_map"], made.json()["chosen_map"])
        self.assertTrue(seen["chosen_map"]["works"])

    @tag("whole")
    def test_the_map_makes_what_is_wanted_and_undoes_it(self) -> None:
        """Each end that moves has a line there and a line back; safety stands first, both ways."""
        told = self.choose().json()["chosen_map"]
        for lines in (told["lines"], told["back"]):
            self.assertEqual([line["kind"] for line in lines[:2]], ["safe", "photograph"])
            self.assertIn("prove dead", lines[0]["text"])
            self.assertEqual(len({line["key"] for line in lines}), len(lines))
        ends = {point for line in told["lines"] for point in line["points"]}
        self.assertEqual(ends, {point for line in told["back"] for point in line["points"]})
        moved = {
            end["point"] for core in told["drawing"]["cores"] for end in core["ends"] if end["before"] != end["after"]
        }
        self.assertEqual(ends, moved)
        sleeves = [line["text"] for line in told["lines"] if line["kind"] == "sleeve"]
        self.assertEqual(sleeves, ["Core c2 (blue): put on a sleeve that says live, at every end that is opened."])

    def test_each_state_says_what_is_lit_fed_and_live(self) -> None:
        """Off and on: the lamp follows, and the core to it is live only when on."""
        off, on = self.choose().json()["chosen_map"]["states"]
        self.assertEqual((off["lamps"], on["lamps"]), ({"lamp1": "off"}, {"lamp1": "on"}))
        self.assertEqual(set(on["live"]) - set(off["live"]), {"c2"})
        self.assertEqual(off["supplied"], {"ctl": "loop"})

    @tag("whole")
    def test_what_changes_afterwards_makes_it_old(self) -> None:
        """The bench, a reading, a ceiling point: the map is kept as it was, and says that it is of before."""
        self.choose()
        before = RouteChoice.objects.get().wire_map
        self.see(line="no")
        told = self.api.get(self.address).json()["choices"][0]
        self.assertFalse(told["is_current"])
        self.assertEqual(RouteChoice.objects.get().wire_map, before)

    @tag("whole")
    def test_its_basis_moves_with_all_that_it_stands_on(self) -> None:
        """Bench, ceiling point, survey: whoever has the page open compares anew."""
        seen = [self.api.get(self.address).json()["basis"]]

        def moved() -> bool:
            seen.append(self.api.get(self.address).json()["basis"])
            return seen[-1] not in seen[:-1]

        self.see(line="no")
        self.assertTrue(moved())
        self.keep(2, lamps=[fit({**LAMP, "count": 3})])
        self.assertTrue(moved())
        survey = {"version": 0, "place": 1, "name": "", "enquiry": {}, "practice": "", "control_body": None}
        survey |= {"spacers_m": [], "travellers_m": None, "other_circuits": []}
        survey["box"] = {"gangs": ["one_way"], "circuits": 1, "conductors": []}
        answer = self.api.put(f"/api/v1/loops/{self.loop.pk}/survey/", survey, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertTrue(moved())
        self.assertFalse(moved())

    @tag("whole")
    def test_two_people_cannot_choose_past_each_other(self) -> None:
        """The later one is told what was chosen meanwhile; the same entry twice is one; another's is refused."""
        key = str(uuid.uuid4())
        self.assertEqual(self.choose(id=key).status_code, 201)
        self.assertEqual(self.choose(id=key).status_code, 201)
        late = self.choose(self.clients[Role.ADMINISTRATOR], way="leave")
        self.assertEqual((late.status_code, late.json()["code"]), (409, "stale_version"))
        self.assertEqual(late.json()["current"]["way"], "two_wire")
        self.assertEqual(self.choose(self.clients[Role.ADMINISTRATOR], id=key).status_code, 409)
        self.assertEqual(self.choose(number=1, way="leave").status_code, 201)
        self.assertEqual([row.way for row in RouteChoice.objects.all()], ["leave", "two_wire"])

    @tag("whole")
    def test_ways_of_before_are_not_chosen(self) -> None:
        """Somebody looked at the ceiling meanwhile: refused, nothing kept; one that is kept already is answered."""
        key, seen = str(uuid.uuid4()), self.api.get(self.address).json()["basis"]
        self.see(line="no")
        late = self.choose(basis=seen)
        self.assertEqual((late.status_code, late.json()["code"]), (409, "ways_changed"))
        self.assertFalse(RouteChoice.objects.exists())
        now = self.api.get(self.address).json()["basis"]
        self.assertEqual(self.choose(id=key, basis=now).status_code, 201)
        self.see(1, line="yes")
        self.assertEqual(self.choose(id=key, basis=now).status_code, 201)
        self.assertEqual(RouteChoice.objects.count(), 1)

    def test_what_cannot_be_is_not_chosen(self) -> None:
        """A way that stands against, a control that does not serve, a way that is none; a checker chooses nothing."""
        self.assertEqual(self.choose(way="neutral_present").json()["code"], "way_cannot_be")
        module = Part.objects.get(name="Ceiling module M1, sub-GHz")
        self.assertEqual(self.choose(control=str(module.pk)).json()["code"], "control_does_not_serve")
        self.assertEqual(self.choose(way="magic").status_code, 400)
        self.assertEqual(self.choose(self.clients[Role.CHECKER]).status_code, 403)
        self.assertFalse(RouteChoice.objects.exists())

    @tag("whole")
    def test_another_control_can_be_looked_at(self) -> None:
        """The way is judged anew with it; what it demands of the box is in its map."""
        other = Part.objects.get(name="Touch relay C3, sub-GHz")
        answer = self.api.post(
            f"{self.address}one/", {"way": "two_wire", "control": str(other.pk)}, format="json"
        ).json()
        self.assertEqual(answer["row"]["control_name"], "Tarnbrook Touch relay C3, sub-GHz")
        self.assertIn("PE", {line["text"].rsplit(" ", 1)[-1].strip(".") for line in answer["map"]["lines"]})
        self.assertNotIn(str(other.pk), [one["key"] for one in answer["row"]["others"]])

    @tag("whole")
    def test_the_order_is_the_firm_s(self) -> None:
        """Only an administrator sets it, each value once, no stale one; with cost first the cheapest is first."""
        values = ["cost", "safety", "certainty", "function"]
        self.assertEqual(
            self.api.put("/api/v1/way-order/", {"version": 0, "values": values}, format="json").status_code, 403
        )
        admin = self.clients[Role.ADMINISTRATOR]
        wrong = admin.put("/api/v1/way-order/", {"version": 0, "values": ["cost", "cost"]}, format="json")
        self.assertEqual(wrong.json()["code"], "every_value_once")
        self.assertEqual(
            admin.put("/api/v1/way-order/", {"version": 0, "values": values}, format="json").status_code, 200
        )
        stale = admin.put("/api/v1/way-order/", {"version": 0, "values": values[::-1]}, format="json")
        self.assertEqual(stale.status_code, 409)
        self.assertEqual(RouteOrder.objects.get().values, values)
        rows = [row for row in self.compare()["rows"] if row["is_usable"] and "No radio" not in " ".join(row["losses"])]
        cost = [row["minutes"]["likely"] + row["price"] for row in rows]
        self.assertEqual(cost, sorted(cost))

    def test_a_loop_without_lamps_is_not_judged_and_says_so(self) -> None:
        """Unknown is an answer: nothing is favoured."""
        Loop.objects.filter(pk=self.loop.pk)
        self.keep(2, control=None, lamps=[], bypasses=[])
        found = self.compare()
        self.assertIsNone(found["favoured"])
        self.assertEqual({row["works"] for row in found["rows"]}, {"unknown"})


class Drawings(ServerTest):
    """A leaflet's drawing: tried, kept as a source, corrected by another."""

    def setUp(self) -> None:
        super().setUp()
        self.address = f"/api/v1/loops/{self.loop.pk}/drawings/"
        self.right: Json = {
            "name": "ours",
            "circuits": ["7"],
            "devices": [
                {"id": "ctl", "kind": "control", "line": "L", "loads": ["L1"], "feeding_loads": ["L1"]},
                {"id": "lamp1", "kind": "lamp"},
            ],
            "cores": [{"id": "A1", "ends": ["board", "wall"]}, {"id": "B1", "ends": ["wall", "ceiling"]}],
            "joints": [
                ["7.L", "A1@board"],
                ["A1@wall", "ctl.L"],
                ["ctl.L1", "B1@wall"],
                ["B1@ceiling", "lamp1.1"],
                ["lamp1.2", "7.N"],
            ],
            "capped": [],
        }

    def send(self, document: Json, **more: Any) -> Any:
        body = {"id": str(uuid.uuid4()), "name": "Leaflet", "source": "box", "document": document, **more}
        return self.api.post(self.address, body, format="json")

    def wrong(self) -> Json:
        made = deepcopy(self.right)
        made["joints"][1][1], made["joints"][2][0] = "ctl.L1", "ctl.L"
        return made

    def test_a_right_one_works_and_a_wrong_one_says_where(self) -> None:
        """Line and load exchanged is told with the control; both are kept, one correcting the other."""
        wrong = self.send(self.wrong())
        self.assertEqual(wrong.status_code, 201, wrong.content)
        self.assertFalse(wrong.json()["works"])
        self.assertIn("line_and_load_exchanged", [finding["code"] for finding in wrong.json()["findings"]])
        right = self.send(self.right, name="Corrected", corrects=wrong.json()["id"])
        self.assertTrue(right.json()["works"])
        kept = {row["name"]: row for row in self.api.get(self.address).json()}
        self.assertEqual(kept["Corrected"]["corrects"], kept["Leaflet"]["id"])

    def test_trying_keeps_nothing(self) -> None:
        """Only what it would do is told."""
        answer = self.api.post(f"{self.address}check/", {"document": self.right}, format="json")
        self.assertTrue(answer.json()["works"])
        self.assertEqual([state["lamps"]["lamp1"] for state in answer.json()["states"]], ["off", "on"])
        self.assertFalse(CheckedDrawing.objects.exists())

    def test_what_is_no_drawing_is_refused_with_its_places(self) -> None:
        """A core with one end twice, a point that is none, 200 devices, no object at all."""
        twice = deepcopy(self.right)
        twice["joints"].append(["A1@wall", "ctl.L1"])
        magic = deepcopy(self.right)
        magic["joints"].append(["ctl.L9", "7.N"])
        many = {**self.right, "devices": [{"id": f"l{k}", "kind": "lamp"} for k in range(200)]}
        for document, code in (
            (twice, "end_twice"),
            (magic, "unknown_point"),
            (many, "too_many"),
            ([1], "not_an_object"),
        ):
            answer = self.send(document)  # type: ignore[arg-type]  # on purpose
            self.assertEqual(answer.status_code, 422, answer.content)
            errors = answer.json()["errors"]
            self.assertIn(code, [error["code"] for error in errors])
            self.assertTrue(all(error["path"].startswith("document") for error in errors))
            self.assertTrue(all(error["text"] for error in errors))
        self.assertFalse(CheckedDrawing.objects.exists())

    def test_an_identity_is_one_drawing_s(self) -> None:
        """Sent twice it is one; with other content it is refused."""
        key = str(uuid.uuid4())
        self.assertEqual(self.send(self.right, id=key).status_code, 201)
        self.assertEqual(self.send(self.right, id=key).status_code, 201)
        self.assertEqual(self.send(self.wrong(), id=key).status_code, 409)
        self.assertEqual(CheckedDrawing.objects.count(), 1)
        self.assertEqual(self.send(self.right, corrects=str(uuid.uuid4())).json()["code"], "no_such_drawing")


@tag("whole")
class Schools(DemoTest):
    """The demo: each school wins at one loop, and one loop has a fault that stands against all."""

    def setUp(self) -> None:
        super().setUp()
        self.loops = {loop.name: loop for loop in Loop.objects.all()}

    def compare(self, name: str) -> Json:
        """Every way of a loop of the demo."""
        answer = self.api.post(f"/api/v1/loops/{self.loops[name].pk}/ways/compare/", {}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())

    def test_each_school_wins_once(self) -> None:
        """By the same comparison as everywhere; the map of each passes its proof."""
        both = set()
        for name, way in SCHOOLS.items():
            compared = self.compare(name)
            self.assertEqual(compared["favoured"], way, name)
            for row in compared["rows"]:
                # In how many trials it works is said once, by the sentence or beside it.
                counted = f"{row['sample_count']} trials" in row["works_text"]
                self.assertEqual(row["is_share_told"], counted, row)
                both.add(counted)
        self.assertEqual(both, {True, False})
        for name, way in SCHOOLS.items():
            address = f"/api/v1/loops/{self.loops[name].pk}/ways/one/"
            told = self.api.post(address, {"way": way, "control": None}, format="json").json()
            self.assertTrue(told["map"]["works"], name)
        borrowed = self.compare("Cider cellar")
        self.assertIsNone(borrowed["favoured"])
        self.assertTrue(any("neutral of another circuit" in (row["against"] or "") for row in borrowed["rows"]))

    def test_a_live_at_the_luminaire_opens_a_stair_for_a_module(self) -> None:
        """Seen there, its switches can become the input; chosen, hands are at the luminaire alone."""
        stair = self.loops["Tower stair"]
        told = {row["way"]: row for row in self.compare(stair.name)["rows"]}
        before = {way: row["against"] for way, row in told.items()}
        self.assertIn("no drop", before["module_with_switch"])
        self.assertIn("bridged", told["module_at_lamp"]["flipped"])
        gang = stair.gangs.get()
        seen = {"version": 0, "seen": {"line": "yes", "neutral": "own"}}
        self.assertEqual(self.api.put(f"/api/v1/gangs/{gang.pk}/ceiling/", seen, format="json").status_code, 200)
        rows = {row["way"]: row for row in self.compare(stair.name)["rows"]}
        self.assertTrue(rows["module_with_switch"]["is_usable"])
        self.assertIn("no switch left", rows["module_at_lamp"]["flipped"])
        at = f"/api/v1/loops/{stair.pk}/"
        basis = self.api.get(f"{at}ways/").json()["basis"]
        body = {"number": 0, "control": None, "why": "", "basis": basis, "way": "module_with_switch"}
        chosen = self.api.post(f"{at}ways/choices/", {**body, "id": str(uuid.uuid4())}, format="json")
        self.assertEqual(chosen.status_code, 201, chosen.content)
        steps = self.api.get(f"{at}fit/").json()["steps"]
        self.assertEqual({step["place"] for step in steps if step["power"] == "dead"}, {"ceiling1"})
        said = {step["key"]: step["text"] for step in steps}
        self.assertIn("The luminaire is closed", said["power_on"])
        self.assertIn("at every switch and companion", said["try:lamp1"])
        keys = [item["key"] for item in self.api.get(f"{at}prove/").json()["items"]]
        self.assertEqual(len([key for key in keys if key.startswith("switches:1:")]), 2, keys)
