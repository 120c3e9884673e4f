"""Plans as the API gives them: visits with times, who sits in the dark when, what it costs, what is wrong."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any

from accounts.models import User
from ember_core.visits.checking import Slot, slots
from ember_core.visits.jobs import Job, visit_cost
from fitting.services.standing import standing_of
from fitting.services.timing import actual_minutes
from sites.models import Circuit
from visits.models import Plan, PlanVisit
from visits.services.planning import (
    Loaded,
    as_visits,
    cost_data,
    load,
    minutes_of,
    standing_cost,
    standing_faults,
    standing_left_out,
    working_day,
)
from wording.texts import catalogue, fill
from work.services.words import RouteWords

Json = dict[str, Any]


def plan_row(row: Plan) -> Json:
    """A plan in a list."""
    return {
        "id": row.pk,
        "site": row.site_id,
        "name": row.name,
        "first_day": row.first_day,
        "people": [str(person) for person in row.people.all()],
        "visits": row.visits.count(),
        "loops": row.jobs.exclude(visit=None).count(),
        "is_optimal": row.is_optimal and not row.is_by_hand,
        "version": row.version,
    }


def plan_answer(row: Plan, loaded: Loaded | None = None) -> Json:
    """Everything of a plan."""
    loaded = loaded or load(row)
    texts = catalogue("visits")
    names = {key: job.loop.name for key, job in loaded.rows.items()}
    circuits = {str(circuit.pk): circuit for circuit in Circuit.objects.filter(site=row.site_id)}
    cost = standing_cost(loaded)
    best = row.best or cost_data(cost)
    # Nothing is proved of what is left of a plan.
    is_whole = all(job.visit is None or key not in loaded.out for key, job in loaded.rows.items())
    # What is done is no loss: the day goes on as it was planned.
    has_lost = any(job.visit is not None and loaded.out.get(key, "done") != "done" for key, job in loaded.rows.items())
    told = plan_row(row)
    return {
        **told,
        "is_optimal": told["is_optimal"] and is_whole,
        "has_lost": has_lost,
        "site_name": row.site.name,
        "begins_min": row.begins_min,
        "visit_minutes": row.visit_minutes,
        "isolate_minutes": row.isolate_minutes,
        "walk_minutes": row.walk_minutes,
        "asked_people": [
            {"id": person.pk, "name": str(person), "skills": row.skills.get(str(person.pk), [])}
            for person in row.people.order_by("display_name", "pk")
        ],
        "windows": [
            {"circuit": key, "begins_min": window[0], "ends_min": window[1]}
            for key, window in row.windows.items()
            if key in circuits
        ],
        "jobs": [_asked(job, loaded) for job in loaded.rows.values()],
        "planned": [_visit(visit, k, loaded, circuits) for k, visit in enumerate(row.visits.select_related("person"))],
        "cost": cost_data(cost),
        "best": best,
        "more": {name: value - int(best.get(name) or 0) for name, value in cost_data(cost).items()},
        "is_by_hand": row.is_by_hand,
        "bounds": [{"code": code, "text": texts["bounds"][code]} for code in row.bounds if is_whole],
        "left_out": [
            {"loop": key, "name": names[key], "text": texts["left_out"][code], "is_able": key not in loaded.out}
            for key, code in standing_left_out(loaded).items()
        ],
        "faults": [
            {
                "visit": fault.visit,
                "loop": fault.job,
                "text": fill(
                    texts["faults"][fault.wrong.value],
                    {"loop": names.get(fault.job, ""), "other": names.get(fault.other, "")},
                ),
            }
            for fault in standing_faults(loaded)
        ],
    }


def _asked(job: Any, loaded: Loaded) -> Json:
    key = str(job.loop_id)
    chosen = loaded.chosen.get(key)
    titles = RouteWords("eu").texts["ways"]
    return {
        "loop": job.loop_id,
        "name": job.loop.name,
        "breaker": "" if job.loop.circuit is None else job.loop.circuit.breaker,
        "way": "" if chosen is None else titles[chosen.choice.way]["title"],
        "minutes": job.minutes,
        "minutes_own": None if chosen is None else minutes_of(_without(job), chosen),
        "skill": job.skill,
        "needs": job.needs,
        "ready_on": job.ready_on,
        "visit": job.visit,
    }


def _without(job: Any) -> Any:
    """The same job as if nobody had set its minutes."""
    return type(job)(plan_id=job.plan_id, loop_id=job.loop_id, minutes=None)


def jobs_of(loaded: Loaded, number: int) -> list[Job]:
    """Jobs of a visit in their order."""
    by_id = {job.id: job for job in loaded.day.jobs}
    visits = as_visits(loaded)
    return [by_id[name] for name in visits[number].jobs]


def _visit(visit: PlanVisit, index: int, loaded: Loaded, circuits: dict[str, Circuit]) -> Json:
    jobs = jobs_of(loaded, index)
    times = slots(loaded.day, jobs)
    cost = visit_cost(loaded.day, jobs)
    begins = loaded.plan.begins_min
    return {
        "number": index,
        "person": visit.person_id,
        "person_name": str(visit.person),
        "day": visit.day,
        "date": day_of(loaded.plan, visit),
        "isolations": cost.isolations,
        "minutes": cost.minutes,
        "waiting_min": sum(slot.waits for slot in times),
        "ends_min": begins + (times[-1].end if times else 0),
        "stops": [_stop(job, slot, loaded, circuits) for job, slot in zip(jobs, times, strict=True)],
        "dark": dark_of(loaded, jobs, times, circuits),
    }


def _stop(job: Job, slot: Slot, loaded: Loaded, circuits: dict[str, Circuit]) -> Json:
    row = loaded.rows[job.id]
    standing = standing_of(row.loop)
    actual = None if standing is None else sum(actual_minutes(standing).values())
    return {
        "loop": row.loop_id,
        "name": row.loop.name,
        "breaker": circuits[job.breaker].breaker,
        "begins_min": loaded.plan.begins_min + slot.begin,
        "ends_min": loaded.plan.begins_min + slot.end,
        "minutes": job.minutes,
        "isolates": slot.isolates,
        "waits_min": slot.waits,
        "actual_minutes": None if not actual else round(actual),
        "is_done": standing is not None and standing.is_complete,
    }


def dark_of(loaded: Loaded, jobs: Sequence[Job], times: Sequence[Slot], circuits: dict[str, Circuit]) -> list[Json]:
    """Who sits in the dark when: each time a breaker is off, from its isolation to the end of the last loop on it."""
    found: list[Json] = []
    for job, slot in zip(jobs, times, strict=True):
        ends = loaded.plan.begins_min + slot.end
        if not slot.isolates:
            found[-1]["ends_min"] = ends
            continue
        circuit = circuits[job.breaker]
        found.append(
            {
                "breaker": circuit.breaker,
                "label": circuit.label_now or circuit.label_as_found,
                "feeds": circuit.feeds,
                "begins_min": max(
                    loaded.plan.begins_min, loaded.plan.begins_min + slot.begin - loaded.day.isolate_minutes
                ),
                "ends_min": ends,
            }
        )
    return found


def day_of(row: Plan, visit: PlanVisit) -> date:
    """The date of a visit."""
    return working_day(row.first_day, visit.day)


def clock(minutes: int) -> str:
    """Minutes of the day as a clock shows them."""
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def defaults_of(site: Any, who: User) -> Json:
    """What a new plan of a site begins with: skills and windows of the newest one, and the person who asks."""
    newest = Plan.objects.filter(site=site).order_by("-at").first()
    return {
        "windows": []
        if newest is None
        else [
            {"circuit": key, "begins_min": window[0], "ends_min": window[1]} for key, window in newest.windows.items()
        ],
        "people": [
            {
                "id": person.pk,
                "name": str(person),
                "skills": [] if newest is None else newest.skills.get(str(person.pk), []),
            }
            for person in site.members.filter(is_active=True).order_by("display_name", "pk")
        ],
        "me": who.pk,
    }
