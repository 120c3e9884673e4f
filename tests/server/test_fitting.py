"""Fitting over the API: the whole job with its gates, cheating, leaving it half done, and what the record says."""

from __future__ import annotations

import uuid
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import override_settings, tag
from django.test.utils import CaptureQueriesContext

from accounts.models import Role
from audit.models import Change
from demo.management.commands.load_demo import load_shelf
from fitting.models import FitLeft, FitMark, KitCheck
from loops.models import FittedControl, Loop
from parts.models import Part
from sites.models import Circuit
from survey.models import Isolation, Proof, StepMark, Survey
from survey.services.record_pages import record_pages
from tests.demo_copy import start_once
from tests.server.base import LAMP, fit
from tests.server.test_survey import ONE_WAY, SurveyTest, picture
from work.models import RouteChoice, TaskRecord

Json = dict[str, Any]
MEMORY = {"default": {"BACKEND": "django.core.files.storage.InMemoryStorage"}}
BOX = {
    **ONE_WAY,
    "conductors": [
        {**c, "label": label}
        for c, label in zip(ONE_WAY["conductors"], ("permanent_live", "switched_live"), strict=True)
    ],
}


STATIC = {"staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}


@override_settings(STORAGES=MEMORY | STATIC)
class FitTest(SurveyTest):
    """A surveyed box of two conductors; a relay with a bypass at the luminaire is chosen."""

    way = "with_bypass"

    @classmethod
    def setUpTestData(cls) -> None:
        start_once(cls, f"fit-{cls.way}", cls.choose_way)

    @classmethod
    def choose_way(cls) -> None:
        """The shelf, a surveyed box and a way."""
        super().setUpTestData()
        load_shelf(None)
        relay = Part.objects.get(name="Relay S1, 802.15.4 mesh")
        control = {**fit(relay.figures), "part": str(relay.pk), "label": "Relay S1"}
        made = cls()
        made.setUp()
        made.keep(control=control, bypasses=[], lamps=[fit({**LAMP, "count": 4})])
        made.save(box=BOX)
        made.read("c1", v=230.0)
        made.read("c2", v=0.4)
        made.read("c2", v=230.0, switches={"1": "on"})
        made.choose(cls.way)
        made.doCleanups()

    def choose(self, way: str, number: int = 0) -> Json:
        """Choose a way; the work as it then is."""
        basis = self.api.get(self.at("ways/")).json()["basis"]
        body = {"id": str(uuid.uuid4()), "number": number, "way": way, "control": None, "why": "", "basis": basis}
        answer = self.api.post(self.at("ways/choices/"), body, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        return dict(answer.json())

    def fitting(self, api: Any = None) -> Json:
        """The fitting as it is."""
        return dict((api or self.api).get(self.at("fit/")).json())

    def tick(self, step: str, outcome: str = "done", api: Any = None, **more: Any) -> Any:
        """Mark a step."""
        choice = RouteChoice.objects.filter(loop=self.loop).first()
        assert choice is not None
        body = {"id": str(uuid.uuid4()), "choice": str(choice.pk), "step": step, "outcome": outcome, **more}
        return (api or self.api).post(self.at("fit/marks/"), body, format="json")

    def leave(self, leaving: str, api: Any = None, **more: Any) -> Any:
        """Leave it half done."""
        choice = RouteChoice.objects.filter(loop=self.loop).first()
        assert choice is not None
        body = {"id": str(uuid.uuid4()), "choice": str(choice.pk), "leaving": leaving, **more}
        return (api or self.api).post(self.at("fit/left/"), body, format="json")

    def prove_place(self, place: int, charge: str = "none_fitted") -> None:
        """Prove a place dead, pair by pair, as it asks for it."""
        proof = str(uuid.uuid4())
        answer = self.event(proof, "tester_before", place=place)
        self.assertEqual(answer.status_code, 201, answer.content)
        while pairs := answer.json()["proof"]["current"]["next_pairs"]:
            pair = pairs[0]
            answer = self.event(proof, "reading", place=place, a=pair["a"], b=pair["b"], v=0.1)
            self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual(self.event(proof, "tester_after", place=place).status_code, 201)
        answer = self.event(proof, "charge", place=place, charge=charge)
        self.assertEqual(answer.status_code, 201, answer.content)

    def photograph_place(self, place: int) -> None:
        """A photograph from before."""
        made = SimpleUploadedFile("box.jpg", picture())
        body = {"id": str(uuid.uuid4()), "moment": "before", "place": place, "file": made}
        self.assertEqual(self.api.post(self.at("photos/"), body, format="multipart").status_code, 201)

    def power_back(self) -> Any:
        """Own lock off, power on."""
        row = Isolation.objects.get(site=self.site, closed_at=None)
        for lock in row.locks.filter(off_at=None):
            self.api.post(f"/api/v1/locks/{lock.pk}/off/", {}, format="json")
        body = {"id": str(uuid.uuid4()), "note": ""}
        return self.api.post(f"/api/v1/isolations/{row.pk}/energise/", body, format="json")

    def do(self, until: str | None = None) -> list[str]:
        """Do step after step as it is asked for, up to one that is named; the keys that were done."""
        done: list[str] = []
        now = self.fitting()
        while (key := now["next"]) is not None and key != until:
            step = next(one for one in now["steps"] if one["key"] == key)
            if step["act"] in ("safe", "safe_again"):
                if not Isolation.objects.filter(site=self.site, closed_at=None).exists():
                    self.isolate()
                self.prove_place(step["place_number"], "none_fitted" if step["act"] == "safe" else "discharged")
            elif step["act"] == "photograph":
                self.photograph_place(step["place_number"])
            elif step["act"] in ("power_on", "power_back"):
                self.assertEqual(self.power_back().status_code, 200)
            answer = self.tick(key)
            self.assertEqual(answer.status_code, 201, (key, answer.content))
            now = answer.json()
            done.append(key)
        return done


@tag("long")
class WholeJob(FitTest):
    """From the first lock to the last."""

    def test_from_the_choice_to_a_plate_that_is_on(self) -> None:
        """Two rounds, a luminaire with its own proof; the control then counts as fitted and is to be proved."""
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "fit")
        before = self.fitting()
        self.assertFalse(before["is_complete"])
        self.assertEqual(before["minutes"]["likely"] % 5, 0)
        done = self.do()
        after = self.fitting()
        self.assertTrue(after["is_complete"])
        self.assertEqual(len(done), len(after["steps"]))
        self.assertIn("safe@ceiling1", done)
        places = [proof.place for proof in Proof.objects.filter(loop=self.loop).order_by("at")]
        self.assertEqual(places, [1, 11, 1])
        self.assertTrue(all(step["by"] == "The technician" for step in after["steps"]))
        self.assertEqual(FittedControl.objects.get(gang=self.gang).status, "fitted")
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "prove")
        marks = {mark.step: mark.is_done for mark in StepMark.objects.filter(loop=self.loop, place=1)}
        self.assertEqual(marks, {"photograph": True, "open": True, "disconnect": True, "fit": True})
        basis = self.api.get(self.at("ways/")).json()["basis"]
        body = {"id": str(uuid.uuid4()), "number": 1, "way": "two_wire", "control": None, "why": "", "basis": basis}
        again = self.api.post(self.at("ways/choices/"), body, format="json")
        # The survey still tells of the ordinary switch: a map from there would be of another box.
        self.assertEqual((again.status_code, again.json()["code"]), (409, "way_is_fitted"))
        self.assertIn("fitting: done", set(Change.objects.values_list("action", flat=True)))
        # What took no time at all is no record of how long it takes.
        self.assertTrue(all(record.minutes > 0 for record in TaskRecord.objects.all()))

    @tag("whole")
    def test_a_photograph_is_asked_for_and_the_power_is_watched(self) -> None:
        """Nothing goes through by a press alone; what stands against it is told in words."""
        self.assertEqual(self.code(self.tick("safe@box")), (422, "step_not_allowed"))
        told = [reason["code"] for reason in self.tick("safe@box").json()["reasons"]]
        self.assertEqual(told, ["no_isolation_open"])
        self.do(until="photograph@box")
        answer = self.tick("photograph@box")
        self.assertEqual([reason["code"] for reason in answer.json()["reasons"]], ["no_photo_yet"])
        self.do(until="power_on")
        told = [reason["code"] for reason in self.tick("power_on").json()["reasons"]]
        self.assertEqual(told, ["still_isolated"])
        self.assertFalse(FitMark.objects.filter(step="power_on").exists())

    @tag("whole")
    def test_the_proof_of_the_first_round_is_not_that_of_the_second(self) -> None:
        """Isolated again, but not proved again."""
        self.do(until="safe_again@box")
        self.isolate()
        told = [reason["code"] for reason in self.tick("safe_again@box").json()["reasons"]]
        self.assertEqual(len(told), 1)
        self.assertIn(told[0], ("proof_re_energised", "proof_before_power", "proof_last_lock_off"))
        self.assertEqual(self.code(self.event(str(uuid.uuid4()), "charge", charge="none_fitted"))[0], 422)

    def test_a_control_that_was_put_in_must_be_discharged(self) -> None:
        """The proof of the second round cannot say that none is fitted."""
        self.do(until="safe_again@box")
        self.isolate()
        proof = str(uuid.uuid4())
        self.event(proof, "tester_before")
        for a, b in (("c1", "known_earth"), ("c2", "known_earth"), ("c1", "c2")):
            self.event(proof, "reading", a=a, b=b, v=0.1)
        self.event(proof, "tester_after")
        self.assertEqual(self.code(self.event(proof, "charge", charge="none_fitted")), (422, "control_is_fitted"))

    def test_somebody_else_needs_a_lock_of_their_own(self) -> None:
        """Another technician cannot tick under a lock that is not theirs."""
        self.do(until="loosen@box")
        other = self.clients[Role.ADMINISTRATOR]
        told = [reason["code"] for reason in self.tick("loosen@box", api=other).json()["reasons"]]
        self.assertEqual(told, ["no_lock_of_yours"])
        checker = self.clients[Role.CHECKER]
        self.assertEqual(self.tick("loosen@box", api=checker).status_code, 403)

    def test_undo_leaves_its_trace_and_the_later_first(self) -> None:
        """Rows are only added; what others rest on stays."""
        self.do(until="fold@box")
        self.assertEqual(self.code(self.tick("part@box", "open")), (422, "later_step_done"))
        count = FitMark.objects.count()
        self.assertEqual(self.tick("tug@box", "open", reason="one gave way").status_code, 201)
        self.assertEqual(FitMark.objects.count(), count + 1)
        self.assertEqual(self.fitting()["next"], "tug@box")

    def test_not_needed_wants_a_reason_and_a_core_is_always_needed(self) -> None:
        """Trouble keeps the step open, and keeps the power off."""
        self.do(until="loosen@box")
        self.assertEqual(self.code(self.tick("loosen@box", "skipped")), (422, "reason_needed"))
        self.assertEqual(self.tick("loosen@box", "skipped", reason="hangs out already").status_code, 201)
        line = next(step["key"] for step in self.fitting()["steps"] if step["act"] == "line")
        self.do(until=line)
        for key in (line, "hold@box", "plate@box", "safe@box", "tug@box"):
            self.assertEqual(self.code(self.tick(key, "skipped", reason="no time for it")), (422, "step_is_needed"))
        self.assertEqual(self.tick(line, "trouble", reason="the core is too short").status_code, 201)
        after = self.fitting()
        self.assertEqual(after["next"], line)
        step = next(one for one in after["steps"] if one["key"] == line)
        self.assertEqual((step["outcome"], step["reason"]), ("trouble", "the core is too short"))

    def test_the_same_press_twice_is_one_and_another_content_is_refused(self) -> None:
        """By the identity of the entry; a step that is not there, another's choice."""
        self.isolate()
        self.prove_place(1)
        key = str(uuid.uuid4())
        self.assertEqual(self.tick("safe@box", id=key).status_code, 201)
        self.assertEqual(self.tick("safe@box", id=key).status_code, 201)
        self.assertEqual(FitMark.objects.count(), 1)
        self.assertEqual(self.code(self.tick("photograph@box", id=key)), (409, "entry_differs"))
        self.assertEqual(self.code(self.tick("made_up@box")), (422, "no_such_step"))
        self.assertEqual(self.code(self.tick("safe@box", choice=str(uuid.uuid4()))), (409, "another_way_chosen"))
        self.assertEqual(self.tick("safe@box", outcome="perhaps").status_code, 400)

    def test_a_torque_that_is_declared_stands_at_its_line(self) -> None:
        """From the part's own leaflet."""
        notes = [step["note"] for step in self.fitting()["steps"] if step["act"] == "line" and step["note"]]
        self.assertTrue(notes)
        self.assertTrue(all("0.5 N·m" in note for note in notes))

    def test_a_kit_with_something_missing(self) -> None:
        """Asked by what the control is; what is unknown to a kit is refused."""
        kit = self.fitting()["kit"]
        self.assertTrue(all(item["found"] is None for item in kit["items"]))
        found = {item["kit"]: item["kit"] != "screws" for item in kit["items"]}
        body = {"id": str(uuid.uuid4()), "part": kit["part"], "found": found}
        for _ in range(2):
            self.assertEqual(self.api.post(self.at("kit/"), body, format="json").status_code, 201)
        self.assertEqual(KitCheck.objects.count(), 1)
        seen = {item["kit"]: item["found"] for item in self.fitting()["kit"]["items"]}
        self.assertEqual(seen, found)
        wrong = {**body, "id": str(uuid.uuid4()), "found": {"spoon": True}}
        self.assertEqual(self.api.post(self.at("kit/"), wrong, format="json").status_code, 400)

    def test_a_luminaire_hangs_on_every_breaker_of_its_box(self) -> None:
        """With a second circuit in the box it is proved only with both off; then its proof holds, and is on paper."""
        other = Circuit.objects.create(site=self.site, breaker="8")
        self.save(version=1, box={**BOX, "circuits": 2}, other_circuits=[str(other.pk)])
        self.isolate()
        proof = str(uuid.uuid4())
        refused = self.event(proof, "tester_before", place=11)
        self.assertEqual(refused.json()["code"], "not_isolated_for_you")
        self.isolate(circuits=[str(other.pk)])
        self.prove_place(11)
        place = next(one for one in self.fitting()["places"] if one["place"] == "ceiling1")
        self.assertEqual((place["proof"], place["missing"]), ("proved", []))
        pages = record_pages(self.loop, self.people[Role.TECHNICIAN])
        self.assertEqual([box["gang"] for box in pages["boxes"]], [None, 1])
        paper = self.api.get(self.at("record.pdf"))
        self.assertTrue(paper.content.startswith(b"%PDF"))


