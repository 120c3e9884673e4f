"""The way that was chosen for a loop, with what its work depends on: hardware, depth, what is settled, minutes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ember_core.catalogue.entry import hardware
from ember_core.parts.hardware import Hardware
from ember_core.routes.comparing import depth_of
from ember_core.routes.seats import Seats
from ember_core.routes.tasks import OF_THE_CIRCUIT, Known, tasks_of
from ember_core.routes.ways import Way
from ember_core.survey.depth import DepthCheck
from ember_core.survey.document import read_box
from ember_core.times.minutes import Estimate, Minutes, Task, estimate
from loops.models import FitStatus, FittedBypass, FittedControl, Loop
from parts.models import Part
from parts.services.entries import entry_of, part_key
from survey.models import Survey
from work.models import RouteChoice
from work.services.answers import chosen_seats
from work.services.finding import known_of
from work.services.timing import own_minutes


@dataclass(frozen=True, slots=True, kw_only=True)
class Chosen:
    """A chosen way.

    Parameters
    ----------
    part, hardware : of its control; None for a way without one, or one that is not of the shelf.
    depth : None where nobody measured. minutes : the firm's own.
    """

    loop: Loop
    choice: RouteChoice
    found: Seats
    wanted: Seats
    part: Part | None
    hardware: Hardware | None
    depth: DepthCheck | None
    known: Known
    minutes: Mapping[Task, Minutes] = field(default_factory=dict)

    @property
    def tasks(self) -> Mapping[Task, int]:
        """How often each task is done."""
        return tasks_of(
            self.found,
            self.wanted,
            known=self.known,
            hardware=self.hardware,
            depth=self.depth,
            dims=bool(self.choice.rated.get("dims_mode")),
        )

    @property
    def estimate(self) -> Estimate:
        """Minutes of the whole job."""
        return estimate(self.tasks, self.minutes)

    @property
    def work_estimate(self) -> Estimate:
        """Minutes without finding the breaker and isolating it the first time: a visit counts these by itself."""
        tasks = dict(self.tasks)
        for task in OF_THE_CIRCUIT:
            if tasks.get(task):
                tasks[task] -= 1
        return estimate({task: count for task, count in tasks.items() if count}, self.minutes)


def _is_in_place(loop: Loop, choice: RouteChoice) -> bool:
    """What the way wants hangs there already, and nobody has begun to fit it."""
    if choice.way not in (Way.TWO_WIRE, Way.WITH_BYPASS) or choice.begun_at is not None or not choice.control:
        return False
    controls = FittedControl.objects.filter(gang__loop=loop)
    bypasses = FittedBypass.objects.filter(gang__loop=loop)
    if any(row.status != FitStatus.FITTED for row in (*controls, *bypasses)):
        return False
    wanted = sorted(entry["key"] for entry in choice.rated.get("bypass", []))
    is_there = any(str(row.part_id) == choice.control for row in controls)
    return is_there and sorted(str(row.part_id) for row in bypasses) == wanted


def chosen_of(loop: Loop, choice: RouteChoice, minutes: Mapping[Task, Minutes] | None = None) -> Chosen:
    """Everything that the work of a choice depends on.

    Parameters
    ----------
    minutes : the firm's own, where the caller has them already.
    """
    found, wanted = chosen_seats(choice)
    key = part_key(choice.control)
    part = None if key is None else Part.objects.filter(pk=key).prefetch_related("claims").first()
    of_part = None if part is None else hardware(entry_of(part))
    surveys = list(Survey.boxes.filter(loop=loop).order_by("place"))
    box = read_box(surveys[0].box) if surveys else None
    spacers = tuple(surveys[0].spacers_m) if surveys else ()
    is_measured = box is not None and (box.depth_m is not None or box.room_left_m is not None)
    return Chosen(
        loop=loop,
        choice=choice,
        found=found,
        wanted=wanted,
        part=part,
        hardware=of_part,
        depth=depth_of(Way(choice.way), of_part, box if is_measured else None, spacers),
        known=replace(known_of(loop, surveys), is_in_place=_is_in_place(loop, choice)),
        minutes=own_minutes() if minutes is None else minutes,
    )
