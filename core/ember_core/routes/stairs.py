"""The boxes of one lamp that is switched from several places, as part of a found wiring."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from ember_core.routes.aloft import At
from ember_core.routes.boxes import SurveyedBox
from ember_core.routes.found import Feed
from ember_core.routes.points import BOARD, BOX
from ember_core.routes.seats import CAP
from ember_core.routes.sketch import NotDrawnError, Sketch
from ember_core.survey.box import Conductor, Role, Terminal, Ways
from ember_core.wiring.drawing import Device, Kind


@dataclass(frozen=True, slots=True, kw_only=True)
class Stair:
    """What was drawn.

    Parameters
    ----------
    near, far, middle : its switches, named as their boxes are: where the line arrives, from which it goes to the lamp,
        and those between. feed : where the supply comes in.
    """

    near: str
    far: str
    middle: tuple[str, ...]
    feed: Feed


def draw_stair(sketch: Sketch, boxes: Sequence[SurveyedBox], gang: int) -> Stair:
    """Draw the boxes of one lamp, from the one where the line arrives to the one from which it goes to the lamp.

    Parameters
    ----------
    boxes : with the conductors of this gang only. gang : of the first box.

    Raises
    ------
    NotDrawnError : a box or an end is not known, or roles contradict each other.
    """
    roles = [{role for role, _ in _of(one).values()} for one in boxes]
    line_side = next((k for k, here in enumerate(roles) if here & {Role.PERMANENT_LIVE, Role.LOOPED_LIVE}), None)
    lamp_side = next((k for k, here in enumerate(roles) if Role.SWITCHED_LIVE in here), None)
    if len(boxes) < 2 or line_side is None or lamp_side is None:
        raise NotDrawnError("other_box_not_surveyed")
    if line_side == lamp_side:
        raise NotDrawnError("both_ends_in_one_box")
    order = [line_side, *(k for k in range(len(boxes)) if k not in (line_side, lamp_side)), lamp_side]
    names = {k: BOX if k == 0 else f"{BOX}{k + 1}" for k in order}
    point, other = sketch.point(gang), sketch.hangs_on_other(gang)
    # A live at the luminaire is taken to be what the near switch hangs on: a loop-in with the stair as its drop.
    is_looped = sketch.seen(gang).line is At.YES
    source = (point.place, point.line) if is_looped else sketch.board("line", other=other)
    sketch.lamp(gang)
    pending: dict[int, list[tuple[str, Conductor, str]]] = {}
    has_live = False
    for k in order:
        one, name = boxes[k], names[k]
        ways = one.box.gangs[gang - 1] if k == 0 else next(ways for ways in one.box.gangs if ways is not Ways.ONE_WAY)
        sketch.devices.append(Device(id=name, kind=Kind.INTERMEDIATE if ways is Ways.INTERMEDIATE else Kind.TWO_WAY))
        for conductor in one.box.conductors:
            role, _ = one.roles.get(conductor.id, (Role.UNUSED, None))
            label = conductor.id if k == 0 else f"{conductor.id} ({k + 1})"
            seat = _seat_at_place(conductor, role, name)
            if seat is None:
                raise NotDrawnError("ends_not_known")
            if role is Role.LOOPED_LIVE and has_live:
                # Where it goes on to, nobody has looked; whatever is done, it stays fed.
                sketch.core(label, (name, seat), sketch.onward(), conductor, 0)
            elif role in (Role.PERMANENT_LIVE, Role.LOOPED_LIVE):
                has_live = True
                sketch.core(label, (name, seat), source, conductor, 0)
            elif role is Role.SWITCHED_LIVE:
                sketch.core(label, (name, seat), (point.place, point.switched), conductor, 0)
            elif role is Role.TRAVELLER:
                pending.setdefault(k, []).append((seat, conductor, label))
            elif role is Role.EARTH:
                end = (point.place, point.earth) if is_looped and k == line_side else (BOARD, f"{BOARD}:earth")
                sketch.core(label, (name, seat), end, conductor, 2)
            elif role is Role.NEUTRAL:
                sketch.core(label, (name, seat), sketch.board("neutral", other=other), conductor, 1)
            else:
                sketch.core(label, (name, seat), (BOARD, CAP), conductor, 0)
    for here, there in pairwise(order):
        if not _run(sketch, (names[here], pending.get(here, [])), (names[there], pending.get(there, []))):
            raise NotDrawnError("travellers_not_known")
    sketch.assume("travellers_by_colour")
    if is_looped:
        sketch.assume("stair_fed_at_lamp")
    return Stair(
        near=names[line_side],
        far=names[lamp_side],
        middle=tuple(names[k] for k in order[1:-1]),
        feed=Feed.CEILING if is_looped else Feed.SWITCH,
    )


def draw_left_alone(sketch: Sketch, own: SurveyedBox, gang: int) -> None:
    """The switch of a lamp that is switched from elsewhere too, where nobody looked further: it stays as it is.

    Raises
    ------
    NotDrawnError : nobody noted where an end of it is.
    """
    is_middle = own.box.gangs[gang - 1] is Ways.INTERMEDIATE
    sketch.devices.append(Device(id=BOX, kind=Kind.INTERMEDIATE if is_middle else Kind.TWO_WAY))
    for conductor in own.box.conductors:
        role, _ = own.roles.get(conductor.id, (Role.UNUSED, None))
        seat = _seat_at_place(conductor, role, BOX)
        if seat is None:
            raise NotDrawnError("ends_not_known")
        other = sketch.hangs_on_other(gang)
        if role in (Role.PERMANENT_LIVE, Role.LOOPED_LIVE):
            sketch.core(conductor.id, (BOX, seat), sketch.board("line", other=other), conductor, 0)
        elif role is Role.EARTH:
            sketch.core(conductor.id, (BOX, seat), (BOARD, f"{BOARD}:earth"), conductor, 2)
        elif role is Role.NEUTRAL:
            sketch.core(conductor.id, (BOX, seat), sketch.board("neutral", other=other), conductor, 1)
        else:
            sketch.core(conductor.id, (BOX, seat), sketch.onward(), conductor, 0)
    sketch.assume("stair_left_alone")


def _of(one: SurveyedBox) -> dict[str, tuple[Role, int | None]]:
    """Roles of the conductors that are in the box."""
    here = {conductor.id for conductor in one.box.conductors}
    return {name: role for name, role in one.roles.items() if name in here}


Ends = tuple[str, list[tuple[str, Conductor, str]]]


def _run(sketch: Sketch, here: Ends, there: Ends) -> bool:
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
        sketch.core(f"{label} · {far_label}", (place, seat), (other_place, far_seat), conductor, 0)
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
