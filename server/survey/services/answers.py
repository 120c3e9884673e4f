"""The survey as the API gives it: what is recorded, what core makes of it, and the words."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from django.utils import timezone

from accounts.models import User
from accounts.policy import RELEASE, may
from ember_core.survey.box import METAL_BOX, Box, Ways
from ember_core.survey.depth import DEFAULT_SPACERS_M, ControlBody, check_depth
from ember_core.survey.document import read_box, read_enquiry, read_reading
from ember_core.survey.judge import BoxJudgement, judge_box
from ember_core.survey.next_reading import Proposal
from ember_core.survey.presence import Presence
from ember_core.survey.readings import LOW_IMPEDANCE_OHM
from ember_core.survey.visit import prepare
from judging.services.words import caution_words
from loops.models import Loop
from sites.models import Circuit
from survey.models import Photo, Survey, TakenReading
from survey.services.covering import circuits_of
from survey.services.documents import reading_data, survey_of
from survey.services.safety import safety_answer, taken_answer
from survey.services.words import Words
from wording.quantities import local_number

Json = dict[str, Any]
CAUTIONS = ["isolate_and_prove_dead", "no_borrowed_neutral", "local_code"]


@lru_cache(maxsize=256)
def _judged(box: str, readings: str, v_rms: float, region: str) -> BoxJudgement:
    """Judging the same box by the same readings again costs nothing."""
    return judge_box(
        read_box(json.loads(box)),
        [read_reading(entry) for entry in json.loads(readings)],
        v_rms=v_rms,
        region=region,
    )


def judged(survey: Survey, loop: Loop, readings: list[Json]) -> BoxJudgement:
    """What core says of a stored box."""
    box = json.dumps(survey.box, sort_keys=True)
    return _judged(box, json.dumps(readings, sort_keys=True), loop.site.v_rms, loop.site.region)


def survey_answer(loop: Loop, place: int, who: User) -> Json:
    """Everything about one box of a loop, as it is for the person who asks."""
    survey = survey_of(loop, place)
    box = read_box(survey.box)
    words = Words(loop.site.region, box)
    rows = list(TakenReading.objects.filter(loop=loop, place=place).select_related("by"))
    judgement = judged(survey, loop, [reading_data(row) for row in rows if not row.struck_reason])
    circuits = circuits_of(survey, loop)
    return {
        "loop": str(loop.pk),
        "place": place,
        "name": survey.name,
        "boxes": boxes_of(loop),
        "version": survey.version,
        "enquiry": survey.enquiry,
        "visit": visit_answer(survey_of(loop) if place > 1 else survey, loop),
        "box": survey.box,
        "practice": survey.practice,
        "control_body": survey.control_body,
        "spacers_m": survey.spacers_m,
        "travellers_m": survey.travellers_m,
        "circuits": [_circuit(circuit) for circuit in circuits],
        "judgement": box_answer(judgement, box, words),
        "depth": depth_answer(survey, box, loop, words),
        "readings": [reading_answer(row, words, box) for row in rows],
        **safety_answer(loop, survey, circuits, judgement, words, who),
        "photos": [_photo(photo) for photo in Photo.objects.filter(loop=loop, place=place).select_related("by")],
        "cautions": caution_words(CAUTIONS, loop.site.region),
        "may_release": may(who, RELEASE),
        "answered_at": timezone.now(),
    }


def boxes_of(loop: Loop) -> list[Json]:
    """The boxes of a loop: the first always, the others once they are begun; and the next where one is likely."""
    found = {row.place: row for row in Survey.boxes.filter(loop=loop)}
    last = max(found, default=1)
    first = found.get(1)
    ways = first.box.get("gangs", []) if first else []
    if any(way != Ways.ONE_WAY for way in ways) or (first and first.enquiry.get("is_switched_elsewhere")):
        last = max(last, 2)
    return [
        {
            "place": place,
            "name": found[place].name if place in found else "",
            "is_begun": place in found,
            "is_known": place in found and found[place].is_known,
            "travellers_m": found[place].travellers_m if place in found else None,
        }
        for place in range(1, last + 1)
    ]


def _circuit(circuit: Circuit) -> Json:
    return {
        "id": str(circuit.pk),
        "breaker": circuit.breaker,
        "label_as_found": circuit.label_as_found,
        "label_now": circuit.label_now,
        "feeds": circuit.feeds,
    }


def visit_answer(survey: Survey, loop: Loop) -> Json:
    """The pre-visit sheet."""
    words = Words(loop.site.region)
    sheet = prepare(read_enquiry(survey.enquiry), loop.site.region)
    return {
        "hint": words.finding(sheet.hint),
        "ask": [{"code": code, "text": words.text("ask", code)} for code in sheet.ask],
        "bring": [{"code": code, "text": words.text("bring", code)} for code in sheet.bring],
        "notes": [words.finding(note) for note in sheet.notes],
    }


def box_answer(judgement: BoxJudgement, box: Box, words: Words) -> Json:
    """Roles, verdicts, findings and the next readings in words."""
    return {
        "is_known": judgement.is_known,
        "conductors": [
            {
                "conductor": entry.conductor,
                "role": entry.role.value,
                "gang": entry.gang,
                "text": words.role(entry.role.value, entry.gang),
                "share_ratio": entry.share_ratio,
                "certainty": entry.certainty.value,
                "is_read": entry.is_read,
                "others": [
                    {"text": words.role(role.value, gang), "share_ratio": share} for role, gang, share in entry.others
                ],
            }
            for entry in judgement.conductors
            if entry.conductor != METAL_BOX
        ],
        "sides": [None if side is None else words.text("sides", side.value) for side in judgement.sides],
        "neutral": _presence(judgement.neutral, words, "neutral"),
        "earth": _presence(judgement.earth, words, "earth"),
        "opens_routes": judgement.neutral.verdict is Presence.PRESENT,
        "findings": [words.finding(finding) for finding in judgement.findings],
        "next_dead": _proposal(judgement.next_dead, box, words),
        "next_live": _proposal(judgement.next_live, box, words),
    }


def _presence(found: Any, words: Words, what: str) -> Json:
    return {
        "verdict": found.verdict.value,
        "word": words.text("presence", f"{what}_{found.verdict.value}"),
        "text": words.text("reasons", found.reason),
        "conductors": list(found.conductors),
    }


def _why(proposal: Proposal, words: Words) -> str:
    names = [words.end(name) for name in proposal.settles]
    code = f"{proposal.why.value}_{'two' if len(names) > 1 else 'one'}"
    return words.text("propose", code, {"first": names[0], "second": names[-1]}) if names else ""


def _proposal(proposal: Proposal | None, box: Box, words: Words) -> Json | None:
    if proposal is None:
        return None
    reading = proposal.reading
    return {
        "a": reading.a,
        "b": reading.b,
        "supply_on": reading.supply_on,
        "meter_r_ohm": reading.meter_r_ohm,
        "switches": {name: position.value for name, position in reading.switches.items()},
        "why": proposal.why.value,
        "why_text": _why(proposal, words),
        "gain_ratio": min(1.0, proposal.gain_bits / proposal.doubt_bits) if proposal.doubt_bits > 0.0 else 0.0,
        "text": words.text(
            "propose",
            "dead" if proposal.is_dead_method else "live",
            {"from_end": words.end(reading.a), "to_end": words.end(reading.b), "at": words.switches(reading, box)},
        ),
    }


def depth_answer(survey: Survey, box: Box, loop: Loop, words: Words) -> Json | None:
    """The depth check; None until the control's body is known."""
    if not survey.control_body:
        return None
    found = check_depth(box, ControlBody(**survey.control_body), tuple(survey.spacers_m or DEFAULT_SPACERS_M))
    key = found.fit.value
    return {
        "fit": key,
        "text": words.text("fits", key, {"height": f"{(found.spacer_m or 0.0) * 1e3:.0f} mm"}),
        "needed_m": found.needed_m,
        "available_m": found.available_m,
        "spare_m": found.spare_m,
        "spacer_m": found.spacer_m,
        "conductor_volume_m3": found.conductor_volume_m3,
        "free_volume_m3": found.free_volume_m3,
        "missing": list(found.missing),
        "rule": words.text("box_rules", loop.site.region),
    }


