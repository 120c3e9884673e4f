"""What a way has put in is what the record holds, what is judged, and what is to be proved."""

from __future__ import annotations

import uuid
from importlib import import_module
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.test import override_settings, tag

from handover.services.lines import part_lines
from judgements.models import Judgement
from loops.documents import gang_document
from loops.models import FittedBypass, FittedControl, Gang, LampGroup
from parts.models import Part
from standins import meter_server
from tests.server.base import CONTROL, fit
from tests.server.test_fitting import FitTest

Json = dict[str, Any]


class PutIn(FitTest):
    """Helpers for a gang before and after it was fitted."""

    def control(self) -> FittedControl:
        """The control on record."""
        return FittedControl.objects.select_related("part").get(gang=self.gang)

    def stored(self) -> Gang:
        """The gang as it is stored."""
        return Gang.objects.get(pk=self.gang.pk)

    def expected(self, read: str) -> Json:
        """What a reading is expected to be."""
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()
        return dict(next(one["expected"] for one in worth["readings"] if one["read"] == read))

    def read_and_mark(self, value: float, result: str) -> Any:
        """Volts at the lamps after fitting, and the item marked by them."""
        reading = {"kind": "lamp_v", "value": value, "meter_r_ohm": 1e7, "group": 0}
        body = {"id": str(uuid.uuid4()), "occasion": "after_fitting", "meter": "", "reading": reading}
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/measured/", body, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        body = {"id": str(uuid.uuid4()), "item": "reading:1", "result": result}
        return self.api.post(self.at("prove/marks/"), body, format="json")

    def finish_but_one(self) -> None:
        """Everything but the last step, with the power back on."""
        self.do(until="power_back")
        self.assertEqual(self.power_back().status_code, 200)


@tag("long")
class ModuleWithNeutral(PutIn):
    """A relay on the bench, fed through the lamps; what is put in is a module at the luminaire with its neutral."""

    way = "module_at_lamp"

    @tag("whole")
    def test_it_is_what_is_judged_and_proved(self) -> None:
        """Nothing of it flows through the lamps: what would be as computed of the relay is outside of it."""
        before = self.stored()
        of_relay = self.expected("lamp_v")["p50"]
        self.assertEqual(self.control().wired, "loop")
        self.loop.refresh_from_db()
        self.assertFalse(self.loop.chosen["on_bench"])
        self.finish_but_one()
        self.assertEqual(self.stored().version, before.version)
        self.assertEqual(self.tick("power_back").status_code, 201)
        self.loop.refresh_from_db()
        control, after = self.control(), self.stored()
        self.assertEqual(str(control.part_id), self.loop.chosen["control"])
        self.assertEqual((control.wired, control.status), ("straight", "fitted"))
        assert control.part is not None
        self.assertEqual(control.figures, control.part.figures)
        self.assertTrue(self.loop.chosen["on_bench"])
        self.assertEqual((after.verdict, self.loop.works), ("dark", self.loop.chosen["works"]))
        assert after.line_i_rms_a is not None
        assert before.line_i_rms_a is not None
        self.assertLess(after.line_i_rms_a, 0.2 * before.line_i_rms_a)
        newest = Judgement.objects.filter(gang=self.gang).order_by("-made_at").first()
        assert newest is not None
        self.assertNotIn("standby", newest.sheet["control"])
        self.assertEqual(self.loop.next_step, "prove")
        keys = [one["key"] for one in self.api.get(self.at("prove/")).json()["items"]]
        # Fed by a neutral it has electronics all the same: the cut is tried, and a reading taken.
        self.assertTrue({"reading:1", "power_on"} <= set(keys), keys)
        self.assertLess(self.expected("lamp_v")["p95"], 0.8 * of_relay)
        refused = self.read_and_mark(of_relay, "as_computed")
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "reading_says_otherwise"))
        answer = self.read_and_mark(self.expected("lamp_v")["p50"], "as_computed")
        self.assertEqual(answer.status_code, 201, answer.content)

    @tag("whole")
    def test_the_last_step_taken_back_leaves_it_planned_and_done_again_fitted(self) -> None:
        """The same control stays, and nothing is put in a second time."""
        self.finish_but_one()
        self.assertEqual(self.tick("power_back").status_code, 201)
        version = self.stored().version
        self.assertEqual(self.tick("power_back", "open", reason="a screw was loose").status_code, 201)
        self.assertEqual((self.control().wired, self.control().status), ("straight", "planned"))
        self.assertEqual(self.tick("power_back").status_code, 201)
        self.assertEqual(self.control().status, "fitted")
        self.assertEqual(self.stored().version, version + 2)


