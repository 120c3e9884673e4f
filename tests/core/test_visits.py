"""Visits: a plan keeps every rule, is the best where it says so, and is never worse than grouping by breaker."""

from __future__ import annotations

import random
from itertools import pairwise, permutations
from typing import Any

from django.test import SimpleTestCase, tag

from ember_cli.planning import answer
from ember_core.errors import InputErrors
from ember_core.visits import exact
from ember_core.visits.checking import slots
from ember_core.visits.jobs import Cost, Day, Job, begins, read, total, visit_cost
from ember_core.visits.plan import plan, searched
from ember_core.visits.simple import Reason, able, grouped, left_out, named

Json = dict[str, Any]
KEYS = {"visits", "isolations", "minutes", "left_out", "optimal"}


def job(name: str, breaker: str = "7", room: str = "kiln", minutes: int = 30, **more: Any) -> Json:
    return {"id": name, "breaker": breaker, "room": room, "minutes": minutes, **more}


def day(*jobs: Json, **more: Any) -> Json:
    return {
        "visit_minutes": 480,
        "isolate_minutes": 6,
        "walk_minutes": {"kiln|glaze": 3, "kiln|loft": 8, "glaze|loft": 5},
        "jobs": list(jobs),
        "people": [{"id": "wren", "skills": ["switch"]}],
        **more,
    }