def reading_answer(row: TakenReading, words: Words, box: Box) -> Json:
    data = row.data
    if data.get("v") is not None:
        shown = local_number(f"{data['v']:.1f} V")
    elif data.get("is_open"):
        shown = words.text("values", "open")
    else:
        shown = local_number(f"{data['r_ohm']:.2f} Ω") if data["r_ohm"] < 10 else f"{data['r_ohm']:.0f} Ω"
    return {
        "id": str(row.pk),
        "a": data["a"],
        "b": data["b"],
        "from_text": words.end(data["a"]),
        "to_text": words.end(data["b"]),
        "value_text": shown,
        "at_text": words.switches(read_reading(reading_data(row)), box),
        "is_low_impedance": data.get("meter_r_ohm") is not None and data["meter_r_ohm"] < LOW_IMPEDANCE_OHM,
        "supply_on": data.get("supply_on", True),
        "struck_reason": row.struck_reason,
        **taken_answer(row),
    }


def _photo(photo: Photo) -> Json:
    return {
        "id": str(photo.pk),
        "moment": photo.moment,
        "caption": photo.caption,
        "url": f"/api/v1/photos/{photo.pk}/image.jpg",
        "width_px": photo.width_px,
        "height_px": photo.height_px,
        "at": photo.at.isoformat(),
        "by": photo.by.display_name if photo.by else "",
    }
