"""What is found at a loop as a wiring: the box as surveyed, the ceiling point as far as anybody looked.

What was not looked at is drawn as it usually is, and told as assumed; a role that is not settled is told as open.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from ember_core.findings import Severity
from ember_core.routes.aloft import NOT_SEEN, At, CeilingPoint, HangsOn
from ember_core.routes.boxes import SurveyedBox, draw_box, split
from ember_core.routes.found import Feed
from ember_core.routes.seats import Seats
from ember_core.routes.sketch import NotDrawnError, Sketch
from ember_core.routes.stairs import draw_left_alone, draw_stair
from ember_core.survey.box import Box, Role, Ways
from ember_core.wiring.proof import prove
from ember_core.wiring.told import WiringFinding

# Faults that a loop may well be found with; any other says that the survey is not right yet.
OF_THE_LOOP = (
    "borrowed_neutral",
    "circuits_joined",
    "neutral_switched",
    "earth_carries_load",
    "smart_lamp_behind_control",
)
# Circuits in one box that are told apart.
MOST_CIRCUITS = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Surveyed:
    """The wiring as found.

    Parameters
    ----------
    seats : None where it cannot be drawn; then `against` says why. near, far, middle : of a loop that is switched from
        several places, its switches; empty for one place. stair : the gang that these switch.
    open_roles : conductors whose role is not settled. assumed : codes of what nobody looked at.
    findings : why what the survey says would not work.
    """

    seats: Seats | None
    feed: Feed
    against: str | None = None
    near: str = ""
    far: str = ""
    middle: tuple[str, ...] = ()
    stair: int = 1
    open_roles: tuple[str, ...] = ()
    assumed: tuple[str, ...] = ()
    findings: tuple[WiringFinding, ...] = ()

    @property
    def is_landing(self) -> bool:
        """It is switched from several places."""
        return bool(self.near)


def found_of(
    boxes: Sequence[SurveyedBox],
    *,
    region: str,
    ceiling: Mapping[int, CeilingPoint],
    singles: bool = False,
    kept: Collection[int] = (),
    gangs: Collection[int] = (),
) -> Surveyed:
    """The wiring as found.

    Parameters
    ----------
    boxes : the box; where a gang of it is switched from several places, the other boxes of that gang too.
    ceiling : what was seen outside the box, by gang. singles : the practice is single cores in conduit.
    kept : gangs whose switch stays. Of a box that mixes gangs of one place and of several, one sort changes at a time.
    gangs : those of the loop by number: each is a switch of the box, or it would be left out of every map.
    """
    first = boxes[0].box
    if not first.conductors:
        return Surveyed(seats=None, feed=Feed.CEILING, against="box_not_surveyed")
    if any(gang > len(first.gangs) for gang in gangs):
        return Surveyed(seats=None, feed=Feed.CEILING, against="gang_not_in_box")
    if (against := _circuits_against(first, ceiling)) is not None:
        return Surveyed(seats=None, feed=Feed.CEILING, against=against)
    if first.circuits == 1 or len(first.gangs) == 1:
        # What was said of circuits counts only where two of them meet several gangs.
        ceiling = {gang: replace(seen, hangs_on=HangsOn.UNKNOWN) for gang, seen in ceiling.items()}
    for one in boxes:
        if any(role is Role.SWITCHED_NEUTRAL for role, _ in one.roles.values()):
            return Surveyed(seats=None, feed=Feed.CEILING, against="switch_in_neutral")
    open_roles = tuple(
        f"{conductor.id}" if k == 0 else f"{conductor.id} ({k + 1})"
        for k, one in enumerate(boxes)
        for conductor in one.box.conductors
        if conductor.id not in one.sure
    )
    try:
        made = _drawn(boxes, Sketch(region=region, ceiling=ceiling), singles=singles, kept=kept)
    except NotDrawnError as error:
        made = Surveyed(seats=None, feed=Feed.CEILING, against=error.code)
    if made.seats is not None:
        proof = prove(made.seats.drawing())
        stops = [finding for finding in proof.findings if finding.severity is Severity.STOP]
        if stops and not any(finding.code in OF_THE_LOOP for finding in stops):
            return Surveyed(
                seats=None, feed=made.feed, against="found_does_not_work", open_roles=open_roles, findings=tuple(stops)
            )
    return replace(made, open_roles=open_roles)


def _circuits_against(first: Box, ceiling: Mapping[int, CeilingPoint]) -> str | None:
    """Several gangs and several circuits: which hangs on which must be known, or a control would borrow a neutral."""
    if first.circuits == 1 or len(first.gangs) == 1:
        return None
    if first.circuits > MOST_CIRCUITS:
        return "too_many_circuits"
    seen = [ceiling.get(gang, NOT_SEEN).hangs_on for gang in range(1, len(first.gangs) + 1)]
    return "several_circuits" if HangsOn.UNKNOWN in seen else None


def _drawn(boxes: Sequence[SurveyedBox], sketch: Sketch, *, singles: bool, kept: Collection[int]) -> Surveyed:
    """The box, gangs of one place and the one of several, each by its own cores.

    Raises
    ------
    NotDrawnError : with what stands against it.
    """
    gangs = dict(enumerate(boxes[0].box.gangs, 1))
    one_place = [gang for gang, ways in gangs.items() if ways is Ways.ONE_WAY]
    several = [gang for gang in gangs if gang not in one_place]
    if len(several) > 1:
        raise NotDrawnError("several_stairs")
    changed = [gang for gang in gangs if gang not in kept]
    if len({gang in several for gang in changed}) > 1:
        raise NotDrawnError("mixed_gangs")
    if not several:
        return _finished(sketch, gangs, one_place, draw_box(sketch, boxes[0], one_place, singles=singles))
    own, others = split(boxes[0], several[0])
    drawn, stair = list(gangs), None
    try:
        stair = draw_stair(sketch, [own, *(_of_stair(one, sketch) for one in boxes[1:])], several[0])
    except NotDrawnError:
        if changed == several:
            raise
        # It stays as it is, so nobody needs to know more of it.
        sketch = Sketch(region=sketch.region, ceiling=sketch.ceiling)
        draw_left_alone(sketch, own, several[0])
        drawn.remove(several[0])
    feed = draw_box(sketch, others, one_place, singles=singles) if one_place else Feed.SWITCH
    made = _finished(sketch, drawn, one_place, feed)
    if stair is None or changed != several:
        return made
    return replace(made, feed=stair.feed, near=stair.near, far=stair.far, middle=stair.middle, stair=several[0])


def _of_stair(other: SurveyedBox, sketch: Sketch) -> SurveyedBox:
    """Another box of a stair, without what else is in it.

    Raises
    ------
    NotDrawnError : no gang of it, or more than one, is switched from several places.
    """
    several = [gang for gang, ways in enumerate(other.box.gangs, 1) if ways is not Ways.ONE_WAY]
    if len(several) != 1:
        raise NotDrawnError("several_stairs" if several else "other_box_not_surveyed")
    if len(other.box.gangs) > 1:
        sketch.assume("other_gangs_not_drawn")
    return split(other, several[0])[0]


def _finished(sketch: Sketch, gangs: Iterable[int], one_place: Sequence[int], feed: Feed) -> Surveyed:
    sketch.complete(gangs)
    if all(sketch.seen(gang).line is At.UNKNOWN for gang in gangs):
        sketch.assume("ceiling_not_seen")
    seats = sketch.done({f"lamp{gang}": (f"sw{gang}.COM", f"sw{gang}.L1") for gang in one_place})
    return Surveyed(seats=seats, feed=feed, assumed=tuple(sketch.assumed))