@tag("long")
class Pressed(FitTest):
    """What one press costs whoever waits for it."""

    def test_a_press_asks_the_database_each_thing_once(self) -> None:
        """With cores parted at a box, where every way to leave is weighed: below ninety questions in all."""
        keys = [step["key"] for step in self.fitting()["steps"]]
        at = keys.index("move:c2@box")
        self.do(until=keys[at])
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(self.tick(keys[at]).status_code, 201)
        texts = [row["sql"] for row in asked.captured_queries]
        self.assertLess(len(texts), 90)
        # Once before the mark, and once for the answer.
        self.assertEqual(sum("FROM `fitting_fitleft`" in text for text in texts), 2)
        # Whose locks hold it off: for the gate, and for the answer with its three ways to leave.
        self.assertEqual(sum("FROM `survey_lock`" in text for text in texts), 2)


@tag("long")
class HalfDone(FitTest):
    """Broken off in the middle."""

    def to_parted(self) -> None:
        """The cores are out of the switch, none is in the control."""
        self.do(until="part@box")
        self.assertEqual(self.tick("part@box").status_code, 201)

    def test_no_power_on_loose_ends(self) -> None:
        """The isolation does not close while cores are parted; finished or made safe, it does."""
        self.to_parted()
        answer = self.power_back()
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "loops_half_done"))
        self.assertIn("Kiln room", answer.json()["reasons"][0]["text"])
        self.assertTrue(Isolation.objects.filter(closed_at=None).exists())

    @tag("whole")
    def test_capped_it_may_be_left_and_taken_up_again(self) -> None:
        """What gets a cap is named; a proof is wanted; afterwards the power may come, and work goes on."""
        self.assertEqual(self.leave("capped").json()["code"], "nothing_half_done")
        self.to_parted()
        way = next(one for one in self.fitting()["leaving"] if one["leaving"] == "capped")
        self.assertEqual(len(way["caps"]), 2)
        self.assertEqual(way["against"], [])
        self.assertEqual(self.leave("capped", note="no bypass in the van").status_code, 201)
        left = self.fitting()["left"]
        self.assertEqual((left["leaving"], left["by"], len(left["caps"])), ("capped", "The technician", 2))
        self.assertEqual(self.power_back().status_code, 200)
        told = next(one for one in self.fitting()["steps"] if one["key"] == self.fitting()["next"])["missing"]
        self.assertTrue(told)
        self.isolate()
        self.prove_place(1)
        self.assertEqual(self.tick(self.fitting()["next"]).status_code, 201)
        self.assertIsNone(self.fitting()["left"])
        self.do()
        self.assertTrue(self.fitting()["is_complete"])

    def test_another_isolation_that_still_holds_it_off_lets_this_one_go(self) -> None:
        """The whole installation on again while the loop's own breaker stays off; that one is refused."""
        self.to_parted()
        body = {"id": str(uuid.uuid4()), "scope": "whole_installation", "circuits": []}
        whole = self.api.post(self.at("isolations/"), body, format="json")
        self.assertEqual(whole.status_code, 201, whole.content)
        row = Isolation.objects.get(scope="whole_installation")
        answer = self.api.post(
            f"/api/v1/isolations/{row.pk}/energise/", {"id": str(uuid.uuid4()), "note": ""}, format="json"
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.power_back().json()["code"], "loops_half_done")

    def test_left_locked_the_lock_stays(self) -> None:
        """Safe is the lock; with it off the power still does not come back."""
        self.to_parted()
        self.assertEqual(self.leave("locked").status_code, 201)
        self.assertEqual(self.power_back().json()["code"], "loops_half_done")

    def test_nobody_caps_what_is_not_proved(self) -> None:
        """Without a lock of one's own it is refused, and nothing is on record."""
        self.to_parted()
        other = self.clients[Role.ADMINISTRATOR]
        answer = self.leave("capped", api=other)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "not_safe_so"))
        self.assertFalse(FitLeft.objects.exists())

    @tag("long")
    def test_put_back_another_way_may_be_chosen(self) -> None:
        """Before that the choice stands, since hands have begun on it; what they worked on is photographed anew."""
        self.to_parted()
        basis = self.api.get(self.at("ways/")).json()["basis"]
        body = {"id": str(uuid.uuid4()), "number": 1, "way": "two_wire", "control": None, "why": "", "basis": basis}
        self.assertEqual(self.api.post(self.at("ways/choices/"), body, format="json").json()["code"], "way_is_begun")
        self.assertEqual(self.leave("restored").status_code, 201)
        after = self.fitting()
        self.assertEqual({s["outcome"] for s in after["steps"] if s["act"] not in ("safe", "photograph")}, {"open"})
        told = {mark.step: mark.is_done for mark in StepMark.objects.filter(loop=self.loop, place=1)}
        self.assertEqual((told["disconnect"], told["open"]), (False, False))
        self.assertEqual(self.power_back().status_code, 200)
        self.assertEqual(self.choose("two_wire", number=1)["choices"][0]["way"], "two_wire")
        self.assertEqual(self.fitting()["earlier"], FitMark.objects.count())
        self.do(until="photograph@box")
        told = [reason["code"] for reason in self.tick("photograph@box").json()["reasons"]]
        self.assertEqual(told, ["no_photo_yet"])
        self.do(until="loosen@box")
        self.assertEqual(self.fitting()["next"], "loosen@box")


