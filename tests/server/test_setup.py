"""Setting up over the API: who hears whom, the plan on the stand-in, two people, cheating, programs, failures."""

from __future__ import annotations

import re
import uuid
from typing import Any
from unittest.mock import patch

from django.template.loader import render_to_string

from accounts.models import Role
from audit.models import Change
from ember_core.pairing.cards import Levels, cards
from ember_core.pairing.job import OPEN_S
from ember_core.programs.conflicts import Code
from ember_core.rules.names import Confusion
from ember_core.rules.paths import Failure
from ember_core.survey.isolation import Scope
from handover.services.papers import client_pdf
from instruments.hub import HttpHub, HubError
from setup.api.shapes import TRY_ACTS
from setup.models import House, PairMark, Programs
from sites.models import Site
from survey.services.isolating import energise, open_new
from tests.server.base import DemoTest, ServerTest
from wording.texts import catalogue

Json = dict[str, Any]


class SetupTest(ServerTest):
    """A site with a hub, a plug that passes on, a dimmer on the gang, and its remote."""

    def setUp(self) -> None:
        super().setUp()
        self.site = self.loop.site
        self.site.zone = "Europe/London"
        self.site.save()
        self.house = {
            **{"lat": 52.6, "lon": -1.9},
            "rooms": [{"id": "a", "name": "Office"}, {"id": "b", "name": "Store"}, {"id": "c", "name": "Attic"}],
            "between": [
                {"a": "a", "b": "b", "d_m": 6, "walls": {"brick": 1}},
                {"a": "b", "b": "c", "d_m": 6, "walls": {"stone": 6}},
            ],
            "hubs": [
                {"id": "h", "name": "Hub", "room": "a", "bands": ["mesh_2g4"], "takes": 9, "has": 5, "window_s": 60}
            ],
            "access_points": [{"id": "w", "name": "Router", "room": "a", "channel": 6}],
            "neighbours": [],
            "devices": [
                self.device("plug", "Store plug", "plug_router", "b"),
                self.device("dim", "Store ceiling", "two_wire_dimmer", "b", gang=str(self.gang.pk), keeps="hub"),
                self.device("remote", "Door remote", "battery_remote", "b", dimmer="dim"),
            ],
        }

    def device(self, key: str, name: str, card: str, room: str, **more: Any) -> Json:
        """A device of the hub."""
        return {"id": key, "name": name, "card": card, "room": room, "hub": "h", **more}

    def at(self, path: str) -> str:
        """An address below the site."""
        return f"/api/v1/sites/{self.site.pk}/{path}"

    def keep(self, version: int = 0, api: Any = None, **changes: Any) -> Any:
        """Keep the radio of the site."""
        body = {"version": version, "document": {**self.house, **changes}}
        return (api or self.api).put(self.at("house/"), body, format="json")

    def pairing(self) -> Json:
        """The plan."""
        return dict(self.api.get(self.at("pairing/"), {"hub": "h"}).json())

    def mark(self, step: str, came: str = "worked", api: Any = None, **more: Any) -> Any:
        """What came of a step."""
        body = {"id": str(uuid.uuid4()), "hub": "h", "step": step, "came": came, **more}
        return (api or self.api).post(self.at("pairing/marks/"), body, format="json")

    def refused(self, answer: Any, code: str, status: int = 422) -> None:
        """The refusal has this code."""
        self.assertEqual(answer.status_code, status, answer.content)
        self.assertIn(code, [answer.json()["code"], *(error["code"] for error in answer.json()["errors"])])


