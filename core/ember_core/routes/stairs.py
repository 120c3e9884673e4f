"""The boxes of one lamp that is switched from several places, as part of a found wiring."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
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

# An end in a box: its seat, the conductor, and what it is called.
_End = tuple[str, Conductor, str]
_FROM_THE_LINE = (Terminal.IN_1, Terminal.IN_2)
_LIVES = (Role.PERMANENT_LIVE, Role.LOOPED_LIVE)


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
    line_side = next((k for k, here in enumerate(roles) if here & set(_LIVES)), None)
    # The lamp may hang on the far switch by a core that comes back and is joined in another box.
    commons = (k for k, one in enumerate(boxes) if k != line_side and _is_at_common(one, Role.SWITCHED_LIVE))
    lamp_side = next(commons, next((k for k, here in enumerate(roles) if Role.SWITCHED_LIVE in here), None))
    if len(boxes) < 2 or line_side is None or lamp_side is None:
        raise NotDrawnError("other_box_not_surveyed")
    if line_side == lamp_side:
        others = (one for k, one in enumerate(boxes) if k != line_side)
        passes = any(_is_at_common(one, *_LIVES) for one in others)
        raise NotDrawnError("live_passes_the_box" if passes else "both_ends_in_one_box")
    order = [line_side, *(k for k in range(len(boxes)) if k not in (line_side, lamp_side)), lamp_side]
    names = {k: BOX if k == 0 else f"{BOX}{k + 1}" for k in order}
    point, other = sketch.point(gang), sketch.hangs_on_other(gang)
    # A live at the luminaire is taken to be what the near switch hangs on: a loop-in with the stair as its drop.
    is_looped = sketch.seen(gang).line is At.YES
    source = (point.place, point.line) if is_looped else sketch.board("line", other=other)
    sketch.lamp(gang)
    pending: dict[int, list[_End]] = {}
    comes_back = any(Role.SWITCHED_LIVE in here for k, here in enumerate(roles) if k != lamp_side)
    back: dict[int, list[_End]] = {}
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
            elif role in _LIVES:
                has_live = True
                sketch.core(label, (name, seat), source, conductor, 0)
            elif role is Role.SWITCHED_LIVE and comes_back:
                back.setdefault(k, []).append((seat, conductor, label))
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
    if comes_back:
        _come_back(sketch, boxes, [(k, names[k]) for k in order], back, (point.place, point.switched))
    if is_looped:
        sketch.assume("stair_fed_at_lamp")
    return Stair(
        near=names[line_side],
        far=names[lamp_side],
        middle=tuple(names[k] for k in order[1:-1]),
        feed=Feed.CEILING if is_looped else Feed.SWITCH,
    )


def _is_at_common(one: SurveyedBox, *roles: Role) -> bool:
    """Something of these roles leaves from the switch itself, not from a joint that it passes."""
    here = _of(one)
    return any(
        here.get(conductor.id, (None,))[0] in roles and conductor.terminal is Terminal.COMMON
        for conductor in one.box.conductors
    )


def _come_back(
    sketch: Sketch,
    boxes: Sequence[SurveyedBox],
    order: Sequence[tuple[int, str]],
    back: Mapping[int, Sequence[_End]],
    lamp: tuple[str, str],
) -> None:
    """The core from the far switch back, joined from box to box, in the last of them with what goes to the lamp.

    Parameters
    ----------
    order : number and name of each box, from the line to the far switch. back : the switched lives of each.

    Raises
    ------
    NotDrawnError : in a box that it passes it is not two cores in one joint, or it passes one without a trace.
    """
    far, far_name = order[-1]
    if len(back.get(far, ())) != 1:
        raise NotDrawnError("return_not_joined")
    arriving, place = back[far][0], far_name
    for at in range(len(order) - 2, -1, -1):
        k, name = order[at]
        ends = list(back.get(k, ()))
        if not any(j in back for j, _ in order[: at + 1]):
            break
        if len(ends) != 2 or ends[0][0] != ends[1][0] or ":" not in ends[0][0]:
            raise NotDrawnError("return_not_joined")
        here, onward = ends if _comes_with_travellers(sketch, boxes[k], ends) else reversed(ends)
        sketch.core(f"{here[2]} · {arriving[2]}", (name, here[0]), (place, arriving[0]), here[1], 0)
        arriving, place = onward, name
    sketch.core(arriving[2], (place, arriving[0]), lamp, arriving[1], 0)


def _comes_with_travellers(sketch: Sketch, one: SurveyedBox, ends: Sequence[_End]) -> bool:
    """Whether the first of two joined cores is the one that comes from the far switch, by the cable of the travellers.

    Between two switches both do: the one that comes with those of the far side.
    """
    here = _of(one)
    cables = {
        conductor.cable
        for conductor in one.box.conductors
        if here.get(conductor.id, (None,))[0] is Role.TRAVELLER and conductor.terminal not in _FROM_THE_LINE
    } & one.box.cables
    told = [conductor.cable in cables for _, conductor, _ in ends]
    if told[0] is not told[1]:
        return told[0]
    sketch.assume("return_not_told")
    return False


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


Ends = tuple[str, list[_End]]


def _run(sketch: Sketch, here: Ends, there: Ends) -> bool:
    """The two travellers between two boxes: cores of one colour are taken as one, else the first with the first."""
    place, ends = here
    other_place, others = there
    outgoing = [one for one in ends if ".IN" not in one[0]]
    incoming = [one for one in others if ".OUT" not in one[0]]
    if len(outgoing) != 2 or len(incoming) != 2:
        return False
    colours, other_colours = ([conductor.colour for _, conductor, _ in ends] for ends in (outgoing, incoming))
    straight = _is_same(colours[0], other_colours[0]) or _is_same(colours[1], other_colours[1])
    crossed = _is_same(colours[0], other_colours[1]) or _is_same(colours[1], other_colours[0])
    sketch.assume("travellers_by_order" if straight is crossed else "travellers_by_colour")
    if crossed and not straight:
        incoming.reverse()
    for (seat, conductor, label), (far_seat, _, far_label) in zip(outgoing, incoming, strict=True):
        sketch.core(f"{label} · {far_label}", (place, seat), (other_place, far_seat), conductor, 0)
    return True


def _is_same(colour: str, other: str) -> bool:
    """One colour that somebody noted at either end."""
    return colour == other != ""


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