@tag("whole")
class InAJunctionBox(FitTest):
    """The cable from the box ends in a junction box; the module goes there, the old switch stays."""

    way = "junction_with_switch"

    def choose(self, way: str, number: int = 0) -> Json:
        """Say first what was seen outside the box."""
        seen = {"line": "yes", "neutral": "own", "junction": "2"}
        body = {"version": 0, "seen": seen}
        told = self.api.put(f"/api/v1/gangs/{self.gang.pk}/ceiling/", body, format="json")
        self.assertEqual(told.status_code, 200, told.content)
        return super().choose(way, number)

    def test_it_is_a_place_of_its_own(self) -> None:
        """Proved dead, photographed and closed by itself; the whole job comes to its end; on paper it has its name."""
        places = {place["place"]: place for place in self.fitting()["places"]}
        self.assertEqual(places["junction2"]["number"], 22)
        self.assertEqual(places["junction2"]["text"], "Junction box 2")
        there = self.survey(place=22)
        self.assertEqual({one["id"] for one in there["box"]["conductors"]}, {"L", "N", "SL1"})
        self.assertEqual([box["place"] for box in there["boxes"]], [1])
        done = self.do()
        self.assertTrue(self.fitting()["is_complete"])
        self.assertIn("close@junction2", done)
        self.assertIn(22, [proof.place for proof in Proof.objects.filter(loop=self.loop)])
        boxes = {box["place"]: box for box in record_pages(self.loop, self.people[Role.TECHNICIAN])["boxes"]}
        self.assertEqual((boxes[22]["junction"], boxes[22]["gang"], boxes[22]["is_box"]), (2, None, False))
        self.assertEqual((boxes[1]["junction"], boxes[1]["is_box"]), (None, True))

    def test_the_map_names_its_joints(self) -> None:
        """Every end that moves says where it was and where it goes, in words that tell joints apart."""
        told = self.api.get(self.at("ways/")).json()["chosen_map"]
        self.assertTrue(told["works"])
        lines = [line["text"] for line in told["lines"]]
        self.assertTrue(any("joint of the switched live of gang 1, junction box 2" in line for line in lines), lines)
        columns = {place["id"]: place["x"] for place in told["layout"]["places"]}
        self.assertLess(columns["board"], columns["junction2"])
        self.assertLess(columns["junction2"], columns["box"])
        self.assertEqual(columns["box"], columns["ceiling1"])


