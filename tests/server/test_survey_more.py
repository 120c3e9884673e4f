"""Around the survey: who may write, words in both regions, the stand-in's building, the demo's surveys."""

from __future__ import annotations

import json
import socket
import uuid
from typing import Any

from django.test import SimpleTestCase, override_settings, tag

from accounts.models import Role
from demo.management.commands.load_demo import load_accounts, load_shelf, load_site, load_surveys
from demo.sites import CANNERY, CANNERY_CIRCUITS, CANNERY_LOOPS, MILL, MILL_CIRCUITS, MILL_LOOPS, SURVEYS
from ember_core.survey.box import Box, Ways
from ember_core.survey.practices import PRACTICES, conductors_of
from ember_core.survey.readings import Position
from ember_core.wiring import metered
from loops.models import Loop
from standins import meter_server, truth
from survey.models import Isolation, Survey, TakenReading
from survey.services.words import Words
from tests.empty import SITES, without
from tests.server.base import ServerTest
from tests.server.test_survey import ONE_WAY, SurveyTest
from wording.messages import Message
from wording.texts import catalogue, vocabulary_of


class WhoMayWrite(SurveyTest):
    """Every write of the survey by every role."""

    def test_only_those_who_may_edit(self) -> None:
        """A checker is refused everywhere; technician and administrator are not refused for their role."""
        self.save()
        row = self.isolate()
        self.prove()
        reading = str(uuid.uuid4())
        self.api.post(
            self.at("readings/"),
            {"id": reading, "a": "c1", "b": "known_line", "is_open": True, "supply_on": False},
            format="json",
        )
        nobody = str(uuid.uuid4())
        writes: list[tuple[str, str, dict[str, Any]]] = [
            ("put", self.at("survey/"), {"version": 9, "enquiry": {}, "box": ONE_WAY}),
            ("post", self.at("readings/"), {"id": nobody, "a": "c1", "b": "c1"}),
            ("post", f"/api/v1/readings/{reading}/strike/", {"reason": ""}),
            ("post", self.at("isolations/"), {"id": nobody, "scope": "breakers"}),
            ("post", f"/api/v1/isolations/{row['id']}/locks/", {"id": "x"}),
            ("post", f"/api/v1/isolations/{row['id']}/energise/", {"id": nobody}),
            ("post", self.at("proof-events/"), {"id": nobody, "proof": nobody, "kind": "tester_after"}),
            ("post", self.at("steps/"), {"id": nobody, "step": "fit", "is_done": True}),
            ("post", self.at("meter/"), {"function": "volts", "a": "c1", "b": "c1"}),
            ("put", "/api/v1/meter/", {"fault": "melted"}),
            ("post", f"/api/v1/circuits/{self.circuit.pk}/corrections/", {"version": 99, "label": "", "feeds": ""}),
        ]
        for role in Role.values:
            for method, address, body in writes:
                answer = getattr(self.clients[role], method)(address, body, format="json")
                if role == Role.CHECKER:
                    self.assertEqual(answer.status_code, 403, f"{role} {address}")
                else:
                    self.assertIn(answer.status_code, (400, 409, 422), f"{role} {address}")
        self.assertEqual((Survey.objects.get().version, Isolation.objects.get().closed_at), (1, None))

    def test_what_is_not_there_is_not_found(self) -> None:
        """For every address with an identity."""
        nobody = uuid.uuid4()
        for method, address, body in (
            ("get", f"/api/v1/loops/{nobody}/survey/", None),
            ("post", f"/api/v1/loops/{nobody}/readings/", {}),
            ("post", f"/api/v1/readings/{nobody}/strike/", {"reason": "x"}),
            ("post", f"/api/v1/isolations/{nobody}/energise/", {}),
            ("post", f"/api/v1/isolations/{nobody}/locks/", {}),
            ("post", f"/api/v1/locks/{nobody}/off/", {}),
            ("post", f"/api/v1/loops/{nobody}/proof-events/", {}),
            ("get", f"/api/v1/photos/{nobody}/image.jpg", None),
            ("get", f"/api/v1/circuits/{nobody}/corrections/", None),
            ("get", f"/api/v1/sites/{nobody}/labels.pdf", None),
            ("get", f"/api/v1/loops/{nobody}/visit.pdf", None),
        ):
            answer = getattr(self.api, method)(address, body, format="json")
            self.assertEqual((answer.status_code, answer.json()["code"]), (404, "not_found"), address)


