"""Proving and cases over the API: gates, cheating, two people, what contradicts, what teaches, what is on record."""

from __future__ import annotations

import uuid
from datetime import datetime, timedelta
from types import SimpleNamespace
from typing import Any, cast
from unittest.mock import patch

from django.test import SimpleTestCase, override_settings, tag
from django.utils import timezone, translation

from accounts.models import Role
from audit.models import Change
from common.problems import Problem
from ember_core.diagnosis.knowledge import knowledge
from ember_core.diagnosis.symptoms import Symptom
from ember_core.proving.items import Act, results_of
from loops.models import Gang, Loop
from proving.models import Case, CaseEvent, CaseEvidence, ProveMark
from proving.services import diagnosing
from proving.services.answers import _gang
from proving.services.diagnosing import closed_cases
from proving.services.listing import Standing
from tests.server.base import CONTROL, LAMP, ServerTest, fit
from tests.server.test_fitting import FitTest
from tests.server.test_survey import SurveyTest
from wording.texts import catalogue

Json = dict[str, Any]
WATCHED_S = 600.0


class ProveTest(SurveyTest):
    """A loop with one gang of two lamps, a bypass and a control."""

    def setUp(self) -> None:
        super().setUp()
        self.keep(lamps=[fit({**LAMP, "count": 2})])

    def proving(self) -> Json:
        """The list as it is."""
        return dict(self.api.get(self.at("prove/")).json())

    def mark(self, item: str, result: str, api: Any = None, **more: Any) -> Any:
        """Mark an item."""
        body = {"id": str(uuid.uuid4()), "item": item, "result": result, **more}
        return (api or self.api).post(self.at("prove/marks/"), body, format="json")

    def refused(self, answer: Any, code: str, status: int = 422) -> None:
        """The refusal has this code."""
        self.assertEqual(answer.status_code, status, answer.content)
        self.assertIn(code, [answer.json()["code"], *(error["code"] for error in answer.json()["errors"])])

    def item(self, key: str) -> Json:
        """One item of the list."""
        return dict(next(one for one in self.proving()["items"] if one["key"] == key))

    def hung(self) -> str:
        """What its page says hangs there."""
        return str(self.api.get(self.at("")).json()["gangs"][0]["hung"])

    def read_lamp(self, value: float, made_at: datetime | None = None, hung: str = "") -> Json:
        """A reading with the bypass in."""
        body = {
            "id": str(uuid.uuid4()),
            "occasion": "after_fitting",
            "meter": "",
            "made_at": made_at,
            "hung": hung,
            "reading": {"kind": "lamp_v", "value": value, "meter_r_ohm": 1e7, "group": 0},
        }
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/measured/", body, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        return dict(answer.json())


