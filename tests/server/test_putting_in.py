"""What a way has put in is what the record holds, what is judged, and what is to be proved."""

from __future__ import annotations

import uuid
from typing import Any

from django.test import tag

from judgements.models import Judgement
from loops.models import FittedBypass, FittedControl, Gang
from parts.models import Part
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


@tag("long")
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