@tag("whole")
class AnotherControl(PutIn):
    """The way was chosen with another control than the one on the bench, and wants no bypass."""

    way = "two_wire"

    def test_the_bench_follows_with_what_hangs_there(self) -> None:
        """Label, figures and judgement are those of what was put in; a bypass that was only planned is gone."""
        relay = self.control()
        answer = self.keep_now(control={**fit(CONTROL), "label": "Another relay"}, bypasses=[fit(self.capacitor())])
        self.assertEqual(answer.status_code, 200, answer.content)
        self.finish_but_one()
        self.assertEqual(self.tick("power_back").status_code, 201)
        after = self.control()
        assert relay.part is not None
        self.assertEqual((after.part_id, after.label), (relay.part_id, f"{relay.part.maker} {relay.part.name}"))
        self.assertEqual((after.wired, after.status), ("loop", "fitted"))
        self.assertFalse(FittedBypass.objects.filter(gang=self.gang).exists())

    def capacitor(self) -> Json:
        """Figures of a bypass of the shelf."""
        return dict(Part.objects.filter(category="bypass", v_rms=230.0).order_by("name")[0].figures)

    def keep_now(self, **parts: Any) -> Any:
        """Keep the gang with other parts on its bench."""
        now = self.api.get(f"/api/v1/gangs/{self.gang.pk}/").json()
        return self.api.put(f"/api/v1/gangs/{self.gang.pk}/", {**now, **parts}, format="json")


@tag("long")
class LampsOnRecord(PutIn):
    """Planned, as they come to a gang, until somebody has tried them with what was put in."""

    def lamps(self) -> list[str]:
        """Their status."""
        return list(LampGroup.objects.filter(gang=self.gang).values_list("status", flat=True))

    @tag("whole")
    def test_those_that_were_tried_hang_there(self) -> None:
        """Which are meant is said where they are tried; what is signed calls them fitted."""
        (note,) = [step["note"] for step in self.fitting()["steps"] if step["act"] == "try_lamp"]
        self.assertIn("4 × own", note)
        self.finish_but_one()
        self.assertEqual(self.lamps(), ["planned"])
        self.assertEqual(self.tick("power_back").status_code, 201)
        self.assertEqual(self.lamps(), ["fitted"])
        self.assertEqual(on_paper(gang_document(self.stored()))["lamps:1"], "4 × own (fitted)")

    @tag("whole")
    def test_they_hang_there_too_when_the_last_step_is_taken_back(self) -> None:
        """The control is to be looked at again; nobody took the lamps away. A trial is never left out."""
        self.do(until="try:lamp1")
        answer = self.tick("try:lamp1", "skipped", reason="lamps come next week")
        self.assertEqual(answer.json()["code"], "step_is_needed")
        self.finish_but_one()
        self.tick("power_back")
        self.assertEqual(self.tick("power_back", "open", reason="a screw was loose").status_code, 201)
        self.assertEqual((self.control().status, self.lamps()), ("planned", ["fitted"]))


def on_paper(document: Json) -> dict[str, str]:
    """The parts of a gang as they stand on what is signed."""
    return {key: text for key, _, text in part_lines(document)}


