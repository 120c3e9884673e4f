"""A module at the luminaire: a permanent live gets there; what hangs at the wall becomes its input, or gives way.

Where the cable from the wall ends in a junction box, and the permanent live is there, the module goes into that box.
"""

from __future__ import annotations

from itertools import pairwise

from ember_core.parts.hardware import Demand, YesNo
from ember_core.routes.devices import control_of, no_rocker
from ember_core.routes.found import Feed
from ember_core.routes.making import Built, Making, has_earth, lamps_of, sides_of
from ember_core.routes.one_way import Job, intended_of
from ember_core.routes.points import BOX, Point, is_aloft, luminaire, point_of
from ember_core.routes.seats import Seats
from ember_core.routes.two_way import Landing, ends_of, travellers_of
from ember_core.wiring.drawing import Companion, Control, Device, Kind, Mark


def at_lamp(job: Job) -> Built:
    """The old switch gives way to a wireless companion; each gang that changes has a module at its own luminaire."""
    modules = _modules(job)
    if isinstance(modules, str):
        return modules, None
    making = Making(job.found)
    leads: dict[str, str] = {}
    for gang, control in modules.items():
        live, switched = _at_switch(making, gang)
        if job.feed is Feed.CEILING and _goes_on(making, [*live, *switched]):
            return "goes_on", None
        if job.feed is Feed.CEILING:
            # The drop is not needed: parted from the line at the ceiling, made safe at both ends.
            for end in (*live, *switched):
                making.cap([end, making.far(end)])
        else:
            # The switch is bridged in the box, and its core is live from now on.
            making.put([*live, *switched], f"{BOX}:bridge" if len(modules) == 1 else f"{BOX}:bridge{gang}")
        making.mark([*live, *switched], Mark.LIVE)
        leads |= _module(making, control, gang, *_where(job.found, job.feed, gang))
    companions = [
        Companion(id="com" if len(lamps_of(job.found)) == 1 else f"com{gang}", kind=Kind.COMPANION, of=control.id)
        for gang, control in modules.items()
    ]
    devices: list[Device] = [*modules.values(), *companions, *job.stay, *lamps_of(job.found)]
    return None, making.done("module_at_lamp", devices, _intended(job, modules), leads)


def with_switch(job: Job) -> Built:
    """The drop and its old switch become the input: nothing changes in the box."""
    modules = _modules(job)
    if isinstance(modules, str):
        return modules, None
    if job.feed is not Feed.CEILING:
        return "no_drop", None
    if (against := no_rocker(job.hardware)) is not None:
        return against, None
    making = Making(job.found)
    leads: dict[str, str] = {}
    for gang, control in modules.items():
        live, switched = _at_switch(making, gang)
        if _goes_on(making, [*live, *switched]):
            return "goes_on", None
        making.put([making.far(end) for end in live], f"{control.id}.S")
        making.put([making.far(end) for end in switched], f"{control.id}.S1")
        making.mark([*switched, *live], Mark.LIVE)
        leads |= _module(making, control, gang, *_where(job.found, job.feed, gang))
    devices: list[Device] = [*modules.values(), *job.found.devices]
    return None, making.done("module_with_switch", devices, _intended(job, modules), leads)


def landing_at_lamp(landing: Landing) -> Built:
    """Every switch of a stair gives way to a companion; the live goes on by one traveller, or is at the luminaire."""
    control = _one_module(landing)
    if isinstance(control, str):
        return control, None
    making = Making(landing.found, landing.near)
    line, lamp = ends_of(landing)
    first, second = travellers_of(landing, 1), travellers_of(landing, 2)
    if not first or not second:
        return "travellers_not_known", None
    making.mark([*line, *lamp], Mark.LIVE)
    if landing.feed is Feed.CEILING:
        if _goes_on(making, [*line, *lamp]):
            return "goes_on", None
        for end in (*line, *lamp):
            making.cap([end, making.far(end)])
        spare = [*first, *second]
    else:
        making.put([*line, first[0][0]], f"{landing.near}:through")
        for before, after in pairwise(first):
            making.put([before[1], after[0]], f"{before[1].split('@')[1]}:through")
        making.put([first[-1][1], *lamp], f"{landing.far}:through")
        making.mark([run[0] for run in first], Mark.LIVE)
        spare = second
    for run in spare:
        making.cap(run)
    leads = _module(making, control, landing.gang, *_where(landing.found, landing.feed, landing.gang))
    places = (landing.near, landing.far, *landing.middle)
    companions = [
        Companion(id="com" if k == 1 else f"com{k}", kind=Kind.COMPANION, of=control.id)
        for k in range(1, len(places) + 1)
    ]
    devices: list[Device] = [control, *companions, *landing.stay, *lamps_of(landing.found)]
    return None, making.done("module_at_lamp", devices, landing.intended(f"{control.id}.L1"), leads)


