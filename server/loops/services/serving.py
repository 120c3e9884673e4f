"""Where a part is used, and taking the shelf's figures over into all of these gangs."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any
from uuid import UUID

from accounts.models import User
from common.problems import Problem
from ember_core.errors import EmberError
from loops.basis import older_parts
from loops.documents import gang_document
from loops.models import FittedBypass, FittedControl, Gang, LampGroup, Loop
from loops.services.keep_gang import keep_gang
from parts.models import Part
from sites.access import hanging

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
    for fit in (FittedControl, FittedBypass, LampGroup):
        rows = fit.objects.filter(part=part, gang__archived_at=None)
        if who is not None:
            rows = hanging(rows, "gang", Gang, who)
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Served:
    """How far serving has come.

    Parameters
    ----------
    done, of : gangs looked at, of how many. changed : those that took the figures over.
    refused : loops of those that could not, by name.
    """

    done: int
    of: int
    changed: int
    refused: tuple[str, ...]


def serve_all(who: User, pk: Any) -> Iterator[Served]:
    """Take the shelf's figures over into the gangs that hold the part and that this person sees, judged anew.

    Gang by gang, each in a transaction of its own: what is stopped, or cut off, goes on where it was when it is asked
    for again, since a gang that has the figures already is not among them.
    """
    part = Part.objects.get(pk=pk)
    older = [gang for gang, differs in holders(part, who).items() if differs]
    changed = 0
    refused: list[str] = []
    yield Served(done=0, of=len(older), changed=0, refused=())
    for done, key in enumerate(older, 1):
        gang = Gang.objects.select_related("loop__site", "control").get(pk=key)
        document, differs = _taken_over(gang_document(gang), part)
        try:
            if differs:
                _in_turn(partial(keep_gang, who, gang.pk, gang.version, _with_keys(document)))
                changed += 1
        except (EmberError, Problem):
            # One that cannot be kept with them, or that somebody is just changing, holds up nobody else.
            refused.append(gang.loop.name)
        yield Served(done=done, of=len(older), changed=changed, refused=tuple(refused))


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
