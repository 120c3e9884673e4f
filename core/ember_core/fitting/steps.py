"""Fitting in the order of hands: what is done where, what must be on record before, and what came of each step.

Two rounds. In the first every core goes to its seat, on what is proved dead, place by place; then everything is tried
with the power on while the screws are half in. In the second the circuit is isolated and proved dead anew, and what
was tried is fixed for good. Work at a luminaire is another place, and has a proof of its own.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ember_core.routes.lines import Line, LineKind, lines_of
from ember_core.routes.points import is_aloft
from ember_core.routes.seats import Seats
from ember_core.routes.tasks import places_of
from ember_core.wiring.drawing import Companion, Control, Lamp


class Act(StrEnum):
    """What is done."""

    SAFE = "safe"
    PHOTOGRAPH = "photograph"
    LOOSEN = "loosen"
    PART = "part"
    LINE = "line"  # a line of the wire map
    TUG = "tug"
    FOLD = "fold"
    HOLD = "hold"
    CLOSE = "close"  # a luminaire or a junction box
    POWER_ON = "power_on"
    TRY_LAMP = "try_lamp"
    TRY_COMPANION = "try_companion"
    SAFE_AGAIN = "safe_again"
    FIX = "fix"
    EARTH_SCREW = "earth_screw"
    PLATE = "plate"
    POWER_BACK = "power_back"


class Power(StrEnum):
    """What a step needs of the power."""

    ISOLATED = "isolated"
    DEAD = "dead"  # isolated, and every conductor there proved dead
    ON = "on"


class Stage(StrEnum):
    """Parts of the work, one after another."""

    BOXES = "boxes"
    CEILING = "ceiling"
    TRYING = "trying"
    FINISHING = "finishing"


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One thing that is done.

    Parameters
    ----------
    key : the same for the same map. place : where; empty for what is done at no one place.
    power : what it needs. after : keys that are settled before it. may_skip : it may be left out, with a reason.
    line : the line of the wire map that it is. device, lamp, terminals : what is tried or fixed, and by which terminal.
    """

    key: str
    act: Act
    stage: Stage
    power: Power
    place: str = ""
    after: tuple[str, ...] = ()
    may_skip: bool = False
    line: Line | None = None
    device: str = ""
    lamp: str = ""
    terminals: tuple[str, ...] = ()


# What can be left out for a reason; never what keeps hands from live parts: the screws that hold it, and its plate.
_SKIPPABLE = frozenset({Act.PHOTOGRAPH, Act.LOOSEN, Act.FOLD, Act.EARTH_SCREW})


def steps_of(found: Seats, wanted: Seats, *, metal: Iterable[str] = ()) -> tuple[Step, ...]:
    """The steps from the found wiring to the wanted one, and to a plate that is screwed on; none where nothing changes.

    Parameters
    ----------
    metal : places whose box is metal, and is the earth or is earthed by its screws.
    """
    lines = lines_of(found, wanted)
    if not lines:
        return ()
    places = places_of(found, wanted)
    making = _Making()
    for place in places:
        if is_aloft(place):
            _ceiling(making, place, _lines_at(place, places, lines, found, wanted))
        else:
            _box(making, place, _lines_at(place, places, lines, found, wanted), wanted)
    first = making.keys
    making.add("power_on", Act.POWER_ON, Stage.TRYING, Power.ON, after=first)
    tried = _tries(making, wanted)
    boxes = [place for place in places if not is_aloft(place)]
    for place in boxes:
        _finish(making, place, tried, has_metal=place in set(metal))
    if boxes:
        making.add("power_back", Act.POWER_BACK, Stage.FINISHING, Power.ON, after=making.keys)
    return tuple(making.steps)


class _Making:
    """Steps so far."""

    def __init__(self) -> None:
        self.steps: list[Step] = []

    @property
    def keys(self) -> tuple[str, ...]:
        return tuple(step.key for step in self.steps)

    def add(self, key: str, act: Act, stage: Stage, power: Power, **others: object) -> str:
        self.steps.append(
            Step(key=key, act=act, stage=stage, power=power, may_skip=act in _SKIPPABLE, **others)  # type: ignore[arg-type]  # fields by name
        )
        return key


def _lines_at(place: str, places: Sequence[str], lines: Iterable[Line], found: Seats, wanted: Seats) -> list[Line]:
    """What is done at a place: a sleeve wherever its core ends; inputs and links after line and loads."""
    here: list[Line] = []
    for line in lines:
        if line.kind is LineKind.SLEEVE and line.sleeve is not None:
            if place in _ends_of(line.sleeve.core, found, wanted):
                here.append(line)
        elif line.place == place or (line.place not in places and place == places[0]):
            here.append(line)
    late = _late_terminals(wanted)
    return sorted(here, key=lambda line: any(move.after in late for move in line.moves) and not _is_first(line))


def _is_first(line: Line) -> bool:
    return line.kind in (LineKind.SLEEVE, LineKind.CAP, LineKind.OFF)


def _late_terminals(wanted: Seats) -> frozenset[str]:
    controls = [one for one in wanted.devices if isinstance(one, Control)]
    inputs = {f"{one.id}.{terminal}" for one in controls for terminal in one.inputs}
    links = {f"{one.id}.{one.link[1]}" for one in controls if one.link is not None}
    return frozenset(inputs | links)


def _ends_of(core: str, *seats: Seats) -> set[str]:
    return {end.rstrip("'") for one in seats for each in one.cores if each.id == core for end in each.ends}