class TheList(ProveTest):
    """What passes, and what nobody can say of what was not done."""

    def test_from_open_to_proved(self) -> None:
        """Each item found, one excused with its reason; the whole is proved only then, and the trail has it all."""
        keys = [one["key"] for one in self.proving()["items"]]
        self.assertEqual(keys, ["switches:1:box1", "each_lamp:1", "flicker_watch:1", "reading:1", "power_on"])
        self.assertEqual(self.mark(keys[0], "works").status_code, 201)
        self.assertEqual(self.mark(keys[1], "all_light").status_code, 201)
        self.assertEqual(self.mark(keys[2], "dark", watched_s=WATCHED_S).status_code, 201)
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()
        expected = next(one["expected"] for one in worth["readings"] if one["read"] == "lamp_v")
        self.read_lamp(expected["p50"])
        self.assertEqual(self.mark(keys[3], "as_computed").status_code, 201)
        self.assertFalse(self.proving()["is_proved"])
        self.refused(self.mark(keys[4], "excused", reason="no"), "reason_needed")
        answer = self.mark(keys[4], "excused", reason="the tenant is asleep")
        self.assertTrue(answer.json()["is_proved"])
        self.assertEqual(Change.objects.filter(action__startswith="proving").count(), 5)

    def test_a_pass_is_put_over_no_failure_that_somebody_else_found_meanwhile(self) -> None:
        """Seen, it may be passed, by whoever tried it again; a failure is always taken, and so is what says nothing."""
        key, other = "switches:1:box1", self.clients[Role.ADMINISTRATOR]
        seen = self.item(key)["mark"]
        self.assertIsNone(seen)
        self.assertEqual(self.mark(key, "nothing", api=other, seen=None).status_code, 201)
        self.refused(self.mark(key, "works", seen=seen), "found_otherwise", 409)
        self.refused(self.mark(key, "excused", seen=seen, reason="it is late"), "found_otherwise", 409)
        self.assertEqual(self.item(key)["outcome"], "failed")
        self.assertEqual(self.mark(key, "stays_on", seen=seen).status_code, 201)
        # One's own failure is known to oneself.
        self.assertEqual(self.mark(key, "works", seen=seen).status_code, 201)
        self.assertEqual(self.mark(key, "nothing", api=other, seen=seen).status_code, 201)
        self.assertEqual(self.mark(key, "works", seen=self.item(key)["mark"]).status_code, 201)
        self.assertEqual(self.item(key)["outcome"], "passed")

    def test_dark_is_not_proved_by_a_short_watch(self) -> None:
        """Nothing is kept; a lamp that is seen blinking needs no clock, and its taps give a rhythm."""
        self.refused(self.mark("flicker_watch:1", "dark", watched_s=599.0), "watched_too_short")
        self.refused(self.mark("flicker_watch:1", "dark"), "watched_too_short")
        self.assertEqual(ProveMark.objects.count(), 0)
        self.refused(self.mark("flicker_watch:1", "blink", taps_s=[0.0, 0.0, 0.0, 0.0]), "no_period")
        answer = self.mark("flicker_watch:1", "blink", taps_s=[0.0, 0.6, 1.2, 1.8, 2.4, 3.0])
        self.assertEqual(answer.status_code, 201, answer.content)
        item = self.item("flicker_watch:1")
        self.assertEqual(item["outcome"], "failed")
        self.assertIn("tapped 0.600 s ± 0.0100 s", item["result_text"])
        symptom = next(one["symptom"] for one in item["results"] if one["code"] == "blink")
        self.assertEqual(symptom, "blink_off")

    def test_nothing_is_proved_while_it_is_isolated(self) -> None:
        """The list says so, and a mark is refused."""
        self.isolate()
        self.assertNotEqual(self.item("switches:1:box1")["shut"], "")
        self.refused(self.mark("switches:1:box1", "works"), "is_isolated")

    def test_what_counts_is_the_power_when_it_was_made(self) -> None:
        """Seen under power and sent after it was cut: taken. Entered under an isolation and sent after it: refused."""
        noon = timezone.now() - timedelta(hours=3)
        later = {k: (noon + timedelta(minutes=k)).isoformat() for k in (0, 10, 20, 30)}
        row = self.isolate(made_at=later[10], lock=False)
        self.refused(self.mark("switches:1:box1", "works", made_at=later[20]), "is_isolated")
        self.assertEqual(self.mark("switches:1:box1", "works", made_at=later[0]).status_code, 201)
        body = {"id": str(uuid.uuid4()), "note": "", "made_at": later[20]}
        self.assertEqual(
            self.api.post(f"/api/v1/isolations/{row['id']}/energise/", body, format="json").status_code, 200
        )
        self.refused(
            self.mark("each_lamp:1", "all_light", made_at=(noon + timedelta(minutes=15)).isoformat()), "is_isolated"
        )
        self.assertEqual(self.mark("each_lamp:1", "all_light", made_at=later[30]).status_code, 201)

    def test_an_earth_is_tried_dead(self) -> None:
        """Under power its mark is refused, and says what to do; isolated it is taken."""
        self.assertEqual(self.save(box={"material": "metal"}).status_code, 200)
        self.assertNotEqual(self.item("plate_earth")["shut"], "")
        self.refused(self.mark("plate_earth", "earthed"), "not_isolated_for_it")
        self.isolate()
        self.assertEqual(self.item("plate_earth")["shut"], "")
        self.assertEqual(self.mark("plate_earth", "earthed").status_code, 201)

    def test_a_reading_says_what_it_says(self) -> None:
        """None taken: refused. One far outside: as computed is refused, outside fails the item."""
        self.refused(self.mark("reading:1", "as_computed"), "no_reading_taken")
        row = self.read_lamp(180.0)
        self.refused(self.mark("reading:1", "as_computed"), "reading_says_otherwise")
        self.assertEqual(self.mark("reading:1", "outside").status_code, 201)
        self.assertEqual(self.item("reading:1")["outcome"], "failed")
        self.api.post(f"/api/v1/measured/{row['id']}/strike/", {"reason": "wrong leads"}, format="json")
        self.refused(self.mark("reading:1", "outside"), "no_reading_taken")

    def test_a_reading_that_was_struck_out_proves_nothing(self) -> None:
        """The item is open again, and says that it was found before; another reading passes it anew."""
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()
        expected = next(one["expected"] for one in worth["readings"] if one["read"] == "lamp_v")
        row = self.read_lamp(expected["p50"])
        self.assertEqual(self.mark("reading:1", "as_computed").status_code, 201)
        self.assertEqual(self.item("reading:1")["outcome"], "passed")
        struck = self.api.post(f"/api/v1/measured/{row['id']}/strike/", {"reason": "wrong leads"}, format="json")
        self.assertEqual(struck.status_code, 200, struck.content)
        item = self.item("reading:1")
        self.assertEqual((item["outcome"], item["result_text"], item["is_old"]), ("open", "", True))
        self.read_lamp(expected["p50"])
        self.assertEqual(self.mark("reading:1", "as_computed").status_code, 201)
        self.assertEqual(self.item("reading:1")["outcome"], "passed")

    def test_a_later_reading_that_is_outside_opens_what_an_earlier_one_proved(self) -> None:
        """Told at once, though nobody marked it; struck out, or with another one as computed, it is proved again."""
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()
        expected = next(one["expected"] for one in worth["readings"] if one["read"] == "lamp_v")
        self.read_lamp(expected["p50"])
        self.assertEqual(self.mark("reading:1", "as_computed").status_code, 201)
        self.read_lamp(expected["p50"])
        self.assertEqual(self.item("reading:1")["outcome"], "passed")
        for mend in ("struck", "read again"):
            row = self.read_lamp(180.0)
            item = self.item("reading:1")
            self.assertEqual((item["outcome"], item["is_old"]), ("open", True))
            self.refused(self.mark("reading:1", "as_computed"), "reading_says_otherwise")
            if mend == "struck":
                self.api.post(f"/api/v1/measured/{row['id']}/strike/", {"reason": "wrong leads"}, format="json")
            else:
                self.read_lamp(expected["p50"])
            self.assertEqual(self.item("reading:1")["outcome"], "passed")
        noted = Change.objects.filter(action="proving: passed").first()
        assert noted is not None
        self.assertNotIn("within", noted.after)

    def test_what_was_read_of_other_parts_proves_nothing_of_these(self) -> None:
        """Though it lies in the range of these too; taken back to the parts that it was read of it counts again."""
        self.keep(2)
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()
        expected = next(one["expected"] for one in worth["readings"] if one["read"] == "lamp_v")
        self.read_lamp(expected["p50"])
        self.keep(3, lamps=[{**fit(LAMP), "label": "of another make"}])
        self.refused(self.mark("reading:1", "as_computed"), "no_reading_taken")
        self.assertIsNone(self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()["taken"])
        self.keep(4, lamps=[fit({**LAMP, "count": 3})])
        self.refused(self.mark("reading:1", "as_computed"), "no_reading_taken")
        self.keep(5)
        self.assertEqual(self.mark("reading:1", "as_computed").status_code, 201)
        # Nor does what was read before the control was in.
        self.keep(6, control={**fit(CONTROL), "status": "fitted"})
        self.refused(self.mark("reading:1", "as_computed"), "no_reading_taken")

    def test_a_reading_that_waited_on_a_device_is_of_the_parts_that_were_on_its_page(self) -> None:
        """Arrived after the record named others it proves nothing of these, and its row says so; of them it does."""
        self.keep(2)
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()
        expected = next(one["expected"] for one in worth["readings"] if one["read"] == "lamp_v")
        before = self.hung()
        self.keep(3, lamps=[{**fit(LAMP), "label": "of another make"}])
        self.assertNotEqual(self.hung(), before)
        self.assertTrue(self.read_lamp(expected["p50"], hung=before)["is_of_other_parts"])
        self.refused(self.mark("reading:1", "as_computed"), "no_reading_taken")
        self.assertFalse(self.read_lamp(180.0, hung=self.hung())["is_of_other_parts"])
        rows = self.api.get(f"/api/v1/gangs/{self.gang.pk}/measured/").json()
        self.assertEqual([row["is_of_other_parts"] for row in rows], [True, False])
        self.refused(self.mark("reading:1", "as_computed"), "reading_says_otherwise")
        self.keep(4)
        self.assertEqual(self.mark("reading:1", "as_computed").status_code, 201)

    def test_a_mark_of_parts_that_is_none_is_refused(self) -> None:
        """Nothing is kept of it."""
        body = {
            "id": str(uuid.uuid4()),
            "occasion": "after_fitting",
            "hung": "the old ones",
            "reading": {"kind": "lamp_v", "value": 1.0, "meter_r_ohm": 1e7, "group": 0},
        }
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/measured/", body, format="json")
        self.assertEqual((answer.status_code, self.gang.measured.count()), (400, 0))

    def test_a_reading_that_waited_on_a_device_is_no_newer_for_it(self) -> None:
        """One as computed, taken before one that is not and arrived after it, passes and mends nothing."""
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()
        expected = next(one["expected"] for one in worth["readings"] if one["read"] == "lamp_v")
        before = timezone.now() - timedelta(hours=1)
        self.read_lamp(180.0)
        self.read_lamp(expected["p50"], made_at=before)
        self.refused(self.mark("reading:1", "as_computed"), "reading_says_otherwise")
        self.read_lamp(expected["p50"])
        self.assertEqual(self.mark("reading:1", "as_computed").status_code, 201)
        self.read_lamp(180.0)
        self.assertEqual(self.item("reading:1")["outcome"], "open")
        self.read_lamp(expected["p50"], made_at=before)
        self.assertEqual(self.item("reading:1")["outcome"], "open")
        self.read_lamp(expected["p50"])
        self.assertEqual(self.item("reading:1")["outcome"], "passed")

    def test_other_parts_are_to_be_proved_again(self) -> None:
        """What was proved of the lamps before is shown as old and counts no more."""
        self.mark("switches:1:box1", "works")
        self.assertEqual(self.item("switches:1:box1")["outcome"], "passed")
        self.keep(2, lamps=[fit({**LAMP, "count": 3})])
        item = self.item("switches:1:box1")
        self.assertEqual((item["outcome"], item["is_old"]), ("open", True))

    def test_what_was_found_on_other_parts_is_refused_when_it_arrives(self) -> None:
        """A mark that waited on a device while a colleague changed the lamps proves nothing of the new ones."""
        basis = self.proving()["basis"]
        self.keep(2, lamps=[fit({**LAMP, "count": 3})])
        self.refused(self.mark("switches:1:box1", "works", basis=basis), "parts_changed", 409)
        self.assertEqual(ProveMark.objects.count(), 0)
        self.assertEqual(self.mark("switches:1:box1", "works", basis=self.proving()["basis"]).status_code, 201)

    def test_a_mark_is_kept_once_and_taken_back_with_its_trace(self) -> None:
        """The same entry twice is one; another under its identity is refused; opened again needs a reason."""
        key, name = "switches:1:box1", str(uuid.uuid4())
        body = {"id": name, "item": key, "result": "works"}
        for _ in range(2):
            self.assertEqual(self.api.post(self.at("prove/marks/"), body, format="json").status_code, 201)
        self.assertEqual(ProveMark.objects.count(), 1)
        other = {**body, "result": "nothing"}
        self.refused(self.api.post(self.at("prove/marks/"), other, format="json"), "entry_differs", 409)
        self.refused(self.mark(key, "open"), "reason_needed")
        self.assertEqual(self.mark(key, "open", reason="it hummed after all").status_code, 201)
        self.assertEqual((self.item(key)["outcome"], ProveMark.objects.count()), ("open", 2))
        self.refused(self.mark("each_lamp:1", "open", reason="never marked"), "item_is_open")

    def test_bad_marks_are_said(self) -> None:
        """An item that is not there, a result of another item, a number that is none."""
        self.refused(self.mark("levels:1", "steady"), "no_such_item")
        self.refused(self.mark("switches:1:box1", "steady"), "unknown_word")
        self.assertEqual(self.mark("flicker_watch:1", "dark", watched_s=-1.0).status_code, 400)

    def test_who_checks_reads_and_does_not_mark(self) -> None:
        """By role."""
        checker = self.clients[Role.CHECKER]
        self.assertEqual(checker.get(self.at("prove/")).status_code, 200)
        self.assertEqual(self.mark("switches:1:box1", "works", checker).status_code, 403)


