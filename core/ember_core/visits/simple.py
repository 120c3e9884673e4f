"""Plans without search: what cannot be done is left out with its reason, the rest is grouped by breaker."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from ember_core.visits.jobs import Day, Job, Visit, begins


class Reason(StrEnum):
    """Why a job is in no visit."""

    TOO_LONG = "too_long"
    NO_WINDOW = "no_window"
    NO_SKILL = "no_skill"
    CIRCULAR_NEEDS = "circular_needs"
    NEEDS_LEFT_OUT = "needs_left_out"


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftOut:
    """A job that no visit can hold."""

    id: str
    reason: Reason


def able(day: Day, job: Job) -> frozenset[str]:
    """People who may do a job."""
    return frozenset(person.id for person in day.people if job.skill is None or job.skill in person.skills)


def left_out(day: Day) -> tuple[LeftOut, ...]:
    """Jobs that cannot be in any plan, in their order."""
    reasons: dict[str, Reason] = {}
    for job in day.jobs:
        if not able(day, job):
            reasons[job.id] = Reason.NO_SKILL
        elif day.isolate_minutes + job.minutes > day.visit_minutes:
            reasons[job.id] = Reason.TOO_LONG
        elif begins(day, [job]) is None:
            reasons[job.id] = Reason.NO_WINDOW
    for name in _in_a_circle(day):
        reasons.setdefault(name, Reason.CIRCULAR_NEEDS)
    is_changed = True
    while is_changed:
        is_changed = False
        for job in day.jobs:
            if job.id not in reasons and any(need in reasons for need in job.needs):
                reasons[job.id] = Reason.NEEDS_LEFT_OUT
                is_changed = True
    return tuple(LeftOut(id=job.id, reason=reasons[job.id]) for job in day.jobs if job.id in reasons)


def _in_a_circle(day: Day) -> set[str]:
    """Jobs that need themselves, by way of others."""
    needs = {job.id: set(job.needs) for job in day.jobs}
    found = set()
    for start in needs:
        seen: set[str] = set()
        ahead = list(needs[start])
        while ahead:
            name = ahead.pop()
            if name == start:
                found.add(start)
                break
            if name not in seen:
                seen.add(name)
                ahead += needs.get(name, ())
    return found


def grouped(day: Day, jobs: Sequence[Job]) -> tuple[Visit, ...]:
    """Breaker after breaker, room after room; a visit is closed when the next job does not go in any more.

    Every job can be in a visit of its own, and what it needs is among the jobs.
    """
    open_jobs = list(jobs)
    done: set[str] = set()
    visits: list[tuple[set[str], list[Job]]] = []
    while open_jobs:
        last = visits[-1][1][-1] if visits else None
        ready = [job for job in open_jobs if done.issuperset(job.needs)]
        people, here = visits[-1] if visits else (set(), [])
        fitting = [job for job in ready if here and people & able(day, job) and begins(day, [*here, job]) is not None]
        if fitting and last is not None:
            chosen = min(fitting, key=lambda job: _after(day, last, job, open_jobs))
            visits[-1] = (people & able(day, chosen), [*here, chosen])
        else:
            chosen = min(ready, key=lambda job: (job.not_before, -_of_breaker(job, open_jobs)))
            visits.append((set(able(day, chosen)), [chosen]))
        open_jobs.remove(chosen)
        done.add(chosen.id)
    return named(day, [here for _, here in visits])


def _after(day: Day, last: Job, job: Job, open_jobs: Sequence[Job]) -> tuple[bool, int, int, int]:
    return job.breaker != last.breaker, -_of_breaker(job, open_jobs), day.walk(last.room, job.room), -job.minutes


def _of_breaker(job: Job, open_jobs: Sequence[Job]) -> int:
    return sum(other.minutes for other in open_jobs if other.breaker == job.breaker)


def named(day: Day, visits: Sequence[Sequence[Job]]) -> tuple[Visit, ...]:
    """Visits with a person each: of those who may do all of it the one with the fewest visits so far."""
    counts = {person.id: 0 for person in day.people}
    found = []
    for jobs in visits:
        people = set.intersection(*(set(able(day, job)) for job in jobs))
        chosen = min((person.id for person in day.people if person.id in people), key=lambda name: counts[name])
        counts[chosen] += 1
        found.append(Visit(person=chosen, jobs=tuple(job.id for job in jobs)))
    return tuple(found)
