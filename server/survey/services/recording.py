"""Recording at the box: the survey documents, readings, steps. Each in one transaction with its audit entry."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from django.db import IntegrityError, transaction

from accounts.models import User
from audit import trail
from ember_core.errors import InputError, InputErrors
from ember_core.quantities import quantity_of
from ember_core.survey import isolation as rules
from ember_core.survey.box import METAL_BOX, Box
from ember_core.survey.depth import ControlBody
from ember_core.survey.document import read_enquiry, read_reading
from ember_core.survey.practices import BY_ID
from ember_core.survey.readings import Reading, check
from ember_server.problems import Problem, StaleVersion
from loops.models import Loop
from loops.services.keep_gang import update_loop
from sites.models import Circuit
from survey.models import Origin, StepMark, Survey, TakenReading
from survey.services.answers import judged
from survey.services.documents import box_of, core_isolation, open_isolation, reading_data, survey_of
from survey.services.words import Words

Json = dict[str, Any]
LOWEST_SPACER_M, HIGHEST_SPACER_M = 0.002, 0.06


def save_survey(who: User, loop_pk: Any, version: int, given: Json) -> Survey:
    """Replace the documents of a survey.

    Parameters
    ----------
    version : the version that the caller saw; 0 where there was none.
    given : `enquiry`, `box`, `practice`, `control_body`, `spacers_m`, `other_circuits`.

    Raises
    ------
    StaleVersion : someone wrote meanwhile. InputErrors, Problem : something is wrong; nothing is changed.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().select_related("site", "circuit").get(pk=loop_pk)
        survey = survey_of(loop)
        before = survey_data(survey)
        if survey.version != version:
            raise StaleVersion(yours=version, current_version=survey.version, current=before)
        box = box_of(given["box"])
        _check_enquiry(given["enquiry"])
        _check_kept_conductors(loop, box)
        _check_body(given["control_body"], given["spacers_m"])
        if given["practice"] and given["practice"] not in BY_ID:
            raise Problem(422, "unknown_kind", path="practice", value=given["practice"], known=", ".join(BY_ID))
        others = _circuits(loop, given["other_circuits"])
        is_new = survey.version == 0
        survey.enquiry, survey.box, survey.practice = given["enquiry"], given["box"], given["practice"]
        survey.control_body, survey.spacers_m = given["control_body"], given["spacers_m"]
        survey.version = version + 1
        survey.save(force_insert=is_new)
        survey.other_circuits.set(others)
        renew(survey, loop)
        trail.record(who, "surveyed", loop, before=before, after=survey_data(survey))
    return survey


def survey_data(survey: Survey) -> Json:
    """What of a survey is edited as one document."""
    return {
        "enquiry": survey.enquiry,
        "box": survey.box,
        "practice": survey.practice,
        "control_body": survey.control_body,
        "spacers_m": survey.spacers_m,
        "other_circuits": [str(c.pk) for c in survey.other_circuits.all()] if survey.version else [],
        "version": survey.version,
    }


def _check_enquiry(enquiry: Json) -> None:
    try:
        read_enquiry(enquiry)
    except InputError as error:
        path = error.path if error.path.startswith("enquiry") else f"enquiry.{error.path}"
        raise InputErrors([InputError(error.code, path=path, **error.params)]) from error


def _check_kept_conductors(loop: Loop, box: Box) -> None:
    """A conductor with readings stays: strike its readings out first."""
    names = {conductor.id for conductor in box.conductors} | {METAL_BOX}
    for row in TakenReading.objects.filter(loop=loop, struck_reason=""):
        for end in (row.data["a"], row.data["b"]):
            if not end.startswith("known_") and end not in names:
                raise Problem(422, "conductor_has_readings", path="box.conductors", conductor=end)
        try:
            check(read_reading(reading_data(row)), box, loop.site.v_rms)
        except InputError as error:
            raise Problem(422, "readings_no_longer_fit", path="box.gangs", conductor=row.data["a"]) from error


def _check_body(body: Json | None, spacers: list[float]) -> None:
    if body is not None:
        specs = {spec.name: quantity_of(spec) for spec in fields(ControlBody)}
        for name in body:
            if name not in specs:
                raise Problem(422, "unknown_key", path=f"control_body.{name}", key=name, near="")
        for name, quantity in specs.items():
            if body.get(name) is None:
                raise Problem(422, "missing", path=f"control_body.{name}", key=name.replace("_", " "))
            if quantity is not None:
                try:
                    quantity.check(body[name], f"control_body.{name}")
                except InputError as error:
                    raise InputErrors([error]) from error
    for k, spacer in enumerate(spacers):
        if not LOWEST_SPACER_M <= spacer <= HIGHEST_SPACER_M:
            raise Problem(
                422,
                "out_of_bounds",
                path=f"spacers_m[{k}]",
                value=spacer,
                low=LOWEST_SPACER_M,
                high=HIGHEST_SPACER_M,
                unit="m",
            )


