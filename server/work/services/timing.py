"""The firm's own minutes: its ranges of tasks, and what its records make of them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from common.problems import Problem, StaleVersion
from ember_core.errors import InputError
from ember_core.times.minutes import USUAL, Minutes, Task, learned
from wording.texts import catalogue
from work.models import TaskRange, TaskRecord

Json = dict[str, Any]
# Records that count: the newest of each task.
MOST_RECORDS = 200
MOST_MINUTES = 960


def ranges() -> dict[Task, Minutes]:
    """Of each task the range before any record: the firm's, else the trade's."""
    own = {Task(row.task): Minutes(low=row.low, typical=row.typical, high=row.high) for row in TaskRange.objects.all()}
    return {**USUAL, **own}


def marks() -> dict[Task, list[float]]:
    """Minutes a time of each task, newest first."""
    found: dict[Task, list[float]] = {}
    rows = TaskRecord.objects.order_by("-at", "-id").values_list("task", "minutes", "count")
    for name, minutes, count in rows[: MOST_RECORDS * len(Task)]:
        here = found.setdefault(Task(name), [])
        if len(here) < MOST_RECORDS:
            here.append(minutes / count)
    return found


def own_minutes() -> dict[Task, Minutes]:
    """What every task takes as far as the firm knows: its range, with its records."""
    recorded = marks()
    return {task: learned(prior, recorded.get(task, [])) for task, prior in ranges().items()}


def minutes_answer() -> list[Json]:
    """Every task with its range, where that is from, its records, and what comes of both."""
    recorded, priors = marks(), ranges()
    rows = {row.task: row for row in TaskRange.objects.select_related("by")}
    texts = catalogue("fitting")["tasks"]
    answer = []
    for task, prior in priors.items():
        row = rows.get(task.value)
        now = learned(prior, recorded.get(task, []))
        answer.append(
            {
                "task": task.value,
                "text": texts[task.value],
                **_data(prior),
                "is_own": row is not None,
                "version": 0 if row is None else row.version,
                "by": "" if row is None or row.by is None else row.by.display_name,
                "marks": len(recorded.get(task, [])),
                "now": {name: round(value, 1) for name, value in _data(now).items()},
            }
        )
    return answer


def _data(minutes: Minutes) -> Json:
    return {"low": minutes.low, "typical": minutes.typical, "high": minutes.high}


def set_range(who: User, task: str, version: int, given: Mapping[str, float]) -> TaskRange:
    """Set the firm's range of a task.

    Parameters
    ----------
    version : that the caller saw, 0 where the firm has set none.

    Raises
    ------
    StaleVersion : somebody set it meanwhile. Problem : no such task, minutes that cannot be, or not in order.
    """
    if task not in {one.value for one in Task}:
        raise Problem(422, "unknown_word", path="task", given=task[:40])
    low, typical, high = (float(given[name]) for name in ("low", "typical", "high"))
    for name, value in (("low", low), ("high", high)):
        if not 0.0 < value <= MOST_MINUTES:
            raise Problem(422, "out_of_bounds", path=name, value=value, low=0, high=MOST_MINUTES, unit="min")
    try:
        Minutes(low=low, typical=typical, high=high)
    except InputError as error:
        raise Problem(422, error.code, path="typical", **dict[str, Any](error.params)) from error
    with transaction.atomic():
        row = TaskRange.objects.select_for_update().filter(task=task).first()
        current = 0 if row is None else row.version
        if row is not None and current == version + 1 and (row.low, row.typical, row.high) == (low, typical, high):
            return row
        if current != version:
            raise StaleVersion(yours=version, current_version=current, current={"version": current})
        before = None if row is None else {"low": row.low, "typical": row.typical, "high": row.high}
        row = row or TaskRange(task=task, version=0)
        row.low, row.typical, row.high, row.version, row.by = low, typical, high, version + 1, who
        row.save()
        trail.record(who, "minutes set", row, before=before, after={"task": task, **dict(given)})
    return row
