"""Where the fitting of a loop stands, from its marks: for the step itself and for what has to wait for it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.db.models import Max

from accounts.models import User
from ember_core.fitting.gates import Here, Outcome, Record, parted_places
from ember_core.fitting.leaving import Leaving
from ember_core.fitting.steps import Act, Step, steps_of
from ember_core.routes.seats import Seats
from ember_core.survey.box import EarthFound, Material
from ember_core.wiring.drawing import Control
from fitting.models import FitLeft, FitMark
from loops.models import Loop, NextStep
from loops.services.seen import Seen
from survey.models import Isolation, Moment, Photo, Survey
from survey.services.covering import (
    bench_of,
    circuits_of,
    core_proof,
    cover_of,
    newest_proofs,
    open_isolations,
    touching,
)
from survey.services.documents import survey_of
from wording.texts import catalogue, fill
from work.models import RouteChoice
from work.services.answers import chosen_seats
from work.services.points import number_of
from work.services.since import since

Json = dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """The chosen way of a loop with its steps and marks.

    Parameters
    ----------
    marks : the newest of each step. last : number of the newest of all.
    left : how the loop was left half done; None where work went on since.
    """

    loop: Loop
    choice: RouteChoice
    found: Seats
    wanted: Seats
    steps: tuple[Step, ...]
    marks: Mapping[str, FitMark]
    last: int
    left: FitLeft | None

    @property
    def record(self) -> Record:
        """For core's gates."""
        return Record(
            outcome={key: Outcome(mark.outcome) for key, mark in self.marks.items()},
            at_s={key: made_s(mark) for key, mark in self.marks.items()},
        )

    def after(self, mark: FitMark) -> Standing:
        """Where it stands with one mark more, which is the newest of all: work went on since it was left."""
        return replace(self, marks={**self.marks, mark.step: mark}, last=mark.number, left=None)

    @property
    def is_complete(self) -> bool:
        """Every step is done or not needed."""
        record = self.record
        return bool(self.steps) and all(record.is_settled(step.key) for step in self.steps)


def made_s(mark: FitMark) -> float:
    """When a mark was made: on the device, never later than it arrived [s]."""
    return (min(mark.made_at, mark.at) if mark.made_at else mark.at).timestamp()


def standing_of(loop: Loop) -> Standing | None:
    """Where it stands; None while no way is chosen."""
    choice = RouteChoice.objects.filter(loop=loop).select_related("by").first()
    if choice is None:
        return None
    found, wanted = chosen_seats(choice)
    marks = list(FitMark.objects.filter(loop=loop, choice=choice).select_related("by"))
    last = marks[-1].number if marks else 0
    left = FitLeft.objects.filter(loop=loop, choice=choice).select_related("by").first()
    return Standing(
        loop=loop,
        choice=choice,
        found=found,
        wanted=wanted,
        steps=steps_of(found, wanted, metal=_metal(loop)),
        marks={mark.step: mark for mark in marks},
        last=last,
        left=left if left is not None and left.after == last else None,
    )


def standing_seen(seen: Seen) -> Standing | None:
    """The same, as a question to what was seen of a loop."""
    return standing_of(seen.loop)


def _metal(loop: Loop) -> list[str]:
    """Places whose box is metal, or is itself the earth."""
    found = []
    for survey in Survey.boxes.filter(loop=loop):
        is_metal = survey.box.get("material") == Material.METAL
        if is_metal or survey.box.get("earth_found") == EarthFound.METAL_BOX:
            found.append("box" if survey.place == 1 else f"box{survey.place}")
    return found