def _circuits(loop: Loop, wanted: list[Any]) -> list[Circuit]:
    found = list(Circuit.objects.filter(pk__in=wanted))
    if len(found) != len(set(wanted)) or any(circuit.site_id != loop.site_id for circuit in found):
        raise Problem(422, "circuit_of_other_site", path="other_circuits")
    return found


def renew(survey: Survey, loop: Loop) -> None:
    """Whether every conductor is known, kept for the round; and the loop's next step."""
    rows = TakenReading.objects.filter(loop=loop, struck_reason="")
    survey.is_known = judged(survey, loop, [reading_data(row) for row in rows]).is_known
    survey.save(update_fields=("is_known",))
    update_loop(loop)


def take_reading(who: User, loop_pk: Any, reading_pk: Any, data: Json, origin: str) -> TakenReading:
    """Keep one reading; the same identity twice is the same reading.

    Raises
    ------
    InputErrors : the box or the supply cannot have it. Problem : it contradicts the state of isolation.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().select_related("site").get(pk=loop_pk)
        known = TakenReading.objects.filter(pk=reading_pk).first()
        if known is not None:
            if known.loop_id != loop.pk or known.data != data:
                raise Problem(409, "reading_differs", path="id")
            return known
        survey = survey_of(loop)
        reading = _checked(data, survey, loop)
        _check_isolation(reading, loop)
        try:
            row = TakenReading.objects.create(
                pk=reading_pk, loop=loop, data=data, by=who, origin=Origin(origin), struck_reason=""
            )
        except IntegrityError as error:
            raise Problem(409, "reading_differs", path="id") from error
        trail.record(who, "read", loop, after={**data, "id": str(reading_pk), "origin": origin})
        renew(survey, loop)
    return row


def _checked(data: Json, survey: Survey, loop: Loop) -> Reading:
    try:
        reading = read_reading({**data, "id": "new"})
        check(reading, box_of(survey.box), loop.site.v_rms)
    except InputError as error:
        raise InputErrors([error]) from error
    return reading


def _check_isolation(reading: Reading, loop: Loop) -> None:
    """Volts to identify are taken with the supply on, continuity with it proved off: the record must agree."""
    isolated = open_isolation(loop) is not None
    if reading.is_voltage and reading.supply_on and isolated:
        raise Problem(422, "reading_while_isolated", path="v")
    if not reading.supply_on and not isolated:
        raise Problem(422, "continuity_not_isolated", path="supply_on")


def strike_reading(who: User, reading_pk: Any, reason: str) -> TakenReading:
    """Strike a reading out; it stays on record with the reason."""
    with transaction.atomic():
        row = TakenReading.objects.select_for_update().select_related("loop__site").get(pk=reading_pk)
        if row.struck_reason:
            raise Problem(409, "already_struck", path="reason")
        row.struck_reason = reason
        row.save(update_fields=("struck_reason",))
        trail.record(who, "struck", row.loop, after={"reading": str(row.pk), "reason": reason})
        renew(survey_of(row.loop), row.loop)
    return row


def mark_step(who: User, loop_pk: Any, step: str, is_done: bool) -> StepMark:
    """Mark a step done, or take the mark back.

    Raises
    ------
    Problem : the isolation on record does not allow it; `errors` say why.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().select_related("site").get(pk=loop_pk)
        wanted = rules.Step(step)
        survey = survey_of(loop)
        box = box_of(survey.box)
        now = open_isolation(loop)
        if is_done:
            names = [conductor.id for conductor in box.conductors]
            missing = rules.shortfalls(core_isolation(now), names, rules.STEP_NEEDS[wanted])
            if missing:
                words = Words(loop.site.region, box)
                reasons = [words.finding(finding, "shortfalls") for finding in missing]
                raise Problem(
                    422, "step_not_allowed", path="step", extra={"reasons": reasons}, reason=reasons[0]["text"]
                )
            if wanted is rules.Step.PHOTOGRAPH and not loop.photos.filter(moment="before").exists():
                raise Problem(422, "no_photo_yet", path="step")
            if wanted is rules.Step.DISCONNECT and not _photographed(loop):
                raise Problem(422, "photograph_first", path="step")
        mark = StepMark.objects.create(loop=loop, step=wanted.value, is_done=is_done, by=who, isolation=now)
        trail.record(who, "step done" if is_done else "step undone", loop, after={"step": wanted.value})
    return mark


def _photographed(loop: Loop) -> bool:
    last = StepMark.objects.filter(loop=loop, step=rules.Step.PHOTOGRAPH.value).last()
    return bool(last and last.is_done)
