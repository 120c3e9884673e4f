"""Isolation as two people at one board need it: own locks, one order of proving, gates that say what is missing."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

from django.test import override_settings, tag
from django.utils import timezone
from rest_framework.test import APIClient

from accounts.models import Role, User
from audit.models import Change
from bench.services.make_loop import make_loop
from sites.models import Circuit
from survey.models import Isolation, Lock, Notice, Proof, ProofEvent, StepMark
from tests.server.base import CONTROL, fit
from tests.server.test_survey import ONE_WAY, PAIRS, SurveyTest

Json = dict[str, Any]
MEMORY = {"default": {"BACKEND": "django.core.files.storage.InMemoryStorage"}}


def codes(entries: list[Json]) -> list[str]:
    """The codes of findings."""
    return [entry["code"] for entry in entries]


class TwoPeople(SurveyTest):
    """Wren works on breaker 7; Fenna comes to another loop on it."""

    def setUp(self) -> None:
        super().setUp()
        self.save()
        fenna = User.objects.create(username="fenna", display_name="Fenna", role=Role.TECHNICIAN)
        self.site.members.add(fenna)
        self.other_site.members.add(fenna)
        self.fenna = APIClient()
        self.fenna.force_login(fenna)
        self.other = make_loop(None, site=self.site, circuit=self.circuit, name="Cellar steps")

    def take_off(self, lock: Json, api: Any, **more: Any) -> Any:
        """Take a lock off."""
        return api.post(f"/api/v1/locks/{lock['id']}/off/", more, format="json")

    def energise(self, row: Json, api: Any) -> Any:
        """Put the power back."""
        body = {"id": str(uuid.uuid4()), "note": ""}
        return api.post(f"/api/v1/isolations/{row['id']}/energise/", body, format="json")

    def test_an_open_isolation_shows_on_every_loop_of_its_breaker_and_on_the_board(self) -> None:
        """The second loop, the schedule and the board name breaker, person, time and place; another site does not."""
        self.isolate()
        there = self.fenna.get(f"/api/v1/loops/{self.other.pk}/survey/").json()
        self.assertTrue(there["is_off"])
        (row,) = there["isolations"]
        self.assertEqual((row["breakers"], row["opened_by"], row["loop_name"]), (["7"], "The technician", "Kiln room"))
        self.assertFalse(row["is_mine"])
        (board,) = self.fenna.get("/api/v1/isolations/", {"site": str(self.site.pk)}).json()
        self.assertEqual({entry["name"] for entry in board["loops"]}, {"Kiln room", "Cellar steps"})
        self.assertEqual(self.fenna.get("/api/v1/isolations/", {"site": str(self.other_site.pk)}).json(), [])
        self.assertEqual(self.fenna.get("/api/v1/isolations/", {"site": "7"}).status_code, 404)
        circuit = self.fenna.get("/api/v1/circuits/", {"site": str(self.site.pk)}).json()["results"][0]
        self.assertTrue(circuit["is_isolated"])

    def test_the_board_asks_the_same_number_of_questions_whatever_is_open(self) -> None:
        """One isolation or five: constant queries."""
        self.isolate()
        self.fenna.get("/api/v1/isolations/")
        with self.assertNumQueries(11):
            self.fenna.get("/api/v1/isolations/")
        for number in range(4):
            circuit = Circuit.objects.create(site=self.site, breaker=f"2{number}")
            self.isolate(circuits=[str(circuit.pk)])
        with self.assertNumQueries(11):
            self.assertEqual(len(self.fenna.get("/api/v1/isolations/").json()), 5)

    def test_a_second_isolation_of_a_breaker_is_refused_and_points_to_the_first(self) -> None:
        """Whoever comes second puts a lock on what is there."""
        row = self.isolate()
        body = {"id": str(uuid.uuid4()), "scope": "breakers", "circuits": [str(self.circuit.pk)]}
        answer = self.fenna.post(f"/api/v1/loops/{self.other.pk}/isolations/", body, format="json")
        self.assertEqual(self.code(answer), (409, "isolated_already"))
        self.assertEqual(answer.json()["isolation"], row["id"])
        self.assertIn("7 is off already: The technician isolated it", answer.json()["title"])
        joined = self.lock(row, self.fenna, loop=str(self.other.pk))
        self.assertEqual(joined.status_code, 201)
        self.assertEqual([lock["person"] for lock in joined.json()["locks"]], ["The technician", "Fenna"])

    def test_power_goes_back_only_when_the_last_lock_is_off(self) -> None:
        """Whose lock is on is told; the refused press changes nothing; both proofs end with it."""
        row = self.isolate()
        mine, hers = self.lock(row, self.fenna, loop=str(self.other.pk)).json()["locks"]
        self.prove()
        for api in (self.api, self.fenna):
            answer = self.energise(row, api)
            self.assertEqual(self.code(answer), (409, "locks_still_on"))
            self.assertIn("Fenna, The technician", answer.json()["title"])
        self.assertEqual(self.take_off(mine, self.api).status_code, 200)
        self.assertIn("lock of Fenna is on", self.energise(row, self.api).json()["title"])
        self.assertIsNone(Isolation.objects.get().closed_at)
        self.assertEqual(self.survey(self.fenna)["proof"]["state"], "proved")
        self.assertEqual(self.take_off(hers, self.fenna).status_code, 200)
        self.assertEqual(self.survey()["proof"]["missing"][0]["code"], "proof_last_lock_off")
        self.assertEqual(self.energise(row, self.api).status_code, 200)
        self.assertFalse(self.survey()["is_off"])

    def test_ending_another_persons_lock_needs_a_role_and_a_reason_and_tells_both(self) -> None:
        """A technician cannot; a checker can, with a reason; each finds a notice until it is read."""
        row = self.isolate()
        (lock,) = row["locks"]
        reason = "left the site at noon, reached by telephone"
        self.assertEqual(self.code(self.take_off(lock, self.fenna, reason=reason)), (403, "lock_of_another"))
        checker = self.clients[Role.CHECKER]
        self.assertEqual(self.code(self.take_off(lock, checker, reason="gone")), (422, "reason_needed"))
        self.assertIsNone(Lock.objects.get().off_at)
        self.assertEqual(self.take_off(lock, checker, reason=reason).status_code, 200)
        (told,) = self.api.get("/api/v1/notices/").json()
        self.assertEqual(told["code"], "your_lock_taken_off")
        self.assertIn("breaker 7 was taken off by The checker", told["text"])
        (other,) = checker.get("/api/v1/notices/").json()
        self.assertEqual(other["code"], "you_took_lock_off")
        self.assertEqual(self.fenna.get("/api/v1/notices/").json(), [])
        self.assertEqual(self.fenna.post(f"/api/v1/notices/{told['id']}/seen/").status_code, 404)
        self.assertEqual(self.api.post(f"/api/v1/notices/{told['id']}/seen/").status_code, 204)
        self.assertEqual(self.api.get("/api/v1/notices/").json(), [])
        self.assertEqual(Notice.objects.filter(seen_at=None).count(), 1)
        self.assertTrue(Change.objects.filter(action="another's lock taken off").exists())

    def test_the_same_press_sent_twice_is_one(self) -> None:
        """Opening, locking, unlocking and closing, each repeated after an answer that was lost."""
        body = {"id": str(uuid.uuid4()), "scope": "breakers", "circuits": [str(self.circuit.pk)]}
        lock = {"id": str(uuid.uuid4()), "loop": str(self.loop.pk)}
        end = {"id": str(uuid.uuid4()), "note": "all back"}
        for address, sent, status in (
            (self.at("isolations/"), body, 201),
            (f"/api/v1/isolations/{body['id']}/locks/", lock, 201),
            (f"/api/v1/locks/{lock['id']}/off/", {}, 200),
            (f"/api/v1/isolations/{body['id']}/energise/", end, 200),
        ):
            for _ in range(2):
                self.assertEqual(self.api.post(address, sent, format="json").status_code, status, address)
        self.assertEqual((Isolation.objects.count(), Lock.objects.count()), (1, 1))
        self.assertEqual(Change.objects.filter(action="re-energised").count(), 1)
        self.assertEqual(self.code(self.energise({"id": body["id"]}, self.fenna)), (409, "isolation_closed"))
        other = {**body, "scope": "whole_installation", "circuits": []}
        self.assertEqual(self.code(self.api.post(self.at("isolations/"), other, format="json")), (409, "entry_differs"))

    def test_both_schools_of_isolating(self) -> None:
        """Breakers must be named and of this site; the whole installation covers every loop of it."""
        elsewhere = Circuit.objects.create(site=self.other_site, breaker="12")
        for circuits, code in (([str(elsewhere.pk)], "circuit_of_other_site"), ([], "no_breaker_named")):
            body = {"id": str(uuid.uuid4()), "scope": "breakers", "circuits": circuits}
            self.assertEqual(self.code(self.api.post(self.at("isolations/"), body, format="json")), (422, code))
        self.isolate(scope="whole_installation", circuits=[])
        self.assertEqual(self.survey()["cover_missing"], [])
        there = self.fenna.get(f"/api/v1/loops/{self.other.pk}/survey/").json()
        self.assertEqual(codes(there["cover_missing"]), ["no_lock_of_yours"])

    def test_a_box_with_two_breakers_needs_both_and_one_without_a_breaker_the_whole(self) -> None:
        """What is not off, or not known, is named."""
        second = Circuit.objects.create(site=self.site, breaker="9")
        self.isolate()
        answer = self.save(version=1, other_circuits=[str(second.pk)]).json()
        self.assertEqual(answer["cover_missing"][0]["text"], "Breaker 9 comes into this box too and is not off.")
        self.isolate(circuits=[str(second.pk)])
        self.assertEqual(self.survey()["cover_missing"], [])
        lost = make_loop(None, site=self.site, circuit=None, name="Attic")
        self.assertEqual(
            codes(self.api.get(f"/api/v1/loops/{lost.pk}/survey/").json()["cover_missing"]), ["no_isolation_open"]
        )


class Proving(SurveyTest):
    """The order is enforced, and nothing above the limit is ever written over."""

    def setUp(self) -> None:
        super().setUp()
        self.save()

    def test_nothing_can_be_proved_before_ones_own_lock_is_on(self) -> None:
        """Not isolated; isolated by another; isolated without a lock."""
        proof = str(uuid.uuid4())
        self.assertEqual(self.code(self.event(proof, "tester_before")), (422, "not_isolated_for_you"))
        row = self.isolate(self.clients[Role.ADMINISTRATOR])
        self.assertEqual(self.code(self.event(proof, "tester_before")), (422, "not_isolated_for_you"))
        self.lock(row)
        self.assertEqual(self.event(proof, "tester_before").status_code, 201)
        self.assertEqual(self.survey()["proof"]["state"], "under_way")

    def test_each_event_is_refused_out_of_its_order(self) -> None:
        """Readings before the tester, the tester again before the last pair, the charge before the tester."""
        self.isolate()
        proof = str(uuid.uuid4())
        first = {"a": "c1", "b": "known_earth", "v": 0.1}
        self.assertEqual(self.code(self.event(proof, "reading", **first)), (422, "tester_before_first"))
        self.assertEqual(self.code(self.event(proof, "tester_after")), (422, "tester_before_first"))
        self.event(proof, "tester_before")
        self.assertEqual(self.code(self.event(proof, "tester_before")), (422, "tester_proved_already"))
        self.assertEqual(self.code(self.event(proof, "charge", charge="none_fitted")), (422, "tester_after_first"))
        self.event(proof, "reading", **first)
        answer = self.event(proof, "tester_after")
        self.assertEqual(self.code(answer), (422, "pairs_before_tester"))
        self.assertIn("2 pairs are not read yet", answer.json()["title"])
        for a, b in PAIRS[1:]:
            self.event(proof, "reading", a=a, b=b, v=0.3)
        self.assertEqual(self.event(proof, "tester_after").status_code, 201)
        self.assertEqual(self.survey()["proof"]["state"], "under_way")
        self.assertEqual(self.code(self.event(proof, "reading", **first)), (422, "proof_is_closed"))
        self.assertEqual(self.code(self.event(proof, "charge")), (422, "charge_without_answer"))
        self.assertEqual(self.event(proof, "charge", charge="none_fitted").json()["proof"]["state"], "proved")

    def test_sixty_volts_cannot_be_overwritten(self) -> None:
        """The pair read again at 0.1 V changes nothing; only a whole new proof does; both stay on record."""
        self.isolate()
        proof = str(uuid.uuid4())
        self.event(proof, "tester_before")
        answer = self.event(proof, "reading", a="c2", b="known_earth", v=60.0).json()
        self.assertEqual(answer["proof"]["state"], "failed")
        self.assertIn("c2 (blue) to known earth read 60 V", answer["proof"]["missing"][0]["text"])
        again = self.event(proof, "reading", a="c2", b="known_earth", v=0.1)
        self.assertEqual(self.code(again), (422, "proof_failed"))
        self.assertEqual(self.survey()["proof"]["state"], "failed")
        whole = self.prove()
        self.assertEqual(whole["proof"]["state"], "proved")
        self.assertEqual([event["v"] for event in whole["past_proofs"][0]["events"]], [None, 60.0])
        self.assertEqual(ProofEvent.objects.filter(v=60.0).count(), 1)

    def test_the_limit_itself_is_dead_and_a_hair_above_is_not(self) -> None:
        """10.0 V passes, 10.1 V fails the proof."""
        self.isolate()
        for v, state in ((10.0, "under_way"), (10.1, "failed")):
            proof = str(uuid.uuid4())
            self.event(proof, "tester_before")
            answer = self.event(proof, "reading", a="c1", b="known_earth", v=v).json()
            self.assertEqual(answer["proof"]["state"], state)

    def test_readings_that_cannot_be_are_refused(self) -> None:
        """Unknown conductor, both leads on one, beyond the supply, no value; nothing is kept."""
        self.isolate()
        proof = str(uuid.uuid4())
        self.event(proof, "tester_before")
        for given, code in (
            ({"a": "c1", "b": "c9", "v": 0.0}, "no_such_conductor"),
            ({"a": "c1", "b": "c1", "v": 0.0}, "reading_to_itself"),
            ({"a": "c1", "b": "c2", "v": 900.0}, "reading_beyond_supply"),
            ({"a": "c1", "b": "c2", "v": -1.0}, "reading_beyond_supply"),
            ({"a": "c1", "b": "c2"}, "reading_without_value"),
        ):
            self.assertEqual(self.code(self.event(proof, "reading", **given)), (422, code))
        self.assertEqual(ProofEvent.objects.filter(kind="reading").count(), 0)

    def test_a_fitted_control_must_be_discharged(self) -> None:
        """Where the record has one in, "none fitted" is refused, whether lamps or a neutral feed it."""
        by_neutral = {name: figure for name, figure in CONTROL.items() if name != "standby"}
        self.isolate()
        for version, control in enumerate((fit(CONTROL), {**fit(by_neutral), "wired": "straight"}), 1):
            self.keep(version, control={**control, "status": "fitted"})
            proof = str(uuid.uuid4())
            self.event(proof, "tester_before")
            for a, b in PAIRS:
                self.event(proof, "reading", a=a, b=b, v=0.0)
            self.event(proof, "tester_after")
            self.assertEqual(self.code(self.event(proof, "charge", charge="none_fitted")), (422, "control_is_fitted"))
            self.assertEqual(self.event(proof, "charge", charge="discharged").json()["proof"]["state"], "proved")

    @tag("long")
    def test_a_proof_ends_with_what_it_rests_on(self) -> None:
        """A conductor found later, another breaker of the box, the loop moved to another breaker: each for good."""
        second = Circuit.objects.create(site=self.site, breaker="9")
        self.isolate()
        more = {**ONE_WAY, "conductors": [*ONE_WAY["conductors"], {"id": "c3", "terminal": "loose"}]}
        self.assertEqual(self.prove()["proof"]["state"], "proved")
        answer = self.save(version=1, box=more).json()
        self.assertEqual(codes(answer["proof"]["missing"]), ["proof_new_conductor"])
        answer = self.save(version=2, box=ONE_WAY).json()
        self.assertEqual(answer["proof"]["state"], "ended")
        self.prove()
        self.save(version=3, other_circuits=[str(second.pk)])
        self.save(version=4, other_circuits=[])
        self.assertEqual(codes(self.survey()["proof"]["missing"]), ["proof_lock_or_breaker_changed"])
        self.prove()
        loop = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()
        for circuit in (second, self.circuit):
            body = {"version": loop["version"], "circuit": str(circuit.pk)}
            loop = self.api.patch(f"/api/v1/loops/{self.loop.pk}/", body, format="json").json()
        self.assertEqual(codes(self.survey()["proof"]["missing"]), ["proof_lock_or_breaker_changed"])

    def test_a_proof_has_an_age(self) -> None:
        """Just inside the site's setting it counts, just outside it does not; the setting has bounds."""
        self.isolate()
        self.prove()
        self.site.proof_lasts_s = 3600.0
        self.site.save()
        for seconds, state in ((3590, "proved"), (3610, "ended")):
            ProofEvent.objects.update(at=timezone.now() - timedelta(seconds=seconds))
            self.assertEqual(self.survey()["proof"]["state"], state)
        body = {"version": 1, "proof_lasts_s": 60}
        self.assertEqual(self.api.patch(f"/api/v1/sites/{self.site.pk}/", body, format="json").status_code, 400)

    def test_an_event_that_waited_on_the_device_counts_from_when_it_was_made(self) -> None:
        """Sent five hours late it is as old as it is; a clock that runs ahead gains nothing."""
        self.isolate()
        for hours, state in ((-5, "ended"), (3, "under_way")):
            proof = str(uuid.uuid4())
            at = (timezone.now() + timedelta(hours=hours)).isoformat()
            answer = self.event(proof, "tester_before", made_at=at)
            self.assertEqual(answer.json()["proof"]["state"], state)

    def test_an_event_sent_twice_is_one_and_another_content_is_refused(self) -> None:
        """A lost answer does not double a reading, and an identity cannot be used again."""
        self.isolate()
        body = {"id": str(uuid.uuid4()), "proof": str(uuid.uuid4()), "kind": "tester_before"}
        for _ in range(2):
            self.assertEqual(self.api.post(self.at("proof-events/"), body, format="json").status_code, 201)
        self.assertEqual((Proof.objects.count(), ProofEvent.objects.count()), (1, 1))
        answer = self.api.post(self.at("proof-events/"), {**body, "kind": "tester_after"}, format="json")
        self.assertEqual(self.code(answer), (409, "entry_differs"))

    def test_a_proof_of_the_simulated_meter_proves_nothing_outside_the_demo(self) -> None:
        """In the demo it counts and is marked; in a real copy the same record is refused as simulated."""
        self.isolate()
        proof = str(uuid.uuid4())
        with override_settings(DEMO=True):
            self.event(proof, "tester_before")
            for a, b in PAIRS:
                asked = {"function": "volts", "a": a, "b": b, "meter_r_ohm": 4e5, "switches": {"1": "off"}}
                shown = self.api.post(self.at("meter/"), asked, format="json").json()
                given = {"a": a, "b": b, "v": shown["v"], "meter_value": shown["id"]}
                self.assertEqual(self.event(proof, "reading", **given).status_code, 201)
            self.event(proof, "tester_after")
            answer = self.event(proof, "charge", charge="none_fitted").json()
            self.assertEqual((answer["proof"]["state"], answer["proof"]["is_simulated"]), ("proved", True))
            event = answer["proof"]["current"]["events"][1]
            self.assertEqual(event["origin"], "simulated")
            self.assertIn("stand-in", event["meter_identity"])
        self.assertEqual(codes(self.survey()["proof"]["missing"]), ["proof_is_simulated"])