class HowItHangs(PutIn):
    """Said of a control on the bench."""

    def test_a_neutral_feeds_only_what_takes_one(self) -> None:
        """Two wires feed the relay: it is refused, and nothing changes; a pair of it draws twice the current."""
        now = self.api.get(f"/api/v1/gangs/{self.gang.pk}/").json()
        url = f"/api/v1/gangs/{self.gang.pk}/"
        refused = self.api.put(url, {**now, "control": {**now["control"], "wired": "straight"}}, format="json")
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "control_has_no_neutral"))
        self.assertEqual(self.stored().version, now["version"])
        kept = self.api.put(url, {**now, "control": {**now["control"], "wired": "pair"}}, format="json")
        self.assertEqual((kept.status_code, kept.json()["control"]["wired"]), (200, "pair"))
        sheet = Judgement.objects.filter(gang=self.gang).order_by("-made_at")[0].sheet
        one, two = now["control"]["figures"]["standby"]["p_w"], sheet["control"]["standby"]["p_w"]
        self.assertEqual(self.typical(two), 2.0 * self.typical(one))

    def typical(self, entry: Any) -> float:
        """The typical value of a sheet's entry."""
        return float(entry["typical"] if isinstance(entry, dict) else entry)

    def demanding(self) -> Part:
        """A relay of the shelf whose leaflet demands a neutral."""
        return Part.objects.get(name="Relay N1, 802.15.4 mesh")

    def hang(self, **more: Any) -> Any:
        """Keep the gang with that relay, its wiring as `more` says or unsaid."""
        now = self.api.get(f"/api/v1/gangs/{self.gang.pk}/").json()
        part = self.demanding()
        control = {"part": str(part.pk), "label": part.name, "figures": part.figures, **more}
        return self.api.put(f"/api/v1/gangs/{self.gang.pk}/", {**now, "control": control}, format="json")

    def to_prove(self) -> set[str]:
        """What is to be proved of the loop."""
        return {one["key"] for one in self.api.get(self.at("prove/")).json()["items"]}

    def test_what_demands_a_neutral_is_kept_as_fed_by_one(self) -> None:
        """Nobody says how: by its leaflet. It has electronics to be proved; two wires do not feed it."""
        kept = self.hang()
        self.assertEqual((kept.status_code, kept.json()["control"]["wired"]), (200, "straight"), kept.content)
        self.assertTrue({"reading:1", "power_on"} <= self.to_prove(), self.to_prove())
        for wired in ("loop", "pair"):
            refused = self.hang(wired=wired)
            self.assertEqual((refused.status_code, refused.json()["code"]), (422, "control_wants_neutral"))
        self.assertEqual(self.control().wired, "straight")

    @override_settings(DEMO=True)
    def test_the_meter_shows_its_loop_too(self) -> None:
        """Current and volts at the lamps where a neutral feeds the control, as computed: its reading passes."""
        self.assertEqual(self.hang().status_code, 200)
        for read in ("line_i", "lamp_v"):
            # Of the two volts at the lamps a digit of noise is a twentieth.
            with patch.multiple(meter_server, V_FLOOR=0.0, A_FLOOR=0.0, GAIN_SPREAD=0.0):
                shown = self.api.post(f"/api/v1/gangs/{self.gang.pk}/meter/", {"read": read}, format="json")
            self.assertEqual(shown.status_code, 200, shown.content)
            value, expected = shown.json()["value"], self.expected(read)
            self.assertGreater(value, 0.9 * expected["p05"], read)
            self.assertLess(value, 1.1 * expected["p95"], read)
        self.assertEqual(self.read_and_mark(value, "as_computed").status_code, 201)

    def test_whether_a_neutral_feeds_it_is_said_once(self) -> None:
        """Not by a figure of the control as well, which would say something else than the bench."""
        refused = self.hang(figures={**self.demanding().figures, "has_neutral": True})
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "unknown_key"))

    def test_records_of_before_are_asked_by_their_leaflets(self) -> None:
        """One that demands a neutral hangs by it, one of two wires stays, and where a loop stands is asked anew."""
        ask = import_module("loops.migrations.0020_fed_by_a_neutral").ask
        ask(apps, None)
        self.assertEqual(self.control().wired, "loop")
        self.assertEqual(self.hang().status_code, 200)
        FittedControl.objects.filter(gang=self.gang).update(wired="loop")
        self.assertNotIn("reading:1", self.to_prove())
        ask(apps, None)
        self.assertEqual(self.control().wired, "straight")
        self.assertIn("reading:1", self.to_prove())
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.stage, "")

    def test_marks_of_before_go_on_to_count(self) -> None:
        """How it hangs was not kept then; what was seen of its switch was seen all the same."""
        self.assertEqual(self.hang().status_code, 200)
        FittedControl.objects.filter(gang=self.gang).update(wired="loop")
        body = {"id": str(uuid.uuid4()), "item": "switches:1:box1", "result": "works"}
        self.assertEqual(self.api.post(self.at("prove/marks/"), body, format="json").status_code, 201)
        import_module("loops.migrations.0020_fed_by_a_neutral").ask(apps, None)
        (item,) = (one for one in self.api.get(self.at("prove/")).json()["items"] if one["key"] == "switches:1:box1")
        self.assertEqual(item["outcome"], "passed")
