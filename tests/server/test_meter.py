"""The meter: the stand-in through the same interface as a real one, its faults, and what it answers at a box."""

from __future__ import annotations

import socketserver
import threading
import uuid

from django.test import SimpleTestCase, override_settings

from accounts.models import Role
from audit.models import Change
from ember_core.survey.box import Box
from ember_core.survey.practices import PRACTICES, conductors_of
from ember_core.wiring import metered
from instruments.meter import InstrumentError, ScpiMeter
from standins import meter_server, truth
from survey.models import TakenReading
from tests.server.base import draft
from tests.server.test_survey import SurveyTest


@override_settings(DEMO=True)
class Reading(SurveyTest):
    """At a surveyed loop."""

    def ask(self, a: str, b: str = "known_earth", function: str = "volts", **more):
        """One value."""
        body = {"function": function, "a": a, "b": b, "meter_r_ohm": 4e5, "switches": {"1": "off"}, **more}
        return self.api.post(self.at("meter/"), body, format="json")

    def fault(self, name: str) -> None:
        """Turn the fault switch."""
        self.assertEqual(self.api.put("/api/v1/meter/", {"fault": name}, format="json").status_code, 200)

    def test_the_readings_it_is_asked_for_settle_the_box(self) -> None:
        """Reading what is proposed, nothing else, ends with every conductor known; nothing is kept before."""
        answer = self.save().json()
        self.assertEqual(self.ask("c1").status_code, 200)
        self.assertEqual(TakenReading.objects.count(), 0)
        for _ in range(8):
            wanted = answer["judgement"]["next_live"]
            if wanted is None:
                break
            value = self.ask(wanted["a"], wanted["b"], switches=wanted["switches"]).json()
            answer = self.read(
                wanted["a"], wanted["b"], v=value["v"], switches=wanted["switches"], meter_value=value["id"]
            ).json()
        self.assertTrue(answer["judgement"]["is_known"])
        self.assertEqual(answer["readings"][0]["origin"], "simulated")
        self.assertEqual(answer["readings"][0]["meter_identity"], meter_server.IDENTITY)

    def test_nobody_can_claim_a_value_that_the_meter_did_not_show(self) -> None:
        """Another value, other points, another person: refused, and nothing is kept."""
        self.save()
        shown = self.ask("c1").json()
        for a, v in (("c1", round(shown["v"] + 50.0, 1)), ("c2", shown["v"])):
            answer = self.read(a, v=v, meter_value=shown["id"])
            self.assertEqual(self.code(answer), (422, "differs_from_meter"))
        body = {"id": str(uuid.uuid4()), "a": "c1", "b": "known_earth", "v": shown["v"], "meter_value": shown["id"]}
        other = self.clients[Role.ADMINISTRATOR].post(self.at("readings/"), body, format="json")
        self.assertEqual(self.code(other), (422, "differs_from_meter"))
        self.assertEqual(TakenReading.objects.count(), 0)

    def test_there_is_no_meter_in_a_real_copy_unless_one_is_named(self) -> None:
        """Neither values nor a fault switch; typing stays possible, and says that it was typed."""
        self.save()
        with override_settings(DEMO=False):
            self.assertFalse(self.api.get("/api/v1/meter/").json()["is_there"])
            self.assertEqual(self.code(self.ask("c1")), (409, "no_meter"))
            answer = self.api.put("/api/v1/meter/", {"fault": "open_lead"}, format="json")
            self.assertEqual(self.code(answer), (409, "no_simulated_meter"))
            self.assertEqual(self.read("c1", v=230.0).json()["readings"][0]["origin"], "typed")

    def test_the_fault_switch_is_in_the_trail(self) -> None:
        """Who turned it, from what to what."""
        self.fault("open_lead")
        change = Change.objects.get(action="meter fault switched")
        self.assertEqual((change.before, change.after), ({"fault": "none"}, {"fault": "open_lead"}))
        self.assertEqual(change.who, self.people[Role.TECHNICIAN])

    def test_it_answers_from_the_solved_loop(self) -> None:
        """On the switched live, off, stands what the solver says for a meter of that resistance."""
        self.save()
        self.keep(bypasses=[])
        judged = self.api.post(f"/api/v1/gangs/{self.gang.pk}/judge/", draft(bypasses=[]), format="json").json()
        expected = {round(row["r_ohm"]): row["v_rms"] for row in judged["figures"]["meter"]}
        shown = {}
        for r_ohm in (4e5, 1e7):
            volts = [self.ask(name, meter_r_ohm=r_ohm).json()["v"] for name in ("c1", "c2")]
            shown[round(r_ohm)] = min(volts)
        for r_ohm, v in shown.items():
            self.assertAlmostEqual(v, expected[r_ohm], delta=0.04 * expected[r_ohm] + 0.6)

    def test_each_fault_is_told_or_misleads_as_a_real_one_would(self) -> None:
        """A flat battery and an overrange are errors; an open lead reads nothing."""
        self.save()
        live = "c1" if self.ask("c1").json()["v"] > 150 else "c2"
        self.fault("flat_battery")
        self.assertEqual(self.code(self.ask(live)), (502, "meter_reports_error"))
        self.fault("wrong_range")
        self.assertEqual(self.code(self.ask(live)), (502, "meter_over_range"))
        self.fault("open_lead")
        self.assertLess(self.ask(live).json()["v"], 2.0)
        self.fault("none")
        self.assertGreater(self.ask(live).json()["v"], 200.0)

    def test_continuity_only_while_isolated(self) -> None:
        """And it finds the line at the breaker from one of the two."""
        self.save()
        self.assertEqual(self.code(self.ask("c1", "known_line", "continuity")), (422, "continuity_not_isolated"))
        self.isolate()
        self.prove()
        found = [self.ask(name, "known_line", "continuity").json()["is_open"] for name in ("c1", "c2")]
        self.assertEqual(sorted(found), [False, True])

    def test_a_neutral_of_another_circuit_shows_as_one(self) -> None:
        """Lifted at the board, this circuit's neutral is open to it; a box whose joint is its own is closed."""
        practice = PRACTICES[1]
        box = Box(conductors=conductors_of(practice, "eu"), circuits=1)
        drawn = {truth.draw(f"loop {k}", box, practice.id)[0]["point_of"]["c2"]: f"loop {k}" for k in range(80)}
        self.assertEqual(set(drawn), {"neutral", "foreign_neutral"})
        for point, seed in drawn.items():
            given, _ = truth.draw(seed, box, practice.id)
            bonds = [bond for bond in given["bonds"] if truth.GROUND not in bond]
            net = metered.Wiring(point_of=given["point_of"], bonds=[(a, b, r) for a, b, r in bonds])
            r_ohm = metered.read_resistance(net, (), ("c2", truth.net_of("known_neutral")))
            self.assertEqual(r_ohm is None, point == "foreign_neutral")

    def test_another_meter_can_take_its_place(self) -> None:
        """A copy told an address reads whatever speaks SCPI there; silence is an error, not a zero."""
        self.save()
        with override_settings(METER_ADDRESS="127.0.0.1:1"):
            self.assertEqual(self.code(self.ask("c1")), (502, "meter_does_not_answer"))
        with socketserver.TCPServer(("127.0.0.1", 0), _Constant) as server:
            threading.Thread(target=server.serve_forever, daemon=True).start()
            with override_settings(METER_ADDRESS=f"127.0.0.1:{server.server_address[1]}"):
                self.assertEqual(self.ask("c1").json()["v"], 117.3)
            server.shutdown()


class _Constant(socketserver.StreamRequestHandler):
    """A meter that always shows 117.3 V."""

    def handle(self) -> None:
        for line in self.rfile:
            if line.startswith(b"*IDN?"):
                self.wfile.write(b"Maker,Model,1,1\n")
            if line.startswith(b"READ?"):
                self.wfile.write(b"1.173E+02\n")
            if line.startswith(b"SYST:ERR?"):
                self.wfile.write(b'0,"No error"\n')


class Protocol(SimpleTestCase):
    """SCPI text over TCP."""

    def test_identity_and_unknown_commands(self) -> None:
        """It names itself; a command it does not know lands in its error queue."""
        host, port = meter_server.address()
        self.assertEqual(ScpiMeter(host, port).identify(), meter_server.IDENTITY)
        with self.assertRaises(InstrumentError) as caught:
            ScpiMeter(host, port, ("FROB 1",)).identify()
        self.assertEqual(caught.exception.code, "meter_reports_error")
        with self.assertRaises(InstrumentError):
            ScpiMeter(host, port).volts_ac(1e7)
