"""What the record of all loops says to whoever runs the firm; every number with the loops behind it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import pairwise
from typing import Any

from django.db.models import CharField, QuerySet
from django.db.models.functions import Cast

from accounts.models import User
from ember_core.handover.experience import Closed, Done, Hung, by_cause, by_part, by_task
from ember_core.handover.stages import Stage
from judging.verdicts import WorksWord
from loops.models import FittedControl, LampGroup, Loop
from proving.models import Case, CaseEvent
from sites.access import hanging, of_sites, site_keys
from wording.texts import catalogue, fill
from work.models import TaskRecord
from work.services.timing import ranges

Json = dict[str, Any]
MOST_PARTS = 12
# Rows with the way from them to their loop: those of the loops that are told of.
Behind = Callable[[QuerySet[Any], str], QuerySet[Any]]
KINDS: dict[str, Any] = {"lamp": LampGroup, "control": FittedControl}


def statistics_of(who: User, site: Any = None) -> Json:
    """Of the sites where a person works, or of one of them."""
    sites = site_keys(who)
    loops = of_sites(Loop, sites)
    if site is not None:
        loops = loops.filter(site=site)

    def behind(rows: QuerySet[Any], way: str) -> QuerySet[Any]:
        found = hanging(rows, way, Loop, sites)
        return found if site is None else found.filter(**{f"{way}__site": site})

    # Thousands of rows: only what is told of them, not what each holds besides.
    rows = list(loops.order_by("site__name", "name").values_list(_key("pk"), "name", "site__name", "stage"))
    shown = _Shown({pk: {"id": pk, "name": name, "site": site} for pk, name, site, _ in rows})
    return {
        "stages": _stages({pk: stage for pk, _, _, stage in rows}, shown),
        "minutes": _minutes(behind(TaskRecord.objects.all(), "loop"), shown),
        "causes": _causes(behind(CaseEvent.objects.all(), "case__loop"), shown),
        "parts": _parts(behind, shown),
    }


def _key(column: str) -> Cast:
    """A key as text: made an object and text again, tens of thousands of them take half of the time."""
    return Cast(column, CharField())


class _Shown:
    """The loops behind a number."""

    def __init__(self, of: dict[str, Json]) -> None:
        self._of = of

    def __call__(self, keys: Iterable[str]) -> list[Json]:
        return [self._of[key] for key in keys]


def _stages(stage_of: dict[str, str], shown: _Shown) -> list[Json]:
    words = catalogue("handover")["stages"]
    found = []
    for stage in Stage:
        keys = [key for key, its in stage_of.items() if its == stage]
        found.append({"stage": stage.value, "text": words[stage.value], "count": len(keys), "loops": shown(keys)})
    return found


def _minutes(records: QuerySet[Any], shown: _Shown) -> list[Json]:
    words = catalogue("fitting")["tasks"]
    rows = records.values_list("task", "minutes", "count", "loop")
    done = [Done(task=task, minutes=minutes, count=count, loop=str(loop)) for task, minutes, count, loop in rows]
    planned = {task.value: (one.low, one.typical, one.high) for task, one in ranges().items()}
    return [
        {
            "task": one.task,
            "text": words[one.task],
            "times": one.times,
            "median_min": one.median_min,
            "least_min": one.least_min,
            "most_min": one.most_min,
            "low_min": one.low_min,
            "typical_min": one.typical_min,
            "high_min": one.high_min,
            "is_outside": one.is_outside,
            "loops": shown(one.loops),
        }
        for one in by_task(done, planned)
    ]


def _causes(events: QuerySet[Any], shown: _Shown) -> list[Json]:
    words = catalogue("diagnosis")
    rows = list(events.select_related("case").order_by("case", "at", "id"))
    closed = []
    for event, after in pairwise([*rows, None]):
        if event is not None and event.is_closing and event.cause:
            is_last = after is None or after.case_id != event.case_id
            closed.append(Closed(cause=event.cause, remedy=event.remedy, loop=str(event.case.loop_id), is_held=is_last))
    return [
        {
            "cause": one.cause,
            "text": fill(words["causes"][one.cause]["title"], {}) if one.cause in words["causes"] else one.cause,
            "count": one.count,
            "loops": shown(one.loops),
            "remedies": [
                {
                    "remedy": cure.remedy,
                    "text": fill(words["remedies"].get(cure.remedy, cure.remedy), {}) if cure.remedy else "",
                    "count": cure.count,
                    "held": cure.held,
                    "loops": shown(cure.loops),
                }
                for cure in one.remedies
            ],
        }
        for one in by_cause(closed)
    ]


def _parts(behind: Behind, shown: _Shown) -> list[Json]:
    complained = set(behind(Case.objects.all(), "loop").values_list(_key("gang"), flat=True))
    hung = []
    for kind, model in KINDS.items():
        rows = behind(model.objects.filter(gang__archived_at=None).exclude(label=""), "gang__loop")
        for label, gang, loop, works in rows.values_list("label", _key("gang"), _key("gang__loop"), "gang__works"):
            has_trouble = gang in complained or works == WorksWord.DOES_NOT
            hung.append(Hung(kind=kind, label=label, loop=loop, gang=gang, has_trouble=has_trouble))
    return [
        {
            "kind": one.kind,
            "label": one.label,
            "gangs": one.gangs,
            "trouble": one.trouble,
            "loops": shown(one.trouble_loops),
            "all_loops": shown(one.loops),
        }
        for one in by_part(hung)[:MOST_PARTS]
        if one.trouble
    ]