class Houses(SetupTest):
    """What was noted."""

    def test_from_nothing_to_who_is_in_range(self) -> None:
        """Empty at first; kept, each device has its verdict with its decibels, and what is unknown stays unknown."""
        empty = self.api.get(self.at("house/")).json()
        self.assertEqual((empty["version"], empty["hubs"], empty["document"]["rooms"]), (0, [], []))
        answer = self.keep(
            devices=[
                *self.house["devices"],
                self.device("far", "Attic lamp", "two_wire_switch", "c"),
                self.device("wifi", "Attic fan", "wifi_switch", "c"),
            ]
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        hub = answer.json()["hubs"][0]
        verdicts = {one["name"]: one["verdict"] for one in hub["devices"]}
        self.assertEqual((verdicts["Store plug"], verdicts["Store ceiling"]), ("sure", "likely"))
        self.assertEqual(verdicts["Attic lamp"], "no")
        self.assertEqual(verdicts["Attic fan"], "no")
        self.assertEqual((hub["left"], hub["wants"], hub["is_full"]), (4, 5, True))
        attic = next(one for one in hub["devices"] if one["name"] == "Attic lamp")
        self.assertEqual((attic["hops"], attic["margin_db"]), (None, None))
        unknown = self.keep(1, between=[], devices=[self.device("x", "Attic lamp", "two_wire_switch", "c")])
        one = unknown.json()["hubs"][0]["devices"][0]
        self.assertEqual(
            (one["verdict"], one["helps"]), ("unknown", [catalogue("setup")["helps"]["note_what_is_between"]])
        )
        self.assertEqual(Change.objects.filter(action="radio kept").count(), 2)

    def test_why_in_range_is_only_probable_is_told(self) -> None:
        """Enough decibels, but nobody looked whether box or plate is metal; looked at it is sure, and so is a plug."""
        unseen = self.device("dim", "Store ceiling", "two_wire_dimmer", "b")
        one = self.keep(devices=[unseen]).json()["hubs"][0]["devices"][0]
        self.assertGreater(one["margin_low_db"], 12.0)
        self.assertEqual(one["verdict"], "likely")
        self.assertIn("Nobody looked whether its box or plate is metal: that takes up to 20 dB.", one["why"])
        seen = {**unseen, "metal_box": False, "metal_plate": False}
        one = self.keep(1, devices=[seen]).json()["hubs"][0]["devices"][0]
        self.assertEqual(one["verdict"], "sure")
        self.assertNotIn("metal", one["why"])
        plug = self.device("plug", "Store plug", "plug_router", "b")
        one = self.keep(2, devices=[plug]).json()["hubs"][0]["devices"][0]
        self.assertEqual(one["verdict"], "sure")
        self.assertNotIn("metal", one["why"])

    def test_what_cannot_be_is_told_and_nothing_is_lost(self) -> None:
        """A room that is not there, a window of 0 s, a Wi-Fi channel 14, a gang of another site."""
        self.keep()
        wrong = self.keep(
            1,
            hubs=[{**self.house["hubs"][0], "window_s": 0, "room": "z"}],
            access_points=[{"id": "w", "name": "Router", "room": "a", "channel": 14}],
        )
        self.refused(wrong, "out_of_bounds", 422)
        paths = {error["path"] for error in wrong.json()["errors"]}
        self.assertEqual(paths, {"hubs[0].window_s", "hubs[0].room", "access_points[0].channel"})
        elsewhere = self.keep(1, devices=[self.device("x", "X", "two_wire_switch", "b", gang=str(uuid.uuid4()))])
        self.refused(elsewhere, "gang_not_here")
        self.assertEqual(House.objects.get().version, 1)

    def test_what_a_hub_does_not_list_is_not_in_range_of_it(self) -> None:
        """Named as not taken, once; and a name is proposed for what controls a gang."""
        hub = {**self.house["hubs"][0], "listed": ["plug_router", "battery_remote"]}
        data = self.keep(hubs=[hub]).json()
        said = {one["name"]: one["verdict_text"] for one in data["hubs"][0]["devices"]}
        self.assertEqual(len(data["hubs"][0]["devices"]), 3)
        self.assertEqual(said["Store ceiling"], "not listed by this hub")
        self.assertEqual(data["hubs"][0]["wants"], 3)
        self.assertEqual([gang["proposed"] for gang in data["gangs"]], ["Kiln room"])

    def test_a_stale_house_is_refused(self) -> None:
        """Two people: the second gets what the first kept, and overwrites nothing."""
        self.keep()
        self.refused(self.keep(0, rooms=[]), "stale_version", 409)
        self.assertEqual(len(House.objects.get().document["rooms"]), 3)

    def test_a_checker_reads_and_writes_nothing_and_a_stranger_sees_nothing(self) -> None:
        """By role and by site."""
        self.keep()
        checker = self.clients[Role.CHECKER]
        self.assertEqual(checker.get(self.at("house/")).status_code, 200)
        self.assertEqual(self.keep(1, checker).status_code, 403)
        self.assertEqual(self.mark("join:dim:", api=checker).status_code, 403)

    def test_names_that_will_be_confused_are_told(self) -> None:
        """Each with the other."""
        devices = [self.device("p", "Store", "plug_router", "b"), *self.house["devices"][1:]]
        names = self.keep(devices=devices).json()["names"]
        self.assertEqual([(one["code"], one["other"]) for one in names], [("name_contained", "Store")])


class Joining(SetupTest):
    """The plan, and what came of it."""

    def setUp(self) -> None:
        super().setUp()
        self.assertEqual(self.keep().status_code, 200)

    def test_step_by_step_until_everything_is_in(self) -> None:
        """Each join that worked leaves the plan with its name and who did it; the rest goes on."""
        plan = self.pairing()
        self.assertTrue(plan["is_possible"], plan["against"])
        keys = [step["key"] for step in plan["steps"]]
        self.assertLess(keys.index("link:remote:"), keys.index("open::"))
        for device in ("plug", "dim", "remote"):
            answer = self.mark(f"join:{device}:")
            self.assertEqual(answer.status_code, 201, answer.content)
            self.assertNotIn(f"join:{device}:", [step["key"] for step in answer.json()["steps"]])
        done = self.pairing()
        self.assertEqual((done["is_done"], done["steps"]), (True, []))
        self.assertEqual({one["name"] for one in done["joined"]}, {"Store ceiling", "Store plug", "Door remote"})
        self.assertEqual({one["by"] for one in done["joined"]}, {"The technician"})

    def test_again_and_other_join_nothing_and_a_reset_takes_one_out(self) -> None:
        """Only what worked counts; what else happened is said; a device that is in is not forgotten."""
        self.assertEqual(self.mark("join:dim:", "again").status_code, 201)
        self.refused(self.mark("join:dim:", "other"), "reason_needed")
        self.assertEqual(self.mark("join:dim:", "other", note="phone on the wrong band").status_code, 201)
        self.assertEqual(self.pairing()["joined"], [])
        self.mark("join:dim:")
        left = [one for one in self.house["devices"] if one["id"] != "dim"]
        self.refused(self.keep(1, devices=[{**one, "dimmer": ""} for one in left]), "device_has_joined")
        self.mark("reset:dim:")
        self.assertEqual(self.pairing()["joined"], [])
        self.assertEqual(PairMark.objects.count(), 4)

    def test_the_clients_page_promises_a_remote_only_once_it_was_seen_to_be_linked(self) -> None:
        """Linked in the plan is not linked; in and seen to work it is, until either of the two is reset."""
        meant, works = "that it is linked was not noted: Door remote", "Also by remote: Door remote"
        for step, came, said in (
            ("join:dim:", "worked", meant),
            ("join:remote:", "worked", meant),
            ("link:remote:", "again", meant),
            ("link:remote:", "worked", works),
            ("reset:dim:", "worked", meant),
            ("link:remote:", "worked", works),
            ("reset:remote:", "worked", meant),
            ("link:remote:", "worked", meant),
            ("join:remote:", "worked", works),
        ):
            self.assertEqual(self.mark(step, came).status_code, 201)
            with (
                patch("handover.services.papers.bound", return_value=b"") as bound,
                patch("handover.services.papers.laid_out", side_effect=render_to_string),
            ):
                client_pdf(self.loop, ["en"])
            (page,) = bound.call_args.args[0]
            told = [one for one in (meant, works) if one in page]
            self.assertEqual(told, [said], (step, came))

    def test_a_linked_remote_is_not_pointed_elsewhere_until_it_is_reset(self) -> None:
        """Neither at another dimmer nor at none, by what can be reset; before it is in and after that it may be."""
        second = self.device("other", "Store wall", "two_wire_dimmer", "b")
        self.assertEqual(self.keep(1, devices=[*self.house["devices"], second]).status_code, 200)
        others = [one for one in [*self.house["devices"], second] if one["id"] != "remote"]
        remote = self.house["devices"][2]
        self.mark("link:remote:")
        elsewhere = [*others, {**remote, "dimmer": "other"}]
        self.assertEqual(self.keep(2, devices=elsewhere).status_code, 200)
        self.assertEqual(self.keep(3, devices=[*others, remote]).status_code, 200)
        self.mark("join:remote:")
        for devices in (elsewhere, [*others, {**remote, "dimmer": ""}]):
            self.refused(self.keep(4, devices=devices), "remote_is_linked")
        self.assertEqual(self.keep(4, devices=[*others, {**remote, "name": "Hall remote"}]).status_code, 200)
        self.assertIn("remote", [one["id"] for one in self.pairing()["joined"]])
        self.mark("reset:remote:")
        self.assertEqual(self.keep(5, devices=elsewhere).status_code, 200)

    def test_the_same_mark_twice_is_one_and_nobody_marks_a_ghost(self) -> None:
        """By identity; a step of a device that is not there is refused."""
        body = {"id": str(uuid.uuid4()), "hub": "h", "step": "join:plug:", "came": "worked"}
        for _ in range(2):
            self.assertEqual(self.api.post(self.at("pairing/marks/"), body, format="json").status_code, 201)
        self.assertEqual(PairMark.objects.count(), 1)
        differs = self.api.post(self.at("pairing/marks/"), {**body, "came": "again"}, format="json")
        self.refused(differs, "entry_differs", 409)
        self.refused(self.mark("join:ghost:"), "unknown_device")
        self.refused(self.mark("dance:plug:"), "unknown_kind")
        self.refused(self.api.get(self.at("pairing/"), {"hub": "nowhere"}), "unknown_hub")

    def test_what_is_against_it_is_named(self) -> None:
        """Full, out of range: no steps, each reason with the device."""
        hub = {**self.house["hubs"][0], "has": 7}
        self.keep(
            1, hubs=[hub], devices=[*self.house["devices"], self.device("far", "Attic lamp", "two_wire_switch", "c")]
        )
        plan = self.pairing()
        self.assertEqual((plan["is_possible"], plan["steps"]), (False, []))
        self.assertEqual({one["code"] for one in plan["against"]}, {"hub_full", "out_of_range"})
        rehearsal = self.api.post(self.at("pairing/rehearse/"), {"hub": "h"}, format="json")
        self.refused(rehearsal, "plan_not_possible")

    def test_a_breaker_is_told_by_its_number_or_by_the_loop_that_it_feeds(self) -> None:
        """The breaker may not be known yet when the house is noted; a key of the record is no name."""
        for circuit, title in ((self.circuit, "Switch breaker 7 on"), (None, "Switch the breaker of Kiln room on")):
            type(self.loop).objects.filter(pk=self.loop.pk).update(circuit=circuit)
            titles = [step["title"] for step in self.pairing()["steps"]]
            self.assertIn(title, titles)
            self.assertIn("Switch Store plug on", titles)
            self.assertEqual([one for one in titles if re.search(r"[0-9a-f]{8}-", one)], [])

    def test_a_locked_breaker_is_told_and_another_is_not(self) -> None:
        """Whoever keeps it off is named; once it is back nothing is said; a whole installation stops everything."""
        self.assertEqual(self.pairing()["locked"], [])
        row = open_new(self.people[Role.TECHNICIAN], self.loop.pk, uuid.uuid4(), "breakers", [self.circuit.pk])
        locked = self.pairing()["locked"]
        self.assertEqual([one["breaker"] for one in locked], ["7"])
        self.assertIn("The technician", locked[0]["text"])
        self.assertIn("power:7:", [step["key"] for step in self.pairing()["steps"]])
        energise(self.people[Role.TECHNICIAN], row.pk, uuid.uuid4(), "")
        self.assertEqual(self.pairing()["locked"], [])
        open_new(self.people[Role.TECHNICIAN], self.loop.pk, uuid.uuid4(), Scope.WHOLE.value, [])
        self.assertEqual([one["breaker"] for one in self.pairing()["locked"]], [""])

    def test_rehearsed_on_the_stand_in(self) -> None:
        """In time everything joins; too late at one step that device does not, and the miss is told."""
        done = self.api.post(self.at("pairing/rehearse/"), {"hub": "h"}, format="json").json()
        self.assertTrue(done["is_complete"], done)
        self.assertEqual(sorted(done["joined"]), ["dim", "plug", "remote"])
        late = {"hub": "h", "late": {"enter:dim:": 300.0}}
        missed = self.api.post(self.at("pairing/rehearse/"), late, format="json").json()
        self.assertFalse(missed["is_complete"])
        self.assertIn("Store ceiling", missed["missing"])
        self.assertFalse(next(one for one in missed["steps"] if one["key"] == "join:dim:")["worked"])

    def test_levels_and_power_cuts_are_tried_on_the_stand_in(self) -> None:
        """It goes where it is told; behind a cut breaker, or starved, it does not answer; afterwards it is dark."""

        def tried(*acts: Json) -> Json:
            body = {"hub": "h", "acts": list(acts)}
            answer = self.api.post(self.at("pairing/try/"), body, format="json")
            self.assertEqual(answer.status_code, 200, answer.content)
            return dict(answer.json())

        level = {"act": "level", "name": "dim", "level": 0.4}
        first = tried(level)
        self.assertEqual({one["id"]: one["level"] for one in first["devices"]}["dim"], 0.4)
        cut = tried(level, {"act": "cut", "name": "7"}, level, {"act": "back", "name": "7"})
        self.assertEqual([one["is_refusal"] for one in cut["told"]], [False, False, True, False])
        self.assertEqual({one["id"]: one["level"] for one in cut["devices"]}["dim"], 0.0)
        starved = tried({"act": "starve", "name": "dim"}, level, {"act": "feed", "name": "dim"}, level)
        self.assertEqual([one["is_refusal"] for one in starved["told"]], [False, True, False, False])
        ghost = {"hub": "h", "acts": [{"act": "level", "name": "ghost", "level": 1.0}]}
        self.refused(self.api.post(self.at("pairing/try/"), ghost, format="json"), "unknown_device")
        self.assertEqual(PairMark.objects.count(), 0)

    def test_what_to_repeat_after_a_miss_comes_with_the_plan(self) -> None:
        """The network still open: the device alone; both closed: both; each step in words, with its window."""
        steps = self.api.get(self.at("pairing/?hub=h")).json()["steps"]
        joins = next(one for one in steps if one["key"] == "join:dim:")
        acts = [[step["do"] for step in way["steps"]] for way in joins["again"]]
        self.assertEqual(acts, [["join"], ["enter", "join"], ["open", "join"], ["open", "enter", "join"]])
        card = cards()["two_wire_dimmer"]
        self.assertEqual(
            [(way["network_s"], way["window_s"]) for way in joins["again"]],
            [
                (card.join_s, card.join_s),
                (card.act_s + card.join_s, None),
                (None, OPEN_S + card.join_s),
                (None, None),
            ],
        )
        self.assertIn("Store ceiling", joins["again"][1]["steps"][0]["title"])
        self.assertEqual([one["again"] for one in steps if one["do"] != "join"], [[]] * (len(steps) - 3))

    def test_times_of_a_leaflet_and_what_a_hub_lists(self) -> None:
        """A dimmer that joins more slowly than its window is open cannot join; a hub that lists no dimmer says so."""
        plug, dim, remote = self.house["devices"]
        slow = {**dim, "window_s": 20, "join_s": 30}
        self.keep(1, devices=[plug, slow, remote])
        against = self.api.get(self.at("pairing/?hub=h")).json()["against"]
        self.assertEqual(
            [(one["code"], one["device"]) for one in against if one["device"] == "dim"], [("window_too_short", "dim")]
        )
        hub = {**self.house["hubs"][0], "listed": ["plug_router"]}
        answer = self.keep(2, hubs=[hub]).json()
        told = {one["id"]: one["verdict_text"] for one in answer["hubs"][0]["devices"]}
        self.assertEqual(told["dim"], catalogue("setup")["verdicts"]["not_listed"])
        self.refused(self.keep(3, devices=[plug, {**dim, "window_s": 0}, remote]), "out_of_bounds")

    def test_the_interface_refuses_in_words(self) -> None:
        """A hub that is gone, and one that nobody made."""
        with self.assertRaises(HubError) as caught:
            HttpHub("127.0.0.1", 9).open_network(0.0)
        self.assertEqual(caught.exception.code, "hub_away")


class Week(SetupTest):
    """Programs of a gang."""

    def setUp(self) -> None:
        super().setUp()
        self.path = f"/api/v1/gangs/{self.gang.pk}/programs/"

    def put(self, version: int, programs: list[Json], **device: Any) -> Any:
        """Keep programs."""
        return self.api.put(
            f"{self.path}?first=2026-10-24",
            {"version": version, "document": {"programs": programs, "device": device}},
            format="json",
        )

    def test_a_site_without_zone_says_so(self) -> None:
        """Shown as missing, and refused when kept; nothing is lost. Named once, for papers and programs alike."""
        self.keep()
        self.site.zone = ""
        self.site.save()
        self.assertEqual(self.api.get(self.path).json()["missing"], ["no_zone"])
        self.refused(self.put(0, []), "no_zone")
        body = {"version": 1, "zone": "America/New_York"}
        self.assertEqual(self.api.patch(f"/api/v1/sites/{self.site.pk}/", body, format="json").status_code, 200)
        self.assertEqual(self.api.get(self.path).json()["zone"], "America/New_York")

    def test_a_house_of_before_brings_its_own_zone(self) -> None:
        """It is read and goes for nothing: there is one zone, the site's."""
        self.keep(zone="Asia/Tokyo")
        self.assertEqual(self.api.get(self.path).json()["zone"], "Europe/London")

    def test_kept_shown_over_the_change_of_clock_and_exported(self) -> None:
        """Eight days, one of 25 hours; the calendar has the same times."""
        self.keep()
        answer = self.put(0, [{"kind": "weekly", "on": "18:00", "off": "22:00"}])
        self.assertEqual(answer.status_code, 200, answer.content)
        data = answer.json()
        self.assertEqual([day["hours"] for day in data["days"]], [24.0, 25.0, 24.0, 24.0, 24.0, 24.0, 24.0, 24.0])
        self.assertEqual((data["hours"], data["hours_a_year"]), (32.0, 4.0 * 365))
        self.refused(self.put(0, []), "stale_version", 409)
        text = self.api.get(f"/api/v1/gangs/{self.gang.pk}/programs.ics?first=2026-10-24").content.decode()
        self.assertEqual(text.count("BEGIN:VEVENT"), 365)
        self.assertIn("DTSTART:20261024T170000Z", text)
        self.assertIn("DTSTART:20261026T180000Z", text)

    def test_a_time_that_is_none_is_refused_by_its_place(self) -> None:
        """25:00; what was kept stays."""
        self.keep()
        self.put(0, [{"kind": "auto_off", "minutes": 10}])
        wrong = self.put(1, [{"kind": "weekly", "on": "25:00", "off": "22:00"}])
        self.refused(wrong, "not_a_time")
        self.assertEqual(wrong.json()["errors"][0]["path"], "programs[0].on")
        self.assertEqual(Programs.objects.get().document["programs"][0]["minutes"], 10)

    def test_what_no_relay_would_live_through_is_refused(self) -> None:
        """A cycle of a minute around the clock: neither tried nor kept."""
        self.keep()
        cycle = {"kind": "cycle", "from": "00:00", "to": "23:59", "on_minutes": 1, "off_minutes": 1}
        self.refused(self.put(0, [cycle]), "switches_too_often")
        body = {"first": "2026-10-26", "document": {"programs": [cycle], "device": {}}}
        self.refused(self.api.post(f"{self.path}try/", body, format="json"), "switches_too_often")
        self.assertEqual(Programs.objects.count(), 0)

    def test_tried_with_a_power_cut_and_nothing_kept(self) -> None:
        """Ten minutes without supply in the evening: what is lit afterwards follows the control."""
        self.keep()
        body = {
            "first": "2026-10-26",
            "document": {"programs": [{"kind": "weekly", "on": "18:00", "off": "22:00"}], "device": {"restart": "off"}},
            "outages": [{"from": "2026-10-26T19:00", "seconds": 600}],
        }
        data = self.api.post(f"{self.path}try/", body, format="json").json()
        self.assertEqual(data["hours"], 1.0 + 7 * 4.0)
        self.assertEqual(Programs.objects.count(), 0)


class Failing(SetupTest):
    """What still works."""

    def test_the_table_of_a_dimmer_with_its_remote(self) -> None:
        """By hand always; the hub takes phone and programs, a flat battery the remote."""
        self.keep()
        data = self.api.get(self.at("works/")).json()
        cells = {cell["failure"]: cell for cell in data["lamps"][0]["cells"]}
        self.assertEqual(cells["hub_down"]["works"], "some")
        self.assertEqual(cells["hub_down"]["left"], ["by hand at the wall", "by Door remote"])
        self.assertEqual(cells["battery_flat"]["lost"], ["by Door remote"])
        self.assertEqual(cells["no_internet"]["lost"], ["by phone from away"])
        self.assertNotIn("wall_flipped", cells)
        self.assertEqual((data["lamps"][0]["never"], data["lamps"][0]["unknown"]), ([], []))

    def test_what_never_works_or_nobody_knows_is_not_among_what_works(self) -> None:
        """Out of range no failure takes anything more, and still not all works; with nothing noted it is not known."""
        far = self.device("dim", "Attic lamp", "two_wire_dimmer", "c", gang=str(self.gang.pk), keeps="hub")
        radio = ["by phone at home", "by phone from away", "by its programs"]
        for between, never, nobody_knows in ((self.house["between"], radio, []), ([], [], radio)):
            version = House.objects.filter(site=self.site).values_list("version", flat=True).first() or 0
            self.assertEqual(
                self.keep(version, devices=[self.house["devices"][0], far], between=between).status_code, 200
            )
            (lamp,) = self.api.get(self.at("works/")).json()["lamps"]
            self.assertEqual((lamp["never"], lamp["unknown"]), (never, nobody_knows))
            down = next(cell for cell in lamp["cells"] if cell["failure"] == "hub_down")
            self.assertEqual(
                (down["left"], down["lost"], down["works_text"]), (["by hand at the wall"], [], "the rest works")
            )

    def test_what_the_hub_does_not_take_never_works_over_it(self) -> None:
        """Near or nowhere noted: as *In range* has it; and it carries nobody else."""
        hub = {**self.house["hubs"][0], "listed": ["two_wire_switch"]}
        near = self.device("dim", "Store ceiling", "two_wire_dimmer", "b", gang=str(self.gang.pk), keeps="hub")
        for version, between in enumerate((self.house["between"], [])):
            self.assertEqual(self.keep(version, hubs=[hub], devices=[near], between=between).status_code, 200)
            (lamp,) = self.api.get(self.at("works/")).json()["lamps"]
            told = (lamp["never"], lamp["unknown"])
            self.assertEqual(told, (["by phone at home", "by phone from away", "by its programs"], []))
        far = self.device("far", "Attic lamp", "two_wire_switch", "c", gang=str(self.gang.pk))
        wooden = [self.house["between"][0], {"a": "b", "b": "c", "d_m": 6, "walls": {}}]
        for listed, never in ((["two_wire_switch"], 2), (["two_wire_switch", "plug_router"], 0)):
            hub = {**hub, "listed": listed}
            version = House.objects.get(site=self.site).version
            kept = self.keep(version, hubs=[hub], devices=[self.house["devices"][0], far], between=wooden)
            self.assertEqual(kept.status_code, 200, kept.content)
            (lamp,) = self.api.get(self.at("works/")).json()["lamps"]
            self.assertEqual(len(lamp["never"]), never, listed)


class Words(ServerTest):
    """Every code has its sentence."""

    def test_in_both_languages(self) -> None:
        """Cards, acts, conflicts, confusions, failures."""
        from django.utils import translation

        for language in ("en", "de"):
            with translation.override(language):
                texts = catalogue("setup")
                self.assertEqual(set(texts["cards"]), set(cards()))
                self.assertEqual(set(texts["conflicts"]), {one.value for one in Code})
                self.assertEqual(set(texts["confusions"]), {one.value for one in Confusion})
                self.assertEqual(set(texts["failures"]), {one.value for one in Failure})
                self.assertEqual(set(texts["tried"]), {f"{act}_done" for act in TRY_ACTS})
                self.assertEqual(set(texts["levels"]), {one.value for one in Levels} - {""})
                self.assertLessEqual({card.shows for card in cards().values()}, set(texts["shows"]))


class Demo(DemoTest):
    """What the demo shows."""

    def test_a_full_hub_a_room_out_of_range_and_a_plan_that_succeeds(self) -> None:
        """The mill says what is against it; the cannery's plan goes through on the stand-in."""
        mill, cannery = (Site.objects.get(name=name) for name in ("Kestrel Mill", "Larkspur Cannery"))
        admin = self.clients[Role.ADMINISTRATOR]
        hub = admin.get(f"/api/v1/sites/{mill.pk}/house/").json()["hubs"][0]
        self.assertEqual((hub["left"], hub["wants"], hub["is_full"]), (9, 9, False))
        verdicts = {one["name"]: one["verdict"] for one in hub["devices"]}
        self.assertEqual([name for name, said in verdicts.items() if said == "no"], ["Bell chamber spots"])
        against = admin.get(f"/api/v1/sites/{mill.pk}/pairing/", {"hub": "hub"}).json()["against"]
        self.assertEqual([one["code"] for one in against], ["out_of_range"])
        done = admin.post(f"/api/v1/sites/{cannery.pk}/pairing/rehearse/", {"hub": "hub"}, format="json").json()
        self.assertTrue(done["is_complete"], done)
        works = admin.get(f"/api/v1/sites/{mill.pk}/works/").json()
        self.assertGreater(len(works["lamps"]), 4)
