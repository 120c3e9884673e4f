"""Recording at the box: the survey documents, readings, steps. Each in one transaction with its audit entry."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from audit.striking import strike
from bench.services.keep_gang import update_loop
from common.problems import Problem, StaleVersion
from ember_core.errors import InputError, InputErrors
from ember_core.quantities import quantity_of
from ember_core.survey import isolation as rules
from ember_core.survey.box import METAL_BOX, Box
from ember_core.survey.depth import NO_SPACER_M, ControlBody
from ember_core.survey.document import read_enquiry, read_reading
from ember_core.survey.practices import BY_ID
from ember_core.survey.readings import Reading, check
from loops.models import Loop
from sites.models import Circuit
from survey.models import Proof, Survey, TakenReading
from survey.services.answers import judged
from survey.services.covering import (
    bench_of,
    circuits_of,
    core_proof,
    cover_of,
    end_proofs,
    hold_power,
    newest_proof,
    open_isolations,
)
from survey.services.documents import box_of, reading_data, standing, survey_of
from survey.services.metering import taken_from
from survey.services.words import Words

Json = dict[str, Any]
LOWEST_SPACER_M, HIGHEST_SPACER_M = 0.002, 0.06
LEAST_TRAVELLERS_M, MOST_TRAVELLERS_M = 0.2, 200.0
# What is edited as one document, and checked by core where it is more than a name.
DOCUMENTS = ("name", "enquiry", "box", "practice", "control_body", "spacers_m", "travellers_m")


def save_survey(who: User, loop_pk: Any, version: int, given: Json) -> Survey:
    """Replace the documents of one box of a loop.

    Parameters
    ----------
    version : the version that the caller saw; 0 where there was none. The same documents sent twice are one save.
    given : `place`, `name`, `enquiry`, `box`, `practice`, `control_body`, `spacers_m`, `travellers_m`,
        `other_circuits`.

    Raises
    ------
    StaleVersion : someone wrote meanwhile. InputErrors, Problem : something is wrong; nothing is changed.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        survey = survey_of(loop, given["place"])
        before = survey_data(survey)
        if survey.version == version + 1 and _is_same(before, given):
            return survey
        if survey.version != version:
            raise StaleVersion(yours=version, current_version=survey.version, current=before)
        box = box_of(given["box"])
        _check_enquiry(given["enquiry"])
        _check_kept_conductors(loop, given["place"], box)
        _check_body(given["control_body"], given["spacers_m"])
        _check_travellers(given["travellers_m"])
        if given["practice"] and given["practice"] not in BY_ID:
            raise Problem(422, "unknown_kind", path="practice", value=given["practice"], known=", ".join(BY_ID))
        others = _circuits(loop, given["other_circuits"])
        is_new = survey.version == 0
        for name in DOCUMENTS:
            setattr(survey, name, given[name])
        survey.version = version + 1
        survey.save(force_insert=is_new)
        survey.other_circuits.set(others)
        _end_what_it_changes(loop, before, survey_data(survey), given["place"])
        renew(survey, loop)
        trail.record(who, "surveyed", loop, before=before, after=survey_data(survey))
    return survey


def _is_same(stored: Json, given: Json) -> bool:
    """What is sent is what is stored."""
    others = sorted(str(pk) for pk in given["other_circuits"])
    return all(stored[name] == given[name] for name in DOCUMENTS) and sorted(stored["other_circuits"]) == others


def _end_what_it_changes(loop: Loop, before: Json, after: Json, place: int) -> None:
    """A proof of dead was of the conductors and breakers that were known when it was taken."""

    def names(document: Json) -> set[str]:
        return {conductor["id"] for conductor in document["box"].get("conductors", [])}

    if names(after) - names(before):
        end_proofs(loop.pk, "new_conductor", place)
    if set(after["other_circuits"]) != set(before["other_circuits"]):
        end_proofs(loop.pk, "lock_or_breaker_changed", place)


def survey_data(survey: Survey) -> Json:
    """What of a survey is edited as one document."""
    return {
        **{name: getattr(survey, name) for name in DOCUMENTS},
        "place": survey.place,
        "other_circuits": [str(c.pk) for c in survey.other_circuits.all()] if survey.version else [],
        "version": survey.version,
    }