@override_settings(STORAGES=MEMORY)
class Steps(SurveyTest):
    """Working order, and what may be overridden."""

    def setUp(self) -> None:
        super().setUp()
        self.save()

    def reasons(self, answer: Any) -> list[str]:
        """Codes of what stands in the way."""
        self.assertEqual(answer.status_code, 422)
        return codes(answer.json()["reasons"])

    def test_fit_cannot_be_marked_before_what_comes_before_it(self) -> None:
        """Proved dead, still closed: open, photograph and disconnect are missing, and the conductors are in doubt."""
        self.isolate()
        self.prove()
        self.assertEqual(
            self.reasons(self.mark("fit")), ["step_before_it", "step_before_it", "step_before_it", "conductor_in_doubt"]
        )
        self.assertEqual(StepMark.objects.count(), 0)

    def test_the_whole_way(self) -> None:
        """Each step in its order; taking an earlier one back is refused while a later one rests on it."""
        self.read("c1", v=230.0)
        self.read("c2", v=0.4)
        self.read("c2", v=230.0, switches={"1": "on"})
        self.assertEqual(self.reasons(self.mark("open")), ["no_isolation_open"])
        self.isolate()
        self.assertEqual(self.mark("open").status_code, 200)
        self.assertEqual(self.reasons(self.mark("photograph")), ["no_photo_yet"])
        self.photograph()
        self.assertEqual(self.mark("photograph").status_code, 200)
        self.assertEqual(self.reasons(self.mark("disconnect")), ["not_proved_yet", "conductors_not_marked"])
        self.prove()
        marked = [
            {**c, "label": r} for c, r in zip(ONE_WAY["conductors"], ("permanent_live", "switched_live"), strict=True)
        ]
        self.save(version=1, box={**ONE_WAY, "conductors": marked})
        self.assertEqual(self.mark("disconnect").status_code, 200)
        self.assertEqual(self.mark("fit").status_code, 200)
        self.assertEqual(self.code(self.mark("open", False)), (422, "later_step_done"))
        self.assertEqual(self.mark("fit", False).status_code, 200)

    def test_an_override_has_a_reason_and_a_name_and_never_covers_power(self) -> None:
        """Order can be overridden with a reason that stays; isolation and proof by nobody."""
        self.assertEqual(
            self.reasons(self.mark("open", override_reason="in a hurry, it is off anyway")), ["no_isolation_open"]
        )
        self.isolate()
        self.mark("open")
        self.assertEqual(self.code(self.mark("photograph", override_reason="dark")), (422, "reason_needed"))
        answer = self.mark("photograph", override_reason="camera broken, sketch made on paper").json()
        step = next(entry for entry in answer["steps"] if entry["step"] == "photograph")
        self.assertEqual((step["is_done"], step["by"]), (True, "The technician"))
        self.assertEqual(step["override_reason"], "camera broken, sketch made on paper")
        self.assertEqual(StepMark.objects.last().overridden, ["no_photo_yet"])
        self.assertTrue(Change.objects.filter(action="step done against a gate").exists())
        self.assertIn("not_proved_yet", self.reasons(self.mark("disconnect", override_reason="it was dead yesterday")))

    def test_a_mark_sent_twice_is_one(self) -> None:
        """By the identity of the entry."""
        self.isolate()
        body = {"id": str(uuid.uuid4()), "step": "open", "is_done": True}
        for _ in range(2):
            self.assertEqual(self.api.post(self.at("steps/"), body, format="json").status_code, 200)
        self.assertEqual(StepMark.objects.count(), 1)


