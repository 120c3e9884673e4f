"""Ticking steps: each gate is asked when a mark arrives, a tick taken back leaves its trace, the last one ends it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction
from django.utils import timezone

from accounts.models import User
from audit import trail
from bench.services.keep_gang import update_loop
from common.problems import Problem
from ember_core.findings import Finding
from ember_core.fitting import gates
from ember_core.fitting.gates import Here, Outcome
from ember_core.fitting.leaving import Leaving, ways_to_leave
from ember_core.fitting.steps import Act, Power, Step
from ember_core.survey import isolation
from ember_core.survey.isolation import Step as Survey
from fitting.models import FitLeft, FitMark, KitCheck
from fitting.services.putting_in import Ahead, ahead, put_in, take_out
from fitting.services.standing import Standing, lamps_tried, places_here, standing_of, standing_seen
from fitting.services.timing import record_minutes
from fitting.services.words import FitWords
from loops.models import Loop
from loops.services.seen import Seen
from survey.models import FIRST_POINT, Proof, StepMark
from survey.services.covering import hold_power
from survey.services.safety import last_marks
from work.services.points import number_of
from work.services.since import since

Json = dict[str, Any]
SHORTEST_REASON = 5


def _held(loop_pk: Any, choice_pk: Any) -> Standing:
    """A loop held for a change, with the way that the caller saw.

    Raises
    ------
    Problem : nothing is chosen, or another way meanwhile.
    """
    loop = Loop.objects.select_for_update().select_related("site", "circuit").get(pk=loop_pk)
    hold_power(loop.site_id)
    standing = standing_of(loop)
    if standing is None:
        raise Problem(422, "no_way_chosen", path="")
    if str(standing.choice.pk) != str(choice_pk):
        raise Problem(409, "another_way_chosen", path="choice")
    return standing


def mark_step(who: User, loop_pk: Any, given: Json) -> FitMark:
    """Mark a step; the same entry twice is one mark.

    Parameters
    ----------
    given : `id`, `choice`, `step`, `outcome`, `reason`, `made_at`.

    Raises
    ------
    Problem : a gate is closed (`reasons` say which), others rest on it, or a reason is missing.
    """
    worked = ahead(loop_pk, given["choice"], given["step"])
    with transaction.atomic():
        standing = _held(loop_pk, given["choice"])
        loop, outcome = standing.loop, Outcome(given["outcome"])
        known = FitMark.objects.filter(pk=given["id"]).first()
        if known is not None:
            if (known.loop_id, known.step, known.outcome) != (loop.pk, given["step"], outcome.value):
                raise Problem(409, "entry_differs", path="id")
            return known
        step = next((one for one in standing.steps if one.key == given["step"]), None)
        if step is None:
            raise Problem(422, "no_such_step", path="step")
        reason = given["reason"].strip()
        _check(standing, step, outcome, reason, who)
        is_dead = step.power is Power.DEAD and bool(step.place)
        mark = FitMark.objects.create(
            pk=given["id"],
            number=_next_number(loop),
            loop=loop,
            choice=standing.choice,
            step=step.key,
            outcome=outcome.value,
            reason=reason,
            proof=_proof(loop, number_of(step.place)) if is_dead and outcome is Outcome.DONE else None,
            made_at=given["made_at"],
            by=who,
        )
        trail.record(
            who,
            f"fitting: {outcome.value}",
            loop,
            after={"step": step.key, "reason": reason, "way": standing.choice.way},
        )
        _follow(standing.after(mark), step, who, worked)
    return mark


def _proof(loop: Loop, place: int) -> Proof | None:
    """What a mark of dead work rests on: the newest proof of its place."""
    return Proof.objects.filter(loop=loop, place=place).first()


def _next_number(loop: Loop) -> int:
    newest = FitMark.objects.filter(loop=loop).order_by("-number").first()
    return 1 if newest is None else newest.number + 1


def _check(standing: Standing, step: Step, outcome: Outcome, reason: str, who: User) -> None:
    record = standing.record
    if standing.choice.begun_at is None and since(standing.loop, standing.choice).is_other_wiring:
        raise Problem(409, "way_is_of_another_wiring", path="choice")
    if outcome in (Outcome.SKIPPED, Outcome.TROUBLE) and len(reason) < SHORTEST_REASON:
        raise Problem(422, "reason_needed", path="reason", least=SHORTEST_REASON)
    if outcome is Outcome.SKIPPED and not step.may_skip:
        raise Problem(422, "step_is_needed", path="outcome")
    if outcome in (Outcome.OPEN, Outcome.TROUBLE):
        if later := gates.rests_on(step, standing.steps, record):
            words = FitWords(standing)
            raise Problem(422, "later_step_done", path="step", later=words.title(later[-1]))
        if outcome is Outcome.OPEN and step.key not in standing.marks:
            raise Problem(422, "step_is_open", path="step")
        return
    if outcome is Outcome.SKIPPED:
        # What is left out needs no power off, but nothing overtakes what it rests on.
        missing = tuple(f for f in gates.shortfalls(step, record, {}) if f.code == "step_before_it")
    else:
        missing = gates.shortfalls(step, record, places_here(standing, who))
    if missing:
        reasons = [FitWords(standing).finding(finding, step) for finding in missing]
        raise Problem(
            422,
            "step_not_allowed",
            path="step",
            extra={"reasons": reasons, "may_override": False},
            reason=reasons[0]["text"],
        )


def _follow(standing: Standing, step: Step, who: User, worked: Ahead) -> None:
    """What a mark changes beside itself: the choice is begun or done, parts are fitted, minutes are known.

    Parameters
    ----------
    standing : with the mark.
    """
    seen = Seen(standing.loop, {standing_seen: standing})
    _mirror(standing, step, who)
    choice = standing.choice
    if choice.begun_at is None:
        choice.begun_at = timezone.now()
    was_complete, is_complete = choice.done_at is not None, standing.is_complete
    choice.done_at = (choice.done_at or timezone.now()) if is_complete else None
    choice.save(update_fields=("begun_at", "done_at"))
    if is_complete and not was_complete:
        put_in(who, choice, worked, lamps_tried(standing))
        record_minutes(standing)
    elif was_complete and not is_complete:
        take_out(choice)
    update_loop(standing.loop, seen)


# Steps of the survey that fitting goes through again: they are marked there too, so that both tell the same.
_MIRRORED = {
    Act.PHOTOGRAPH: Survey.PHOTOGRAPH,
    Act.LOOSEN: Survey.OPEN,
    Act.PART: Survey.DISCONNECT,
    Act.HOLD: Survey.FIT,
}


def _mirror(standing: Standing, step: Step, who: User) -> None:
    """The survey's mark of the same step, where it says something else."""
    same = _MIRRORED.get(step.act)
    number = number_of(step.place) if step.place else 0
    if same is None or not 0 < number < FIRST_POINT:
        return
    is_done = standing.record.is_settled(step.key)
    left_out = standing.marks.get(step.key)
    mark = last_marks(standing.loop, number).get(same.value)
    if (mark is not None and mark.is_done) is is_done:
        return
    StepMark.objects.create(
        loop=standing.loop,
        place=number,
        step=same.value,
        is_done=is_done,
        by=who,
        proof=_proof(standing.loop, number) if is_done else None,
        override_reason=left_out.reason if left_out is not None and left_out.outcome == Outcome.SKIPPED else "",
    )


