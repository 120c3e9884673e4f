"""Plans over the API: made, computed, changed by hand with what that costs, refused where they cannot be; materials."""

from __future__ import annotations

import json
import uuid
from datetime import date
from html import unescape
from typing import Any
from unittest.mock import patch

import icalendar
from django.test import tag
from weasyprint import HTML

from accounts.models import Role
from audit.models import Change
from bench.services.make_loop import make_loop
from fitting.models import KitCheck
from sites.models import Circuit
from tests.server.test_fitting import FitTest
from visits.models import Plan, VanItem
from visits.services.planning import working_day
from work.models import RouteChoice, TaskRecord
from work.services.finding import today

Json = dict[str, Any]


class PlanTest(FitTest):
    """Four loops on two breakers, each with a way; one without."""

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        chosen = RouteChoice.objects.get()
        cls.second = Circuit.objects.create(site=cls.site, breaker="9", label_as_found="loft")
        cls.loops = [cls.loop]
        for name, circuit in (("Loft A", cls.second), ("Kiln yard", cls.circuit), ("Loft B", cls.second)):
            loop = make_loop(None, site=cls.site, circuit=circuit, name=name)
            chosen.pk, chosen.loop, chosen._state.adding = uuid.uuid4(), loop, True
            # Drawn from what is on record of this loop.
            chosen.basis, _ = today(loop, {})
            chosen.save()
            cls.loops.append(loop)
        cls.bare = make_loop(None, site=cls.site, circuit=cls.circuit, name="Nobody chose")
        cls.wren = cls.people[Role.TECHNICIAN]

    def asked(self, **changes: Any) -> Json:
        """What a plan asks for."""
        return {
            "name": "Tuesday",
            "first_day": "2026-12-01",
            "begins_min": 480,
            "visit_minutes": 480,
            "isolate_minutes": 8,
            "walk_minutes": 2,
            "people": [{"id": str(self.wren.pk), "skills": []}],
            "windows": [],
            "jobs": [{"loop": str(loop.pk), "minutes": 40} for loop in self.loops],
            **changes,
        }

    def make(self, **changes: Any) -> Json:
        """A plan on record."""
        body = {"id": str(uuid.uuid4()), "site": str(self.site.pk), **self.asked(**changes)}
        answer = self.api.post("/api/v1/plans/", body, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        return dict(answer.json())

    def compute(self, made: Json) -> Json:
        """The same plan, computed and taken."""
        told = self.api.post(f"/api/v1/plans/{made['id']}/compute/", format="json")
        self.assertEqual(told.status_code, 200, told.content)
        answer = self.api.post(f"/api/v1/plans/{made['id']}/take/", {"token": told.json()["token"]}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())

    def by_hand(self, made: Json, *visits: list[Any], person: Any = None, days: tuple[int, ...] = ()) -> Any:
        """Visits put by hand."""
        who = str((person or self.wren).pk)
        body = {
            "version": made["version"],
            "visits": [
                {"person": who, "day": days[k] if days else k, "loops": [str(loop.pk) for loop in loops]}
                for k, loops in enumerate(visits)
            ],
        }
        return self.api.put(f"/api/v1/plans/{made['id']}/visits/", body, format="json")


class Planning(PlanTest):
    """Loops into days."""

    def test_each_breaker_is_isolated_once(self) -> None:
        """Two breakers, four loops: one visit, two isolations, and who sits in the dark when."""
        made = self.compute(self.make())
        self.assertEqual((made["cost"], made["is_optimal"]), (made["best"], True))
        self.assertEqual((made["cost"]["visits"], made["cost"]["isolations"]), (1, 2))
        (visit,) = made["planned"]
        stops, dark = visit["stops"], visit["dark"]
        self.assertEqual([stop["isolates"] for stop in stops], [True, False, True, False])
        # Isolating twice, four loops of 40 minutes, three walks of 2.
        self.assertEqual(visit["minutes"], 2 * 8 + 4 * 40 + 3 * 2)
        self.assertEqual(visit["ends_min"], 480 + visit["minutes"])
        self.assertEqual(len(dark), 2)
        self.assertEqual(dark[0]["begins_min"], 480)
        for off, pair in zip(dark, (stops[:2], stops[2:]), strict=True):
            self.assertLessEqual(off["begins_min"], pair[0]["begins_min"] - 8)
            self.assertEqual(off["ends_min"], pair[1]["ends_min"])
            self.assertEqual({stop["breaker"] for stop in pair}, {off["breaker"]})

    def test_the_round_in_the_plans_order(self) -> None:
        """Only what stands in a visit, and as it stands there."""
        made = self.by_hand(self.make(), self.loops[::-1]).json()
        answer = self.api.get(f"/api/v1/loops/?plan={made['id']}").json()
        self.assertEqual([row["name"] for row in answer["results"]], [loop.name for loop in self.loops[::-1]])
        self.assertEqual(self.api.get(f"/api/v1/loops/?plan={uuid.uuid4()}").json()["count"], 0)
        self.assertEqual(self.api.get("/api/v1/loops/?plan=soon").status_code, 400)

    def test_by_hand_it_costs_more_and_says_how_much(self) -> None:
        """Breakers in turn: two isolations more, and 16 minutes."""
        made = self.compute(self.make())
        answer = self.by_hand(made, self.loops)
        self.assertEqual(answer.status_code, 200, answer.content)
        after = answer.json()
        self.assertEqual(after["more"], {"visits": 0, "isolations": 2, "minutes": 16})
        self.assertTrue(after["is_by_hand"])
        self.assertFalse(after["is_optimal"])
        again = self.compute(after)
        self.assertEqual((again["more"], again["is_by_hand"]), ({"visits": 0, "isolations": 0, "minutes": 0}, False))

    def test_no_circuit_is_off_before_its_hours(self) -> None:
        """Isolating comes before the work: it begins when the circuit may be off; what is idle till then is told."""
        window = {"circuit": str(self.second.pk), "begins_min": 600, "ends_min": None}
        made = self.make(windows=[window])
        for after in (self.by_hand(made, self.loops).json(), self.compute(self.make(windows=[window]))):
            (visit,) = after["planned"]
            begins = [off["begins_min"] for off in visit["dark"] if off["breaker"] == "9"]
            self.assertEqual(min(begins), 600)
            self.assertEqual(visit["ends_min"], 480 + visit["minutes"] + visit["waiting_min"])
            self.assertEqual(visit["waiting_min"], sum(stop["waits_min"] for stop in visit["stops"]))
        # By hand the first loop is done at 8:48; two minutes' walk later there is nothing to do until 10:00.
        by_hand = self.by_hand(made | {"version": made["version"] + 1}, self.loops).json()
        self.assertEqual([stop["waits_min"] for stop in by_hand["planned"][0]["stops"]], [0, 600 - 530, 0, 0])
        with patch("survey.services.paper.HTML", wraps=HTML) as printed:
            self.api.get(f"/api/v1/plans/{made['id']}/day.pdf")
        self.assertIn("70 min of waiting before it", unescape(printed.call_args.kwargs["string"]))

    def test_what_is_wrong_with_it_is_told_and_kept(self) -> None:
        """After hours, a circuit that may not be off, a skill, an order: each in words, nothing is lost."""
        loft, yard = self.loops[1], self.loops[2]
        jobs = self.asked()["jobs"]
        jobs[1]["skill"] = "tower licence"
        jobs[2]["needs"] = [str(self.loops[3].pk)]
        made = self.make(
            jobs=jobs,
            visit_minutes=120,
            windows=[{"circuit": str(self.second.pk), "begins_min": None, "ends_min": 500}],
        )
        after = self.by_hand(made, self.loops).json()
        told = {fault["text"].split(":")[0].split(" stands")[0].split(" ends")[0] for fault in after["faults"]}
        texts = " ".join(fault["text"] for fault in after["faults"])
        self.assertIn("ends after the day does", texts)
        self.assertIn("may not be off that late", texts)
        self.assertIn("does not hold", texts)
        self.assertIn("stands before", texts)
        self.assertLessEqual(told, {loop.name for loop in self.loops})
        self.assertEqual(len(after["planned"][0]["stops"]), 4)
        self.assertTrue(any(fault["loop"] == str(loft.pk) for fault in after["faults"]))
        self.assertTrue(any(fault["loop"] == str(yard.pk) for fault in after["faults"]))

    def test_what_cannot_be_planned_says_why(self) -> None:
        """No way, a part that comes later, a job longer than the day, nobody with the skill, a circle."""
        a, b, c, d = self.loops
        jobs = [
            {"loop": str(self.bare.pk)},
            {"loop": str(a.pk), "ready_on": "2026-12-02"},
            {"loop": str(b.pk), "minutes": 500},
            {"loop": str(c.pk), "minutes": 30, "needs": [str(d.pk)]},
            {"loop": str(d.pk), "minutes": 30, "needs": [str(c.pk)]},
        ]
        made = self.compute(self.make(jobs=jobs))
        why = {entry["name"]: entry["text"] for entry in made["left_out"]}
        self.assertIn("No way is chosen", why["Nobody chose"])
        self.assertIn("after the first day", why["Kiln room"])
        self.assertIn("longer than a day", why["Loft A"])
        self.assertIn("waits for itself", why["Kiln yard"])
        self.assertEqual(made["planned"], [])
        ready = self.compute(self.make(jobs=[{"loop": str(a.pk), "ready_on": "2026-12-01"}]))
        self.assertEqual(len(ready["planned"]), 1)

    def test_what_binds_it(self) -> None:
        """Days too short for all; with longer ones fewer visits would do."""
        made = self.compute(self.make(visit_minutes=100))
        self.assertGreater(made["cost"]["visits"], 1)
        self.assertEqual([bound["code"] for bound in made["bounds"]], ["hours"])
        self.assertEqual(self.compute(self.make())["bounds"], [])
        self.assertEqual([visit["day"] for visit in made["planned"]], [0, 1])

    def test_minutes_come_from_the_loops_own_tasks(self) -> None:
        """The estimate of its page without the breaker and the first isolation; records of the firm move it."""
        made = self.make(jobs=[{"loop": str(self.loop.pk)}])
        (job,) = made["jobs"]
        whole = self.fitting()["minutes"]["likely"]
        self.assertLess(job["minutes_own"], whole)
        self.assertEqual(self.compute(made)["planned"][0]["stops"][0]["minutes"], job["minutes_own"])
        for _ in range(30):
            choice = RouteChoice.objects.filter(loop=self.loop).first()
            choice.pk, choice.number, choice._state.adding = uuid.uuid4(), choice.number + 1, True
            choice.save()
            TaskRecord.objects.create(loop=self.loop, choice=choice, task="fit", minutes=45.0)
        later = self.api.get(f"/api/v1/plans/{made['id']}/").json()["jobs"][0]
        self.assertGreater(later["minutes_own"], job["minutes_own"])

    def test_the_firms_own_minutes(self) -> None:
        """Set by an administrator, they move every estimate; out of order or stale they are refused."""
        admin = self.clients[Role.ADMINISTRATOR]
        made = self.make(jobs=[{"loop": str(self.loop.pk)}])
        before = made["jobs"][0]["minutes_own"]
        rows = {row["task"]: row for row in self.api.get("/api/v1/task-minutes/").json()}
        self.assertEqual((rows["fit"]["low"], rows["fit"]["is_own"], rows["fit"]["marks"]), (8.0, False, 0))
        wanted = {"task": "fit", "version": 0, "low": 60.0, "typical": 70.0, "high": 90.0}
        self.assertEqual(self.api.put("/api/v1/task-minutes/", wanted, format="json").status_code, 403)
        for wrong in ({"low": 80.0}, {"low": 0.0}, {"high": 2000.0}, {"task": "dance"}):
            answer = admin.put("/api/v1/task-minutes/", {**wanted, **wrong}, format="json")
            self.assertEqual(answer.status_code, 422, answer.content)
        answer = admin.put("/api/v1/task-minutes/", wanted, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertTrue(next(row for row in answer.json() if row["task"] == "fit")["is_own"])
        self.assertEqual(admin.put("/api/v1/task-minutes/", {**wanted, "high": 99.0}, format="json").status_code, 409)
        after = self.api.get(f"/api/v1/plans/{made['id']}/").json()["jobs"][0]["minutes_own"]
        self.assertGreater(after, before + 40)

    def test_bad_input_is_refused_with_its_place(self) -> None:
        """Negative minutes, another site's loop and breaker, a stranger, hours that cannot be; nothing is on record."""
        stranger = Circuit.objects.create(site=self.other_site, breaker="7")
        other = make_loop(None, site=self.other_site, circuit=stranger, name="Elsewhere")
        window = {"circuit": str(self.circuit.pk), "begins_min": 600, "ends_min": 540}
        me = str(self.loop.pk)
        cases: list[tuple[Json, str]] = [
            ({"jobs": [{"loop": str(other.pk)}]}, "jobs[0].loop"),
            ({"jobs": [{"loop": me}, {"loop": me}]}, "jobs[1].loop"),
            ({"jobs": [{"loop": me, "needs": [str(uuid.uuid4())]}]}, "jobs[0].needs[0]"),
            ({"jobs": [{"loop": me, "needs": [me]}]}, "jobs[0].needs[0]"),
            ({"people": []}, "people"),
            ({"people": [{"id": str(uuid.uuid4()), "skills": []}]}, "people[0].id"),
            ({"windows": [{**window, "circuit": str(stranger.pk)}]}, "windows[0].circuit"),
            ({"windows": [window]}, "windows[0].ends_min"),
            ({"visit_minutes": 10}, "visit_minutes"),
            ({"begins_min": 1000, "visit_minutes": 600}, "visit_minutes"),
        ]
        for changes, path in cases:
            body = {"id": str(uuid.uuid4()), "site": str(self.site.pk), **self.asked(**changes)}
            answer = self.api.post("/api/v1/plans/", body, format="json")
            self.assertEqual(answer.status_code, 422, (changes, answer.content))
            self.assertEqual(answer.json()["errors"][0]["path"], path)
        for wrong in ({"minutes": -5}, {"minutes": 0}, {"ready_on": "soon"}):
            body = {"id": str(uuid.uuid4()), "site": str(self.site.pk), **self.asked(jobs=[{"loop": me, **wrong}])}
            self.assertEqual(self.api.post("/api/v1/plans/", body, format="json").status_code, 400)
        self.assertFalse(Plan.objects.exists())

    def test_two_people_at_one_plan(self) -> None:
        """The later one is told; what was computed of an older state is not taken; a token is not made up."""
        made = self.make()
        told = self.api.post(f"/api/v1/plans/{made['id']}/compute/", format="json").json()
        self.assertEqual(self.by_hand(made, self.loops).status_code, 200)
        self.assertEqual(self.by_hand(made, self.loops[::-1]).status_code, 409)
        late = self.api.post(f"/api/v1/plans/{made['id']}/take/", {"token": told["token"]}, format="json")
        self.assertEqual(late.status_code, 409)
        other = self.make(name="Other")
        for token in ("made-up", told["token"]):
            answer = self.api.post(f"/api/v1/plans/{other['id']}/take/", {"token": token}, format="json")
            self.assertEqual(answer.json()["code"], "not_computed")
        self.assertTrue(self.api.get(f"/api/v1/plans/{made['id']}/").json()["is_by_hand"])
        twice = {"id": made["id"], "site": str(self.site.pk), **self.asked(name="Sent twice")}
        self.assertEqual(self.api.post("/api/v1/plans/", twice, format="json").json()["name"], "Tuesday")

    def test_a_stranger_sees_nothing_and_a_checker_changes_nothing(self) -> None:
        """Neither the plan, its list, its paper, nor its calendar."""
        made = self.make()
        checker = self.clients[Role.CHECKER]
        self.assertEqual(checker.get(f"/api/v1/plans/{made['id']}/").status_code, 200)
        self.assertEqual(checker.put("/api/v1/van/", {"key": "label:", "version": 0, "count": 1}).status_code, 403)
        self.site.members.remove(self.people[Role.TECHNICIAN])
        for path in ("", "materials/", "day.pdf", "materials.pdf", "visits.ics"):
            self.assertEqual(self.api.get(f"/api/v1/plans/{made['id']}/{path}").status_code, 404)
        self.assertEqual(self.api.get(f"/api/v1/plans/?site={self.site.pk}").status_code, 404)

    def test_computing_tells_how_far_it_is(self) -> None:
        """In lines; the last holds the token."""
        made = self.make()
        answer = self.api.post(f"/api/v1/plans/{made['id']}/compute/?progress=1", format="json")
        lines = [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]
        self.assertIn("token", lines[-1]["result"])

    def test_working_days(self) -> None:
        """A Friday is followed by a Monday."""
        self.assertEqual(working_day(date(2026, 11, 27), 1), date(2026, 11, 30))
        self.assertEqual(working_day(date(2026, 11, 26), 1), date(2026, 11, 27))
        self.assertEqual(working_day(date(2026, 11, 26), 0), date(2026, 11, 26))


class Along(PlanTest):
    """What is taken along, and what is handed out."""

    def test_a_list_for_all_loops_against_the_van(self) -> None:
        """Four controls, packs of connectors; what the van holds need not be bought; a stale count is refused."""
        made = self.compute(self.make())
        address = f"/api/v1/plans/{made['id']}/materials/"
        before = self.api.get(address).json()
        rows = {row["item"]: row for row in before["rows"]}
        self.assertEqual((rows["control"]["needed"], rows["control"]["to_buy"]), (4.0, 4.0))
        self.assertEqual(rows["control"]["cost"], 4 * rows["control"]["price"])
        self.assertEqual(rows["connector"]["to_buy"] % 10, 0)
        self.assertEqual(sorted(rows["control"]["loops"]), sorted(loop.name for loop in self.loops))
        self.assertEqual(before["loops"], 4)
        self.assertIn("steps", {tool["tool"] for tool in before["tools"]})
        key = rows["control"]["key"]
        answer = self.api.put("/api/v1/van/", {"key": key, "version": 0, "count": 3}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        after = {row["item"]: row for row in self.api.get(address).json()["rows"]}["control"]
        self.assertEqual((after["in_van"], after["to_buy"], after["van_version"]), (3.0, 1.0, 1))
        stale = self.api.put("/api/v1/van/", {"key": key, "version": 0, "count": 9}, format="json")
        self.assertEqual(stale.status_code, 409)
        for wrong in ({"key": key, "version": 1, "count": -1}, {"key": "spoon:", "version": 0, "count": 1}):
            self.assertEqual(self.api.put("/api/v1/van/", wrong, format="json").status_code, 422)
        self.assertEqual(VanItem.objects.get().count, 3.0)

    def test_a_kit_that_lacks_something_is_on_the_list(self) -> None:
        """Unchecked ones are told, a missing piece by its name, a whole one no more."""
        made = self.compute(self.make(jobs=[{"loop": str(self.loop.pk)}]))
        address = f"/api/v1/plans/{made['id']}/materials/"
        (kit,) = self.api.get(address).json()["kits"]
        self.assertFalse(kit["is_checked"])
        part = self.fitting()["kit"]["part"]
        for found, missing in (({"device": True, "screws": False}, ["Box screws"]), ({"device": True}, None)):
            KitCheck.objects.create(loop=self.loop, part=part, found=found, by=self.wren)
            kits = self.api.get(address).json()["kits"]
            self.assertEqual(kits[0]["missing"] if kits else None, missing)

    def test_paper_and_calendar(self) -> None:
        """A page a visit; events with the begin and end of the plan, read back by the calendar's own package."""
        made = self.compute(self.make(visit_minutes=100))
        pdf = self.api.get(f"/api/v1/plans/{made['id']}/day.pdf")
        self.assertTrue(pdf.content.startswith(b"%PDF"))
        ics = self.api.get(f"/api/v1/plans/{made['id']}/visits.ics")
        self.assertEqual(ics["Content-Type"].split(";")[0], "text/calendar")
        events = icalendar.Calendar.from_ical(ics.content).walk("VEVENT")
        self.assertEqual(len(events), made["cost"]["visits"])
        begins = [event.decoded("dtstart") for event in events]
        self.assertEqual([f"{begin:%Y-%m-%d %H:%M}" for begin in begins], ["2026-12-01 08:00", "2026-12-02 08:00"])
        for event, visit in zip(events, made["planned"], strict=True):
            length = event.decoded("dtend") - event.decoded("dtstart")
            self.assertEqual(length.total_seconds() / 60, visit["ends_min"] - 480)
            for stop in visit["stops"]:
                self.assertIn(stop["name"], str(event["description"]))

    @tag("long")
    def test_materials_and_cost_on_paper_are_those_of_the_screen(self) -> None:
        """Every row with its cost, the sum called *at least* while a price is missing, in both languages."""
        made = self.compute(self.make(jobs=[{"loop": str(self.loop.pk)}]))
        shown = self.api.get(f"/api/v1/plans/{made['id']}/materials/").json()
        self.assertGreater(shown["unpriced"], 0)
        with patch("survey.services.paper.HTML", wraps=HTML) as printed:
            for spoken, sum_word in (("en", "In all, at least"), ("de", "Zusammen, mindestens")):
                pdf = self.api.get(f"/api/v1/plans/{made['id']}/materials.pdf", headers={"accept-language": spoken})
                self.assertTrue(pdf.content.startswith(b"%PDF"))
                self.assertIn(sum_word, printed.call_args.kwargs["string"])
        with patch("survey.services.paper.HTML", wraps=HTML) as printed:
            self.api.get(f"/api/v1/plans/{made['id']}/materials.pdf")
        html = unescape(printed.call_args.kwargs["string"])
        for row in shown["rows"]:
            self.assertIn(row["text"], html)
            if row["cost"]:
                self.assertIn(f"{row['cost']:.2f}", html)

    def test_somebody_who_does_not_come_has_no_visit(self) -> None:
        """Their loops stand in none; the visits of the others keep their loops, on screen and in the list."""
        boss = self.people[Role.ADMINISTRATOR]
        people = [{"id": str(person.pk), "skills": []} for person in (self.wren, boss)]
        made = self.make(people=people)
        body = {
            "version": made["version"],
            "visits": [
                {"person": str(boss.pk), "day": 0, "loops": [str(self.loops[0].pk)]},
                {"person": str(self.wren.pk), "day": 0, "loops": [str(self.loops[1].pk)]},
            ],
        }
        made = self.api.put(f"/api/v1/plans/{made['id']}/visits/", body, format="json").json()
        # The trail tells the days as the page does: by their date.
        told = Change.objects.filter(action="plan changed by hand").latest("at").after["visits"]
        self.assertEqual([visit["day"] for visit in told], [visit["date"] for visit in made["planned"]])
        changed = {**self.asked(), "version": made["version"]}
        after = self.api.put(f"/api/v1/plans/{made['id']}/", changed, format="json").json()
        self.assertEqual([[stop["name"] for stop in visit["stops"]] for visit in after["planned"]], [["Loft A"]])
        materials = self.api.get(f"/api/v1/plans/{made['id']}/materials/?visit=0").json()
        self.assertEqual(materials["loops"], 1)

    def test_what_was_done_is_not_planned_again(self) -> None:
        """A loop that is fitted is left out, with the reason."""
        made = self.make(jobs=[{"loop": str(loop.pk)} for loop in self.loops[:2]])
        choice = RouteChoice.objects.get(loop=self.loops[1])
        choice.done_at = choice.at
        choice.save()
        after = self.compute(made)
        self.assertEqual([entry["name"] for entry in after["left_out"]], ["Loft A"])
        self.assertEqual([stop["name"] for stop in after["planned"][0]["stops"]], ["Kiln room"])
        # Done while the plan stands, it is no loss.
        first = RouteChoice.objects.get(loop=self.loops[0])
        first.done_at = first.at
        first.save()
        self.assertFalse(self.api.get(f"/api/v1/plans/{made['id']}/").json()["has_lost"])

    def test_a_way_of_another_wiring_is_not_worked_by(self) -> None:
        """Surveyed anew after it was planned: told beside the visits, nothing of it is taken along, until it holds."""
        made = self.compute(self.make(jobs=[{"loop": str(loop.pk)} for loop in self.loops[:2]]))
        plan = f"/api/v1/plans/{made['id']}/"
        before = self.api.get(f"{plan}materials/").json()
        self.assertEqual((made["left_out"], before["loops"], made["is_optimal"]), ([], 2, True))
        choice = RouteChoice.objects.get(loop=self.loops[1])
        as_chosen = choice.basis
        choice.basis = {**as_chosen, "surveys": {"1": 1}}
        choice.save()
        after = self.api.get(plan).json()
        self.assertEqual([stop["name"] for stop in after["planned"][0]["stops"]], ["Kiln room"])
        told = {entry["name"]: (entry["text"][:11], entry["is_able"]) for entry in after["left_out"]}
        self.assertEqual(told, {"Loft A": ("The survey,", False)})
        self.assertEqual((made["has_lost"], after["has_lost"], after["is_optimal"]), (False, True, False))
        self.assertEqual(self.api.get(f"{plan}materials/").json()["loops"], 1)
        # What is begun goes on: open ends are left to nobody.
        choice.begun_at = choice.at
        choice.save()
        self.assertEqual(len(self.api.get(plan).json()["planned"][0]["stops"]), 2)
        choice.begun_at = None
        choice.save()
        put = self.by_hand(after, [self.loops[0]]).json()
        self.assertEqual([entry["text"][:11] for entry in put["left_out"]], ["The survey,"])
        choice.basis = as_chosen
        choice.save()
        now = self.api.get(plan).json()["left_out"]
        self.assertEqual([(entry["text"][:15], entry["is_able"]) for entry in now], [("What stood agai", True)])
