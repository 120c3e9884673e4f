"""A surveyed box as part of a found wiring: its gangs that are switched from there alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ember_core.routes.aloft import At, CeilingPoint, Junction
from ember_core.routes.found import Feed
from ember_core.routes.points import BOARD, BOX
from ember_core.routes.seats import CAP
from ember_core.routes.sketch import NotDrawnError, Sketch
from ember_core.survey.box import Box, Conductor, Role, Terminal, Ways
from ember_core.survey.practices import BY_ID, conductors_of
from ember_core.wiring.drawing import Device, Kind

_NOTHING: tuple[Role, int | None] = (Role.UNUSED, None)
_LIVES = (Role.PERMANENT_LIVE, Role.LOOPED_LIVE)


@dataclass(frozen=True, slots=True, kw_only=True)
class SurveyedBox:
    """A box with what its conductors are for.

    Parameters
    ----------
    roles : of each conductor, with the gang where it is of one. sure : conductors whose role is settled.
    """

    box: Box
    roles: Mapping[str, tuple[Role, int | None]]
    sure: frozenset[str] = frozenset()


_USUAL = {"feed_at_ceiling": (Role.PERMANENT_LIVE, Role.SWITCHED_LIVE, Role.EARTH)}


def usual_box(region: str, gangs: int) -> SurveyedBox:
    """A box that nobody looked at, as it usually is where there is no neutral: a drop from each ceiling point."""
    practice = BY_ID["feed_at_ceiling"]
    conductors: list[Conductor] = []
    roles: dict[str, tuple[Role, int | None]] = {}
    for gang in range(1, gangs + 1):
        drawn = conductors_of(practice, region, gang, first=len(conductors) + 1)
        roles |= {one.id: (role, gang) for one, role in zip(drawn, _USUAL[practice.id], strict=True)}
        conductors += drawn
    box = Box(gangs=(Ways.ONE_WAY,) * gangs, conductors=tuple(conductors), circuits=1)
    return SurveyedBox(box=box, roles=roles)


def draw_box(sketch: Sketch, surveyed: SurveyedBox, gangs: Sequence[int], *, singles: bool) -> Feed:
    """Draw the cores of one-way gangs as far as the box shows them.

    Returns where the supply comes in.

    Raises
    ------
    NotDrawnError : nobody noted where an end is.
    """
    box, roles = surveyed.box, surveyed.roles
    for number in gangs:
        sketch.lamp(number)
        sketch.devices.append(Device(id=f"sw{number}", kind=Kind.ONE_WAY))
    drops = _drops(box, roles)
    feeds_box = False
    seen_live: set[int | None] = set()
    for conductor in box.conductors:
        role, gang = roles.get(conductor.id, _NOTHING)
        drop = drops[conductor.id]
        seen = sketch.seen(drop or 0)
        other = _is_other(sketch, role, gang or conductor.gang or drop)
        here = _seat_in_box(conductor, role, other=other)
        if here is None:
            raise NotDrawnError("ends_not_known")
        # In conduit the lives come from the board, unless a junction box lies between.
        has_point = drop is not None and not (singles and not seen.junction.number)
        from_point = has_point and seen.line is not At.NO
        start = (BOX, here)
        if role in _LIVES or (role is Role.FOREIGN_LIVE and _is_of(sketch, conductor.gang)):
            if has_point and not from_point and conductor.cable in box.cables:
                _between(sketch, seen)
            if role is Role.LOOPED_LIVE and gang in seen_live:
                sketch.core(conductor.id, start, sketch.onward(), conductor, 0)
                continue
            seen_live.add(gang)
            feeds_box = feeds_box or not from_point
            point = sketch.point(drop or 0)
            end = (point.place, point.line) if from_point else sketch.board("line", other=other)
            sketch.core(conductor.id, start, end, conductor, 0)
        elif role is Role.SWITCHED_LIVE:
            point = sketch.point(gang if gang is not None and gang in gangs else gangs[0])
            sketch.core(conductor.id, start, (point.place, point.switched), conductor, 0)
        elif role in (Role.NEUTRAL, Role.FOREIGN_NEUTRAL):
            if drop is not None and sketch.hangs_on_other(drop) == other:
                point = sketch.point(drop)
                end = (point.place, point.neutral)
            else:
                end = sketch.board("neutral", other=other)
            sketch.core(conductor.id, start, end, conductor, 1)
        elif role is Role.EARTH:
            end = (BOARD, f"{BOARD}:earth")
            if drop is not None:
                point = sketch.point(drop)
                end = (point.place, point.earth)
            sketch.core(conductor.id, start, end, conductor, 2)
        elif role is Role.FOREIGN_LIVE:
            sketch.core(conductor.id, start, sketch.board("line", other=True), conductor, 0)
        else:
            place = BOARD if drop is None or seen.spare is At.NO else sketch.point(drop).place
            if role is Role.UNUSED and sketch.seen(drop or gangs[0]).spare is At.UNKNOWN:
                sketch.assume("spare_not_proved")
            sketch.core(conductor.id, start, (place, CAP), conductor, 0)
    return Feed.CEILING if not feeds_box else Feed.SINGLES if singles else Feed.SWITCH


def _between(sketch: Sketch, seen: CeilingPoint) -> None:
    """A live comes in the cable of what is switched, and none was seen where that cable ends.

    Raises
    ------
    NotDrawnError : where it ends was seen: one of the two is not so.
    """
    if seen.junction is not Junction.UNKNOWN:
        raise NotDrawnError("live_in_the_drop")
    sketch.assume("box_between")


def _is_other(sketch: Sketch, role: Role, gang: int | None) -> bool:
    """A conductor is of the other circuit: by its role, or because its gang hangs there."""
    return role in (Role.FOREIGN_LIVE, Role.FOREIGN_NEUTRAL) or (gang is not None and sketch.hangs_on_other(gang))


def _is_of(sketch: Sketch, gang: int | None) -> bool:
    """A live of the other circuit at a switch whose gang hangs there."""
    return gang is not None and sketch.hangs_on_other(gang)


def _drops(box: Box, roles: Mapping[str, tuple[Role, int | None]]) -> dict[str, int | None]:
    """For each conductor the gang to whose luminaire its cable goes; None where it goes elsewhere.

    Cables of one name are told apart by the gang of what ends at a switch, and else by their order.
    """
    of = {conductor.id: roles.get(conductor.id, (Role.UNUSED, None)) for conductor in box.conductors}
    gangs: dict[str, list[int]] = {}
    for conductor in box.conductors:
        role, gang = of[conductor.id]
        if conductor.cable and role is Role.SWITCHED_LIVE:
            gangs.setdefault(conductor.cable, []).append(gang or 1)
    met: dict[tuple[str, Role], int] = {}
    found: dict[str, int | None] = {}
    for conductor in box.conductors:
        role, _ = of[conductor.id]
        there = gangs.get(conductor.cable, [])
        at = met.get((conductor.cable, role), 0)
        met[conductor.cable, role] = at + 1
        if conductor.gang is not None and conductor.gang in there:
            found[conductor.id] = conductor.gang
        else:
            found[conductor.id] = there[min(at, len(there) - 1)] if there else None
    return found


def _seat_in_box(conductor: Conductor, role: Role, *, other: bool) -> str | None:
    gang = conductor.gang or 1
    match conductor.terminal:
        case Terminal.COMMON:
            return f"sw{gang}.COM"
        case Terminal.L1:
            return f"sw{gang}.L1"
        case Terminal.LOOSE:
            return CAP
        case Terminal.UNKNOWN:
            return None
    if role is Role.EARTH or conductor.terminal is Terminal.EARTH:
        return f"{BOX}:earth"
    if role is Role.NEUTRAL and not other:
        return f"{BOX}:neutral"
    return f"{BOX}:{conductor.terminal.value}"


def split(surveyed: SurveyedBox, stair: int) -> tuple[SurveyedBox, SurveyedBox]:
    """Conductors of the gang that is switched from several places, and those of the other gangs of its box."""
    of_stair = {
        conductor.id
        for conductor in surveyed.box.conductors
        if conductor.gang == stair
        or surveyed.roles.get(conductor.id, _NOTHING)[0] is Role.TRAVELLER
        or (conductor.gang is None and surveyed.roles.get(conductor.id, _NOTHING)[1] == stair)
    }
    of_others = {one.id for one in surveyed.box.conductors if one.gang not in (None, stair)}
    cables = {
        name: {one.cable for one in surveyed.box.conductors if one.id in ids and one.cable}
        for name, ids in (("stair", of_stair), ("others", of_others))
    }
    has_others = any(ways is Ways.ONE_WAY for ways in surveyed.box.gangs)
    of_stair |= {
        one.id
        for one in surveyed.box.conductors
        if one.id not in of_others and (not has_others or one.cable in cables["stair"] - cables["others"])
    }

    def part(*, is_stair: bool) -> SurveyedBox:
        own = tuple(one for one in surveyed.box.conductors if (one.id in of_stair) is is_stair)
        return replace(surveyed, box=replace(surveyed.box, conductors=own))

    return part(is_stair=True), part(is_stair=False)
