"""A module in the junction box between wall and luminaire, where the cable from the wall ends."""

from __future__ import annotations

from ember_core.routes.at_luminaire import (
    instead_of_switch,
    landing_instead_of_switches,
    landing_with_old_switches,
    with_old_switch,
)
from ember_core.routes.found import Feed
from ember_core.routes.making import Built, Making
from ember_core.routes.one_way import Job
from ember_core.routes.points import Point, point_of
from ember_core.routes.two_way import Landing
from ember_core.wiring.drawing import Control, Mark

NONE = "no_junction_box"


def in_junction(job: Job) -> Built:
    """The old switch gives way to a wireless companion; the module is where its cable ends."""
    points = _points(job)
    return (NONE, None) if points is None else instead_of_switch(job, "module_in_junction", points, _put)


def junction_with_switch(job: Job) -> Built:
    """The drop and its old switch become the input: nothing changes in the box of the switch."""
    points = _points(job)
    return (NONE, None) if points is None else with_old_switch(job, "junction_with_switch", points, _put)


def landing_in_junction(landing: Landing) -> Built:
    """Every switch of a stair gives way to a companion."""
    point = point_of(landing.found, landing.gang)
    if not point.is_junction:
        return NONE, None
    return landing_instead_of_switches(landing, "module_in_junction", point, _put)


def landing_junction_with_switches(landing: Landing) -> Built:
    """All the switches of a stair become one input."""
    point = point_of(landing.found, landing.gang)
    if not point.is_junction:
        return NONE, None
    return landing_with_old_switches(landing, "junction_with_switch", point, _put)


def _points(job: Job) -> dict[int, Point] | None:
    """The junction boxes of the gangs that change; None where one has none."""
    points = {gang: point_of(job.found, gang) for gang in job.changed}
    return points if all(point.is_junction for point in points.values()) else None


def _put(making: Making, control: Control, gang: int, feed: Feed) -> dict[str, str]:
    """The module between what is live there and the core that goes on to the lamp.

    Live is the joint of the supply; with the switch bridged it is the core that comes from there.
    """
    point = point_of(making.found, gang)
    free = [end for end in making.at(point.switched) if end not in making.seats]
    onward = [end for end in free if making.far(end).partition("@")[2].startswith("ceiling")]
    if feed is Feed.CEILING:
        making.piece(point.line, f"{control.id}.L", "line", point.place)
    else:
        making.put([end for end in free if end not in onward], f"{control.id}.L")
    making.piece(point.neutral, f"{control.id}.N", "neutral", point.place)
    making.put(onward, f"{control.id}.L1")
    making.mark(onward, Mark.LIVE)
    making.earth(control, point.place)
    return {}
