"""From stored documents to core objects, and back to JSON data."""

from __future__ import annotations

from typing import Any

from common.problems import Problem
from ember_core.errors import InputError, InputErrors
from ember_core.survey.box import Box
from ember_core.survey.document import read_box
from loops.models import Loop
from survey.models import MOST_BOXES, Survey, TakenReading

Json = dict[str, Any]


def survey_of(loop: Loop, place: int = 1) -> Survey:
    """The survey of one box of a loop; an unsaved empty one where there is none yet.

    Raises
    ------
    Problem : a loop has no such box.
    """
    found = Survey.objects.filter(loop=loop, place=place).first()
    # A luminaire is a place once a way through the loop needs it.
    if found is None and not 1 <= place <= MOST_BOXES:
        raise Problem(422, "no_such_box", path="place", most=MOST_BOXES)
    return found or Survey(loop=loop, place=place, version=0)


def box_of(document: Json) -> Box:
    """A box from its document; raises `InputErrors`."""
    try:
        return read_box(document)
    except InputError as error:
        raise InputErrors([InputError(error.code, path=f"box.{error.path}", **error.params)]) from error


def reading_data(row: TakenReading) -> Json:
    """The reading as core reads it."""
    return {**row.data, "id": str(row.pk)}


def standing(loop: Loop, place: int) -> list[TakenReading]:
    """The readings of a box that count: those not struck out."""
    return list(TakenReading.objects.filter(loop=loop, place=place, struck_reason=""))