class WordsOfTheSurvey(SimpleTestCase):
    """The catalogue."""

    FILLED = {
        "note": "look",
        "number": "1",
        "loop": "Kiln room",
        "zone": "UTC",
        "a": "c1",
        "b": "c2",
        "v": 12.0,
        "v_most": 10.0,
        "v_then": 0.4,
        "first": "c1",
        "second": "c2",
        "step": "Fit",
        "conductor": "c1",
        "colour": "blue",
        "role": "neutral",
        "label": "earth",
        "terminal": "l1",
        "count": 2,
        "year": 1974,
        "gang": 1,
        "before": "open",
        "breaker": "7",
        "who": "Wren",
        "what": "breaker 7",
        "reason": "gone home",
        "height": "10 mm",
        "from_end": "c1",
        "to_end": "c2",
        "at": "off",
    }

    def test_every_sentence_can_be_filled_in_both_regions(self) -> None:
        """Placeholders are parameters of its table or words of the trade; none is left over."""
        for region in ("eu", "na"):
            words = Words(region)
            for table, entries in catalogue("survey").items():
                for code in entries:
                    said = words.text(table, code, dict(self.FILLED))
                    self.assertTrue(said)
                    self.assertNotIn("{", said)

    def test_a_role_names_its_gang_where_there_are_several(self) -> None:
        """And only there."""
        two = Words("eu", Box(circuits=1, gangs=(Ways.ONE_WAY, Ways.ONE_WAY)))
        self.assertEqual(two.role("switched_live", 2), "switched live, gang 2")
        self.assertEqual(two.role("neutral", None), "neutral")
        self.assertEqual(Words("na", Box(circuits=1, gangs=(Ways.ONE_WAY,))).role("switched_live", 1), "load wire")

    def test_no_sentence_names_the_other_regions_words(self) -> None:
        """Earth and permanent live are placeholders, so that ground and line can stand for them."""
        wrong = ("permanent live", "switched live")
        for table, entries in catalogue("survey").items():
            for code, text in entries.items():
                self.assertFalse(any(word in text for word in wrong), f"{table}.{code}")
        self.assertEqual(Words("na").text("roles", "earth"), "ground")

    def test_every_placeholder_of_the_spread_is_given(self) -> None:
        """They are filled by the services; here their names are held."""
        known = {"well_count", "sample_count", "percent", "label", "where", "group", "lands", "value", "count", "most"}
        known |= {"nominal", "meter", "low", "high", "names", "name", "moves", "then", "now", "circuit", "output"}
        known |= {"actual", "limit", "watts", "lamps", "time", "feed", *vocabulary_of("eu")}
        for code, text in catalogue("spread").items():
            names = Message("en", text).names
            self.assertLessEqual(names, known, code)


class Building(SimpleTestCase):
    """The building behind the simulated meter."""

    def test_a_loop_keeps_its_building(self) -> None:
        """The same identity gives the same wiring; others differ; the switch really switches."""
        practice = PRACTICES[0]
        box = Box(conductors=conductors_of(practice, "eu"), circuits=1)
        first, hidden = truth.draw("loop-a", box, practice.id)
        self.assertEqual(first, truth.draw("loop-a", box, practice.id)[0])
        self.assertTrue(any(truth.draw(f"loop-{k}", box, practice.id)[0] != first for k in range(6)))
        self.assertEqual(truth.closures(box, hidden, {"1": Position.OFF}), [])
        self.assertEqual(truth.closures(box, hidden, {"1": Position.ON}), [["1:common", "1:l1"]])
        json.dumps(first)

    def test_every_practice_can_be_wired_and_read(self) -> None:
        """A line is found at exactly the conductors that have one, whatever the practice."""
        for practice in PRACTICES:
            box = Box(gangs=(practice.ways,), conductors=conductors_of(practice, "eu"), circuits=1)
            drawn, hidden = truth.draw("some loop", box, practice.id)
            net = metered.Wiring(
                point_of=drawn["point_of"],
                cables=[(tuple(cores), length) for cores, length in drawn["cables"]],
                lamps={name: (pair[0], pair[1]) for name, pair in drawn["lamps"].items()},
                sources={name: complex(v) for name, v in drawn["sources"].items()},
                bonds=[(a, b, r) for a, b, r in drawn["bonds"]],
            )
            closures = [(a, b) for a, b in truth.closures(box, hidden, {})]
            live = [
                c.id
                for c in box.conductors
                if metered.read_voltage(net, closures, (c.id, "earth"), v_rms=230.0, f_hz=50.0, meter_r_ohm=2e4) > 200.0
            ]
            self.assertGreaterEqual(len(live), 1, practice.id)
            self.assertLess(len(live), len(box.conductors), practice.id)
            if practice.ways is Ways.ONE_WAY:
                self.assertEqual(len(live), 1, practice.id)

    def test_an_incomplete_or_unfed_loop_has_no_solved_state(self) -> None:
        """Then the lamps are taken as blocking."""
        self.assertIsNone(truth.solved_off_state({"lamps": []}, 1e7))

    def test_whatever_is_sent_to_the_meter_it_goes_on(self) -> None:
        """Noise, half commands and a broken setup leave errors in its queue and the next client served."""
        for sent in (b"\xff\xfe\n", b"INP:IMP many\nSYST:ERR?\n", b"SIM:SETUP {broken\nREAD?\n", b"READ?\n", b""):
            with socket.create_connection(meter_server.address(), timeout=5) as connection:
                connection.sendall(sent + b"*IDN?\n")
                connection.shutdown(socket.SHUT_WR)
                answer = b""
                while chunk := connection.recv(4096):
                    answer += chunk
            self.assertTrue(answer.decode().strip().endswith(meter_server.IDENTITY))


@tag("whole")
@override_settings(DEMO=True)
class DemoSurveys(ServerTest):
    """What the demo comes with."""

    def test_surveys_are_loaded_once_and_read_by_the_meter(self) -> None:
        """Loading again changes nothing; the kiln room's conductors are known, the studio's are not yet."""
        without(*SITES)
        technician = load_accounts()
        load_shelf(technician)
        load_site(technician, MILL, MILL_CIRCUITS, MILL_LOOPS)
        load_site(technician, CANNERY, CANNERY_CIRCUITS, CANNERY_LOOPS)
        for _ in range(2):
            load_surveys(technician)
        self.assertEqual(Survey.objects.count(), len(SURVEYS) + sum("second" in given for given in SURVEYS.values()))
        self.assertTrue(Survey.objects.get(loop__name="Kiln room").is_known)
        self.assertFalse(Survey.objects.get(loop__name="Pottery studio").is_known)
        self.assertEqual(Loop.objects.get(name="Pottery studio").next_step, "survey")
        self.assertGreater(TakenReading.objects.filter(loop__name="Kiln room", origin="simulated").count(), 0)