class Named(SimpleTestCase):
    """What an item calls its gang."""

    def test_two_gangs_of_one_name_are_not_ticked_for_each_other(self) -> None:
        """As a record of before may have them: with their numbers; one alone by its name, one without by its number."""
        gangs = [Gang(position=k, name=name) for k, name in enumerate(("Spots", "Spots", "Shelf", ""), 1)]
        standing = cast("Standing", SimpleNamespace(gangs=tuple(gangs)))
        called = [_gang(gang, standing) for gang in gangs]
        self.assertEqual(called, ["gang 1 (Spots)", "gang 2 (Spots)", "Shelf", "gang 4"])
        self.assertEqual(_gang(None, standing), "")


class ByTheMeter(ProveTest):
    """Values at the lamps by the instrument interface."""

    def by_meter(self, read: str) -> Any:
        """What the meter shows."""
        return self.api.post(f"/api/v1/gangs/{self.gang.pk}/meter/", {"read": read}, format="json")

    @override_settings(DEMO=True)
    def test_it_shows_what_is_computed_and_the_record_says_so(self) -> None:
        """Volts by either meter and the current, each within the range that is expected of it; the trail keeps it."""
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()["readings"]
        expected = {one["read"]: one["expected"] for one in worth}
        for read in ("lamp_v", "lamp_v_low_z", "line_i"):
            answer = self.by_meter(read)
            self.assertEqual(answer.status_code, 200, answer.content)
            shown = answer.json()
            self.assertTrue(shown["is_simulated"])
            self.assertGreater(shown["value"], 0.9 * expected[read]["p05"], read)
            self.assertLess(shown["value"], 1.1 * expected[read]["p95"], read)
        self.read_lamp(self.by_meter("lamp_v").json()["value"])
        self.assertEqual(self.mark("reading:1", "as_computed").status_code, 201)
        self.assertEqual(Change.objects.filter(action="meter read at the lamps").count(), 4)

    @override_settings(DEMO=True)
    def test_nothing_is_read_of_what_is_isolated_or_not_recorded(self) -> None:
        """Nor of a loop without lamps; a word that is no reading is refused."""
        self.isolate()
        self.refused(self.by_meter("lamp_v"), "is_isolated")
        self.assertEqual(self.by_meter("weather").status_code, 400)

    @override_settings(DEMO=True)
    def test_the_stand_in_needs_a_loop_to_show(self) -> None:
        """Without lamps on record it says so."""
        self.keep(2, lamps=[], bypasses=[])
        self.refused(self.by_meter("lamp_v"), "nothing_to_read")

    @override_settings(DEMO=False, METER_ADDRESS="")
    def test_where_there_is_no_meter_it_says_so(self) -> None:
        """Outside the demo nothing is simulated."""
        self.refused(self.by_meter("lamp_v"), "no_meter", 409)


