"""Jobs, people and the day: what planning is asked with, and what a plan costs.

Minutes everywhere: the plan is for people and clocks, and a tenth of a minute is nothing to either.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ember_core.errors import InputErrors
from ember_core.reading import LONGEST_NAME, Reader

MOST_JOBS = 400
MOST_PEOPLE = 50
MOST_MINUTES = 2880


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """Work at one place on one circuit.

    Parameters
    ----------
    minutes : without isolating and walking [min]. needs : jobs that must be done before.
    not_before, not_after : within a visit, when its circuit may be off [min from its begin].
    skill : what somebody must hold to do it; None for anybody.
    """

    id: str
    breaker: str
    room: str
    minutes: int
    needs: tuple[str, ...] = ()
    not_before: int = 0
    not_after: int | None = None
    skill: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Person:
    """Somebody who goes on visits."""

    id: str
    skills: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class Day:
    """What is to be planned.

    Parameters
    ----------
    visit_minutes : a visit lasts no longer. isolate_minutes : each time another breaker is isolated and proved dead.
    walk_minutes : between two rooms, in either direction; rooms that are not named are next to each other.
    """

    visit_minutes: int
    isolate_minutes: int
    jobs: tuple[Job, ...]
    people: tuple[Person, ...]
    walk_minutes: Mapping[frozenset[str], int] = field(default_factory=dict)

    def walk(self, one: str, other: str) -> int:
        """Minutes between two rooms."""
        return 0 if one == other else self.walk_minutes.get(frozenset((one, other)), 0)

    def between(self, one: Job, other: Job) -> int:
        """Minutes from the end of a job to the begin of the next: walking, and isolating where the breaker differs."""
        isolating = self.isolate_minutes if one.breaker != other.breaker else 0
        return self.walk(one.room, other.room) + isolating

    def latest(self, job: Job) -> int:
        """When a job must be done."""
        return self.visit_minutes if job.not_after is None else min(job.not_after, self.visit_minutes)


@dataclass(frozen=True, slots=True, kw_only=True)
class Visit:
    """One person's jobs one after another, begun with nothing isolated."""

    person: str
    jobs: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Cost:
    """What visits cost: fewer visits first, then isolations, then minutes."""

    visits: int
    isolations: int
    minutes: int

    @property
    def key(self) -> tuple[int, int, int]:
        """For comparing."""
        return self.visits, self.isolations, self.minutes


def visit_cost(day: Day, jobs: Sequence[Job]) -> Cost:
    """Isolations and minutes of one visit: its sum, without waiting."""
    if not jobs:
        return Cost(visits=0, isolations=0, minutes=0)
    isolations = 1 + sum(one.breaker != other.breaker for one, other in itertools.pairwise(jobs))
    walks = sum(day.walk(one.room, other.room) for one, other in itertools.pairwise(jobs))
    minutes = sum(job.minutes for job in jobs) + isolations * day.isolate_minutes + walks
    return Cost(visits=1, isolations=isolations, minutes=minutes)


def begins(day: Day, jobs: Sequence[Job]) -> tuple[int, ...] | None:
    """When each job of a visit begins, as early as it may; None where one would end too late."""
    found: list[int] = []
    at = day.isolate_minutes
    for before, job in zip((None, *jobs), jobs, strict=False):
        if before is not None:
            at += day.between(before, job)
        at = max(at, job.not_before)
        if at + job.minutes > day.latest(job):
            return None
        found.append(at)
        at += job.minutes
    return tuple(found)


def total(day: Day, visits: Sequence[Visit]) -> Cost:
    """What a plan costs."""
    by_id = {job.id: job for job in day.jobs}
    costs = [visit_cost(day, [by_id[name] for name in visit.jobs]) for visit in visits]
    return Cost(visits=len(visits), isolations=sum(c.isolations for c in costs), minutes=sum(c.minutes for c in costs))


class _Reader(Reader):
    """With minutes."""

    def minutes(self, data: Any, path: str, low: int = 0) -> int:
        if isinstance(data, bool) or not isinstance(data, int | float) or data != data:
            self.wrong("not_a_number", path)
            return low
        if not low <= data <= MOST_MINUTES:
            self.wrong("out_of_bounds", path, value=float(data), low=low, high=MOST_MINUTES, unit="min")
            return low
        if data != int(data):
            self.wrong("not_whole", path, value=float(data))
        return int(data)


