"""Where a part is used, and taking the shelf's figures over into all of these gangs."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import Enum
from functools import partial
from typing import Any
from uuid import UUID

from accounts.models import User
from bench.services.keep_gang import keep_gang
from common.problems import Problem
from loops.basis import older_parts, outdated
from loops.documents import gang_document
from loops.models import FittedBypass, FittedControl, Gang, LampGroup, Loop
from parts.models import Part
from sites.access import hanging, site_keys, visible

Json = dict[str, Any]
# So often, and for so long each time, one of many waits beside those who compute.
MOST_WAITS, WAIT_S = 10, 2.0
# More places than this are not listed one by one.
MOST_LISTED = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class Use:
    """A gang that holds a part, and whether its copy of the figures differs from the shelf."""

    gang: Gang
    differs: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Uses:
    """Where a part is used.

    Parameters
    ----------
    first : the first of them, in the order of their loops. count, older_count : all, and those whose copy differs.
    """

    first: list[Use]
    count: int
    older_count: int


def holders(part: Part, who: User | None = None) -> dict[Any, bool]:
    """Gangs that hold the part, and whether the copy of its figures differs; with `who` those that this person sees."""
    found: dict[Any, bool] = {}
    sites = None if who is None else site_keys(who)
    for fit in (FittedControl, FittedBypass, LampGroup):
        rows = fit.objects.filter(part=part, gang__archived_at=None)
        if sites is not None:
            rows = hanging(rows, "gang", Gang, sites)
        for gang, figures in rows.values_list("gang", "figures"):
            found[gang] = found.get(gang, False) or _without_count(figures) != _without_count(part.figures)
    return found


def _without_count(figures: Json) -> Json:
    """How many lamps hang there is no figure of the shelf."""
    return {name: value for name, value in figures.items() if name != "count"}


def uses_of(part: Part, who: User) -> Uses:
    """Where the part is used, as far as this person sees."""
    found = holders(part, who)
    gangs = (
        Gang.objects.filter(pk__in=list(found))
        .select_related("loop__site")
        .order_by("loop__site__name", "loop__name", "position")[:MOST_LISTED]
    )
    return Uses(
        first=[Use(gang=gang, differs=found[gang.pk]) for gang in gangs],
        count=len(found),
        older_count=sum(found.values()),
    )


def _taken_over(document: Json, part: Part) -> tuple[Json, bool]:
    """The gang's document with the shelf's figures of the part, and whether that changes anything."""
    changed = False
    pk = str(part.pk)

    def fit(item: Json | None) -> Json | None:
        nonlocal changed
        if item is None or item["part"] != pk:
            return item
        figures = dict(part.figures)
        if "count" in item["figures"]:
            figures["count"] = item["figures"]["count"]
        changed = changed or figures != item["figures"]
        return {**item, "figures": figures}

    made = {
        **document,
        "control": fit(document["control"]),
        "bypasses": [fit(item) for item in document["bypasses"]],
        "lamps": [fit(item) for item in document["lamps"]],
    }
    return made, changed


def mark_older(part: Part) -> None:
    """Judgements of gangs whose copy of the figures is no longer the shelf's are out of date, and so are their loops'.

    A few statements for thousands of them.
    """
    older = [gang for gang, differs in holders(part).items() if differs]
    gangs = [gang for gang in Gang.objects.filter(pk__in=older).select_related("loop") if gang.judged_on]
    loops = {}
    for gang in gangs:
        gang.judged_on = older_parts(gang)
        gang.loop.judged_on = gang.judged_on
        loops[gang.loop_id] = gang.loop
    Gang.objects.bulk_update(gangs, ("judged_on",), batch_size=200)
    Loop.objects.bulk_update(loops.values(), ("judged_on",), batch_size=200)


def judge_again(who: User, pk: Any) -> Gang:
    """Judge a gang on what holds now: the site's supply, the present core, and the shelf's figures where they changed.

    Raises
    ------
    StaleVersion, InputErrors, Problem : see `keep_gang`; nothing is changed.
    """
    gang = Gang.objects.select_related("loop__site", "control").get(pk=pk)
    document = gang_document(gang)
    items = [item for item in (document["control"], *document["bypasses"], *document["lamps"]) if item is not None]
    # Figures change only where that is the reason: another supply is no leave to touch what somebody kept.
    if gang.judged_on.get("parts"):
        for part in Part.objects.filter(pk__in=[item["part"] for item in items if item["part"]]):
            document, _ = _taken_over(document, part)
    return keep_gang(who, pk, gang.version, _with_keys(document))


def _with_keys(document: Json) -> Json:
    """Parts by key, as `keep_gang` wants them."""
    for item in (document["control"], *document["bypasses"], *document["lamps"]):
        if item is not None and item["part"]:
            item["part"] = UUID(item["part"])
    return document


class Turned(Enum):
    """What became of a gang whose turn it was."""

    CHANGED = "changed"
    AS_IT_WAS = "as it was"


def out_of_date(who: User) -> Iterator[tuple[Gang, str]]:
    """Gangs that a person sees whose judgement no longer holds, and why; in the order of their loops."""
    gangs = (
        visible(Gang, who).exclude(judged_on={}).select_related("loop__site").order_by("loop__name", "position", "pk")
    )
    for gang in gangs.only("judged_on", "position", "loop__name", "loop__site"):
        if reason := outdated(gang.judged_on, gang.loop.site):
            yield gang, reason


def again_gangs(who: User) -> list[Any]:
    """The same, by key."""
    return [gang.pk for gang, _ in out_of_date(who)]


def judge_one(who: User, pk: Any) -> Turned:
    """Judge one of many again, where it still is out of date and the person still sees it.

    Raises
    ------
    EmberError, Problem : see `keep_gang`; nothing is changed.
    """
    gang = visible(Gang, who).select_related("loop__site").filter(pk=pk).first()
    if gang is None or not outdated(gang.judged_on, gang.loop.site):
        return Turned.AS_IT_WAS
    _in_turn(partial(judge_again, who, pk))
    return Turned.CHANGED


def serve_gangs(who: User, part: Part) -> list[Any]:
    """Gangs that a person sees whose copy of a part's figures is not the shelf's, by key."""
    return [gang for gang, differs in holders(part, who).items() if differs]


def serve_one(who: User, pk: Any, part_pk: Any) -> Turned:
    """Take the shelf's figures over into one of many, judged anew, where they still differ and the person sees it.

    Raises
    ------
    EmberError, Problem : see `keep_gang`; nothing is changed.
    """
    gang = visible(Gang, who).select_related("loop__site", "control").filter(pk=pk).first()
    if gang is None:
        return Turned.AS_IT_WAS
    document, differs = _taken_over(gang_document(gang), Part.objects.get(pk=part_pk))
    if not differs:
        return Turned.AS_IT_WAS
    _in_turn(partial(keep_gang, who, gang.pk, gang.version, _with_keys(document)))
    return Turned.CHANGED


def _in_turn(work: Callable[[], object]) -> None:
    """Do what may find the line of those who compute full: one of many is not refused for that.

    Raises
    ------
    Problem : as the work does; `too_busy` only when nobody got a turn for long.
    """
    for _ in range(MOST_WAITS):
        try:
            work()
        except Problem as problem:
            if problem.code != "too_busy":
                raise
            time.sleep(WAIT_S)
        else:
            return
    work()