def landing_with_switches(landing: Landing) -> Built:
    """All the switches of a stair, with their travellers, become one input: each of them changes it."""
    control = _one_module(landing)
    if isinstance(control, str):
        return control, None
    if landing.feed is not Feed.CEILING:
        return "no_drop", None
    against = no_rocker(landing.hardware)
    if against is None and landing.hardware.word("two_way_input") is not YesNo.YES:
        against = "input_not_two_way"
    if against is not None:
        return against, None
    making = Making(landing.found, landing.near)
    line, lamp = ends_of(landing)
    if _goes_on(making, [*line, *lamp]):
        return "goes_on", None
    making.put([making.far(end) for end in line], f"{control.id}.S")
    making.put([making.far(end) for end in lamp], f"{control.id}.S1")
    making.mark([*line, *lamp], Mark.LIVE)
    leads = _module(making, control, landing.gang, *_where(landing.found, landing.feed, landing.gang))
    devices: list[Device] = [control, *landing.found.devices]
    return None, making.done("module_with_switch", devices, landing.intended(f"{control.id}.L1"), leads)


def _modules(job: Job) -> dict[int, Control] | str:
    """A module for each gang that changes, or what stands against it."""
    needs_earth = job.hardware.word("earth") is Demand.REQUIRED
    if needs_earth and not all(
        has_earth(job.found, _where(job.found, job.feed, gang)[0].place) for gang in job.changed
    ):
        return "no_earth"
    is_one = len(lamps_of(job.found)) == 1
    return {
        gang: control_of(job.hardware, "ctl" if is_one else f"ctl{gang}", 1, with_neutral=True) for gang in job.changed
    }


def _one_module(landing: Landing) -> Control | str:
    place = _where(landing.found, landing.feed, landing.gang)[0].place
    if landing.hardware.word("earth") is Demand.REQUIRED and not has_earth(landing.found, place):
        return "no_earth"
    return control_of(landing.hardware, "ctl", 1, with_neutral=True)


def _where(found: Seats, feed: Feed, gang: int) -> tuple[Point, str]:
    """Where the module goes, and the joint there that is permanently live.

    With the supply from above that is where the drop ends. Else the bridged switch makes the way to the luminaire live,
    past any junction box.
    """
    if feed is not Feed.CEILING:
        return luminaire(gang), luminaire(gang).switched
    point = point_of(found, gang)
    return point, point.line


def _intended(job: Job, modules: dict[int, Control]) -> dict[str, tuple[str, ...]]:
    return intended_of(job, {gang: (control, "L1") for gang, control in modules.items()})


def _at_switch(making: Making, gang: int) -> tuple[list[str], list[str]]:
    """Ends at the two terminals of a switch: those of the live, those that go to the lamp."""
    live_seat, load_seat = sides_of(making.found, gang)
    return making.at(live_seat), making.at(load_seat)


def _module(making: Making, control: Control, gang: int, point: Point, live: str) -> dict[str, str]:
    """Pieces of a module; where the lamp's lead goes, if the lamp hangs at the same place.

    Parameters
    ----------
    live : the joint there that is permanently live.
    """
    making.piece(live, f"{control.id}.L", "line", point.place)
    making.piece(point.neutral, f"{control.id}.N", "neutral", point.place)
    making.earth(control, point.place)
    if point.is_junction:
        onward = [end for end in making.at(point.switched) if end not in making.seats]
        making.put(onward, f"{control.id}.L1")
        making.mark(onward, Mark.LIVE)
        return {}
    joint = f"{point.place}:lamp"
    making.piece(joint, f"{control.id}.L1", "line", point.place)
    lead = f"lamp{gang}.1"
    return {lead: joint} if making.found.seat_of.get(lead) else {}


def _goes_on(making: Making, ends: list[str]) -> bool:
    """Something else than the drop hangs on the switch: taken away, whatever it feeds would be dead."""
    return any(not is_aloft(making.far(end).split("@")[1]) for end in ends)