class SecondBox(SurveyTest):
    """The other switch of a two-way circuit is its own place."""

    TWO_WAY: Json = {
        "gangs": ["two_way"],
        "circuits": 1,
        "conductors": [
            {"id": "c1", "cable": "A", "terminal": "common", "gang": 1},
            {"id": "c2", "cable": "B", "terminal": "l1", "gang": 1},
            {"id": "c3", "cable": "B", "terminal": "l2", "gang": 1},
        ],
    }

    def test_each_box_has_its_own_conductors_readings_and_proof(self) -> None:
        """What is read at one says nothing of the other; the length between them is kept."""
        self.save(box=self.TWO_WAY, name="Hall")
        self.assertEqual([entry["place"] for entry in self.survey()["boxes"]], [1, 2])
        answer = self.save(box=self.TWO_WAY, place=2, name="Landing", travellers_m=9.5)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.read("c1", v=230.0)
        self.assertEqual((len(self.survey()["readings"]), len(self.survey(place=2)["readings"])), (1, 0))
        self.assertEqual(self.survey()["boxes"][1]["travellers_m"], 9.5)
        self.isolate()
        pairs = (*PAIRS, ("c3", "known_earth"), ("c1", "c3"), ("c2", "c3"))
        self.prove(pairs=pairs)
        self.assertEqual((self.survey()["proof"]["state"], self.survey(place=2)["proof"]["state"]), ("proved", "none"))

    def test_bad_places_and_lengths(self) -> None:
        """A fifth box, no number, and travellers of no length."""
        for place in ("0", "5", "x", "-1", "٣"):
            self.assertEqual(self.api.get(self.at(f"survey/?place={place}")).status_code, 422)
        self.assertEqual(self.code(self.save(travellers_m=0.0)), (422, "out_of_bounds"))
