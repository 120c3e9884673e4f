"""What was found and done at the boxes of a loop, for paper: survey, isolations with locks, proofs, steps, values."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from ember_core.survey.document import read_box
from loops.models import Loop, MeasuredValue
from survey.models import FIRST_JUNCTION, FIRST_POINT, Isolation, Proof, StepMark, Survey, TakenReading
from survey.services.answers import box_answer, judged, reading_answer
from survey.services.documents import reading_data
from survey.services.marking import overrides_of
from survey.services.safety import isolation_answer, name_of, proof_answer
from survey.services.words import Words
from wording.moments import in_zone, minute_of, zone_word
from wording.quantities import engineering
from wording.texts import catalogue, fill

Json = dict[str, Any]
_UNITS = {"lamp_v": "V", "line_i": "A", "period": "s", "start_supply_v": "V"}


def override_lines(loop: Loop, zone: str | None = None) -> list[str]:
    """Every step that was marked against a gate, as a sentence: it stands on every paper of the loop.

    Parameters
    ----------
    zone : in whose time; None for that of the site.
    """
    words = Words(loop.site.region)
    texts = catalogue("survey")["papers"]
    with in_zone(loop.site.zone if zone is None else zone):
        return [
            fill(
                texts["override"],
                {
                    "step": words.text("steps", mark.step),
                    "who": name_of(mark.by),
                    "at": minute_of(mark.at),
                    "zone": zone_word(),
                    "reason": mark.override_reason,
                },
            )
            for mark in overrides_of(loop)
        ]


def record_pages(loop: Loop, who: User) -> Json:
    """Everything the record pages of a loop show; empty lists where nothing was recorded."""
    proved = set(Proof.objects.filter(loop=loop).values_list("place", flat=True))
    # A luminaire is on paper once it was proved dead.
    boxes = [_box(loop, row) for row in Survey.objects.filter(loop=loop) if row.is_box or row.place in proved]
    isolations = (
        Isolation.objects.filter(loop=loop)
        .select_related("loop", "opened_by", "closed_by")
        .prefetch_related("circuits", "locks__person", "locks__off_by", "locks__loop")
        .order_by("opened_at")
    )
    return {
        "boxes": boxes,
        "isolations": [isolation_answer(row, who) for row in isolations],
        "overrides": override_lines(loop),
        "measured": _measured(loop),
        "is_simulated": any(box["is_simulated"] for box in boxes),
        "photos": loop.photos.count(),
    }


def _box(loop: Loop, survey: Survey) -> Json:
    box = read_box(survey.box)
    words = Words(loop.site.region, box)
    rows = list(TakenReading.objects.filter(loop=loop, place=survey.place).select_related("by"))
    judgement = box_answer(
        judged(survey, loop, [reading_data(row) for row in rows if not row.struck_reason]), box, words
    )
    roles = {entry["conductor"]: entry for entry in judgement["conductors"]}
    proofs = (
        Proof.objects.filter(loop=loop, place=survey.place)
        .select_related("by")
        .prefetch_related("events__by")
        .order_by("at")
    )
    readings = [reading_answer(row, words, box) for row in rows]
    proved = [proof_answer(row, words) for row in proofs]
    marks = StepMark.objects.filter(loop=loop, place=survey.place).select_related("by")
    return {
        "place": survey.place,
        "gang": survey.place - FIRST_POINT + 1 if FIRST_POINT <= survey.place < FIRST_JUNCTION else None,
        "junction": survey.place - FIRST_JUNCTION + 1 if survey.place >= FIRST_JUNCTION else None,
        "is_box": survey.is_box,
        "name": survey.name,
        "practice": words.text("practices", survey.practice) if survey.practice else "",
        "travellers_m": survey.travellers_m,
        "neutral": judgement["neutral"],
        "earth": judgement["earth"],
        "conductors": [
            {
                "id": conductor.id,
                "colour": words.text("colours", conductor.sleeve or conductor.colour)
                if conductor.sleeve or conductor.colour
                else "",
                "end": words.text("terminals", conductor.terminal.value),
                "is_seen": conductor.is_seen,
                "role": roles[conductor.id]["text"],
                "is_open": roles[conductor.id]["certainty"] == "open",
                "certainty": words.text("certainty", roles[conductor.id]["certainty"]),
                "label": words.text("roles", conductor.label.value) if conductor.label else "",
            }
            for conductor in box.conductors
        ],
        "findings": [entry["text"] for entry in judgement["findings"] if entry["severity"] != "info" and survey.is_box],
        "readings": readings,
        "proofs": proved,
        "steps": [
            {
                "text": words.text("steps", mark.step),
                "is_done": mark.is_done,
                "at": mark.at,
                "by": name_of(mark.by),
                "reason": mark.override_reason,
            }
            for mark in marks
        ],
        "is_simulated": any(entry["is_simulated"] for entry in readings)
        or any(event["is_simulated"] for proof in proved for event in proof["events"]),
    }


def _measured(loop: Loop) -> list[Json]:
    kinds = catalogue("survey")["measured"]
    rows = MeasuredValue.objects.filter(gang__loop=loop).select_related("gang", "by")
    return [
        {
            "gang": row.gang.position,
            "what": kinds[row.data["kind"]],
            "value": _seen(row.data) or engineering(row.data["value"], _UNITS.get(row.data["kind"], "1")),
            "input_r": engineering(row.data["meter_r_ohm"], "Ω") if row.data.get("meter_r_ohm") else "",
            "meter": row.meter,
            "at": row.made_at or row.at,
            "by": name_of(row.by),
            "struck_reason": row.struck_reason,
        }
        for row in rows
    ]


def _seen(data: Json) -> str:
    """What was seen, in words; nothing where a figure was read."""
    return str(catalogue("survey")["seen"].get(data["seen"], data["seen"])) if data.get("seen") else ""
