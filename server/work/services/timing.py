"""The firm's own minutes: what its records make of the class figures."""

from __future__ import annotations

from ember_core.times.minutes import USUAL, Minutes, Task, learned
from work.models import TaskRecord

# Records that count: the newest of each task.
MOST_RECORDS = 200


def own_minutes() -> dict[Task, Minutes]:
    """The firm's own range of every task of which it has records."""
    found: dict[Task, list[float]] = {}
    rows = TaskRecord.objects.order_by("-at").values_list("task", "minutes", "count")[: MOST_RECORDS * len(Task)]
    for name, minutes, count in rows:
        marks = found.setdefault(Task(name), [])
        if len(marks) < MOST_RECORDS:
            marks.append(minutes / count)
    return {task: learned(USUAL[task], marks) for task, marks in found.items()}
