"""Choosing a way, saying what a ceiling point holds, setting the firm's order, keeping a drawing."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from bench.services.keep_gang import update_loop
from common.problems import Problem, StaleVersion
from ember_core import CORE_VERSION
from ember_core.routes.aloft import At, HangsOn, Junction, LampsThere, OwnNeutral
from ember_core.routes.comparing import compare, gangs_of_way, rate
from ember_core.routes.rated import Value
from ember_core.routes.ways import Way
from loops.models import Gang, Loop
from work.models import CeilingPoint, CheckedDrawing, RouteChoice, RouteOrder
from work.services.answers import chosen_seats, read_drawing
from work.services.comparing import row_answer
from work.services.finding import Loaded
from work.services.mapping import seats_data
from work.services.points import make_points
from work.services.words import RouteWords

Json = dict[str, Any]
WORDS = {
    "line": At,
    "neutral": OwnNeutral,
    "spare": At,
    "lamps": LampsThere,
    "junction": Junction,
    "hangs_on": HangsOn,
}


def judged_choice(loaded: Loaded, way: Way, control: str | None) -> Json:
    """What a choice keeps, computed before anything is locked.

    Raises
    ------
    Problem : the way cannot be, or the control does not serve it.
    """
    found = loaded.ask.found.seats
    if found is None:
        raise Problem(422, "no_way_yet", path="way")
    row = rate(loaded.ask, way, control)
    if row.against is not None or row.route is None or row.route.wanted is None:
        raise Problem(422, "way_cannot_be", path="way")
    if control and row.control != control:
        raise Problem(422, "control_does_not_serve", path="control")
    favoured = compare(loaded.ask).favoured
    wanted = row.route.wanted
    return {
        "way": way.value,
        "control": row.control or "",
        "label": "" if row.control is None else loaded.labels[row.control],
        "favoured": "" if favoured is None else favoured.value,
        "order": [value.value for value in loaded.ask.order],
        "rated": row_answer(loaded, row, RouteWords(loaded.loop.site.region))
        | {"gangs": gangs_of_way(loaded.ask, way)},
        "wire_map": {"found": seats_data(found), "wanted": seats_data(wanted)},
        "basis": loaded.basis,
        "core_version": CORE_VERSION,
    }


def choose_way(who: User, loop_pk: Any, key: Any, number: int, why: str, kept: Json) -> RouteChoice:
    """Keep a choice; the same one sent twice is one.

    Parameters
    ----------
    number : of the newest choice that the caller saw, 0 for none.

    Raises
    ------
    StaleVersion : somebody chose meanwhile. Problem : what was chosen before is half fitted.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        same = RouteChoice.objects.filter(pk=key).first()
        if same is not None:
            if same.loop_id != loop.pk or same.by_id != who.pk:
                raise Problem(409, "entry_differs", path="id")
            return same
        newest = RouteChoice.objects.filter(loop=loop).first()
        last = 0 if newest is None else newest.number
        if last != number:
            raise StaleVersion(
                yours=number, current_version=last, current={} if newest is None else choice_data(newest)
            )
        if newest is not None and newest.begun_at is not None and newest.done_at is None:
            raise Problem(409, "way_is_begun", path="")
        if newest is not None and newest.done_at is not None and newest.basis["surveys"] == kept["basis"]["surveys"]:
            # The survey still tells of what was there before it was fitted; a map from there would be of another box.
            raise Problem(409, "way_is_fitted", path="")
        row = RouteChoice.objects.create(pk=key, loop=loop, number=last + 1, why=why, by=who, **kept)
        row.refresh_from_db(fields=("wire_map",))
        make_points(loop, *chosen_seats(row))
        loop.chosen = {
            "way": row.way,
            "control": row.control,
            "label": row.label,
            "works": row.rated.get("works", "unknown"),
            "on_bench": False,
        }
        loop.save(update_fields=("chosen",))
        update_loop(loop)
        trail.record(who, "chosen", row, after=choice_data(row))
        return row


def is_there(key: Any) -> bool:
    """A choice of this identity is on record: sent once more, it is answered as before."""
    return RouteChoice.objects.filter(pk=key).exists()


def choice_data(row: RouteChoice) -> Json:
    """A choice for the trail and for whoever was late."""
    return {"number": row.number, "way": row.way, "control": row.label, "why": row.why}


def see_ceiling(who: User, gang_pk: Any, version: int, seen: Json) -> CeilingPoint:
    """Say what is at a luminaire.

    Raises
    ------
    StaleVersion : somebody wrote meanwhile. Problem : a word that is none.
    """
    for name, word in seen.items():
        if name not in WORDS or word not in set(WORDS[name]):
            raise Problem(422, "unknown_word", path=f"seen.{name}", given=str(word)[:40])
    with transaction.atomic():
        # The loop first, as whoever keeps a gang holds it.
        loop = Loop.objects.select_for_update().get(gangs__pk=gang_pk)
        gang = Gang.objects.select_for_update().get(pk=gang_pk)
        row = CeilingPoint.objects.filter(gang=gang).first()
        before = {} if row is None else row.seen
        current = 0 if row is None else row.version
        if current == version + 1 and before == seen:
            return row  # type: ignore[return-value]  # sent twice
        if current != version:
            raise StaleVersion(yours=version, current_version=current, current={"version": current, "seen": before})
        row = row or CeilingPoint(gang=gang, version=0)
        row.seen, row.version, row.by = seen, version + 1, who
        row.save()
        trail.record(who, "changed", row, before=before, after=seen)
        # What was chosen may be for another wiring now.
        update_loop(loop)
        return row


def set_order(who: User, version: int, values: list[str]) -> RouteOrder:
    """What the firm weighs first.

    Raises
    ------
    StaleVersion : somebody set it meanwhile. Problem : not every value once.
    """
    if sorted(values) != sorted(value.value for value in Value):
        raise Problem(422, "every_value_once", path="values")
    with transaction.atomic():
        row = RouteOrder.objects.select_for_update().first()
        current = 0 if row is None else row.version
        if current == version + 1 and row is not None and row.values == values:
            return row
        if current != version:
            raise StaleVersion(
                yours=version,
                current_version=current,
                current={"version": current, "values": [] if row is None else row.values},
            )
        before = None if row is None else {"values": row.values}
        row = row or RouteOrder(pk=1, version=0)
        row.values, row.version = values, version + 1
        row.save()
        trail.record(who, "changed", row, before=before, after={"values": values})
        return row


def keep_drawing(who: User, loop_pk: Any, given: Json) -> CheckedDrawing:
    """Keep a drawing that was read; the same one sent twice is one.

    Raises
    ------
    InputErrors : it is no wiring. Problem : the identity is another's, or what it corrects is of another loop.
    """
    read_drawing(given["document"])
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        same = CheckedDrawing.objects.filter(pk=given["id"]).first()
        if same is not None:
            if same.loop_id != loop.pk or same.document != given["document"]:
                raise Problem(409, "entry_differs", path="id")
            return same
        corrects = None
        if given.get("corrects") is not None:
            corrects = CheckedDrawing.objects.filter(pk=given["corrects"], loop=loop).first()
            if corrects is None:
                raise Problem(422, "no_such_drawing", path="corrects")
        row = CheckedDrawing.objects.create(
            pk=given["id"],
            loop=loop,
            name=given["name"],
            source=given["source"],
            document=given["document"],
            corrects=corrects,
            by=who,
        )
        trail.record(who, "made", row, after={"name": row.name, "source": row.source})
        return row