def leave_safe(who: User, loop_pk: Any, given: Json) -> FitLeft:
    """Leave a loop half done; the same entry twice is one.

    Parameters
    ----------
    given : `id`, `choice`, `leaving`, `note`.

    Raises
    ------
    Problem : nothing is half done, it is not safe so, or it is not isolated and proved dead under one's own lock.
    """
    with transaction.atomic():
        standing = _held(loop_pk, given["choice"])
        loop = standing.loop
        known = FitLeft.objects.filter(pk=given["id"]).first()
        if known is not None:
            if (known.loop_id, known.leaving) != (loop.pk, given["leaving"]):
                raise Problem(409, "entry_differs", path="id")
            return known
        ways = ways_to_leave(standing.steps, standing.record, standing.found, standing.wanted)
        way = next((one for one in ways if one.leaving.value == given["leaving"]), None)
        if way is None:
            raise Problem(422, "nothing_half_done", path="")
        words = FitWords(standing)
        reasons = [words.wiring(finding) for finding in way.against]
        if not reasons:
            reasons = [
                words.finding(finding, None)
                for finding in left_shortfalls(standing, Leaving(given["leaving"]), places_here(standing, who))
            ]
        if reasons:
            raise Problem(422, "not_safe_so", path="leaving", extra={"reasons": reasons}, reason=reasons[0]["text"])
        if way.leaving is Leaving.RESTORED:
            _restore(who, standing)
        last = FitMark.objects.filter(loop=loop).order_by("-number").first()
        row = FitLeft.objects.create(
            pk=given["id"],
            loop=loop,
            choice=standing.choice,
            leaving=way.leaving.value,
            caps=list(way.caps),
            note=given["note"].strip(),
            after=0 if last is None else last.number,
            by=who,
        )
        trail.record(who, "left safe", loop, after={"leaving": row.leaving, "caps": row.caps, "note": row.note})
        update_loop(loop)
    return row


def left_shortfalls(standing: Standing, leaving: Leaving, here: Mapping[str, Here]) -> list[Finding]:
    """What stands against leaving it so: cores are capped or put back only where it is proved dead."""
    found: list[Finding] = []
    for place in gates.parted_places(standing.steps, standing.record):
        found += isolation.cover_shortfalls(here[place].cover)
        if leaving is not Leaving.LOCKED and not found:
            found += isolation.proof_shortfalls(here[place].proof, here[place].bench)
    return found


def _restore(who: User, standing: Standing) -> None:
    """Every mark of what was done is taken back, and another way may be chosen."""
    number = _next_number(standing.loop)
    reason = FitWords(standing).restored
    for step in reversed(standing.steps):
        mark = standing.marks.get(step.key)
        if mark is None or mark.outcome == Outcome.OPEN or step.act in (Act.SAFE, Act.PHOTOGRAPH):
            continue
        FitMark.objects.create(
            number=number,
            loop=standing.loop,
            choice=standing.choice,
            step=step.key,
            outcome="open",
            reason=reason,
            by=who,
        )
        number += 1
    standing.choice.begun_at = None
    standing.choice.save(update_fields=("begun_at",))
    now = standing_of(standing.loop)
    for step in standing.steps:
        if now is not None:
            _mirror(now, step, who)


def check_kit(who: User, loop_pk: Any, given: Json) -> KitCheck:
    """Say what the control's box held; the same entry twice is one.

    Parameters
    ----------
    given : `id`, `part`, `found`.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = KitCheck.objects.filter(pk=given["id"]).first()
        if known is not None:
            if known.loop_id != loop.pk or known.found != given["found"]:
                raise Problem(409, "entry_differs", path="id")
            return known
        row = KitCheck.objects.create(pk=given["id"], loop=loop, part=given["part"], found=given["found"], by=who)
        trail.record(who, "kit checked", loop, after={"part": row.part, "found": row.found})
    return row