@tag("whole")
class AfterFitting(FitTest):
    """A fitted loop is to be proved next."""

    def test_the_sheet_comes_after_the_proof(self) -> None:
        """Fitted: prove it. Proved: the sheet. A step taken back: it is to be proved again."""
        self.do()
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "prove")
        for item in self.api.get(self.at("prove/")).json()["items"]:
            body = {"id": str(uuid.uuid4()), "item": item["key"], "result": "excused", "reason": "shown in a test"}
            self.assertEqual(self.api.post(self.at("prove/marks/"), body, format="json").status_code, 201)
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "hand_over")


class CaseTest(ProveTest):
    """A loop with a complaint."""

    def open(self, *codes: str, api: Any = None, **more: Any) -> Any:
        """Open a case."""
        body = {
            "id": str(uuid.uuid4()),
            "gang": str(self.gang.pk),
            "told": [{"code": code} for code in codes],
            **more,
        }
        return (api or self.api).post(self.at("cases/"), body, format="json")

    def case(self, *codes: str) -> Json:
        """A case that is open."""
        answer = self.open(*codes)
        self.assertEqual(answer.status_code, 201, answer.content)
        return dict(answer.json())

    def find(self, case: Json, test: str, outcome: str | None = None, api: Any = None, **more: Any) -> Any:
        """Take evidence down."""
        body = {"id": str(uuid.uuid4()), "test": test, "outcome": outcome, **more}
        return (api or self.api).post(f"/api/v1/cases/{case['id']}/evidence/", body, format="json")

    def diagnosis(self, case: Json) -> Json:
        """What it may be."""
        answer = self.api.get(f"/api/v1/cases/{case['id']}/diagnosis/")
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())