@tag("long")
class Around(FitTest):
    """What else hangs on it."""

    way = "two_wire"

    def test_a_box_only_way_has_no_luminaire(self) -> None:
        """And a loop without a choice has no steps."""
        self.assertEqual({place["place"] for place in self.fitting()["places"]}, {"box"})
        other = Loop.objects.exclude(pk=self.loop.pk).first()
        self.assertIsNone(other)
        RouteChoice.objects.all().delete()
        self.assertIsNone(self.fitting()["choice"])
        self.assertEqual(self.fitting()["steps"], [])

    def test_steps_for_another_wiring_are_not_begun(self) -> None:
        """A reading that says the same changes nothing; another wiring is refused until somebody chose for it."""

        def said() -> tuple[bool, bool]:
            """Whether it is of the wiring of today, and begun; wire map and round say the same."""
            choice = self.fitting()["choice"]
            on_map = self.api.get(self.at("ways/")).json()["choices"][0]
            told = ("is_other_wiring", "is_begun", "is_current")
            self.assertEqual([choice[name] for name in told], [on_map[name] for name in told])
            is_stopped = choice["is_other_wiring"] and not choice["is_begun"]
            self.loop.refresh_from_db()
            self.assertEqual(self.loop.next_step, "route" if is_stopped else "fit")
            return not choice["is_other_wiring"], choice["is_begun"]

        def trouble() -> Any:
            return self.tick(self.fitting()["next"], "trouble", reason="the screw turns through")

        self.assertEqual(self.read("c1", v=229.0).status_code, 201)
        self.assertEqual(said(), (True, False))
        # What was compared then may read otherwise with it: told, not refused.
        self.assertFalse(self.fitting()["choice"]["is_current"])
        first, second = BOX["conductors"]
        turned = [{**first, "terminal": second["terminal"]}, {**second, "terminal": first["terminal"]}]
        self.assertEqual(self.save(version=1, box={**BOX, "conductors": turned}).status_code, 200)
        self.assertEqual(said(), (False, False))
        refused = trouble()
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "way_is_of_another_wiring"))
        self.assertIn("another wiring today", refused.json()["title"])
        self.assertEqual(FitMark.objects.count(), 0)
        self.choose("two_wire", number=1)
        self.assertEqual(said(), (True, False))
        # A junction box that somebody saw since lies in the way of a core, too.
        seen = {"version": 0, "seen": {"line": "yes", "junction": "1"}}
        answer = self.api.put(f"/api/v1/gangs/{self.gang.pk}/ceiling/", seen, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(said(), (False, False))
        self.choose("two_wire", number=2)
        self.assertEqual(said(), (True, False))
        self.assertEqual(trouble().status_code, 201)
        # Once begun hands may have to go on, or back; it is told all the same.
        self.assertEqual(self.save(version=2, box=BOX).status_code, 200)
        self.assertEqual(said(), (False, True))
        self.assertEqual(trouble().status_code, 201)

    def test_a_luminaire_is_no_box_of_the_survey(self) -> None:
        """It shows in no list of boxes, and does not make the survey incomplete."""
        self.choose("with_bypass", number=1)
        self.assertTrue(Survey.objects.filter(loop=self.loop, place=11).exists())
        self.assertEqual([box["place"] for box in self.survey()["boxes"]], [1])
        self.assertEqual(self.survey(place=11)["box"]["conductors"][0]["id"] in ("L", "N", "SL", "E"), True)
        self.loop.refresh_from_db()
        self.assertNotEqual(self.loop.next_step, "survey")

    def test_old_texts_of_both_languages_name_every_act(self) -> None:
        """In German too, and never in English there."""
        german = self.api.get(self.at("fit/"), HTTP_ACCEPT_LANGUAGE="de").json()
        english = self.fitting()
        for one, other in zip(german["steps"], english["steps"], strict=True):
            self.assertTrue(one["why"] and one["proves"])
            self.assertNotEqual(one["why"], other["why"])
