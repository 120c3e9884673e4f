"""What is found at a loop as a wiring: the box as surveyed, the ceiling point as far as anybody looked.

What was not looked at is drawn as it usually is, and told as assumed; a role that is not settled is told as open.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import pairwise

from ember_core.findings import Severity
from ember_core.routes.found import CIRCUIT, EARTHS, LINE, NEUTRAL, SIZE_M2, Feed
from ember_core.routes.making import BOX
from ember_core.routes.seats import CAP, Seats
from ember_core.survey.box import Box, Conductor, Role, Terminal, Ways
from ember_core.survey.practices import BY_ID, conductors_of
from ember_core.wiring.drawing import EARTH, Core, Device, Kind, Lamp, Mark
from ember_core.wiring.proof import WiringFinding, prove

OTHER_CIRCUIT = "2"
# Faults that a loop may well be found with; any other says that the survey is not right yet.
OF_THE_LOOP = (
    "borrowed_neutral",
    "circuits_joined",
    "neutral_switched",
    "earth_carries_load",
    "smart_lamp_behind_control",
)


class At(StrEnum):
    """Whether a conductor is at the ceiling point."""

    YES = "yes"
    NO = "no"
    UNKNOWN = "unknown"


class OwnNeutral(StrEnum):
    """Whose neutral the lamp hangs on."""

    OWN = "own"
    OTHER = "other"
    UNKNOWN = "unknown"


class LampsThere(StrEnum):
    """Whether lamps have electronics of their own that want to be fed always."""

    ORDINARY = "ordinary"
    SMART = "smart"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True, kw_only=True)
class CeilingPoint:
    """What was seen at the luminaire of a gang.

    Parameters
    ----------
    line : a permanent live is there. neutral : whose neutral the lamp hangs on. spare : a core of the drop that is
            free at both ends. lamps : whether they are smart.
    """

    line: At = At.UNKNOWN
    neutral: OwnNeutral = OwnNeutral.UNKNOWN
    spare: At = At.UNKNOWN
    lamps: LampsThere = LampsThere.UNKNOWN


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Surveyed:
    """The wiring as found.

    Parameters
    ----------
    seats : None where it cannot be drawn; then `against` says why. near, far, middle : of a loop that is switched from
        several places, its switches; empty for one place.
    open_roles : conductors whose role is not settled. assumed : codes of what nobody looked at.
    findings : why what the survey says would not work.
    """

    seats: Seats | None
    feed: Feed
    against: str | None = None
    near: str = ""
    far: str = ""
    middle: tuple[str, ...] = ()
    open_roles: tuple[str, ...] = ()
    assumed: tuple[str, ...] = ()
    findings: tuple[WiringFinding, ...] = ()

    @property
    def is_landing(self) -> bool:
        """It is switched from several places."""
        return bool(self.near)


@dataclass(slots=True)
class _Draw:
    """Cores and seats as they come together."""

    region: str
    devices: list[Device] = field(default_factory=list)
    cores: list[Core] = field(default_factory=list)
    seats: dict[str, str] = field(default_factory=dict)
    assumed: list[str] = field(default_factory=list)
    circuits: list[str] = field(default_factory=lambda: [CIRCUIT])

    def core(self, name: str, a: tuple[str, str], b: tuple[str, str], conductor: Conductor | None, what: int) -> None:
        colours = (LINE, NEUTRAL, EARTHS)[what]
        usual = colours[1 if self.region == "na" else 0]
        self.cores.append(
            Core(
                id=name,
                ends=(a[0], b[0]),
                colour=usual if conductor is None else _colour(conductor.colour),
                marked=None if conductor is None else _sleeve(conductor.sleeve),
                size_m2=SIZE_M2[self.region] if conductor is None else conductor.size_m2,
            )
        )
        self.seats |= {f"{name}@{a[0]}": a[1], f"{name}@{b[0]}": b[1]}

    def assume(self, code: str) -> None:
        if code not in self.assumed:
            self.assumed.append(code)


def _colour(found: str) -> str:
    return {"green_yellow": "green-yellow", "bare": "bare"}.get(found, found.replace("_", "-"))


def _sleeve(found: str) -> Mark | None:
    """What a sleeve says: brown, black and red mark a live; blue, white and grey a neutral."""
    if not found:
        return None
    if found in ("green_yellow", "green"):
        return Mark.EARTH
    return Mark.NEUTRAL if found in ("blue", "white", "grey") else Mark.LIVE


def found_of(
    boxes: Sequence[SurveyedBox],
    *,
    region: str,
    ceiling: Mapping[int, CeilingPoint],
    singles: bool = False,
) -> Surveyed:
    """The wiring as found.

    Parameters
    ----------
    boxes : the box, or the boxes of a loop that is switched from several places, in their order.
    ceiling : what was seen at the luminaires, by gang. singles : the practice is single cores in conduit.
    """
    first = boxes[0].box
    if not first.conductors:
        return Surveyed(seats=None, feed=Feed.CEILING, against="box_not_surveyed")
    if first.circuits > 1 and len(first.gangs) > 1:
        # Which gang hangs on which circuit is not surveyed; one control over both would borrow a neutral.
        return Surveyed(seats=None, feed=Feed.CEILING, against="several_circuits")
    for one in boxes:
        if any(role is Role.SWITCHED_NEUTRAL for role, _ in one.roles.values()):
            return Surveyed(seats=None, feed=Feed.CEILING, against="switch_in_neutral")
    open_roles = tuple(
        f"{conductor.id}" if k == 0 else f"{conductor.id} ({k + 1})"
        for k, one in enumerate(boxes)
        for conductor in one.box.conductors
        if conductor.id not in one.sure
    )
    if first.gangs == (Ways.ONE_WAY,) * len(first.gangs):
        made = _one_way(boxes[0], region, ceiling, singles)
    elif len(first.gangs) > 1:
        return Surveyed(seats=None, feed=Feed.CEILING, against="mixed_gangs", open_roles=open_roles)
    else:
        made = _several_places(boxes, region, ceiling)
    if made.seats is not None:
        proof = prove(made.seats.drawing())
        stops = [finding for finding in proof.findings if finding.severity is Severity.STOP]
        if stops and not any(finding.code in OF_THE_LOOP for finding in stops):
            return Surveyed(
                seats=None, feed=made.feed, against="found_does_not_work", open_roles=open_roles, findings=tuple(stops)
            )
    return Surveyed(
        seats=made.seats,
        feed=made.feed,
        against=made.against,
        near=made.near,
        far=made.far,
        middle=made.middle,
        open_roles=open_roles,
        assumed=made.assumed,
    )


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


def _begin(region: str) -> _Draw:
    draw = _Draw(region=region)
    draw.seats |= {f"{CIRCUIT}.L": "board:line", f"{CIRCUIT}.N": "board:neutral", EARTH: "board:earth"}
    return draw


def _lamp(draw: _Draw, gang: int, ceiling: Mapping[int, CeilingPoint]) -> str:
    smart = ceiling.get(gang, CeilingPoint()).lamps is LampsThere.SMART
    point = f"ceiling{gang}"
    draw.devices.append(Lamp(id=f"lamp{gang}", kind=Kind.LAMP, smart=smart))
    draw.seats |= {f"lamp{gang}.1": f"{point}:switched", f"lamp{gang}.2": f"{point}:neutral"}
    return point


def _one_way(surveyed: SurveyedBox, region: str, ceiling: Mapping[int, CeilingPoint], singles: bool) -> Surveyed:
    box, roles = surveyed.box, surveyed.roles
    draw = _begin(region)
    gangs = range(1, len(box.gangs) + 1)
    points = {gang: _lamp(draw, gang, ceiling) for gang in gangs}
    draw.devices += [Device(id=f"sw{gang}", kind=Kind.ONE_WAY) for gang in gangs]
    drops = _drops(box, roles)
    feeds_box, looped = False, 0
    seen_live: set[int | None] = set()
    for conductor in box.conductors:
        role, gang = roles.get(conductor.id, (Role.UNUSED, None))
        here = _seat_in_box(conductor, role)
        drop = drops[conductor.id]
        from_ceiling = drop is not None and not singles and ceiling.get(drop, CeilingPoint()).line is not At.NO
        if here is None:
            return Surveyed(seats=None, feed=Feed.CEILING, against="ends_not_known")
        if role in (Role.PERMANENT_LIVE, Role.LOOPED_LIVE):
            if role is Role.LOOPED_LIVE and gang in seen_live:
                looped += 1
                draw.core(conductor.id, (BOX, here), (f"onward{looped}", CAP), conductor, 0)
                continue
            seen_live.add(gang)
            there = ("board", "board:line") if not from_ceiling else (f"ceiling{drop}", f"ceiling{drop}:line")
            feeds_box = feeds_box or not from_ceiling
            draw.core(conductor.id, (BOX, here), there, conductor, 0)
        elif role is Role.SWITCHED_LIVE:
            point = points.get(gang or 1, points[1])
            draw.core(conductor.id, (BOX, here), (point, f"{point}:switched"), conductor, 0)
        elif role in (Role.NEUTRAL, Role.EARTH):
            pole, what = ("neutral", 1) if role is Role.NEUTRAL else ("earth", 2)
            place = f"ceiling{drop}" if drop is not None else "board"
            draw.core(conductor.id, (BOX, here), (place, f"{place}:{pole}"), conductor, what)
        elif role in (Role.FOREIGN_NEUTRAL, Role.FOREIGN_LIVE):
            _other_circuit(draw)
            pole = "neutral" if role is Role.FOREIGN_NEUTRAL else "line"
            draw.core(conductor.id, (BOX, here), ("board", f"board:{pole}2"), conductor, int(pole == "neutral"))
        else:
            place = f"ceiling{drop}" if drop is not None else "board"
            if drop is not None and ceiling.get(drop, CeilingPoint()).spare is At.NO:
                place = "board"
            if role is Role.UNUSED and ceiling.get(drop or 1, CeilingPoint()).spare is At.UNKNOWN:
                draw.assume("spare_not_proved")
            draw.core(conductor.id, (BOX, here), (place, CAP), conductor, 0)
    feed = Feed.SINGLES if singles else Feed.SWITCH if feeds_box else Feed.CEILING
    _complete(draw, feed, points, ceiling)
    if all(ceiling.get(gang, CeilingPoint()).line is At.UNKNOWN for gang in gangs):
        draw.assume("ceiling_not_seen")
    seats = _seats(draw, {f"lamp{gang}": (f"sw{gang}.COM", f"sw{gang}.L1") for gang in gangs})
    return Surveyed(seats=seats, feed=feed, assumed=tuple(draw.assumed))


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


def _seat_in_box(conductor: Conductor, role: Role) -> str | None:
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
    if role is Role.NEUTRAL:
        return f"{BOX}:neutral"
    return f"{BOX}:{conductor.terminal.value}"


def _other_circuit(draw: _Draw) -> None:
    if OTHER_CIRCUIT not in draw.circuits:
        draw.circuits.append(OTHER_CIRCUIT)
        draw.seats |= {f"{OTHER_CIRCUIT}.L": "board:line2", f"{OTHER_CIRCUIT}.N": "board:neutral2"}


def _complete(draw: _Draw, feed: Feed, points: Mapping[int, str], ceiling: Mapping[int, CeilingPoint]) -> None:
    """What nobody can see from the box: how each luminaire gets its neutral, and a ceiling point its line."""
    joined = set(draw.seats.values())
    arrives = any(core.ends[1] == "board" and draw.seats[core.points[1]] == "board:neutral" for core in draw.cores)
    before = "board"
    for gang, point in points.items():
        whose = ceiling.get(gang, CeilingPoint()).neutral
        if whose is OwnNeutral.UNKNOWN:
            draw.assume("neutral_not_seen")
        has_core = f"{point}:neutral" in {draw.seats[p] for core in draw.cores for p in core.points}
        if whose is OwnNeutral.OTHER:
            _other_circuit(draw)
            draw.core(f"F{gang}N", ("board", "board:neutral2"), (point, f"{point}:neutral"), None, 1)
        elif not (has_core and arrives):
            draw.core(f"F{gang}N", (before, f"{before}:neutral"), (point, f"{point}:neutral"), None, 1)
        if f"{point}:line" in joined:
            draw.core(f"F{gang}L", (before, f"{before}:line"), (point, f"{point}:line"), None, 0)
            if f"{point}:earth" in joined:
                draw.core(f"F{gang}E", (before, f"{before}:earth"), (point, f"{point}:earth"), None, 2)
            before = point


def _several_places(boxes: Sequence[SurveyedBox], region: str, ceiling: Mapping[int, CeilingPoint]) -> Surveyed:
    """The boxes of one lamp, from the one where the line arrives to the one from which it goes to the lamp."""
    roles = [{role for role, _ in one.roles.values()} for one in boxes]
    line_side = next((k for k, here in enumerate(roles) if here & {Role.PERMANENT_LIVE, Role.LOOPED_LIVE}), None)
    lamp_side = next((k for k, here in enumerate(roles) if Role.SWITCHED_LIVE in here), None)
    if len(boxes) < 2 or line_side is None or lamp_side is None:
        return Surveyed(seats=None, feed=Feed.SWITCH, against="other_box_not_surveyed")
    if line_side == lamp_side:
        return Surveyed(seats=None, feed=Feed.SWITCH, against="both_ends_in_one_box")
    draw = _begin(region)
    point = _lamp(draw, 1, ceiling)
    seen = ceiling.get(1, CeilingPoint())
    # A live at the luminaire is taken to be what the near switch hangs on: a loop-in with the stair as its drop.
    is_looped = seen.line is At.YES
    source = (point, f"{point}:line") if is_looped else ("board", "board:line")
    order = [line_side, *(k for k in range(len(boxes)) if k not in (line_side, lamp_side)), lamp_side]
    names = {k: BOX if k == 0 else f"{BOX}{k + 1}" for k in order}
    pending: dict[int, list[tuple[str, Conductor, str]]] = {}
    looped, has_live = 0, False
    for k in order:
        one, name = boxes[k], names[k]
        kind = Kind.INTERMEDIATE if one.box.gangs[0] is Ways.INTERMEDIATE else Kind.TWO_WAY
        draw.devices.append(Device(id=name, kind=kind))
        for conductor in one.box.conductors:
            role, _ = one.roles.get(conductor.id, (Role.UNUSED, None))
            label = conductor.id if k == 0 else f"{conductor.id} ({k + 1})"
            seat = _seat_at_place(conductor, role, name)
            if seat is None:
                return Surveyed(seats=None, feed=Feed.SWITCH, against="ends_not_known")
            if role is Role.LOOPED_LIVE and has_live:
                # Where it goes on to, nobody has looked; whatever is done, it stays fed.
                looped += 1
                draw.core(label, (name, seat), (f"onward{looped}", CAP), conductor, 0)
            elif role in (Role.PERMANENT_LIVE, Role.LOOPED_LIVE):
                has_live = True
                draw.core(label, (name, seat), source, conductor, 0)
            elif role is Role.SWITCHED_LIVE:
                draw.core(label, (name, seat), (point, f"{point}:switched"), conductor, 0)
            elif role is Role.TRAVELLER:
                pending.setdefault(k, []).append((seat, conductor, label))
            elif role is Role.EARTH:
                place = point if is_looped and k == line_side else "board"
                draw.core(label, (name, seat), (place, f"{place}:earth"), conductor, 2)
            elif role is Role.NEUTRAL:
                draw.core(label, (name, seat), ("board", "board:neutral"), conductor, 1)
            else:
                draw.core(label, (name, seat), ("board", CAP), conductor, 0)
    for here, there in pairwise(order):
        if not _run(draw, (names[here], pending.get(here, [])), (names[there], pending.get(there, []))):
            return Surveyed(seats=None, feed=Feed.SWITCH, against="travellers_not_known")
    feed = Feed.CEILING if is_looped else Feed.SWITCH
    draw.assume("travellers_by_colour")
    _complete(draw, feed, {1: point}, ceiling)
    if is_looped:
        draw.assume("stair_fed_at_lamp")
    elif seen.line is At.UNKNOWN:
        draw.assume("ceiling_not_seen")
    return Surveyed(
        seats=_seats(draw, {}),
        feed=feed,
        near=names[line_side],
        far=names[lamp_side],
        middle=tuple(names[k] for k in order[1:-1]),
        assumed=tuple(draw.assumed),
    )


Ends = tuple[str, list[tuple[str, Conductor, str]]]


def _run(draw: _Draw, here: Ends, there: Ends) -> bool:
    """The two travellers between two boxes: cores of one colour are taken as one, else the first with the first."""
    place, ends = here
    other_place, others = there
    outgoing = [one for one in ends if ".IN" not in one[0]]
    incoming = [one for one in others if ".OUT" not in one[0]]
    if len(outgoing) != 2 or len(incoming) != 2:
        return False
    if outgoing[0][1].colour == incoming[1][1].colour or outgoing[1][1].colour == incoming[0][1].colour:
        incoming.reverse()
    for (seat, conductor, label), (far_seat, _, far_label) in zip(outgoing, incoming, strict=True):
        draw.core(f"{label} · {far_label}", (place, seat), (other_place, far_seat), conductor, 0)
    return True


_AT_TWO_WAY = {
    Terminal.COMMON: "COM",
    Terminal.L1: "L1",
    Terminal.L2: "L2",
    Terminal.IN_1: "IN1",
    Terminal.IN_2: "IN2",
    Terminal.OUT_1: "OUT1",
    Terminal.OUT_2: "OUT2",
}


def _seat_at_place(conductor: Conductor, role: Role, place: str) -> str | None:
    if conductor.terminal in _AT_TWO_WAY:
        return f"{place}.{_AT_TWO_WAY[conductor.terminal]}"
    if conductor.terminal is Terminal.LOOSE:
        return CAP
    if conductor.terminal is Terminal.UNKNOWN:
        return None
    if role is Role.EARTH or conductor.terminal is Terminal.EARTH:
        return f"{place}:earth"
    return f"{place}:neutral" if role is Role.NEUTRAL else f"{place}:{conductor.terminal.value}"


def _seats(draw: _Draw, intended: Mapping[str, tuple[str, ...]]) -> Seats:
    return Seats(
        name="found",
        circuits=tuple(draw.circuits),
        devices=tuple(draw.devices),
        cores=tuple(draw.cores),
        seat_of=draw.seats,
        intended=intended,
        region=draw.region,
    )