class Cases(CaseTest):
    """From a complaint to its end."""

    @tag("long")
    def test_from_a_complaint_to_its_cause_and_what_it_teaches(self) -> None:
        """Asked, found, closed, opened again; the round says so all the while; the firm's cases count."""
        case = self.case("blink_off")
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "case")
        first = self.diagnosis(case)
        self.assertEqual(first["missing"], [])
        self.assertTrue(first["next"])
        self.assertTrue(all(cause["title"] for cause in first["causes"]))
        self.isolate()
        self.assertEqual(self.find(case, "bypass_looked_at", "missing").status_code, 201)
        found = self.diagnosis(case)
        self.assertEqual(found["causes"][0]["code"], "bypass_missing")
        self.assertEqual(found["causes"][0]["places"], ["bypass"])
        self.assertNotIn("bypass_looked_at", [one["code"] for one in found["next"]])
        closing = {"cause": "bypass_missing", "remedy": "replace_bypass", "note": "dark for a week"}
        answer = self.api.post(f"/api/v1/cases/{case['id']}/close/", closing, format="json")
        self.assertEqual((answer.status_code, answer.json()["is_open"]), (200, False))
        self.assertEqual(closed_cases(), ["bypass_missing"])
        self.assertGreater(CaseEvent.objects.get().thought["bypass_missing"], 0.5)
        # What a case came to speaks for no cause of its own.
        after = self.diagnosis(case)
        self.assertEqual((after["causes"], after["learned"]), (found["causes"], ""))
        self.loop.refresh_from_db()
        self.assertNotEqual(self.loop.next_step, "case")
        again = f"/api/v1/cases/{case['id']}/reopen/"
        self.refused(self.api.post(again, {"note": "hm"}, format="json"), "reason_needed")
        answer = self.api.post(again, {"note": "it blinks again"}, format="json")
        self.assertTrue(answer.json()["is_open"])
        self.assertEqual(closed_cases(), [])
        self.assertEqual(CaseEvent.objects.count(), 2)

    def test_what_cannot_be_told_is_said_and_nothing_is_kept(self) -> None:
        """A period of none, a rhythm of what has none, nothing at all, another loop's gang."""
        zero = [{"code": "blink_off", "period_s": 0}]
        for told, code in (
            (zero, "out_of_bounds"),
            ([{"code": "glow_off", "period_s": 1.0}], "no_rhythm"),
            ([{"code": "purple"}], "unknown_kind"),
            ([], "no_symptom"),
            ([{"code": "buzz"}, {"code": "buzz"}], "told_twice"),
        ):
            body = {"id": str(uuid.uuid4()), "gang": str(self.gang.pk), "told": told}
            self.refused(self.api.post(self.at("cases/"), body, format="json"), code)
        other = Loop.objects.create(site=self.site, name="Another")
        gang = other.gangs.create(position=1)
        self.refused(self.open("buzz", gang=str(gang.pk)), "gang_not_here")
        self.assertEqual(Case.objects.count(), 0)

    def test_evidence_that_contradicts_is_refused_until_the_other_is_struck(self) -> None:
        """One test, two outcomes; what is struck stays on record and counts no more."""
        case = self.case("blink_off")
        answer = self.find(case, "wall_pressed", "works")
        row = answer.json()["evidence"][0]["id"]
        self.refused(self.find(case, "wall_pressed", "nothing"), "evidence_contradicts")
        self.refused(self.find(case, "asked_blink_off", "no"), "evidence_contradicts")
        strike = self.api.post(f"/api/v1/evidence/{row}/strike/", {"reason": "wrong room"}, format="json")
        self.assertEqual(strike.json()["evidence"][0]["struck_reason"], "wrong room")
        self.assertEqual(self.find(case, "wall_pressed", "nothing").status_code, 201)
        self.assertEqual(CaseEvidence.objects.count(), 2)

    def test_the_power_has_to_be_as_the_test_needs_it(self) -> None:
        """No reading of an isolated loop; no opened box that nobody isolated; not knowing needs nothing."""
        case = self.case("blink_off")
        self.refused(self.find(case, "box_looked_at", "as_mapped"), "not_isolated_for_it")
        self.refused(self.find(case, "lamp_v", value=37.0, meter_r_ohm=1e7), "not_isolated_for_it")
        self.assertEqual(self.find(case, "box_looked_at", "cannot").status_code, 201)
        self.isolate()
        self.refused(self.find(case, "wall_pressed", "works"), "is_isolated")
        self.refused(self.find(case, "lamp_v", value=37.0, meter_r_ohm=1e7), "is_isolated")
        self.assertEqual(self.find(case, "luminaire_looked_at", "as_recorded").status_code, 201)

    def test_values_that_cannot_be_are_said(self) -> None:
        """Below none, beyond all, of a test that reads none."""
        case = self.case("blink_off")
        self.refused(self.find(case, "supply_v", value=-1.0), "out_of_bounds")
        self.refused(self.find(case, "supply_v", value=1e6), "out_of_bounds")
        self.refused(self.find(case, "period_tapped", value=0.0), "out_of_bounds")
        self.refused(self.find(case, "wall_pressed", value=3.0), "no_value_read")
        self.refused(self.find(case, "dowsing", "yes"), "unknown_kind")
        self.assertEqual(self.find(case, "supply_v", value=231.0).status_code, 201)

    def test_a_closed_case_takes_nothing_more(self) -> None:
        """Neither evidence nor another end; none of these needs a word."""
        case = self.case("buzz")
        end = f"/api/v1/cases/{case['id']}/close/"
        self.refused(self.api.post(end, {"cause": "gremlins"}, format="json"), "unknown_kind")
        self.refused(self.api.post(end, {"cause": "none_of_these"}, format="json"), "reason_needed")
        done = self.api.post(end, {"cause": "none_of_these", "note": "a fly in the shade"}, format="json")
        self.assertEqual(done.status_code, 200, done.content)
        self.refused(self.api.post(end, {"cause": "lamp_dead"}, format="json"), "case_closed", 409)
        self.refused(self.find(case, "wall_pressed", "works"), "case_closed", 409)
        self.assertEqual(closed_cases(), [])

    def test_a_case_may_have_been_two_things_at_once(self) -> None:
        """Both are named where it is closed, and each counts in the cases that follow; three are none that there is."""
        case = self.case("buzz")
        end = f"/api/v1/cases/{case['id']}/close/"
        self.refused(self.api.post(end, {"cause": "lamp_dead+smart_lamp+neutral_loose"}, format="json"), "unknown_kind")
        done = self.api.post(end, {"cause": "lamp_dead+smart_lamp", "note": "both were found"}, format="json")
        self.assertEqual(done.status_code, 200, done.content)
        told = done.json()["events"][-1]["cause_text"]
        for title in ("Lamps have died", "smart lamp"):
            self.assertIn(title.casefold(), told.casefold())
        self.assertEqual(closed_cases(), ["lamp_dead+smart_lamp"])

    def test_nobody_closes_on_what_was_struck_out_or_added_meanwhile(self) -> None:
        """Just the evidence that was seen, no more and no less; whoever does not say it is not asked."""
        case = self.case("buzz")
        end = f"/api/v1/cases/{case['id']}/close/"
        closing = {"cause": "lamp_dead", "note": "two of five are dark"}
        self.find(case, "supply_v", value=231.0)
        self.find(case, "wall_pressed", "works")
        first, second = (str(row.pk) for row in CaseEvidence.objects.order_by("number"))
        self.refused(self.api.post(end, {**closing, "seen": [first]}, format="json"), "evidence_changed", 409)
        self.api.post(f"/api/v1/evidence/{second}/strike/", {"reason": "another switch"}, format="json")
        self.refused(self.api.post(end, {**closing, "seen": [first, second]}, format="json"), "evidence_changed", 409)
        self.assertTrue(Case.objects.get(pk=case["id"]).is_open)
        done = self.api.post(end, {**closing, "seen": [first]}, format="json")
        self.assertEqual(done.status_code, 200, done.content)

    def test_a_busy_server_keeps_no_case_open(self) -> None:
        """It is closed with what it was; only what was thought then is not kept."""
        case = self.case("buzz")
        closing = {"cause": "none_of_these", "note": "a fly in the shade"}
        with patch.object(diagnosing, "weigh", side_effect=Problem(503, "too_busy")):
            answer = self.api.post(f"/api/v1/cases/{case['id']}/close/", closing, format="json")
        self.assertEqual((answer.status_code, answer.json()["is_open"]), (200, False))
        self.assertEqual(CaseEvent.objects.get().thought, {})

    def test_an_incomplete_record_says_what_it_lacks(self) -> None:
        """No lamps: a case can be opened, and nothing is computed of it."""
        self.keep(2, lamps=[], bypasses=[])
        found = self.diagnosis(self.case("nothing_lights"))
        self.assertIn("lamps", found["missing"])
        self.assertEqual(found["causes"], [])

    @tag("long")
    def test_what_is_only_planned_is_no_part_of_what_goes_wrong(self) -> None:
        """A bypass that is meant for a control that hangs there is not suspected of being dried out."""
        control = {**fit(CONTROL), "status": "fitted"}
        self.keep(2, control=control, lamps=[{**fit(LAMP), "status": "fitted"}])
        codes = [one["code"] for one in self.diagnosis(self.case("blink_off"))["causes"]]
        self.assertFalse({"bypass_dried", "bypass_missing", "bypass_open"} & set(codes))

    def test_a_case_of_another_site_is_not_there(self) -> None:
        """Neither read, nor answered, nor closed by who does not work at the site."""
        case = self.case("blink_off")
        self.site.members.remove(self.people[Role.TECHNICIAN])
        for method, path, body in (
            ("get", f"/api/v1/cases/{case['id']}/", None),
            ("get", f"/api/v1/cases/{case['id']}/diagnosis/", None),
            ("post", f"/api/v1/cases/{case['id']}/evidence/", {"id": str(uuid.uuid4()), "test": "wall_pressed"}),
            ("post", f"/api/v1/cases/{case['id']}/close/", {"cause": "lamp_dead"}),
        ):
            answer = getattr(self.api, method)(path, body, format="json")
            self.assertEqual(answer.status_code, 404, path)

    def test_two_people_at_one_case_both_are_kept(self) -> None:
        """Each under their own name, in order; the same entry twice is one."""
        case, name = self.case("blink_off"), str(uuid.uuid4())
        other = self.clients[Role.ADMINISTRATOR]
        body = {"id": name, "test": "wall_pressed", "outcome": "works"}
        for _ in range(2):
            self.api.post(f"/api/v1/cases/{case['id']}/evidence/", body, format="json")
        self.find(case, "changed_asked", "lamps", other)
        rows = self.api.get(f"/api/v1/cases/{case['id']}/").json()["evidence"]
        self.assertEqual([row["by"] for row in rows], ["The technician", "The administrator"])

    @tag("whole")
    def test_what_arrives_while_it_is_weighed_belongs_to_the_next_look(self) -> None:
        """Evidence that comes between reading the case and answering breaks nothing."""
        case = self.case("blink_off")
        looked = diagnosing.weigh

        def meanwhile(taken: diagnosing.Taken, *, with_remedies: bool) -> Any:
            found = looked(taken, with_remedies=with_remedies)
            self.find(case, "wall_pressed", "works")
            return found

        with patch.object(diagnosing, "weigh", meanwhile):
            self.assertTrue(self.diagnosis(case)["causes"])
        self.assertNotIn("wall_pressed", [one["code"] for one in self.diagnosis(case)["next"]])

    def test_remedies_are_tried_only_where_they_are_asked_for(self) -> None:
        """They take longer than the next question, which does not wait for them."""
        case = self.case("blink_off")
        quick = self.api.get(f"/api/v1/cases/{case['id']}/diagnosis/?remedies=false").json()
        whole = self.diagnosis(case)
        self.assertEqual((quick["remedies"], quick["next"]), ([], whole["next"]))
        self.assertTrue(whole["remedies"])

    def test_words_are_those_of_the_region(self) -> None:
        """What is an earth at the mill is a ground at the cannery."""
        loop = Loop.objects.create(site=self.other_site, name="Slipway")
        for address, word in ((self.at("cases/"), "earth"), (f"/api/v1/loops/{loop.pk}/cases/", "ground")):
            causes = {one["code"]: one["text"] for one in self.api.get(address).json()["causes"]}
            self.assertIn(word, causes["earth_missing"])

    @tag("whole")
    def test_words_are_those_of_the_language(self) -> None:
        """Symptoms, causes, tests and remedies in German too."""
        case = self.case("blink_off")
        answer = self.api.get(f"/api/v1/cases/{case['id']}/diagnosis/", headers={"accept-language": "de"}).json()
        english = self.diagnosis(case)
        for german, one in zip(answer["causes"], english["causes"], strict=True):
            self.assertEqual(german["code"], one["code"])
            self.assertNotEqual(german["title"], one["title"])
        self.assertNotEqual(answer["next"][0]["title"], english["next"][0]["title"])


class Words(ServerTest):
    """Everything that core can say has words."""

    def test_every_code_has_its_words_in_both_languages(self) -> None:
        """Symptoms, causes, tests with each outcome, remedies, items with each result."""
        known = knowledge()
        for language in ("en", "de"):
            with translation.override(language):
                texts, proving = catalogue("diagnosis"), catalogue("proving")
                self.assertEqual(set(texts["symptoms"]), {one.value for one in Symptom})
                self.assertEqual(set(texts["causes"]), set(known.causes))
                self.assertEqual(set(texts["remedies"]), set(known.remedies))
                for code, test in known.tests.items():
                    self.assertEqual(set(texts["tests"][code]["outcomes"]), set(test.outcomes), code)
                for act in Act:
                    self.assertIn(act.value, proving["acts"])
                    self.assertLessEqual(set(results_of(act)), set(proving["results"]))
