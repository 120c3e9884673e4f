"""Planning: what core is asked of a plan, and its answer put on record."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from django.core import signing
from django.db import transaction

from accounts.models import User
from audit import trail
from bench.services.keep_gang import restage
from common.problems import Problem, StaleVersion
from ember_core.handover.stages import ORDER, Stage
from ember_core.times.minutes import said_minutes
from ember_core.visits.checking import Fault, bounds, faults
from ember_core.visits.jobs import Cost, Day, Job, Person, Visit, total
from ember_core.visits.plan import Progress, plan
from loops.models import Loop
from sites.models import Circuit, Site
from visits.models import Plan, PlanJob, PlanVisit
from work.models import RouteChoice
from work.services.chosen import Chosen, chosen_of
from work.services.since import since
from work.services.timing import own_minutes

Json = dict[str, Any]
MOST_LOOPS = 200
LEAST_DAY_MIN, MOST_DAY_MIN = 30, 960
_MIDNIGHT = 1440
BEFORE_PLANNED = ORDER[: ORDER.index(Stage.PLANNED)]
# What was computed is put on record within this time [s].
TOKEN_LASTS_S = 900
SALT = "visits.plan"


@dataclass(frozen=True, slots=True, kw_only=True)
class Loaded:
    """A plan as core sees it.

    Parameters
    ----------
    rows : jobs by the identity of their loop. chosen : of each loop its way. out : loops that cannot be planned, with
        a code.
    """

    plan: Plan
    day: Day
    rows: Mapping[str, PlanJob]
    chosen: Mapping[str, Chosen]
    out: Mapping[str, str]


def load(row: Plan) -> Loaded:
    """Everything that planning needs of the database."""
    jobs = list(row.jobs.select_related("loop__circuit", "loop__site"))
    firm = own_minutes()
    newest: dict[Any, RouteChoice] = {}
    for choice in RouteChoice.objects.filter(loop__in=[job.loop_id for job in jobs]).order_by("number"):
        newest[choice.loop_id] = choice
    chosen = {str(job.loop_id): chosen_of(job.loop, newest[job.loop_id], firm) for job in jobs if job.loop_id in newest}
    out = {key: code for job in jobs if (code := _out(row, job, key := str(job.loop_id), chosen)) is not None}
    ready = [job for job in jobs if str(job.loop_id) not in out]
    known = {str(job.loop_id) for job in ready}
    day = Day(
        visit_minutes=row.visit_minutes,
        isolate_minutes=row.isolate_minutes,
        jobs=tuple(_job(row, job, known, chosen[str(job.loop_id)]) for job in ready),
        people=tuple(
            Person(id=str(person.pk), skills=frozenset(row.skills.get(str(person.pk), ())))
            for person in row.people.order_by("display_name", "pk")
        ),
        walk_minutes={
            frozenset((str(a.loop_id), str(b.loop_id))): row.walk_minutes
            for k, a in enumerate(ready)
            for b in ready[k + 1 :]
        },
    )
    return Loaded(plan=row, day=day, rows={str(job.loop_id): job for job in jobs}, chosen=chosen, out=out)


# Why a loop cannot be planned by itself, whatever else is planned.
OF_THE_LOOP = ("archived", "no_way", "done", "no_breaker", "other_wiring", "not_ready")


def _out(row: Plan, job: PlanJob, key: str, chosen: Mapping[str, Chosen]) -> str | None:
    """Why a loop cannot be planned at all; None where it can."""
    if job.loop.archived_at is not None:
        return "archived"
    if key not in chosen:
        return "no_way"
    if chosen[key].choice.done_at is not None:
        return "done"
    if not chosen[key].tasks or job.loop.circuit is None:
        return "no_breaker"
    if chosen[key].choice.begun_at is None and since(job.loop, chosen[key].choice).is_other_wiring:
        return "other_wiring"
    if job.ready_on is not None and job.ready_on > row.first_day:
        return "not_ready"
    return None


def _job(row: Plan, job: PlanJob, known: set[str], chosen: Chosen) -> Job:
    window = row.windows.get(str(job.loop.circuit_id)) or [None, None]
    begins, ends = (None if minute is None else int(minute) - row.begins_min for minute in window)
    # A circuit is off from the first minute of its isolation, and that comes before the work.
    not_before = 0 if begins is None else max(0, begins + row.isolate_minutes)
    return Job(
        id=str(job.loop_id),
        breaker=str(job.loop.circuit_id),
        room=str(job.loop_id),
        minutes=minutes_of(job, chosen),
        needs=tuple(need for need in job.needs if need in known),
        not_before=not_before,
        not_after=None if ends is None else max(0, ends),
        skill=job.skill or None,
    )


def minutes_of(job: PlanJob, chosen: Chosen) -> int:
    """Minutes at the loop, without finding its breaker and the first isolation: by hand, or as likely as not."""
    if job.minutes is not None:
        return job.minutes
    found = chosen.work_estimate
    return max(5, said_minutes(found.likely, found.within)[0])


def computed(loaded: Loaded, progress: Progress | None = None) -> Json:
    """The best plan that is found, what it costs, and a token by which it is put on record; nothing is written."""
    made = plan(loaded.day, progress=progress)
    days: dict[str, int] = {}
    visits = []
    for visit in made.visits:
        visits.append([visit.person, days.get(visit.person, 0), list(visit.jobs)])
        days[visit.person] = days.get(visit.person, 0) + 1
    out = [{"loop": key, "reason": code} for key, code in loaded.out.items()]
    told = {
        "plan": str(loaded.plan.pk),
        "version": loaded.plan.version,
        "visits": visits,
        "is_optimal": made.is_optimal,
        "best": cost_data(made.cost),
        "bounds": [bound.value for bound in bounds(loaded.day, made.cost)],
        "left_out": out + [{"loop": one.id, "reason": one.reason.value} for one in made.left_out],
    }
    return {"cost": told["best"], "is_optimal": made.is_optimal, "token": signing.dumps(told, salt=SALT, compress=True)}


def take(who: User, plan_pk: Any, token: str) -> Plan:
    """Put a plan on record as it was computed a moment ago.

    Raises
    ------
    StaleVersion : the plan changed since. Problem : no such computation, or it is too old.
    """
    try:
        told = signing.loads(token, salt=SALT, max_age=TOKEN_LASTS_S)
    except signing.BadSignature as error:
        raise Problem(422, "not_computed", path="token") from error
    if told["plan"] != str(plan_pk):
        raise Problem(422, "not_computed", path="token")
    with transaction.atomic():
        row = _held(plan_pk, told["version"])
        row.is_by_hand, row.is_optimal = False, told["is_optimal"]
        row.best, row.bounds, row.left_out = told["best"], told["bounds"], told["left_out"]
        _put(row, told["visits"])
        row.version += 1
        row.by = who
        row.save()
        trail.record(who, "planned", row, after={"cost": row.best, "left_out": len(row.left_out)})
    return row


def cost_data(cost: Cost) -> Json:
    """What a plan costs."""
    return {"visits": cost.visits, "isolations": cost.isolations, "minutes": cost.minutes}


def _held(plan_pk: Any, version: int) -> Plan:
    row = Plan.objects.select_for_update().get(pk=plan_pk)
    if row.version != version:
        raise StaleVersion(yours=version, current_version=row.version, current={"version": row.version})
    return row


def _put(row: Plan, visits: Sequence[tuple[str, int, Sequence[str]]]) -> None:
    row.visits.all().delete()
    row.jobs.update(visit=None, position=0)
    for number, (person, day, loops) in enumerate(visits):
        PlanVisit.objects.create(plan=row, number=number, person_id=person, day=day)
        for position, loop in enumerate(loops):
            row.jobs.filter(loop_id=uuid.UUID(str(loop))).update(visit=number, position=position)
    _restage(list(row.jobs.values_list("loop_id", flat=True)))


def _restage(loops: Sequence[Any]) -> None:
    """Where loops stand that came into a visit or fell out of one; hundreds of them at once."""
    coming = PlanJob.objects.filter(loop__in=loops, visit__isnull=False).values_list("loop_id", flat=True)
    visited = set(coming)
    Loop.objects.filter(pk__in=visited, stage__in=BEFORE_PLANNED).update(stage=Stage.PLANNED)
    for loop in Loop.objects.filter(pk__in=set(loops) - visited, stage=Stage.PLANNED).select_related("site", "circuit"):
        restage(loop)


def _standing(row: Plan) -> list[tuple[str, int, list[str]]]:
    """Visits as they stand: whose, on which day, which loops."""
    jobs = list(row.jobs.exclude(visit=None))
    return [
        (str(visit.person_id), visit.day, [str(job.loop_id) for job in jobs if job.visit == visit.number])
        for visit in row.visits.all()
    ]


def put_by_hand(who: User, plan_pk: Any, version: int, visits: Sequence[Json]) -> Plan:
    """Keep an order that somebody made: what is wrong with it is told, not refused.

    Parameters
    ----------
    visits : `person`, `day`, `loops`; a loop that is in none is left out.

    Raises
    ------
    StaleVersion : changed meanwhile. Problem : a loop twice, or not of the plan; a person who is not.
    """
    with transaction.atomic():
        row = _held(plan_pk, version)
        known = {str(key) for key in row.jobs.values_list("loop_id", flat=True)}
        people = {str(key) for key in row.people.values_list("pk", flat=True)}
        seen: set[str] = set()
        for k, visit in enumerate(visits):
            if str(visit["person"]) not in people:
                raise Problem(422, "not_in_plan", path=f"visits[{k}].person")
            for n, loop in enumerate(visit["loops"]):
                if str(loop) not in known or str(loop) in seen:
                    raise Problem(422, "not_in_plan", path=f"visits[{k}].loops[{n}]")
                seen.add(str(loop))
        before, out = visits_data(row), load(row).out
        _put(row, [(str(v["person"]), v["day"], [str(loop) for loop in v["loops"]]) for v in visits if v["loops"]])
        row.left_out = [
            *(entry for entry in row.left_out if entry["loop"] not in seen),
            *(
                # What cannot be planned is shown in no visit, so nobody took it out.
                {"loop": key, "reason": out.get(key, "by_hand")}
                for key in sorted(known - seen)
                if all(entry["loop"] != key for entry in row.left_out)
            ),
        ]
        row.is_by_hand = True
        row.version += 1
        row.by = who
        row.save()
        trail.record(who, "plan changed by hand", row, before=before, after=visits_data(row))
    return row


def visits_data(row: Plan) -> Json:
    """Whose visits, with which loops, for the trail."""
    jobs = list(row.jobs.select_related("loop"))
    return {
        "visits": [
            {
                "person": str(visit.person),
                "day": working_day(row.first_day, visit.day).isoformat(),
                "loops": [job.loop.name for job in jobs if job.visit == visit.number],
            }
            for visit in row.visits.select_related("person")
        ]
    }


def as_visits(loaded: Loaded) -> list[Visit]:
    """The visits on record; loops that cannot be planned any more are left out."""
    able = {job.id for job in loaded.day.jobs}
    rows = sorted(loaded.rows.values(), key=lambda job: (job.visit is None, job.visit or 0, job.position))
    return [
        Visit(
            person=str(visit.person_id),
            jobs=tuple(str(job.loop_id) for job in rows if job.visit == visit.number and str(job.loop_id) in able),
        )
        for visit in loaded.plan.visits.all()
    ]


def standing_left_out(loaded: Loaded) -> dict[str, str]:
    """Loops that are in no visit, with a code: as it was planned, and by what has changed since."""
    told = {entry["loop"]: entry["reason"] for entry in loaded.plan.left_out if entry["loop"] in loaded.rows}
    for key, reason in told.items():
        if reason in OF_THE_LOOP and key not in loaded.out:
            told[key] = "able_now"
    visited = {key for key, job in loaded.rows.items() if job.visit is not None}
    return told | {key: code for key, code in loaded.out.items() if key in told or key in visited}


def standing_faults(loaded: Loaded) -> tuple[Fault, ...]:
    """What is wrong with the plan as it stands."""
    return faults(loaded.day, as_visits(loaded))


def standing_cost(loaded: Loaded) -> Cost:
    """What it costs as it stands, empty visits left out."""
    return total(loaded.day, [visit for visit in as_visits(loaded) if visit.jobs])


def working_day(first: date, count: int) -> date:
    """The day that is so many working days, Monday to Friday, after the first."""
    day = first
    while count > 0:
        day += timedelta(days=1)
        if day.weekday() < 5:
            count -= 1
    return day


def save(who: User, site: Site, row: Plan | None, version: int, given: Json, key: Any = None) -> Plan:
    """Make a plan, or change what it asks for; the same one made twice is one.

    Parameters
    ----------
    given : `name`, `first_day`, `begins_min`, `visit_minutes`, `isolate_minutes`, `walk_minutes`, `people` (identity,
        skills), `windows` (circuit, begins_min, ends_min), `jobs` (loop, minutes, skill, needs, ready_on).

    Raises
    ------
    StaleVersion : changed meanwhile. Problem : people, loops or breakers of another site; times that cannot be.
    """
    with transaction.atomic():
        if row is not None:
            row = _held(row.pk, version)
        else:
            # Sent again, it waits here until the first one is kept.
            Site.objects.select_for_update().get(pk=site.pk)
            if (known := Plan.objects.filter(pk=key).first()) is not None:
                if known.site_id != site.pk:
                    raise Problem(409, "entry_differs", path="id")
                return known
        _check(site, given)
        before = None if row is None else asked_data(row)
        row = row or Plan(pk=key, site=site, version=0)
        for name in ("name", "first_day", "begins_min", "visit_minutes", "isolate_minutes", "walk_minutes"):
            setattr(row, name, given[name])
        row.skills = {str(one["id"]): one["skills"] for one in given["people"] if one["skills"]}
        row.windows = {
            str(one["circuit"]): [one["begins_min"], one["ends_min"]]
            for one in given["windows"]
            if one["begins_min"] is not None or one["ends_min"] is not None
        }
        row.version += 1
        row.by = who
        row.save()
        row.people.set([one["id"] for one in given["people"]])
        _save_jobs(row, given["jobs"])
        # Visits of somebody who does not come are no visits; the others move up.
        coming = {one["id"] for one in given["people"]}
        if any(visit.person_id not in coming for visit in row.visits.all()):
            _put(row, [visit for visit in _standing(row) if uuid.UUID(visit[0]) in coming])
        trail.record(who, "made" if before is None else "changed", row, before=before, after=asked_data(row))
    return row


def _save_jobs(row: Plan, jobs: Sequence[Json]) -> None:
    wanted = {str(one["loop"]): one for one in jobs}
    gone = [job for job in row.jobs.all() if str(job.loop_id) not in wanted]
    for job in gone:
        job.delete()
    _restage([job.loop_id for job in gone])
    there = {str(job.loop_id): job for job in row.jobs.all()}
    for key, one in wanted.items():
        job = there.get(key) or PlanJob(plan=row, loop_id=key)
        job.minutes, job.skill, job.ready_on = one["minutes"], one["skill"].strip(), one["ready_on"]
        job.needs = [str(need) for need in one["needs"]]
        job.save()
    kept = {str(key) for key in wanted}
    row.left_out = [entry for entry in row.left_out if entry["loop"] in kept]
    row.save(update_fields=("left_out",))


def _check(site: Site, given: Json) -> None:
    if not LEAST_DAY_MIN <= given["visit_minutes"] <= MOST_DAY_MIN:
        raise Problem(422, "day_too_short", path="visit_minutes")
    if given["begins_min"] + given["visit_minutes"] > _MIDNIGHT:
        raise Problem(422, "day_past_midnight", path="visit_minutes")
    if not given["people"]:
        raise Problem(422, "nobody", path="people")
    members = {str(pk) for pk in site.members.values_list("pk", flat=True)}
    for k, one in enumerate(given["people"]):
        if str(one["id"]) not in members:
            raise Problem(422, "not_a_member", path=f"people[{k}].id")
    circuits = {str(pk) for pk in Circuit.objects.filter(site=site).values_list("pk", flat=True)}
    for k, one in enumerate(given["windows"]):
        if str(one["circuit"]) not in circuits:
            raise Problem(422, "unknown_breaker", path=f"windows[{k}].circuit")
        begins, ends = one["begins_min"], one["ends_min"]
        if begins is not None and ends is not None and ends <= begins:
            raise Problem(422, "window_not_in_order", path=f"windows[{k}].ends_min")
    if len(given["jobs"]) > MOST_LOOPS:
        raise Problem(422, "too_many", path="jobs", most=MOST_LOOPS)
    loops = {str(pk) for pk in Loop.objects.filter(site=site).values_list("pk", flat=True)}
    named = [str(one["loop"]) for one in given["jobs"]]
    for k, one in enumerate(given["jobs"]):
        if named[k] not in loops or named[k] in named[:k]:
            raise Problem(422, "not_in_plan", path=f"jobs[{k}].loop")
        for n, need in enumerate(one["needs"]):
            if str(need) not in named or str(need) == named[k]:
                raise Problem(422, "unknown_job", path=f"jobs[{k}].needs[{n}]", key=str(need))


def asked_data(row: Plan) -> Json:
    """What a plan asks for, for the trail."""
    return {
        "name": row.name,
        "first_day": row.first_day.isoformat(),
        "hours": [row.begins_min, row.visit_minutes],
        "people": [str(person) for person in row.people.all()],
        "windows": row.windows,
        "loops": [job.loop.name for job in row.jobs.select_related("loop")],
    }
