"""The fitting of a loop as the API gives it: steps with their gates, marks, what may be left, the kit, minutes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from accounts.models import User
from ember_core.fitting import gates
from ember_core.fitting.gates import Here
from ember_core.fitting.leaving import ways_to_leave
from ember_core.fitting.materials import kit_of
from ember_core.fitting.steps import Step
from ember_core.survey import isolation
from ember_core.times.minutes import said_minutes
from fitting.models import FitMark, KitCheck
from fitting.services.marking import left_shortfalls
from fitting.services.standing import Standing, gang_of_lamp, places_here, standing_of
from fitting.services.timing import actual_minutes
from fitting.services.words import FitWords
from judging.services.words import caution_words
from loops.documents import count_of
from loops.models import LampGroup, Loop
from survey.services.answers import CAUTIONS
from survey.services.safety import name_of
from wording.templatetags.wording import word
from wording.texts import fill
from work.models import RouteChoice
from work.services.chosen import Chosen, chosen_of
from work.services.mapping import line_answer, map_answer, torque_note
from work.services.points import make_points, number_of
from work.services.since import since
from work.services.words import RouteWords

Json = dict[str, Any]


def fit_answer(loop: Loop, who: User) -> Json:
    """Everything of the step; without a choice only that."""
    standing = standing_of(loop)
    if standing is None:
        return {
            "choice": None,
            "steps": [],
            "next": None,
            "places": [],
            "leaving": [],
            "left": None,
            "is_complete": False,
            "minutes": None,
            "actual": [],
            "kit": None,
            "map": None,
            "cautions": caution_words(CAUTIONS, loop.site.region),
            "earlier": 0,
        }
    # A way that was chosen before luminaires were places of their own.
    make_points(loop, standing.found, standing.wanted)
    words = FitWords(standing)
    record = standing.record
    here = places_here(standing, who)
    chosen = chosen_of(loop, standing.choice)
    lamps = _lamps(loop)
    following = gates.next_step(standing.steps, record)
    return {
        "choice": _choice(loop, standing.choice),
        "steps": [
            _step(step, standing, here, words, _note(step, standing, words, chosen, lamps)) for step in standing.steps
        ],
        "next": None if following is None else following.key,
        "places": [_place(place, one, words) for place, one in here.items()],
        "leaving": [
            _leaving(way, standing, words, here)
            for way in ways_to_leave(standing.steps, record, standing.found, standing.wanted)
        ],
        "left": _left(standing, words),
        "is_complete": standing.is_complete,
        "minutes": span(chosen),
        "actual": _actual(standing, words),
        "kit": _kit(loop, chosen, words),
        "map": map_answer(
            standing.found,
            standing.wanted,
            loop.site.region,
            names=words.route.names,
            torque_nm=None if chosen.hardware is None else chosen.hardware.torque_nm,
        ),
        "cautions": caution_words(CAUTIONS, loop.site.region),
        "earlier": FitMark.objects.filter(loop=loop).exclude(choice=standing.choice).count(),
    }


def span(chosen: Chosen) -> Json:
    """Minutes of the whole job, as they are told."""
    found = chosen.estimate
    return dict(zip(("likely", "within"), said_minutes(found.likely, found.within), strict=True))


def _choice(loop: Loop, row: RouteChoice) -> Json:
    titles = RouteWords("eu").texts["ways"]
    return {
        "id": row.pk,
        "number": row.number,
        "way": row.way,
        "title": titles[row.way]["title"],
        "label": row.label,
        "at": row.at,
        "by": row.by.display_name,
        "is_begun": row.begun_at is not None,
        **asdict(since(loop, row)),
    }


def _step(step: Step, standing: Standing, here: Mapping[str, Here], words: FitWords, note: str) -> Json:
    mark = standing.marks.get(step.key)
    record = standing.record
    is_settled = record.is_settled(step.key)
    missing = () if is_settled else gates.shortfalls(step, record, here)
    return {
        "key": step.key,
        "act": step.act.value,
        "stage": step.stage.value,
        "stage_text": words.texts["stages"][step.stage.value],
        "power": step.power.value,
        "place": step.place,
        "place_number": number_of(step.place) if step.place else 1,
        "place_text": words.place(step.place),
        **words.of(step),
        "note": note,
        "points": [] if step.line is None else list(step.line.points),
        "may_skip": step.may_skip,
        "after": list(step.after),
        "outcome": record.outcome.get(step.key, gates.Outcome.OPEN).value,
        "reason": "" if mark is None else mark.reason,
        "at": None if mark is None else mark.at,
        "by": "" if mark is None else name_of(mark.by),
        "missing": [words.finding(finding, step) for finding in missing],
    }


def _lamps(loop: Loop) -> dict[int, list[str]]:
    """The lamps on record, by the position of their gang."""
    found: dict[int, list[str]] = {}
    for group in LampGroup.objects.filter(gang__loop=loop).select_related("gang"):
        name = group.label or word("kinds", group.figures["kind"])
        found.setdefault(group.gang.position, []).append(f"{count_of(group.figures):g} × {name}")
    return found


def _note(step: Step, standing: Standing, words: FitWords, chosen: Chosen, lamps: Mapping[int, Sequence[str]]) -> str:
    """The lamps on record that are tried; the declared torque of the terminal that a line ends in."""
    if tried := lamps.get(gang_of_lamp(step)):
        return fill(words.texts["lamps_on_record"], {"lamps": ", ".join(tried)})
    torque = None if chosen.hardware is None else chosen.hardware.torque_nm
    return "" if step.line is None else torque_note(step.line, standing.wanted, words.route, torque)


def _place(place: str, here: Here, words: FitWords) -> Json:
    missing = isolation.cover_shortfalls(here.cover)
    state = isolation.state_of(here.proof, here.bench)
    return {
        "place": place,
        "number": number_of(place),
        "text": words.place(place),
        "is_off": here.cover.touches,
        "proof": state.value if state is not isolation.ProofState.PROVED or not missing else "not_yours",
        "missing": [words.finding(finding, None) for finding in missing],
    }


def _leaving(way: Any, standing: Standing, words: FitWords, here: Mapping[str, Here]) -> Json:
    texts = words.texts["leaving"][way.leaving.value]
    against = [words.wiring(finding) for finding in way.against]
    against = against or [words.finding(finding, None) for finding in left_shortfalls(standing, way.leaving, here)]
    return {
        "leaving": way.leaving.value,
        **texts,
        "caps": [words.route.point(point) for point in way.caps],
        "back": [line_answer(line, words.route)["text"] for line in way.back],
        "against": against,
    }


def _left(standing: Standing, words: FitWords) -> Json | None:
    left = standing.left
    if left is None:
        return None
    return {
        "leaving": left.leaving,
        "text": words.texts["left"][left.leaving],
        "caps": [words.route.point(point) for point in left.caps],
        "note": left.note,
        "at": left.at,
        "by": left.by.display_name,
    }


def _actual(standing: Standing, words: FitWords) -> list[Json]:
    return [
        {"task": task.value, "text": words.texts["tasks"][task.value], "minutes": round(minutes)}
        for task, minutes in actual_minutes(standing).items()
        if minutes >= 0.5
    ]


def _kit(loop: Loop, chosen: Chosen, words: FitWords) -> Json | None:
    if chosen.part is None or chosen.hardware is None:
        return None
    row = KitCheck.objects.filter(loop=loop, part=str(chosen.part.pk)).select_related("by").first()
    found: dict[str, bool] = {} if row is None else row.found
    return {
        "part": str(chosen.part.pk),
        "name": f"{chosen.part.maker} {chosen.part.name}",
        "items": [
            {"kit": item.value, "text": words.texts["kit"][item.value], "found": found.get(item.value)}
            for item in kit_of(chosen.hardware)
        ],
        "at": None if row is None else row.at,
        "by": "" if row is None else row.by.display_name,
    }