def _check_travellers(length_m: float | None) -> None:
    if length_m is not None and not LEAST_TRAVELLERS_M <= length_m <= MOST_TRAVELLERS_M:
        raise Problem(
            422,
            "out_of_bounds",
            path="travellers_m",
            value=length_m,
            low=LEAST_TRAVELLERS_M,
            high=MOST_TRAVELLERS_M,
            unit="m",
        )


def _check_enquiry(enquiry: Json) -> None:
    try:
        read_enquiry(enquiry)
    except InputError as error:
        path = error.path if error.path.startswith("enquiry") else f"enquiry.{error.path}"
        raise InputErrors([InputError(error.code, path=path, **error.params)]) from error


def _check_kept_conductors(loop: Loop, place: int, box: Box) -> None:
    """A conductor with readings stays: strike its readings out first."""
    names = {conductor.id for conductor in box.conductors} | {METAL_BOX}
    for row in standing(loop, place):
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
        if spacer != NO_SPACER_M and not LOWEST_SPACER_M <= spacer <= HIGHEST_SPACER_M:
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
    rows = standing(loop, survey.place)
    survey.is_known = judged(survey, loop, [reading_data(row) for row in rows]).is_known
    if survey.version:
        survey.save(update_fields=("is_known",))
    update_loop(loop)


def take_reading(who: User, loop_pk: Any, given: Json) -> TakenReading:
    """Keep one reading; the same identity twice is the same reading.

    Parameters
    ----------
    given : `id`, `place`, `meter_value` (what a meter showed, or None), `made_at`, and the reading itself.

    Raises
    ------
    InputErrors : the box or the supply cannot have it. Problem : it contradicts the state of isolation.
    """
    data = {name: value for name, value in given.items() if name not in ("id", "place", "meter_value", "made_at")}
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = TakenReading.objects.filter(pk=given["id"]).first()
        if known is not None:
            if (known.loop_id, known.place, known.data) != (loop.pk, given["place"], data):
                raise Problem(409, "entry_differs", path="id")
            return known
        survey = survey_of(loop, given["place"])
        reading = _checked(data, survey, loop)
        hold_power(loop.site_id)
        _check_isolation(who, reading, loop, survey)
        shown = {"v": reading.v, "r_ohm": reading.r_ohm, "is_open": reading.is_open}
        origin = taken_from(who, loop, given, shown)
        row = TakenReading.objects.create(
            pk=given["id"], loop=loop, place=given["place"], data=data, by=who, made_at=given["made_at"], **origin
        )
        trail.record(who, "read", loop, after={**data, "id": str(row.pk), "origin": row.origin})
        renew(survey, loop)
    return row


def _checked(data: Json, survey: Survey, loop: Loop) -> Reading:
    try:
        reading = read_reading({**data, "id": "new"})
        check(reading, box_of(survey.box), loop.site.v_rms)
    except InputError as error:
        raise InputErrors([error]) from error
    return reading


def _check_isolation(who: User, reading: Reading, loop: Loop, survey: Survey) -> None:
    """Volts to identify are taken with the supply on, continuity with it proved dead: the record must agree."""
    cover = cover_of(circuits_of(survey, loop), open_isolations(loop.site_id), who)
    if reading.is_voltage and reading.supply_on and cover.touches:
        raise Problem(422, "reading_while_isolated", path="v")
    if reading.supply_on:
        return
    missing = rules.cover_shortfalls(cover) or rules.proof_shortfalls(
        _core(newest_proof(loop, survey.place)), bench_of(loop, survey, cover)
    )
    if missing:
        reasons = [Words(loop.site.region, box_of(survey.box)).finding(found, "shortfalls") for found in missing]
        raise Problem(
            422, "continuity_not_isolated", path="supply_on", extra={"reasons": reasons}, reason=reasons[0]["text"]
        )


def _core(row: Proof | None) -> rules.Proof | None:
    return None if row is None else core_proof(row)


def strike_reading(who: User, reading_pk: Any, reason: str) -> TakenReading:
    """Strike a reading out; it stays on record with the reason."""
    with transaction.atomic():
        # Of two who strike one each, the second sees what is left of both.
        loop = Loop.objects.select_for_update().get(readings__pk=reading_pk)
        row = TakenReading.objects.select_for_update().get(pk=reading_pk)
        if strike(who, row, reason, loop, "reading"):
            renew(survey_of(loop, row.place), loop)
    return row