def read(data: Any) -> Day:
    """A day from JSON.

    Raises
    ------
    InputErrors : all that is wrong, each with its place.
    """
    reader = _Reader()
    given = reader.keys(
        data, "", {"visit_minutes", "walk_minutes", "isolate_minutes", "jobs", "people", "name", "note"}
    )
    jobs = [
        _job(reader, one, f"jobs[{k}]") for k, one in enumerate(reader.entries(given.get("jobs"), "jobs", MOST_JOBS))
    ]
    people = [
        _person(reader, one, f"people[{k}]")
        for k, one in enumerate(reader.entries(given.get("people"), "people", MOST_PEOPLE))
    ]
    if not people and isinstance(given.get("people"), list):
        reader.wrong("nobody", "people")
    known = {job.id for job in jobs}
    reader.unique([job.id for job in jobs], "jobs")
    reader.unique([person.id for person in people], "people")
    for k, job in enumerate(jobs):
        for n, need in enumerate(job.needs):
            if need not in known:
                reader.wrong("unknown_job", f"jobs[{k}].needs[{n}]", key=need)
    day = Day(
        visit_minutes=reader.minutes(given.get("visit_minutes"), "visit_minutes", 1),
        isolate_minutes=reader.minutes(given.get("isolate_minutes", 0), "isolate_minutes"),
        jobs=tuple(jobs),
        people=tuple(people),
        walk_minutes=_walks(reader, given.get("walk_minutes", {})),
    )
    if reader.errors:
        raise InputErrors(reader.errors)
    return day


def _job(reader: _Reader, data: Any, path: str) -> Job:
    given = reader.keys(
        data, path, {"id", "breaker", "room", "minutes", "needs", "not_before", "not_after", "skill", "note"}
    )
    not_before = reader.minutes(given.get("not_before", 0), f"{path}.not_before")
    not_after = given.get("not_after")
    late = None if not_after is None else reader.minutes(not_after, f"{path}.not_after")
    if late is not None and late < not_before:
        reader.wrong("range_not_in_order", f"{path}.not_after", low=not_before, typical=late, high=late)
    skill = given.get("skill")
    return Job(
        id=reader.text(given.get("id"), f"{path}.id"),
        breaker=reader.text(given.get("breaker"), f"{path}.breaker"),
        room=reader.text(given.get("room"), f"{path}.room"),
        minutes=reader.minutes(given.get("minutes"), f"{path}.minutes", 1),
        needs=tuple(
            reader.text(one, f"{path}.needs[{n}]")
            for n, one in enumerate(reader.entries(given.get("needs", []), f"{path}.needs", MOST_JOBS))
        ),
        not_before=not_before,
        not_after=late,
        skill=None if skill is None else reader.text(skill, f"{path}.skill"),
    )


def _person(reader: _Reader, data: Any, path: str) -> Person:
    given = reader.keys(data, path, {"id", "skills", "note"})
    skills = reader.entries(given.get("skills", []), f"{path}.skills", 40)
    return Person(
        id=reader.text(given.get("id"), f"{path}.id"),
        skills=frozenset(reader.text(one, f"{path}.skills[{n}]") for n, one in enumerate(skills)),
    )


def _walks(reader: _Reader, data: Any) -> dict[frozenset[str], int]:
    if not isinstance(data, dict):
        reader.wrong("not_an_object", "walk_minutes")
        return {}
    found: dict[frozenset[str], int] = {}
    for key, value in data.items():
        rooms = str(key).split("|")
        path = f"walk_minutes.{str(key)[:LONGEST_NAME]}"
        if len(rooms) != 2 or not all(room.strip() for room in rooms):
            reader.wrong("not_two_rooms", path)
            continue
        minutes = reader.minutes(value, path)
        pair = frozenset(rooms)
        if pair in found and found[pair] != minutes:
            reader.wrong("walk_twice", path)
        found[pair] = minutes
    return found