def _begin(making: _Making, place: str, stage: Stage) -> tuple[str, ...]:
    safe = making.add(f"safe@{place}", Act.SAFE, stage, Power.DEAD, place=place)
    photograph = making.add(f"photograph@{place}", Act.PHOTOGRAPH, stage, Power.ISOLATED, place=place, after=(safe,))
    return safe, photograph


def _work(making: _Making, place: str, stage: Stage, lines: list[Line], before: tuple[str, ...]) -> tuple[str, ...]:
    """Sleeves while it is still known which core is which, parting, the lines, and a pull at each; what closing waits
    for."""
    loosen = making.add(f"loosen@{place}", Act.LOOSEN, stage, Power.DEAD, place=place, after=before)
    after: tuple[str, ...] = (*before, loosen)
    marked = tuple(
        making.add(f"{line.key}@{place}", Act.LINE, stage, Power.DEAD, place=place, after=after, line=line)
        for line in lines
        if line.kind is LineKind.SLEEVE
    )
    moved = [line for line in lines if line.kind is not LineKind.SLEEVE]
    if not moved:
        # Nothing leaves its seat here: what is marked is closed again.
        return (*after, *marked)
    part = making.add(f"part@{place}", Act.PART, stage, Power.DEAD, place=place, after=(*after, *marked))
    seated = tuple(
        making.add(line.key, Act.LINE, stage, Power.DEAD, place=place, after=(part,), line=line) for line in moved
    )
    return (making.add(f"tug@{place}", Act.TUG, stage, Power.DEAD, place=place, after=(part, *seated)),)


def _box(making: _Making, place: str, lines: list[Line], wanted: Seats) -> None:
    worked = _work(making, place, Stage.BOXES, lines, _begin(making, place, Stage.BOXES))
    fold = making.add(f"fold@{place}", Act.FOLD, Stage.BOXES, Power.DEAD, place=place, after=worked)
    making.add(
        f"hold@{place}",
        Act.HOLD,
        Stage.BOXES,
        Power.DEAD,
        place=place,
        after=(*worked, fold),
        device=device_at(place, wanted),
    )


def device_at(place: str, seats: Seats) -> str:
    """The control, timer or switch that sits at a place; empty where only joints do."""
    kinds = {one.id: one for one in seats.devices}
    found = [
        seat.rsplit(".", 1)[0]
        for point, seat in seats.seat_of.items()
        if point.partition("@")[2].rstrip("'") == place and "." in seat and ":" not in seat
    ]
    controls = [name for name in found if isinstance(kinds.get(name), Control)]
    return next(iter([*controls, *found]), "")


def _ceiling(making: _Making, place: str, lines: list[Line]) -> None:
    worked = _work(making, place, Stage.CEILING, lines, _begin(making, place, Stage.CEILING))
    making.add(f"close@{place}", Act.CLOSE, Stage.CEILING, Power.DEAD, place=place, after=worked)


def _tries(making: _Making, wanted: Seats) -> tuple[str, ...]:
    """Each lamp by what is to light it, and each companion."""
    tried = []
    for device in wanted.devices:
        if isinstance(device, Lamp):
            tried.append(
                making.add(
                    f"try:{device.id}",
                    Act.TRY_LAMP,
                    Stage.TRYING,
                    Power.ON,
                    after=("power_on",),
                    lamp=device.id,
                    terminals=tuple(wanted.intended.get(device.id, ())),
                )
            )
        elif isinstance(device, Companion):
            tried.append(
                making.add(
                    f"try:{device.id}",
                    Act.TRY_COMPANION,
                    Stage.TRYING,
                    Power.ON,
                    after=("power_on",),
                    device=device.id,
                )
            )
    return tuple(tried)


def _finish(making: _Making, place: str, tried: tuple[str, ...], *, has_metal: bool) -> None:
    stage = Stage.FINISHING
    safe = making.add(f"safe_again@{place}", Act.SAFE_AGAIN, stage, Power.DEAD, place=place, after=tried)
    fix = making.add(f"fix@{place}", Act.FIX, stage, Power.DEAD, place=place, after=(safe,))
    after: tuple[str, ...] = (safe, fix)
    if has_metal:
        after = (
            *after,
            making.add(f"earth_screw@{place}", Act.EARTH_SCREW, stage, Power.DEAD, place=place, after=after),
        )
    making.add(f"plate@{place}", Act.PLATE, stage, Power.DEAD, place=place, after=after)


# What a joint at a luminaire or in a junction box is called while it is proved dead, by what it joins.
_NODE = {"line": "L", "neutral": "N", "earth": "E", "switched": "SL", "lamp": "LA"}


def nodes_at(place: str, found: Seats) -> tuple[str, ...]:
    """What is proved dead outside the boxes before a core there is touched: each joint once, and each lone core."""
    names = []
    for point, seat in found.seat_of.items():
        name, at, where = point.partition("@")
        if at and where.rstrip("'") == place:
            joint = seat.split(":", 1)[1] if ":" in seat else ""
            # In a junction box joints of one sort are told apart by their gang or circuit.
            what = joint.rstrip("0123456789")
            names.append(f"{_NODE.get(what, what.upper())}{joint.removeprefix(what)}" if joint else name)
    return tuple(dict.fromkeys(names))


def after_of(steps: Iterable[Step]) -> Mapping[str, tuple[str, ...]]:
    """For each step those that rest on it."""
    found: dict[str, list[str]] = {}
    for step in steps:
        for key in step.after:
            found.setdefault(key, []).append(step.key)
    return {key: tuple(keys) for key, keys in found.items()}
