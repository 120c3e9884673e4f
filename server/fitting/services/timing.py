"""Minutes: what the marks of a loop say each task took."""

from __future__ import annotations

from collections.abc import Mapping

from ember_core.fitting.steps import Act, Step
from ember_core.routes.lines import LineKind
from ember_core.routes.points import is_aloft
from ember_core.times.minutes import Stamp, Task, taken_minutes
from fitting.models import FitMark
from fitting.services.standing import Standing, made_s
from survey.models import Isolation, ProofEvent, Survey
from work.models import TaskRecord
from work.services.chosen import chosen_of
from work.services.finding import is_conduit

_OF_ACT: Mapping[Act, Task] = {
    Act.SAFE: Task.ISOLATE,
    Act.SAFE_AGAIN: Task.ISOLATE,
    Act.PHOTOGRAPH: Task.OPEN,
    Act.LOOSEN: Task.OPEN,
    Act.TRY_LAMP: Task.PROVE,
    Act.TRY_COMPANION: Task.PROVE,
    Act.POWER_ON: Task.PROVE,
    Act.POWER_BACK: Task.PROVE,
}


def task_of(step: Step, *, in_conduit: bool = False) -> Task:
    """The timed task that a step is part of."""
    if step.line is not None and step.line.kind is LineKind.PULL:
        return Task.PULL_CONDUIT if in_conduit else Task.PULL_CABLE
    if step.act in _OF_ACT:
        return _OF_ACT[step.act]
    if is_aloft(step.place):
        return Task.CEILING
    return Task.FIT if step.place in ("box", "") else Task.SECOND_BOX


def actual_minutes(standing: Standing) -> dict[Task, float]:
    """Minutes of each task so far, from the marks, the proofs and when the breaker went off."""
    loop = standing.loop
    in_conduit = is_conduit(list(Survey.boxes.filter(loop=loop).order_by("place")))
    tasks = {step.key: task_of(step, in_conduit=in_conduit) for step in standing.steps}
    marks = list(FitMark.objects.filter(loop=loop, choice=standing.choice))
    stamps = [
        Stamp(at_s=made_s(mark), person=str(mark.by_id), task=tasks.get(mark.step))
        for mark in marks
        if mark.outcome != "open"
    ]
    # Proofs that the marks rest on; those of the survey's own day are no part of fitting.
    proofs = {mark.proof_id for mark in marks if mark.proof_id is not None}
    for event in ProofEvent.objects.filter(proof__in=proofs):
        at_s = (min(event.made_at, event.at) if event.made_at else event.at).timestamp()
        stamps.append(Stamp(at_s=at_s, person=str(event.by_id), task=Task.ISOLATE))
    stamps += [
        Stamp(at_s=row.opened_at.timestamp(), person=str(row.opened_by_id), task=None)
        for row in Isolation.objects.filter(proofs__in=proofs).distinct()
    ]
    return taken_minutes(stamps)


def record_minutes(standing: Standing) -> None:
    """Keep what each task took, once for a way."""
    counts = chosen_of(standing.loop, standing.choice).tasks
    for task, minutes in actual_minutes(standing).items():
        TaskRecord.objects.update_or_create(
            choice=standing.choice,
            task=task.value,
            defaults={"loop": standing.loop, "minutes": minutes, "count": max(1, counts.get(task, 1))},
        )