def drawn(count: int, breakers: int, seed: int, *, is_bound: bool = False, visit: int = 480) -> Json:
    """Jobs in rooms at breakers; bound ones need each other, a skill, a part of the day."""
    source = random.Random(seed)
    rooms = [f"R{k}" for k in range(max(3, count // 3))]
    jobs = []
    for k in range(count):
        one = job(f"j{k}", f"b{source.randrange(breakers)}", source.choice(rooms), source.randint(15, 120))
        if is_bound:
            if k and source.random() < 0.3:
                one["needs"] = [f"j{source.randrange(k)}"]
            if source.random() < 0.3:
                one["skill"] = "switch"
            if source.random() < 0.3:
                one["not_after"] = visit // 2
            if source.random() < 0.2:
                one["not_before"] = visit // 4
        jobs.append(one)
    walks = {f"{a}|{b}": source.randint(1, 8) for k, a in enumerate(rooms) for b in rooms[k + 1 :]}
    people = [{"id": "wren", "skills": ["switch"]}, {"id": "tam", "skills": []}]
    return day(*jobs, walk_minutes=walks, people=people, visit_minutes=visit)


class Sums(SimpleTestCase):
    """What a visit costs."""

    def test_each_change_of_breaker_isolates_and_each_change_of_room_walks(self) -> None:
        """Begun with nothing isolated; back to a breaker is another isolation."""
        given = read(day(job("a"), job("b", room="loft"), job("c", "5", "loft"), job("d", room="kiln")))
        cost = visit_cost(given, given.jobs)
        self.assertEqual(cost, Cost(visits=1, isolations=3, minutes=4 * 30 + 3 * 6 + 8 + 8))
        self.assertEqual(begins(given, given.jobs), (6, 44, 80, 124))
        self.assertEqual(visit_cost(given, []), Cost(visits=0, isolations=0, minutes=0))

    def test_a_job_waits_for_its_circuit_and_ends_in_time(self) -> None:
        """Just inside and just outside of its window."""
        given = read(day(job("a", not_before=100), job("b", not_after=166)))
        self.assertEqual(begins(given, given.jobs), (100, 130))
        self.assertIsNone(begins(given, [given.jobs[0], read(day(job("b", not_after=159))).jobs[0]]))


class Planned(SimpleTestCase):
    """What comes out."""

    def checked(self, document: Json) -> Json:
        """Every rule, counted anew from the document."""
        found = answer(document)
        self.assertEqual(set(found), KEYS)
        given = read(document)
        jobs = {one.id: one for one in given.jobs}
        people = {person.id: person for person in given.people}
        placed = [name for visit in found["visits"] for name in visit["jobs"]]
        out = {one["id"] for one in found["left_out"]}
        self.assertEqual(len(placed), len(set(placed)))
        self.assertEqual(set(placed) | out, set(jobs))
        self.assertFalse(set(placed) & out)
        for place, name in enumerate(placed):
            self.assertTrue(set(jobs[name].needs) <= set(placed[:place]), name)
        for visit in found["visits"]:
            here = [jobs[name] for name in visit["jobs"]]
            self.assertTrue(all(one.skill in (None, *people[visit["person"]].skills) for one in here))
            self.assertIsNotNone(begins(given, here))
            times = slots(given, here)
            self.assertEqual(tuple(slot.begin for slot in times), begins(given, here))
            idle = sum(slot.waits for slot in times)
            self.assertEqual(times[-1].end, visit_cost(given, here).minutes + idle)
            isolations = 1 + sum(a.breaker != b.breaker for a, b in pairwise(here))
            walks = sum(given.walk(a.room, b.room) for a, b in pairwise(here))
            minutes = sum(one.minutes for one in here) + isolations * given.isolate_minutes + walks
            self.assertEqual((visit["isolations"], visit["minutes"]), (isolations, minutes))
            self.assertLessEqual(minutes, given.visit_minutes)
        self.assertEqual(found["isolations"], sum(visit["isolations"] for visit in found["visits"]))
        self.assertEqual(found["minutes"], sum(visit["minutes"] for visit in found["visits"]))
        return found

    def test_loops_of_a_breaker_go_together(self) -> None:
        """Two breakers in turns become two isolations, the nearer room first."""
        found = self.checked(
            day(job("a", "7", "kiln"), job("b", "5", "loft"), job("c", "7", "glaze"), job("d", "5", "loft"))
        )
        self.assertTrue(found["optimal"])
        self.assertEqual((len(found["visits"]), found["isolations"], found["minutes"]), (1, 2, 120 + 12 + 3 + 5))

    def test_every_rule_holds_on_drawn_days(self) -> None:
        """Free and bound, short days and long."""
        for seed in range(6):
            for is_bound in (False, True):
                self.checked(drawn(7, 3, seed, is_bound=is_bound, visit=300 + 60 * seed))

    def test_the_best_is_the_best(self) -> None:
        """Against every order and every cut of it, for small days."""
        for seed in range(5):
            document = drawn(5, 3, seed, is_bound=seed % 2 == 1, visit=260)
            found = self.checked(document)
            self.assertTrue(found["optimal"])
            given = read(document)
            gone = {one.id for one in left_out(given)}
            self.assertEqual(
                (len(found["visits"]), found["isolations"], found["minutes"]),
                best(given, [one for one in given.jobs if one.id not in gone]).key,
            )

    def test_solver_and_sets_agree(self) -> None:
        """Two ways to the best plan, free and bound; the solver proves what the sets say."""
        for seed in range(4):
            given = read(drawn(7, 3, seed, is_bound=seed % 2 == 1, visit=300))
            gone = {one.id for one in left_out(given)}
            jobs = [one for one in given.jobs if one.id not in gone]
            visits, is_proved = searched(given, jobs, grouped(given, jobs), limit_s=20.0)
            assert visits is not None
            self.assertTrue(is_proved)
            self.assertEqual(total(given, named(given, visits)), total(given, named(given, exact.best(given, jobs))))

    def test_a_dozen_is_proved(self) -> None:
        """Free and bound."""
        for is_bound in (False, True):
            self.assertTrue(self.checked(drawn(12, 4, 2, is_bound=is_bound))["optimal"])

    @tag("long")
    def test_many_are_never_worse_than_grouped(self) -> None:
        """Sixty within seconds; told how far it is, and stopped when told to."""
        given = read(drawn(60, 12, 7, is_bound=True))
        gone = {one.id for one in left_out(given)}
        simple = total(given, grouped(given, [one for one in given.jobs if one.id not in gone]))
        told: list[int] = []

        def progress(done: int, of: int) -> bool:
            told.append(done)
            return len(told) < 6

        made = plan(given, limit_s=8.0, progress=progress)
        self.assertLessEqual(made.cost.key, simple.key)
        self.assertEqual(made.cost, total(given, made.visits))
        self.assertEqual(told, list(range(1, len(told) + 1)))
        self.assertLessEqual(len(told), 7)

    def test_what_no_visit_can_hold_is_left_out_with_its_reason(self) -> None:
        """And what needs it; the rest is planned."""
        found = self.checked(
            day(
                job("long", minutes=475),
                job("just", minutes=474),
                job("late", not_before=460),
                job("licence", skill="mains"),
                job("x", needs=["y"]),
                job("y", needs=["x"]),
                job("after", needs=["late"]),
                job("plain"),
            )
        )
        reasons = {one["id"]: one["reason"] for one in found["left_out"]}
        self.assertEqual(
            reasons,
            {
                "long": Reason.TOO_LONG.value,
                "late": Reason.NO_WINDOW.value,
                "licence": Reason.NO_SKILL.value,
                "x": Reason.CIRCULAR_NEEDS.value,
                "y": Reason.CIRCULAR_NEEDS.value,
                "after": Reason.NEEDS_LEFT_OUT.value,
            },
        )
        self.assertEqual(self.checked(day())["visits"], [])


class Refused(SimpleTestCase):
    """What is no day."""

    def test_everything_wrong_is_told_with_its_place(self) -> None:
        """Negative minutes, a need that is none, names twice, a walk of three rooms, nobody."""
        document = day(
            job("a", minutes=-5),
            job("a", needs=["ghost"]),
            job("b", not_before=90, not_after=60),
            job("c", breaker=""),
            {**job("d"), "colour": "red"},
            walk_minutes={"kiln|glaze|loft": 3, "kiln": 2},
            people=[],
            visit_minutes=0,
        )
        with self.assertRaises(InputErrors) as caught:
            answer(document)
        found = {(error.path, error.code) for error in caught.exception.errors}
        self.assertLessEqual(
            {
                ("jobs[0].minutes", "out_of_bounds"),
                ("jobs", "name_twice"),
                ("jobs[1].needs[0]", "unknown_job"),
                ("jobs[2].not_after", "range_not_in_order"),
                ("jobs[3].breaker", "not_a_name"),
                ("jobs[4].colour", "unknown_key"),
                ("walk_minutes.kiln|glaze|loft", "not_two_rooms"),
                ("walk_minutes.kiln", "not_two_rooms"),
                ("people", "nobody"),
                ("visit_minutes", "out_of_bounds"),
            },
            found,
        )
        for document_like in ([1], "day", None):
            with self.assertRaises(InputErrors):
                answer(document_like)


def best(given: Day, jobs: list[Job]) -> Cost:
    """Every order cut into visits in every way."""
    found: Cost | None = None
    for order in permutations(jobs):
        places = {one.id: k for k, one in enumerate(order)}
        if any(places[need] > places[one.id] for one in order for need in one.needs):
            continue
        for cuts in range(2 ** max(0, len(order) - 1)):
            visits: list[list[Job]] = [[]]
            for k, one in enumerate(order):
                if k and cuts >> (k - 1) & 1:
                    visits.append([])
                visits[-1].append(one)
            if any(begins(given, visit) is None or not common(given, visit) for visit in visits):
                continue
            costs = [visit_cost(given, visit) for visit in visits]
            cost = Cost(
                visits=len(visits),
                isolations=sum(one.isolations for one in costs),
                minutes=sum(one.minutes for one in costs),
            )
            if found is None or cost.key < found.key:
                found = cost
    assert found is not None
    return found


def common(given: Day, visit: list[Job]) -> bool:
    """Somebody may do all of it."""
    return bool(set.intersection(*(set(able(given, one)) for one in visit)))
