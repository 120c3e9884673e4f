"""A module at the luminaire: a permanent live gets there; what hangs at the wall becomes its input, or gives way."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ember_core.parts.hardware import Demand, YesNo
from ember_core.routes.devices import control_of, no_rocker
from ember_core.routes.found import Feed
from ember_core.routes.making import Built, Making, has_earth, lamps_of, sides_of
from ember_core.routes.one_way import Job, intended_of
from ember_core.routes.points import BOX, Point, is_aloft, luminaire, point_of
from ember_core.routes.two_way import Landing, ends_of, joined_through, travellers_of
from ember_core.wiring.drawing import Companion, Control, Device, Kind, Mark

# Puts the module of a gang where it goes; tells where the lamp's lead goes then.
Put = Callable[[Making, Control, int, Feed], dict[str, str]]


def at_lamp(job: Job) -> Built:
    """The old switch gives way to a wireless companion; each gang that changes has a module at its own luminaire."""
    return instead_of_switch(job, "module_at_lamp", luminaires(job), _at_luminaire)


def with_switch(job: Job) -> Built:
    """The drop and its old switch become the input: nothing changes in the box."""
    if any(point_of(job.found, gang).is_junction for gang in job.changed):
        return "junction_between", None
    return with_old_switch(job, "module_with_switch", luminaires(job), _at_luminaire)


def landing_at_lamp(landing: Landing) -> Built:
    """Every switch of a stair gives way to a companion; the live goes on by one traveller, or is at the luminaire."""
    return landing_instead_of_switches(landing, "module_at_lamp", luminaire(landing.gang), _at_luminaire)


def landing_with_switches(landing: Landing) -> Built:
    """All the switches of a stair, with their travellers, become one input: each of them changes it."""
    if point_of(landing.found, landing.gang).is_junction:
        return "junction_between", None
    return landing_with_old_switches(landing, "module_with_switch", luminaire(landing.gang), _at_luminaire)


def luminaires(job: Job) -> dict[int, Point]:
    """Those of the gangs that change."""
    return {gang: luminaire(gang) for gang in job.changed}


def instead_of_switch(job: Job, name: str, points: dict[int, Point], put: Put) -> Built:
    """Modules above, companions at the wall.

    Parameters
    ----------
    name : of the wanted wiring. points : where the module of each gang goes. put : how.
    """
    modules = _modules(job, points)
    if isinstance(modules, str):
        return modules, None
    making = Making(job.found)
    leads: dict[str, str] = {}
    for gang, control in modules.items():
        live, switched = _at_switch(making, gang)
        if job.feed is Feed.CEILING:
            if _goes_on(making, [*live, *switched]):
                return "goes_on", None
            # The drop is not needed: parted from the line above, made safe at both ends.
            for end in (*live, *switched):
                making.cap([end, making.far(end)])
        else:
            # The switch is bridged in the box, and its core is live from now on.
            making.put([*live, *switched], f"{BOX}:bridge" if len(modules) == 1 else f"{BOX}:bridge{gang}")
            making.mark([*live, *switched], Mark.LIVE)
        leads |= put(making, control, gang, job.feed)
    is_one = len(lamps_of(job.found)) == 1
    companions = [
        Companion(id="com" if is_one else f"com{gang}", kind=Kind.COMPANION, of=control.id)
        for gang, control in modules.items()
    ]
    devices: list[Device] = [*modules.values(), *companions, *job.stay, *lamps_of(job.found)]
    return None, making.done(name, devices, _intended(job, modules), leads)


def with_old_switch(job: Job, name: str, points: dict[int, Point], put: Put) -> Built:
    """Modules above, each with the drop and its old switch as its input; see `instead_of_switch`."""
    modules = _modules(job, points)
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
        _as_input(making, control, live, switched)
        leads |= put(making, control, gang, job.feed)
    devices: list[Device] = [*modules.values(), *job.found.devices]
    return None, making.done(name, devices, _intended(job, modules), leads)


def landing_instead_of_switches(landing: Landing, name: str, point: Point, put: Put) -> Built:
    """A module above, a companion for every switch of a stair; see `instead_of_switch`."""
    control = _one_module(landing, point)
    if isinstance(control, str):
        return control, None
    making = Making(landing.found, landing.near)
    line, lamp = ends_of(landing)
    first, second = travellers_of(landing, 1), travellers_of(landing, 2)
    if not first or not second:
        return "travellers_not_known", None
    if landing.feed is Feed.CEILING:
        if _goes_on(making, [*line, *lamp]):
            return "goes_on", None
        for end in (*line, *lamp):
            making.cap([end, making.run(end)[-1]])
        spare = [*first, *second]
    else:
        making.put([*line, first[0][0]], f"{landing.near}:through")
        joined_through(making, first)
        making.put([first[-1][1], *lamp], f"{landing.far}:through")
        making.mark([run[0] for run in first], Mark.LIVE)
        making.mark([end for start in (*line, *lamp) for end in making.run(start)], Mark.LIVE)
        spare = second
    for run in spare:
        making.cap(run)
    leads = put(making, control, landing.gang, landing.feed)
    places = (landing.near, landing.far, *landing.middle)
    companions = [
        Companion(id="com" if k == 1 else f"com{k}", kind=Kind.COMPANION, of=control.id)
        for k in range(1, len(places) + 1)
    ]
    devices: list[Device] = [control, *companions, *landing.stay, *lamps_of(landing.found)]
    return None, making.done(name, devices, landing.intended(f"{control.id}.L1"), leads)


def landing_with_old_switches(landing: Landing, name: str, point: Point, put: Put) -> Built:
    """A module above with all the switches of a stair as its input; see `instead_of_switch`."""
    control = _one_module(landing, point)
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
    _as_input(making, control, line, lamp)
    leads = put(making, control, landing.gang, landing.feed)
    devices: list[Device] = [control, *landing.found.devices]
    return None, making.done(name, devices, landing.intended(f"{control.id}.L1"), leads)


def _at_luminaire(making: Making, control: Control, gang: int, feed: Feed) -> dict[str, str]:
    """The module between what is live at the luminaire and the lamp.

    Live is the loop-in joint there; else what was switched: by the bridged switch, or by a piece in a junction box.
    """
    here, point = luminaire(gang), point_of(making.found, gang)
    is_loop_in = feed is Feed.CEILING and not point.is_junction
    if feed is Feed.CEILING and point.is_junction:
        making.piece(point.line, point.switched, "line", point.place)
        making.mark([end for end in making.at(point.switched) if end not in making.seats], Mark.LIVE)
    making.piece(here.line if is_loop_in else here.switched, f"{control.id}.L", "line", here.place)
    making.piece(here.neutral, f"{control.id}.N", "neutral", here.place)
    joint = f"{here.place}:lamp"
    making.piece(joint, f"{control.id}.L1", "line", here.place)
    making.earth(control, here.place)
    lead = f"lamp{gang}.1"
    return {lead: joint} if making.found.seat_of.get(lead) else {}


def _as_input(making: Making, control: Control, live: Sequence[str], switched: Sequence[str]) -> None:
    """The far ends of the drop go to the inputs."""
    making.put([making.run(end)[-1] for end in live], f"{control.id}.S")
    making.put([making.run(end)[-1] for end in switched], f"{control.id}.S1")
    making.mark([end for start in (*switched, *live) for end in making.run(start)], Mark.LIVE)


def _modules(job: Job, points: dict[int, Point]) -> dict[int, Control] | str:
    """A module for each gang that changes, or what stands against it."""
    needs_earth = job.hardware.word("earth") is Demand.REQUIRED
    if needs_earth and not all(has_earth(job.found, point.place) for point in points.values()):
        return "no_earth"
    is_one = len(lamps_of(job.found)) == 1
    return {gang: control_of(job.hardware, "ctl" if is_one else f"ctl{gang}", 1, with_neutral=True) for gang in points}


def _one_module(landing: Landing, point: Point) -> Control | str:
    if landing.hardware.word("earth") is Demand.REQUIRED and not has_earth(landing.found, point.place):
        return "no_earth"
    return control_of(landing.hardware, "ctl", 1, with_neutral=True)


def _intended(job: Job, modules: dict[int, Control]) -> dict[str, tuple[str, ...]]:
    return intended_of(job, {gang: (control, "L1") for gang, control in modules.items()})


def _at_switch(making: Making, gang: int) -> tuple[list[str], list[str]]:
    """Ends at the two terminals of a switch: those of the live, those that go to the lamp."""
    live_seat, load_seat = sides_of(making.found, gang)
    return making.at(live_seat), making.at(load_seat)


def _goes_on(making: Making, ends: Sequence[str]) -> bool:
    """Something else than the drop hangs on the switch: taken away, whatever it feeds would be dead."""
    return any(not is_aloft(making.run(end)[-1].split("@")[1]) for end in ends)
