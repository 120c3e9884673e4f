"""Places of a wire map beside the switch boxes: each luminaire or junction box is proved dead by itself."""

from __future__ import annotations

import re

from ember_core.fitting.steps import nodes_at
from ember_core.routes.seats import Seats
from ember_core.routes.tasks import places_of
from ember_core.survey.box import Conductor
from ember_core.survey.document import write_conductor
from loops.models import Loop
from survey.models import FIRST_JUNCTION, FIRST_POINT, Survey

_NUMBERED = re.compile(r"^(box|ceiling|junction)(\d*)$")


def names_of(loop: Loop) -> dict[int, str]:
    """What surveys call the places of a loop, by number; only those that have a name."""
    return dict(Survey.objects.filter(loop=loop).exclude(name="").values_list("place", "name"))


def number_of(place: str) -> int:
    """The number of a place of a wire map, as surveys, proofs and photographs name it."""
    found = _NUMBERED.match(place)
    if found is None:
        return 1
    count = int(found.group(2) or 1)
    first = {"box": 1, "ceiling": FIRST_POINT, "junction": FIRST_JUNCTION}[found.group(1)]
    return first + count - 1


def make_points(loop: Loop, found: Seats, wanted: Seats) -> None:
    """A place for each luminaire and junction box of a way, with all that must be proved dead; what was added stays."""
    for place in places_of(found, wanted):
        number = number_of(place)
        if number < FIRST_POINT:
            continue
        row, _ = Survey.objects.get_or_create(loop=loop, place=number)
        known = {entry["id"] for entry in row.box["conductors"]}
        more = [write_conductor(Conductor(id=name)) for name in nodes_at(place, found) if name not in known]
        if more:
            row.box = {**row.box, "conductors": [*row.box["conductors"], *more]}
            row.version += 1
            row.save(update_fields=("box", "version"))
