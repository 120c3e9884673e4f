"""`ember plan`: jobs put into visits, from a file, without a server."""

from __future__ import annotations

from typing import Any

from ember_cli.solving import each
from ember_core.visits.jobs import read, visit_cost
from ember_core.visits.plan import plan


def answer(document: Any) -> dict[str, Any]:
    """Visits with their people, order, isolations and minutes, what is left out, and whether it is proved the best."""
    day = read(document)
    made = plan(day)
    by_id = {job.id: job for job in day.jobs}
    costs = [visit_cost(day, [by_id[name] for name in visit.jobs]) for visit in made.visits]
    return {
        "visits": [
            {
                "person": visit.person,
                "jobs": list(visit.jobs),
                "isolations": cost.isolations,
                "minutes": cost.minutes,
            }
            for visit, cost in zip(made.visits, costs, strict=True)
        ],
        "isolations": made.cost.isolations,
        "minutes": made.cost.minutes,
        "left_out": [{"id": one.id, "reason": one.reason.value} for one in made.left_out],
        "optimal": made.is_optimal,
    }


def run(file: str) -> int:
    """Answer every day of a file; status 1 when one failed."""
    return each(file, answer)
