"""From stored documents to core objects, and back to JSON data."""

from __future__ import annotations

from typing import Any

from ember_core.errors import InputError, InputErrors
from ember_core.survey.box import Box
from ember_core.survey.document import read_box, read_reading
from ember_core.survey.isolation import DeadTest, Scope
from ember_core.survey.isolation import Isolation as CoreIsolation
from ember_core.survey.readings import Reading
from loops.models import Loop
from survey.models import Isolation, Survey, TakenReading

Json = dict[str, Any]


def survey_of(loop: Loop) -> Survey:
    """The survey of a loop; an unsaved empty one where there is none yet."""
    found = Survey.objects.filter(loop=loop).first()
    return found or Survey(loop=loop, version=0)


def box_of(document: Json) -> Box:
    """A box from its document; raises `InputErrors`."""
    try:
        return read_box(document)
    except InputError as error:
        raise InputErrors([InputError(error.code, path=f"box.{error.path}", **error.params)]) from error


def reading_data(row: TakenReading) -> Json:
    """The reading as core reads it."""
    return {**row.data, "id": str(row.pk)}


def standing_readings(loop: Loop) -> list[Reading]:
    """The readings that count: those not struck out."""
    rows = TakenReading.objects.filter(loop=loop, struck_reason="")
    return [read_reading(reading_data(row)) for row in rows]


def core_isolation(row: Isolation | None) -> CoreIsolation | None:
    """A stored isolation for core's rules."""
    if row is None:
        return None
    return CoreIsolation(
        scope=Scope(row.scope),
        breaker_count=row.circuits.count(),
        is_locked_off=row.is_locked_off,
        is_tester_proved_before=row.is_tester_proved_before,
        is_tester_proved_after=row.is_tester_proved_after,
        has_electronic_control=row.has_electronic_control,
        is_discharged=row.is_discharged,
        is_open=row.closed_at is None,
        tests=tuple(DeadTest(a=t["a"], b=t["b"], v=t["v"]) for t in row.tests),
    )


def open_isolation(loop: Loop) -> Isolation | None:
    """The isolation that is open now."""
    return Isolation.objects.filter(loop=loop, closed_at=None).first()
