"""Marking the list: what was found decides whether an item passed; nobody can say so of what was not done."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from bench.services.keep_gang import update_loop
from common.problems import Problem
from ember_core.errors import InputError, InputErrors
from ember_core.proving.items import TRIED_DEAD, Act, Item, Outcome, outcome_of, rhythm_of
from loops.models import Gang, Loop
from proving.models import ProveMark
from proving.services.listing import WITHIN, Standing, prove_standing
from proving.services.power import was_isolated
from proving.services.reading import Compared, compared, worth_of
from survey.services.safety import name_of

Json = dict[str, Any]
EXCUSED, OPEN = "excused", "open"
SHORTEST_REASON = 5


def mark_item(who: User, loop_pk: Any, given: Json) -> ProveMark:
    """Mark an item; the same entry twice is one mark.

    Parameters
    ----------
    given : `id`, `item`, `result` (one of the item's, or `excused`, `open`), `reason`, `watched_s`, `taps_s`, and
        `made_at`; `seen`, the newest mark of the item that the caller saw, where that is said.

    Raises
    ------
    Problem, InputErrors : no such item or result, the power is off, it was watched too short, no reading was taken,
        somebody else found meanwhile that it fails, or a reason is missing; nothing is kept.
    """
    reading = _reading_first(loop_pk, given)
    with transaction.atomic():
        loop = Loop.objects.select_for_update().select_related("site", "circuit").get(pk=loop_pk)
        known = ProveMark.objects.filter(pk=given["id"]).first()
        if known is not None:
            is_same = known.loop_id == loop.pk and known.item == given["item"]
            if not is_same or given["result"] not in (known.result, known.outcome):
                raise Problem(409, "entry_differs", path="id")
            return known
        standing = prove_standing(loop)
        item = next((one for one in standing.items if one.key == given["item"]), None)
        if item is None:
            raise Problem(422, "no_such_item", path="item")
        if given["basis"] not in ("", standing.basis):
            # It was found on other parts, while this device was away.
            raise Problem(409, "parts_changed", path="item")
        reason = given["reason"].strip()
        outcome, result, detail = _found(standing, item, given, reason, reading)
        _check_seen(standing, item, given, outcome, who)
        mark = ProveMark.objects.create(
            pk=given["id"],
            number=standing.last + 1,
            loop=loop,
            item=item.key,
            outcome=outcome.value,
            result=result,
            reason=reason,
            detail=detail,
            basis=standing.basis,
            made_at=given["made_at"],
            by=who,
        )
        told = {name: value for name, value in detail.items() if name != WITHIN}
        after = {"item": item.key, "result": result, "reason": reason, **told}
        trail.record(who, f"proving: {outcome.value}", loop, after=after)
        update_loop(loop)
    return mark


def _check_seen(standing: Standing, item: Item, given: Json, outcome: Outcome, who: User) -> None:
    """Nobody passes or excuses what somebody else found to fail, without having seen that."""
    newest = standing.marks.get(item.key)
    if newest is None or "seen" not in given or given["seen"] == newest.pk or newest.by_id == who.pk:
        return
    is_failed = newest.outcome == Outcome.FAILED and standing.counts(newest)
    if is_failed and outcome in (Outcome.PASSED, Outcome.EXCUSED):
        raise Problem(409, "found_otherwise", path="item", by=name_of(newest.by))


def _reading_first(loop_pk: Any, given: Json) -> Compared | None:
    """What was read of a gang, computed before anything is held."""
    if not given["item"].startswith(Act.READING.value) or given["result"] in (EXCUSED, OPEN):
        return None
    position = given["item"].partition(":")[2]
    gang = Gang.objects.filter(loop=loop_pk, position=int(position) if position.isdigit() else 0).first()
    return None if gang is None else compared(gang, worth_of(gang))


def _found(
    standing: Standing, item: Item, given: Json, reason: str, reading: Compared | None
) -> tuple[Outcome, str, Json]:
    """Outcome, result and detail of what was sent."""
    if given["result"] in (EXCUSED, OPEN):
        if len(reason) < SHORTEST_REASON:
            raise Problem(422, "reason_needed", path="reason", least=SHORTEST_REASON)
        if given["result"] == OPEN and item.key not in standing.marks:
            raise Problem(422, "item_is_open", path="item")
        return Outcome(given["result"]), "", {}
    is_off, wants_off = was_isolated(standing.loop, given["made_at"]), item.act in TRIED_DEAD
    if is_off is not wants_off:
        raise Problem(422, "not_isolated_for_it" if wants_off else "is_isolated", path="item")
    try:
        outcome = outcome_of(item, given["result"], watched_s=given["watched_s"])
        detail = _detail(item, given)
    except InputError as error:
        raise InputErrors([error]) from error
    if item.act is Act.READING:
        if reading is None:
            raise Problem(422, "no_reading_taken", path="result")
        result = "as_computed" if reading.is_inside else "outside"
        if result != given["result"]:
            raise Problem(422, "reading_says_otherwise", path="result")
        detail = {
            "value": reading.value,
            "read": reading.of.read.value,
            "measured": str(reading.row.pk),
            WITHIN: {read: list(ends) for read, ends in reading.within.items()},
        }
    return outcome, given["result"], detail


def _detail(item: Item, given: Json) -> Json:
    """Seconds watched and the rhythm that was tapped."""
    if item.act is not Act.FLICKER_WATCH:
        return {}
    detail: Json = {}
    if given["watched_s"] is not None:
        detail["watched_s"] = round(given["watched_s"])
    if given["taps_s"]:
        rhythm = rhythm_of(given["taps_s"])
        detail |= {
            "period_s": round(rhythm.period_s, 3),
            # Hands are no steadier than that.
            "spread_s": max(0.01, round(rhythm.spread_s, 2)),
            "beats": rhythm.beats,
        }
    return detail