def places_here(standing: Standing, who: User | None) -> dict[str, Here]:
    """What keeps the power off each place of the work, for one person."""
    loop = standing.loop
    isolations = list(open_isolations(loop.site_id))
    photographed = _photographed(standing)
    found: dict[str, Here] = {}
    surveys = {row.place: row for row in Survey.objects.filter(loop=loop).prefetch_related("other_circuits")}
    numbers = {place: number_of(place) for place in dict.fromkeys(step.place for step in standing.steps if step.place)}
    proofs = newest_proofs(loop, numbers.values())
    for place, number in numbers.items():
        survey = surveys.get(number) or survey_of(loop, number)
        cover = cover_of(circuits_of(survey, loop, surveys.get(1)), isolations, who)
        proof = proofs.get(number)
        found[place] = Here(
            cover=cover,
            bench=bench_of(loop, survey, cover),
            proof=None if proof is None else core_proof(proof),
            has_photo=number in photographed,
        )
    return found


def _photographed(standing: Standing) -> set[int]:
    """Places of which there is a photograph from before this work; from before other work it shows another box."""
    photos = Photo.objects.filter(loop=standing.loop, moment=Moment.BEFORE)
    worked = FitMark.objects.filter(loop=standing.loop).exclude(choice=standing.choice).aggregate(Max("at"))["at__max"]
    if worked is not None:
        photos = photos.filter(at__gt=worked)
    return set(photos.values_list("place", flat=True))


def gang_of_lamp(step: Step) -> int:
    """The position of the gang whose lamps a step tries; 0 of any other step."""
    return int(step.lamp.removeprefix("lamp")) if step.act is Act.TRY_LAMP else 0


def lamps_tried(standing: Standing) -> set[int]:
    """Positions of the gangs whose lamps are tried; none of these steps can be left out."""
    return {gang_of_lamp(step) for step in standing.steps} - {0}


def half_done_under(isolation: Isolation) -> list[Json]:
    """Loops of an isolation with cores that are parted, and that nobody made safe: their power must not come back."""
    loops = Loop.objects.filter(site=isolation.site_id, routes__begun_at__isnull=False, routes__done_at=None).distinct()
    others = [row for row in open_isolations(isolation.site_id) if row.pk != isolation.pk]
    reasons = []
    for loop in loops.select_related("site", "circuit"):
        feeds = {circuit for survey in _boxes(loop) for circuit in circuits_of(survey, loop)}
        # Another isolation that still holds it off is closed last.
        if not touching(feeds, [isolation]) or touching(feeds, others):
            continue
        standing = standing_of(loop)
        if standing is None or not parted_places(standing.steps, standing.record):
            continue
        if standing.left is not None and standing.left.leaving != Leaving.LOCKED:
            continue
        text = fill(catalogue("fitting")["half_done"], {"loop": loop.name})
        reasons.append({"code": "half_done", "severity": "stop", "text": text, "refs": []})
    return reasons


def _boxes(loop: Loop) -> list[Survey]:
    """The boxes of a loop; an empty first one where nobody surveyed any."""
    return list(Survey.boxes.filter(loop=loop)) or [survey_of(loop)]


def has_control_in(loop: Loop) -> bool:
    """A control with electronics was put in and has had power since: it may keep a charge."""
    standing = standing_of(loop)
    if standing is None or not any(isinstance(device, Control) for device in standing.wanted.devices):
        return False
    return standing.record.is_settled("power_on")


# Words of a judgement that do not stand against fitting.
_GOOD_ENOUGH = ("works", "probably", "not_sure")


def next_of(seen: Seen, step: NextStep) -> NextStep | None:
    """What a loop wants next: a way once it is judged well, the fitting of a chosen one, its sheet when that is done.

    Parameters
    ----------
    step : what it would want without a way. None leaves it at that.
    """
    loop = seen.loop
    if not loop.chosen:
        return NextStep.ROUTE if step == NextStep.SHEET else None
    standing = seen.of(standing_seen)
    if standing is None or not standing.steps or loop.chosen.get("works") not in _GOOD_ENOUGH:
        return None
    if standing.is_complete:
        # What the bench would still change is not what hangs there.
        return None if loop.chosen.get("on_bench") else NextStep.SHEET
    if standing.choice.begun_at is None and since(loop, standing.choice).is_other_wiring:
        return NextStep.ROUTE
    return NextStep.FIT
