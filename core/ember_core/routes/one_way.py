"""The schools on a box of one-way switches, each as a change of what was found."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass

from ember_core.parts.hardware import Demand, Hardware
from ember_core.routes.devices import control_of, no_rocker
from ember_core.routes.found import CIRCUIT, Feed
from ember_core.routes.making import Built, Making, circuit_of, far_end, gangs_of, has_earth, lamps_of, sides_of
from ember_core.routes.points import BOX, is_aloft, luminaire, point_of
from ember_core.routes.seats import CAP, Seats
from ember_core.wiring.drawing import Control, Device, Kind, Mark


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """What is done where.

    Parameters
    ----------
    kept : gangs whose ordinary switch stays as it is. in_junction : gangs whose bypass goes into the junction box.
    """

    found: Seats
    feed: Feed
    hardware: Hardware
    kept: Collection[int] = ()
    in_junction: Collection[int] = ()

    @property
    def changed(self) -> list[int]:
        """Gangs that get a control."""
        return [gang for gang in gangs_of(self.found) if gang not in self.kept]

    @property
    def stay(self) -> list[Device]:
        """Switches that stay, and those of a lamp that is switched from elsewhere too."""
        return [
            one
            for one in self.found.devices
            if one.kind in (Kind.TWO_WAY, Kind.INTERMEDIATE)
            or (one.id.startswith("sw") and int(one.id[2:]) in self.kept)
        ]

    @property
    def circuits(self) -> set[str]:
        """Circuits of the gangs that change."""
        return {circuit_of(self.found, gang) for gang in self.changed}


def _assigned(job: Job, *, with_neutral: bool) -> dict[int, tuple[Control, str]] | str:
    """Which control and output each gang gets; one control for all where it has the outputs, else one a gang.

    Gangs of two circuits never share a control.
    """
    together: dict[str, list[int]] = {}
    for gang in job.changed:
        together.setdefault(circuit_of(job.found, gang), []).append(gang)
    outputs = job.hardware.count("outputs", 1)
    found: dict[int, tuple[Control, str]] = {}
    for gangs in together.values():
        if outputs >= len(gangs):
            name = "ctl" if len(together) == 1 else f"ctl{gangs[0]}"
            control = control_of(job.hardware, name, len(gangs), with_neutral=with_neutral)
            found |= {gang: (control, f"L{k}") for k, gang in enumerate(gangs, 1)}
        elif outputs > 1:
            return "outputs_do_not_match"
        else:
            found |= {
                gang: (control_of(job.hardware, f"ctl{gang}", 1, with_neutral=with_neutral), "L1") for gang in gangs
            }
    return found


def _controls(assigned: dict[int, tuple[Control, str]]) -> list[Control]:
    return list({control.id: control for control, _ in assigned.values()}.values())


def intended_of(job: Job, assigned: Mapping[int, tuple[Control, str]]) -> dict[str, tuple[str, ...]]:
    """By what each lamp is to be lit: its kept switch, or its output."""
    stay = [gang for gang in gangs_of(job.found) if gang in job.kept]
    kept: dict[str, tuple[str, ...]] = {f"lamp{gang}": (sides_of(job.found, gang)[1],) for gang in stay}
    return kept | {f"lamp{gang}": (f"{control.id}.{load}",) for gang, (control, load) in assigned.items()}


def _seated(job: Job, *, with_neutral: bool) -> tuple[Making, dict[int, tuple[Control, str]]] | str:
    """The cores of the switches on the terminals of controls; of several lives for one terminal one goes on."""
    if job.hardware.word("earth") is Demand.REQUIRED and not has_earth(job.found):
        return "no_earth"
    assigned = _assigned(job, with_neutral=with_neutral)
    if isinstance(assigned, str):
        return assigned
    making = Making(job.found)
    taken: set[str] = set()
    for control in _controls(assigned):
        making.holding(control)
    for gang, (control, load) in assigned.items():
        live_seat, load_seat = sides_of(job.found, gang)
        live, switched = making.at(live_seat), making.at(load_seat)
        making.put(switched, f"{control.id}.{load}")
        making.mark([*live, *switched], Mark.LIVE)
        if control.id not in taken:
            taken.add(control.id)
            making.put(live, f"{control.id}.{control.line}")
        elif len(live) > 1:
            making.put(live, f"{BOX}:line{gang}")
        else:
            making.cap([*live, *(far for point in live if _is_piece(far := making.far(point)))])
    for control in _controls(assigned):
        making.earth(control)
        making.link(control, with_neutral=with_neutral)
    return making, assigned


def _is_piece(point: str) -> bool:
    return point.rstrip("'").endswith(f"@{BOX}")


def two_wire(job: Job, *, bypass: bool = False) -> Built:
    """The control in place of the switch, fed through the lamps; with or without a bypass at the luminaire."""
    made = _seated(job, with_neutral=False)
    if isinstance(made, str):
        return made, None
    making, assigned = made
    devices: list[Device] = [*_controls(assigned), *job.stay, *lamps_of(job.found)]
    leads: dict[str, str] = {}
    if bypass:
        for control in _controls(assigned):
            first = next(gang for gang, (one, load) in assigned.items() if one is control and load == "L1")
            name = "byp" if len(_controls(assigned)) == 1 else f"byp{first}"
            devices.append(Device(id=name, kind=Kind.BYPASS))
            point = point_of(job.found, first) if first in job.in_junction else luminaire(first)
            leads |= {f"{name}.1": point.switched, f"{name}.2": point.neutral}
    return None, making.done("two_wire", devices, intended_of(job, assigned), leads)


def with_bypass(job: Job) -> Built:
    """The same with a bypass where the electronics are fed."""
    return two_wire(job, bypass=True)


def module_behind_switch(job: Job) -> Built:
    """A two-wire module in the box; the old switch goes to its inputs."""
    assigned = _assigned(job, with_neutral=False)
    if isinstance(assigned, str):
        return assigned, None
    if (against := no_rocker(job.hardware)) is not None:
        return against, None
    made = _seated(job, with_neutral=False)
    if isinstance(made, str):
        return made, None
    making, assigned = made
    for gang, (control, load) in assigned.items():
        live_seat, load_seat = sides_of(job.found, gang)
        making.piece(f"{control.id}.S", live_seat, "input")
        making.piece(f"{control.id}.S{load[1:]}", load_seat, "input")
    devices = [*_controls(assigned), *job.found.devices]
    return None, making.done("module_behind_switch", devices, intended_of(job, assigned))


def drop_as_feed(job: Job) -> Built:
    """The return core becomes a neutral, the luminaire is always live, the control switches nothing by wire."""
    if job.feed is not Feed.CEILING:
        return "no_drop", None
    if len(job.changed) > 1:
        return "one_gang_only", None
    (gang,) = job.changed
    if not any(lamp.smart for lamp in lamps_of(job.found) if lamp.id == f"lamp{gang}"):
        return "lamps_not_smart", None
    if job.hardware.word("earth") is Demand.REQUIRED and not has_earth(job.found):
        return "no_earth", None
    control = control_of(job.hardware, "ctl", 1, with_neutral=True)
    making = Making(job.found)
    point = point_of(job.found, gang)
    live_seat, load_seat = sides_of(job.found, gang)
    making.put(making.at(live_seat), "ctl.L")
    switched = making.at(load_seat)
    making.put(switched, "ctl.N")
    making.put([making.far(end) for end in switched], point.neutral)
    making.mark(switched, Mark.NEUTRAL)
    making.mark(making.at(live_seat), Mark.LIVE)
    making.piece(point.line, point.switched, "line", point.place)
    making.earth(control)
    return None, making.done("drop_as_feed", [control, *job.stay, *lamps_of(job.found)], intended_of(job, {}))


def neutral_present(job: Job) -> Built:
    """A control with neutral at the neutral that is in the box."""
    if f"{BOX}:neutral" not in job.found.seat_of.values():
        return "no_neutral", None
    return _fed(job, "neutral_present", _piece_of_neutral)


def _piece_of_neutral(making: Making, control: Control) -> None:
    making.piece(f"{BOX}:neutral", f"{control.id}.N", "neutral")


def spare_as_neutral(job: Job) -> Built:
    """A core that nobody uses becomes the neutral."""
    if f"{BOX}:neutral" in job.found.seat_of.values():
        return "neutral_present", None
    spare = spare_core(job.found)
    if spare is None:
        return "no_spare_core", None

    def connect(making: Making, control: Control) -> None:
        here, there = spare
        making.mark([here], Mark.NEUTRAL)
        making.put([there], f"{there.split('@')[1]}:neutral")
        _share(making, here, control)

    return _fed(job, "spare_as_neutral", connect)


def new_neutral(job: Job) -> Built:
    """The cable is pulled anew with one more core."""
    if f"{BOX}:neutral" in job.found.seat_of.values():
        return "neutral_present", None

    def connect(making: Making, control: Control) -> None:
        joint = f"{BOX}:neutral"
        if joint not in making.seats.values():
            point = point_of(job.found, job.changed[0])
            making.cable_core((point.place, point.neutral), (BOX, joint), "neutral")
        making.piece(joint, f"{control.id}.N", "neutral")

    return _fed(job, "new_neutral", connect)


def _share(making: Making, end: str, control: Control) -> None:
    """An end that is the neutral of every control of the box."""
    joint = f"{BOX}:neutral"
    if making.seats.get(end) is None:
        making.put([end], joint)
    making.piece(joint, f"{control.id}.N", "neutral")


def _fed(job: Job, name: str, connect: Callable[[Making, Control], None]) -> Built:
    if job.circuits != {CIRCUIT}:
        # The joint of the neutrals in the box is one circuit's; a control of the other would borrow it.
        return "other_circuits_neutral", None
    made = _seated(job, with_neutral=True)
    if isinstance(made, str):
        return made, None
    making, assigned = made
    for control in _controls(assigned):
        if control.neutral is None:
            return "takes_no_neutral", None
        connect(making, control)
    devices: list[Device] = [*_controls(assigned), *job.stay, *lamps_of(job.found)]
    return None, making.done(name, devices, intended_of(job, assigned))


def spare_core(found: Seats) -> tuple[str, str] | None:
    """Ends in the box and at a ceiling point of a core that is free at both."""
    for point, seat in found.seat_of.items():
        if seat == CAP and point.endswith(f"@{BOX}"):
            far = far_end(found, point)
            if found.seat_of[far] == CAP and is_aloft(far.split("@")[1]):
                return point, far
    return None


def timer(job: Job) -> Built:
    """A timer in the place of the switch; its battery wants no feed."""
    if len(job.changed) > 1:
        return "one_gang_only", None
    (gang,) = job.changed
    device = Device(id="tim", kind=Kind.TIMER)
    intended = {**intended_of(job, {}), f"lamp{gang}": ("tim.L1",)}
    making = Making(job.found)
    holds = job.hardware.count("cores_per_terminal", 2)
    making.holding(Control(id="tim", kind=Kind.CONTROL, line="COM", loads=("L1",), holds={"COM": holds, "L1": holds}))
    live_seat, load_seat = sides_of(job.found, gang)
    live, switched = making.at(live_seat), making.at(load_seat)
    making.put(live, "tim.COM")
    making.put(switched, "tim.L1")
    making.mark(switched, Mark.LIVE)
    making.mark(live, Mark.LIVE)
    return None, making.done("timer", [device, *job.stay, *lamps_of(job.found)], intended)


def leave(job: Job) -> Built:
    """Everything stays; sleeves tell which core is live."""
    return None, job.found


def half_wave(job: Job) -> Built:
    """A diode across the switch and a detector at the luminaire: for the bench only."""
    return "not_for_an_installation", None
