"""A plan made by hand: its times, its cost, and what is wrong with it; and what binds one that is best."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ember_core.visits import exact
from ember_core.visits.jobs import Cost, Day, Job, Visit
from ember_core.visits.plan import plan
from ember_core.visits.simple import able


class Wrong(StrEnum):
    """What is wrong with a place in a plan."""

    AFTER_HOURS = "after_hours"
    OUTSIDE_WINDOW = "outside_window"
    NO_SKILL = "no_skill"
    BEFORE_ITS_NEED = "before_its_need"


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """One thing that is wrong: with which job, in which visit from 0."""

    wrong: Wrong
    visit: int
    job: str
    other: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """When a job of a visit is done [min from its begin].

    Parameters
    ----------
    isolates : its breaker is isolated for it anew. waits : idle before that, until its circuit may be off [min].
    """

    job: str
    begin: int
    end: int
    isolates: bool
    waits: int


def slots(day: Day, jobs: Sequence[Job]) -> tuple[Slot, ...]:
    """Times of a visit's jobs, as early as they may be, whether or not they end in time."""
    found: list[Slot] = []
    at, before = 0, None
    for job in jobs:
        isolates = before is None or before.breaker != job.breaker
        at += day.isolate_minutes if before is None else day.between(before, job)
        waits = max(0, job.not_before - at)
        at += waits
        found.append(Slot(job=job.id, begin=at, end=at + job.minutes, isolates=isolates, waits=waits))
        at += job.minutes
        before = job
    return tuple(found)


def faults(day: Day, visits: Sequence[Visit]) -> tuple[Fault, ...]:
    """Everything that is wrong with a plan; nothing with one that `plan` makes."""
    by_id = {job.id: job for job in day.jobs}
    order = {name: (k, n) for k, visit in enumerate(visits) for n, name in enumerate(visit.jobs)}
    found: list[Fault] = []
    for k, visit in enumerate(visits):
        jobs = [by_id[name] for name in visit.jobs]
        for slot, job in zip(slots(day, jobs), jobs, strict=True):
            if slot.end > day.visit_minutes:
                found.append(Fault(wrong=Wrong.AFTER_HOURS, visit=k, job=job.id))
            elif slot.end > day.latest(job):
                found.append(Fault(wrong=Wrong.OUTSIDE_WINDOW, visit=k, job=job.id))
            if visit.person not in able(day, job):
                found.append(Fault(wrong=Wrong.NO_SKILL, visit=k, job=job.id))
            found += [
                Fault(wrong=Wrong.BEFORE_ITS_NEED, visit=k, job=job.id, other=need)
                for need in job.needs
                if need not in order or order[need] > order[job.id]
            ]
    return tuple(found)


class Bound(StrEnum):
    """What a plan would be better without."""

    HOURS = "hours"
    WINDOWS = "windows"
    SKILLS = "skills"
    NEEDS = "needs"


def bounds(day: Day, cost: Cost) -> tuple[Bound, ...]:
    """What binds the best plan: with each limit lifted by itself, whether fewer visits or isolations would do.

    Parameters
    ----------
    cost : of the best plan. Only for as many jobs as are planned exactly; of more nothing is said.
    """
    if not 0 < len(day.jobs) <= exact.MOST_JOBS:
        return ()
    jobs = day.jobs
    lifted = {
        Bound.HOURS: replace(day, visit_minutes=day.visit_minutes * 4),
        Bound.WINDOWS: replace(day, jobs=tuple(replace(job, not_before=0, not_after=None) for job in jobs)),
        Bound.SKILLS: replace(day, jobs=tuple(replace(job, skill=None) for job in jobs)),
        Bound.NEEDS: replace(day, jobs=tuple(replace(job, needs=()) for job in jobs)),
    }
    return tuple(bound for bound, other in lifted.items() if other != day and plan(other).cost.key[:2] < cost.key[:2])
