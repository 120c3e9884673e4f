"""Marking the steps at a box: each gate says what is missing; an override carries a reason and a name for good."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from common.problems import Problem
from ember_core.findings import Severity
from ember_core.survey import isolation as rules
from loops.models import Loop
from survey.models import Proof, StepMark, Survey
from survey.services.answers import judged
from survey.services.covering import (
    bench_of,
    circuits_of,
    core_proof,
    cover_of,
    hold_power,
    newest_proof,
    open_isolations,
)
from survey.services.documents import box_of, reading_data, standing, survey_of
from survey.services.isolating import SHORTEST_REASON
from survey.services.safety import facts_of, last_marks
from survey.services.words import Words

Json = dict[str, Any]


def mark_step(who: User, loop_pk: Any, given: Json) -> StepMark:
    """Mark a step done, or take the mark back; the same entry twice is one mark.

    Parameters
    ----------
    given : `id`, `place`, `step`, `is_done`, `override_reason`.

    Raises
    ------
    Problem : a gate is closed; `reasons` say which, and whether they can be overridden.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = StepMark.objects.filter(entry=given["id"]).first()
        if known is not None:
            if (known.loop_id, known.step, known.is_done) != (loop.pk, given["step"], given["is_done"]):
                raise Problem(409, "entry_differs", path="id")
            return known
        wanted = rules.Step(given["step"])
        survey = survey_of(loop, given["place"])
        last = last_marks(loop, survey.place)
        proof = newest_proof(loop, survey.place)
        over: list[str] = []
        if given["is_done"]:
            hold_power(loop.site_id)
            over = _passed(who, loop, survey, wanted, last, proof, given["override_reason"].strip())
        else:
            _check_taken_back(loop, wanted, last)
        mark = StepMark.objects.create(
            entry=given["id"],
            loop=loop,
            place=survey.place,
            step=wanted.value,
            is_done=given["is_done"],
            by=who,
            override_reason=given["override_reason"].strip() if over else "",
            overridden=over,
            proof=proof,
        )
        action = "step done" if given["is_done"] else "step undone"
        told: Json = {"step": wanted.value, "place": survey.place}
        if over:
            action, told = "step done against a gate", {**told, "over": over, "reason": mark.override_reason}
        trail.record(who, action, loop, after=told)
    return mark


def _passed(
    who: User,
    loop: Loop,
    survey: Survey,
    wanted: rules.Step,
    last: dict[str, StepMark],
    proof: Proof | None,
    reason: str,
) -> list[str]:
    """Codes of the gates that were overridden; raises where one is closed."""
    cover = cover_of(circuits_of(survey, loop), open_isolations(loop.site_id), who)
    judgement = judged(survey, loop, [reading_data(row) for row in standing(loop, survey.place)])
    missing = rules.step_shortfalls(
        wanted,
        facts_of(loop, survey, judgement, last),
        None if proof is None else core_proof(proof),
        bench_of(loop, survey, cover),
    )
    if not missing:
        return []
    words = Words(loop.site.region, box_of(survey.box))
    reasons = [words.finding(finding, "shortfalls") for finding in missing]
    is_final = any(finding.severity is Severity.STOP for finding in missing)
    if is_final or not reason:
        raise Problem(
            422,
            "step_not_allowed",
            path="step",
            extra={"reasons": reasons, "may_override": not is_final},
            reason=reasons[0]["text"],
        )
    if len(reason) < SHORTEST_REASON:
        raise Problem(422, "reason_needed", path="override_reason", least=SHORTEST_REASON)
    return [finding.code for finding in missing]


def _check_taken_back(loop: Loop, wanted: rules.Step, last: dict[str, StepMark]) -> None:
    done = {rules.Step(step) for step, mark in last.items() if mark.is_done}
    if later := rules.later_done(wanted, done):
        words = Words(loop.site.region)
        raise Problem(422, "later_step_done", path="step", later=words.text("steps", later[-1].value))


def overrides_of(loop: Loop) -> list[StepMark]:
    """Every step of a loop that was marked against a gate, oldest first: they stand on every paper."""
    return [
        mark
        for mark in StepMark.objects.filter(loop=loop).exclude(override_reason="").select_related("by")
        if mark.is_done
    ]
